"""Rescues: what is done in the next two minutes, for the mix and the machine at hand."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from jalebi_core.heat.churn import Conditions
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.production.machines import machine
from jalebi_core.production.making.rescues import AtHand, Rescue, rescues
from jalebi_core.production.runs import forecast_run
from jalebi_core.shelf.catalogue import find
from test_making import COLD, CUSTARD, SORBET, staged

CANISTER = machine("Canister", "canister", 1.5)
CHOCOLATE = staged(
    "ice-cream", ("whole-milk", 600, "pot"), ("cream-36", 150, "pot"), ("sugar", 120, "pot"),
    ("cocoa-powder", 35, "pot"), ("dark-chocolate-70", 80, "off-heat"), ("locust-bean-gum", 2, "dry"),
)  # fmt: skip


def at_hand(mix: Mix, **said: object) -> AtHand:
    return AtHand(mix, CANISTER, forecast_run(mix, CANISTER, Conditions()), **said)  # type: ignore[arg-type]


def by_key(at: AtHand, part: str | None = None) -> dict[str, Rescue]:
    return {one.key: one for one in rescues(at, part)}


def said(one: Rescue) -> str:
    return " ".join(str(message) for message in one.now)


def test_only_what_this_mix_can_need_is_offered() -> None:
    custard, sorbet, cold = (by_key(at_hand(mix)) for mix in (CUSTARD, SORBET, COLD))
    assert {"scrambled", "burnt", "clumped", "butter"} <= custard.keys()
    assert not {"split-ganache", "curdled"} & custard.keys()
    assert not {"scrambled", "butter", "curdled", "clumped"} & sorbet.keys()
    assert "burnt" not in cold
    assert {"power-cut", "thawed", "too-sweet", "forgotten"} <= cold.keys()
    assert {"split-ganache", "clumped"} <= by_key(at_hand(CHOCOLATE)).keys()
    assert not {"overfilled", "does-not-set", "spent-bowl"} & by_key(AtHand(CUSTARD)).keys()


def test_those_of_the_part_come_first() -> None:
    assert {one.key for one in rescues(at_hand(CUSTARD), "churn")[:4]} >= {"overfilled", "does-not-set", "spent-bowl"}
    assert rescues(at_hand(CUSTARD), "pot")[0].key == "scrambled"


@pytest.mark.parametrize("mix", [CUSTARD, SORBET, COLD, CHOCOLATE])
def test_each_says_what_to_do_and_when_to_throw_it_away(mix: Mix) -> None:
    found = rescues(at_hand(mix, missing=(0, 1)))
    assert len(found) >= 5
    for one in found:
        sentences = [str(one.name), *map(str, one.now), str(one.throw)]
        assert all(sentence and "nan" not in sentence for sentence in sentences)
        assert len(one.now) >= 1
        assert not re.search(r"(?<![\d.])0 g\b", " ".join(sentences[1:]))


def test_an_overfull_bowl_keeps_what_it_bears() -> None:
    double = replace(CUSTARD, lines=tuple(Line(one.ingredient, 3 * one.grams, one.stage) for one in CUSTARD.lines))
    run = replace(forecast_run(double, CANISTER, Conditions()), mass_g=double.mass_g)
    found = said(by_key(AtHand(double, CANISTER, run))["overfilled"])
    out_g, keep_g = (float(one) for one in re.findall(r"(\d+) g", found)[:2])
    assert out_g + keep_g == pytest.approx(double.mass_g, abs=1.5)
    assert keep_g < 1500


def test_a_spent_bowl_is_frozen_for_as_long_as_the_run_needs() -> None:
    spent = said(by_key(at_hand(CUSTARD))["spent-bowl"])
    assert re.search(r"freeze this one again, empty and dry, (8|10|12|16|24) h", spent)
    batch = at_hand(CUSTARD, freezer_c=-8.0)
    assert "take less at a time" in said(by_key(batch)["spent-bowl"])


def test_what_is_too_sweet_is_thinned_by_the_same_without_sugar() -> None:
    sweet = replace(CUSTARD, lines=(*CUSTARD.lines, Line(find("sugar"), 90.0, "pot")))
    found = said(by_key(at_hand(sweet))["too-sweet"])
    pods = re.search(r"from (\d+) to (\d+) of sweetness", found)
    assert pods
    assert float(pods[1]) == pytest.approx(float(sweetness_pod(sweet.row())), abs=0.6)
    assert float(pods[2]) < float(pods[1])
    added = found.split("(")[1].split(")")[0]
    assert "sugar" not in added
    assert "yolk" not in added, "nothing raw into what is cooked"
    assert added.count("cream") == 1
    assert "By its recipe it is not too sweet" in said(by_key(at_hand(CUSTARD))["too-sweet"])


def test_a_forgotten_line_goes_in_as_its_kind_bears() -> None:
    lines = {one.ingredient.slug: at for at, one in enumerate(CUSTARD.lines)}
    wanted = tuple(lines[slug] for slug in ("locust-bean-gum", "sugar", "skim-milk-powder", "egg-yolk", "whole-milk"))
    gum, sugar, powder, yolk, milk = map(str, by_key(at_hand(CUSTARD, missing=wanted))["forgotten"].now)
    assert "ten times as much sugar" in gum
    assert "dissolve it warm" in sugar
    assert "sieve" in powder
    assert "never cold into a cooked base" in yolk
    assert "stir it in cold" in milk
