"""Levers: exchanges that cure, side effects told, and the honest none."""

from __future__ import annotations

import pytest

from conftest import DAIRY, mix_of
from jalebi_core.judgement import outcomes_of
from jalebi_core.levers import MOST_SHARE_PCT, Help, exchanged, help_for
from jalebi_core.mix import Mix
from jalebi_core.restrictions import offence
from jalebi_core.shelf import goods, shelf


def styled(*lines: tuple[str, float], style: str = "ice-cream") -> Mix:
    plain = mix_of(*lines)
    return Mix(plain.name, plain.lines, style, 30.0)


def helped(mix: Mix, *restrictions: str) -> dict[str, Help]:
    return {found.key: found for found in help_for(mix, -18.0, goods(), restrictions)}


HARD = styled(("whole-milk", 600), ("cream-36", 250), ("skim-milk-powder", 30), ("sugar", 110))


def test_what_is_tried_is_on_the_shelf() -> None:
    assert set(MOST_SHARE_PCT) <= set(shelf())


def test_every_lever_does_what_it_says_when_it_is_done() -> None:
    for key, found in helped(HARD).items():
        for lever in found.levers:
            after = exchanged(HARD, lever.line, goods()[lever.slug], lever.grams)
            assert after.mass_g == pytest.approx(HARD.mass_g)
            now = {outcome.key: outcome for outcome in outcomes_of(after, -18.0)}[key]
            assert now.value == pytest.approx(lever.value, abs=0.2)
            assert (now.state == "in") == lever.cures


def test_a_hard_mix_is_softened_and_the_smallest_cure_comes_first() -> None:
    found = helped(HARD)["firmness"]
    assert found.levers
    assert all(lever.value < 84 for lever in found.levers)
    assert len({lever.slug for lever in found.levers}) == len(found.levers)
    if found.cured:
        assert all(lever.cures for lever in found.levers)


def test_too_sweet_is_cured_and_its_price_is_told() -> None:
    sweet = styled(*DAIRY, ("sugar", 60.0))
    found = helped(sweet)["sweetness"]
    assert found.cured
    assert "less sweetness" in found.levers[0].effect.said
    assert found.levers[0].slug != "neutral-spirit-40"


def test_what_offends_is_not_tried_and_no_fault_needs_no_help() -> None:
    for found in helped(HARD, "alcohol-free", "low-sugar").values():
        for lever in found.levers:
            assert offence(goods()[lever.slug], "alcohol-free") is None
            assert offence(goods()[lever.slug], "low-sugar") is None
    assert help_for(HARD, -18.0, {}) == ()
    calm = styled(("whole-milk", 500), ("cream-36", 240), ("skim-milk-powder", 35), ("sugar", 120), ("dextrose", 45),
                  ("glycerol", 12), ("guar-gum", 2))  # fmt: skip
    assert all(outcome.state == "in" for outcome in outcomes_of(calm, -16.0)) == (help_for(calm, -16.0, goods()) == ())


def test_no_lever_brings_an_allergen_or_alcohol_that_the_mix_does_not_have() -> None:
    sorbet = styled(("quince-puree", 550), ("water", 216), ("sugar", 190), ("pectin", 2), style="sorbet")
    offered = {lever.slug for found in help_for(sorbet, -18.0, goods()) for lever in found.levers}
    assert offered
    assert not offered & {"whole-milk", "cream-36", "skim-milk-powder", "neutral-spirit-40"}
    only_spirit = {"neutral-spirit-40": goods()["neutral-spirit-40"]}
    perry = styled(("pear-puree", 600), ("perry", 180), ("sugar", 120), style="sorbet")
    assert help_for(perry, -18.0, only_spirit)
    assert help_for(sorbet, -18.0, only_spirit) == ()


def test_where_none_cures_it_says_so_and_shows_what_gains_most() -> None:
    rock = styled(("water", 900), ("locust-bean-gum", 2), ("sugar", 20), style="sorbet")
    found = helped(rock)["firmness"]
    assert found.levers
    assert not found.cured or all(lever.cures for lever in found.levers)
    body = helped(rock)["body"]
    assert body.levers[0].value > 3
