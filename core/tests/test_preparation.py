"""Preparations: what is done to ingredients, as mass balances."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.model.components import INDEX, KEYS
from jalebi_core.model.composition import TRAITS, Composition, trait_of
from jalebi_core.model.errors import CompositionError, PreparationError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.boiling import boiling_c
from jalebi_core.production.preparation import Part, Prepared, Step, prepare
from jalebi_core.shelf.catalogue import catalogue, find


def made(*parts: tuple[str, float] | tuple[str, float, bool], steps: list[dict[str, Any]] | None = None) -> Prepared:
    read = [Part(find(part[0]).composition, part[1], len(part) == 3) for part in parts]
    return prepare("made", read, [Step.from_dict(step) for step in steps or []])


def grams(result: Prepared, key: str) -> float:
    return float(result.composition.row[INDEX[key]]) * result.yield_g / 100


def test_without_steps_a_preparation_is_the_sum_of_its_parts_with_every_trait() -> None:
    parts = (("glucose-syrup-de42", 100.0), ("inulin", 20.0), ("apple-puree", 80.0), ("egg-yolk", 30.0))
    lines = tuple(Line(find(slug), mass) for slug, mass in parts)
    np.testing.assert_allclose(made(*parts).composition.row, Mix("m", lines).row(), atol=1e-5)
    again = Composition.from_dict(made(*parts).composition.as_dict())
    np.testing.assert_allclose(again.row, made(*parts).composition.row, atol=1e-9)


@given(st.lists(st.tuples(st.sampled_from(sorted(catalogue())), st.floats(1, 500)), min_size=1, max_size=5))
def test_using_a_preparation_is_using_its_parts(parts: list[tuple[str, float]]) -> None:
    result = made(*parts)
    by_parts = Mix("m", (*(Line(find(slug), mass) for slug, mass in parts), Line(find("whole-milk"), 300.0)))
    by_made = Mix("m", (Line(Ingredient(result.composition), result.yield_g), Line(find("whole-milk"), 300.0)))
    one, other = analyse_mix(by_parts), analyse_mix(by_made)
    np.testing.assert_allclose(one.frozen_pct, other.frozen_pct, atol=0.05)
    assert float(one.sweetness_pod) == pytest.approx(float(other.sweetness_pod), abs=0.01)


@pytest.mark.parametrize("step", [{"share_pct": 25}, {"measured_g": 205, "pot_g": 407}])
def test_reducing_takes_water_and_nothing_else(step: dict[str, Any]) -> None:
    result = made(("raspberry-puree", 820.0), steps=[{"kind": "reduce", **step}])
    assert result.yield_g == pytest.approx(205)
    for key in KEYS:
        if key != "water":
            assert grams(result, key) == pytest.approx(float(find("raspberry-puree").row[INDEX[key]]) * 8.2, abs=1e-3)
    assert any("scorches" in caution for caution in result.cautions)
    assert ("612 g with the pot" in str(result.messages[0])) is ("pot_g" in step)


def test_alcohol_boils_off_before_water() -> None:
    wine = made(("red-wine", 1000.0), steps=[{"kind": "reduce", "share_pct": 50}])
    before = 10 * float(find("red-wine").row[INDEX["ethanol"]])
    assert grams(wine, "ethanol") < 0.01 * before
    little = made(("red-wine", 1000.0), steps=[{"kind": "reduce", "share_pct": 95}])
    assert 0.5 * before < grams(little, "ethanol") < 0.95 * before


def test_leaves_keep_liquid_less_when_pressed_and_it_can_be_made_up() -> None:
    milk = ("whole-milk", 500.0)
    leaves = ("tea-leaves", 10.0, True)
    pressed = made(milk, leaves, steps=[{"kind": "steep"}])
    drained = made(milk, leaves, steps=[{"kind": "steep", "pressed": False}])
    assert pressed.yield_g == pytest.approx(485)
    assert drained.yield_g == pytest.approx(470)
    np.testing.assert_allclose(pressed.composition.row, find("whole-milk").row, atol=1e-4)
    assert made(milk, leaves, steps=[{"kind": "steep", "made_up": "liquid"}]).yield_g == pytest.approx(500)
    watered = made(milk, leaves, steps=[{"kind": "steep", "made_up": "water"}])
    assert watered.yield_g == pytest.approx(500)
    assert grams(watered, "milk_fat") == pytest.approx(0.97 * 17.5)
    assert made(milk, leaves, steps=[{"kind": "steep", "measured_g": 478}]).yield_g == pytest.approx(478)
    assert made(milk, ("mint", 10.0, True), steps=[{"kind": "steep"}]).yield_g == pytest.approx(497)


def test_macerated_fruit_parts_into_syrup_and_fruit() -> None:
    fruit, sugar = ("strawberry-puree", 400.0), ("sugar", 200.0)
    both = [made(fruit, sugar, steps=[{"kind": "macerate", "keep": keep}]) for keep in ("syrup", "fruit", "both")]
    assert both[0].yield_g + both[1].yield_g == pytest.approx(both[2].yield_g)
    assert grams(both[0], "fibre") == pytest.approx(0, abs=1e-6)
    assert grams(both[0], "sucrose") + grams(both[1], "sucrose") == pytest.approx(grams(both[2], "sucrose"), abs=1e-3)
    weighed = made(fruit, sugar, steps=[{"kind": "macerate", "keep": "syrup", "measured_g": 250}])
    assert weighed.yield_g == pytest.approx(250)


def test_a_sieve_keeps_pulp_first_and_trimming_changes_only_the_weight() -> None:
    strained = made(("raspberry-puree", 500.0), steps=[{"kind": "strain", "share_pct": 80}])
    assert strained.yield_g == pytest.approx(400)
    assert strained.composition.row[INDEX["fibre"]] < 0.2 * find("raspberry-puree").row[INDEX["fibre"]]
    trimmed = made(("mango-puree", 1000.0), steps=[{"kind": "trim", "share_pct": 35}])
    assert trimmed.yield_g == pytest.approx(650)
    np.testing.assert_allclose(trimmed.composition.row, find("mango-puree").row, atol=1e-4)


def test_boiling_with_acid_splits_sucrose_and_mass_closes() -> None:
    syrup = made(("sugar", 300.0), ("lemon-juice", 30.0), ("water", 170.0), steps=[{"kind": "invert", "share_pct": 40}])
    assert syrup.yield_g == pytest.approx(500)
    assert grams(syrup, "glucose") == pytest.approx(grams(syrup, "fructose"), abs=0.5)
    assert grams(syrup, "glucose") > 62
    assert sum(syrup.composition.per_100g.values()) == pytest.approx(100, abs=0.01)


def test_a_reading_replaces_the_estimate() -> None:
    syrup = made(
        ("sugar", 300.0), ("water", 500.0), steps=[{"kind": "reduce", "share_pct": 60}, {"kind": "brix", "brix": 65}]
    )
    assert syrup.yield_g == pytest.approx(300 / 0.65, rel=1e-4)


def test_soured_milk_wants_enough_acid() -> None:
    good = made(("whole-milk", 235.0), ("lemon-juice", 15.0), steps=[{"kind": "sour"}])
    assert "buttermilk" in str(good.messages[0])
    weak = made(("whole-milk", 249.0), ("lemon-juice", 1.0), steps=[{"kind": "sour"}])
    assert weak.yield_g == pytest.approx(250)
    assert any("hardly sours" in caution for caution in weak.cautions)


@pytest.mark.parametrize(
    ("solids", "boils"), [(50.0, 102.0), (60.0, 103.2), (65.0, 104.2), (70.0, 105.9), (80.0, 111.5)]
)
def test_syrups_boil_where_handbooks_say(solids: float, boils: float) -> None:
    syrup = Composition("Syrup", {"sucrose": solids, "water": 100 - solids})
    assert boiling_c(syrup.row) == pytest.approx(boils, abs=0.8)


def test_fruit_is_cooked_to_where_it_sets() -> None:
    jam = made(("apricot-puree", 1000.0), ("sugar", 600.0), steps=[{"kind": "cook", "to_c": 104}])
    assert boiling_c(jam.composition.row) == pytest.approx(104, abs=0.01)
    assert 60 < 100 - 100 * grams(jam, "water") / jam.yield_g < 75
    assert "104" in str(jam.messages[0])
    for step, lines in (({"to_c": 104}, (("water", 100.0),)), ({"to_c": 101}, (("honey", 100.0),))):
        with pytest.raises(PreparationError, match="does not boil"):
            made(*lines, steps=[{"kind": "reduce", **step}])


def test_the_states_on_the_way_are_what_is_in_the_pot() -> None:
    steps: list[dict[str, Any]] = [{"kind": "strain", "share_pct": 90}, {"kind": "reduce", "share_pct": 50}]
    result = made(("raspberry-puree", 400.0), ("sugar", 100.0), steps=steps)
    masses = [float(state[: len(KEYS)].sum()) for state in result.states]
    assert masses == pytest.approx([500, 450, 225])
    lost = result.states[1] - result.states[2]
    assert lost[INDEX["water"]] == pytest.approx(225)
    assert lost[INDEX["sucrose"]] == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize(
    ("step", "message"),
    [
        ({"kind": "reduce", "measured_g": 20}, "neither water nor alcohol"),
        ({"kind": "reduce", "measured_g": 900}, "cannot come down"),
        ({"kind": "reduce"}, "say to which share"),
        ({"kind": "steep"}, "mark what is steeped"),
        ({"kind": "strain", "share_pct": 0}, "pass the sieve"),
        ({"kind": "trim", "share_pct": 100}, "usable|left of what"),
        ({"kind": "brix", "brix": 90}, "more than it can have"),
        ({"kind": "fly"}, "not a step"),
        ({"kind": "cook", "share_pct": -1}, "0 to 100"),
        ({"kind": "cook", "colour": 1}, "no “colour”"),
        ({"kind": "macerate", "keep": "stones"}, "keep"),
        ({"kind": "steep", "made_up": "gin"}, "made_up"),
    ],
)
def test_what_cannot_be_done_is_told(step: dict[str, Any], message: str) -> None:
    with pytest.raises(PreparationError, match=message):
        made(("raspberry-puree", 400.0), steps=[step])


def test_nothing_makes_nothing() -> None:
    with pytest.raises(PreparationError, match="nothing that weighs"):
        made(("tea-leaves", 10.0, True), steps=[{"kind": "steep"}])


def test_traits_are_stated_once_and_whole() -> None:
    traits = {trait: float(trait_of(find("honey").row, trait)) for trait in TRAITS}
    parts = dict(find("honey").composition.per_100g)
    np.testing.assert_allclose(Composition("copy", parts, traits=traits).row, find("honey").row, atol=1e-6)
    for wrong in ({"chain_mol": 1.0}, {**traits, "chain_mol": -1.0}, {**traits, "yolk_solids": "much"}):
        with pytest.raises(CompositionError, match=r"traits|chain_mol|yolk_solids"):
            Composition("copy", parts, traits=wrong)  # type: ignore[arg-type]
    with pytest.raises(CompositionError, match="twice"):
        Composition("copy", parts, pod=80, traits=traits)


USED = ["raspberry-puree", "whole-milk", "sugar", "red-wine", "honey", "quince-puree"]
PARTS = st.lists(st.tuples(st.sampled_from(USED), st.floats(20, 800)), min_size=1, max_size=4)


@given(PARTS, st.floats(1, 99))
def test_whatever_stays_behind_and_what_goes_on_are_all_there_was(parts: list[tuple[str, float]], share: float) -> None:
    whole = made(*parts)
    try:
        syrup, fruit = (
            made(*parts, steps=[{"kind": "macerate", "share_pct": share, "keep": keep}]) for keep in ("syrup", "fruit")
        )
    except PreparationError:
        return
    assert syrup.yield_g + fruit.yield_g == pytest.approx(whole.yield_g)
    for key in KEYS:
        assert grams(syrup, key) + grams(fruit, key) == pytest.approx(grams(whole, key), abs=1e-2)


@given(PARTS, st.floats(5, 100), st.floats(0.3, 1))
def test_boiling_down_in_two_goes_is_boiling_down_in_one(
    parts: list[tuple[str, float]], to: float, half: float
) -> None:
    half_way = 100 - (100 - to) * half
    try:
        once = made(*parts, steps=[{"kind": "reduce", "share_pct": to}])
    except PreparationError:
        return
    if once.composition.row[0] < 0.1:
        return
    target = once.yield_g
    twice = made(*parts, steps=[{"kind": "reduce", "share_pct": half_way}, {"kind": "reduce", "measured_g": target}])
    np.testing.assert_allclose(once.composition.row, twice.composition.row, atol=1e-3)


@given(PARTS, st.floats(30, 100))
def test_a_sieve_never_adds_and_never_passes_more_fibre_than_there_was(
    parts: list[tuple[str, float]], share: float
) -> None:
    whole, passed = made(*parts), made(*parts, steps=[{"kind": "strain", "share_pct": share}])
    assert passed.yield_g == pytest.approx(whole.yield_g * share / 100)
    for key in KEYS:
        assert grams(passed, key) <= grams(whole, key) + 1e-3
    assert grams(passed, "fibre") <= grams(whole, "fibre") * share / 100 + 1e-3
