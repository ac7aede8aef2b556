"""Marks on the flavour, and "faint" or "too strong": whatever brings the flavour, an answer comes."""

from __future__ import annotations

import pytest

from jalebi_core.balance.job_context import JobContext
from jalebi_core.balance.quantities import FLAVOUR, quantity_of
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import find, ingredients
from jalebi_core.tasting.card import Card
from jalebi_core.tasting.diagnosis import causes
from jalebi_core.tasting.next_change import balanced, next_change
from jalebi_core.tasting.remedy import remedy

BASE = (("whole-milk", 550, "pot"), ("cream-36", 230, "pot"), ("sugar", 160, "pot"))
FLAVOURED = {
    "vanilla extract": ("vanilla-extract", 8, "off-heat"),
    "a purée": ("strawberry-puree", 200, "cold"),
    "cocoa": ("cocoa-powder-22", 40, "pot"),
    "spirit": ("rum-40", 30, "cold"),
    "beside the mix": ("dark-chocolate-70", 60, "mix-in"),
}


def flavoured(name: str) -> Mix:
    lines = (*BASE, FLAVOURED[name])
    return Mix(name, tuple(Line(find(slug), grams, stage) for slug, grams, stage in lines), "ice-cream", 30.0)


@pytest.mark.parametrize("mark", [-2, -1, 1, 2])
@pytest.mark.parametrize("name", list(FLAVOURED))
def test_a_mark_on_the_flavour_moves_the_line_that_brings_it(name: str, mark: int) -> None:
    mix = flavoured(name)
    change = next_change(mix, [("Ada", Card({"flavour": mark}))], -14)
    if change is None:
        assert name == "beside the mix" or not [line for line in mix.base if line.ingredient.slug == FLAVOURED[name][0]]
        return
    assert change.aim is not None
    assert change.aim.of.startswith(FLAVOUR)
    found = balanced(change, JobContext(mix, -14, ingredients()), {})
    assert found is not None
    moved = found.grams[3] - mix.lines[3].grams
    assert moved * mark < 0


@pytest.mark.parametrize("cause", [key for key, one in causes().items() if one.change.get("do") == "aim"])
@pytest.mark.parametrize("name", list(FLAVOURED))
def test_every_cause_that_is_aimed_at_has_an_answer_for_every_mix(name: str, cause: str) -> None:
    said = remedy(causes()[cause], JobContext(flavoured(name), -14, ingredients())).said
    assert str(said)


def test_a_quantity_of_single_lines_is_one_of_the_mix_too() -> None:
    mix = flavoured("beside the mix")
    sugar = quantity_of("sugar", None, mix, ())
    assert sugar.of_mix(mix) == pytest.approx(100 * 160 / 940)
    assert sugar.brought_by(mix) == [0, 0, 100, 0]
    assert quantity_of("scoop_c", None, mix, ()).brought_by(mix) == [0, 0, 0, 0]
