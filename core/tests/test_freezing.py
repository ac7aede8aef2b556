"""The freezing curve against handbook tables, its invariants and its edges."""

from __future__ import annotations

from dataclasses import replace
from math import exp

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import DAIRY, mix_of, mixes, reference_rows, solution
from jalebi_core.assessment.analysis import WHOLE_DEGREES_C, analyse_mix
from jalebi_core.model.composition import Composition, components_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.freezing import (
    frozen_pct,
    ice_temperature_c,
    initial_freezing_c,
    liquid,
    ln_ice_activity,
    temperature_at_frozen_c,
)
from jalebi_core.physics.sucrose_equivalents import freezing_point_c
from jalebi_core.shelf.catalogue import catalogue


def within_handbook(depression: float) -> float:
    return max(0.1, 0.04 * abs(depression))


@pytest.mark.parametrize(
    "row", reference_rows("binary_freezing.csv"), ids=lambda row: f"{row['solute']} {row['mass_pct']}"
)
def test_binary_solutions_freeze_where_the_handbook_says(row: dict[str, str]) -> None:
    found = initial_freezing_c(liquid(solution(row["solute"], float(row["mass_pct"])).row()))
    depression = float(row["depression_c"])
    assert -float(found) == pytest.approx(depression, abs=within_handbook(depression))


@pytest.mark.parametrize("row", reference_rows("nacl_freezing.csv"), ids=lambda row: row["mass_pct"])
def test_brine_freezes_where_the_handbook_says(row: dict[str, str]) -> None:
    found = initial_freezing_c(liquid(solution("sodium_chloride", float(row["mass_pct"])).row()))
    expected = float(row["freezing_point_c"])
    assert float(found) == pytest.approx(expected, abs=within_handbook(expected))


def test_ice_activity_at_known_temperatures() -> None:
    assert exp(ln_ice_activity(np.float64(-10.0))) == pytest.approx(0.9073, abs=5e-5)
    assert exp(ln_ice_activity(np.float64(-20.0))) == pytest.approx(0.8224, abs=5e-5)


@given(st.floats(-32, 0))
def test_ice_temperature_inverts_ice_activity(celsius: float) -> None:
    assert float(ice_temperature_c(ln_ice_activity(np.float64(celsius)))) == pytest.approx(celsius, abs=1e-9)


@pytest.mark.parametrize("milk", ["whole-milk", "semi-skimmed-milk", "skim-milk"])
def test_plain_milk_freezes_where_dairies_test_it(milk: str) -> None:
    assert -0.55 <= float(analyse_mix(mix_of((milk, 100.0))).initial_c) <= -0.52


SUCROSE_LED = [
    DAIRY,
    (("whole-milk", 640.0), ("cream-36", 130.0), ("skim-milk-powder", 45.0), ("sugar", 185.0)),
    (("whole-milk", 430.0), ("cream-36", 380.0), ("skim-milk-powder", 30.0), ("sugar", 150.0), ("egg-yolk", 60.0)),
]


@pytest.mark.parametrize("lines", SUCROSE_LED)
def test_curve_agrees_with_the_sucrose_equivalent_line(lines: tuple[tuple[str, float], ...]) -> None:
    row = mix_of(*lines).row()
    assert float(initial_freezing_c(liquid(row))) == pytest.approx(float(freezing_point_c(row, np.float64(0))), abs=0.3)
    shares = np.linspace(0, 90, 901)
    by_table = freezing_point_c(row, shares)
    frozen_by_table = np.interp(10.0, -by_table[~np.isnan(by_table)], shares[~np.isnan(by_table)])
    assert float(frozen_pct(liquid(row), np.array([-10.0]))[0]) == pytest.approx(frozen_by_table, abs=4)


def test_sucrose_equivalent_line_ends_with_its_table() -> None:
    assert np.isnan(freezing_point_c(mix_of(*DAIRY).row(), np.float64(95)))


@given(mixes())
def test_curve_is_monotone_and_bounded(mix: Mix) -> None:
    curve = analyse_mix(mix).frozen_pct
    assert np.all(np.diff(curve) >= -1e-9)
    assert curve[0] == 0
    assert curve[-1] <= 100


@given(mixes(), st.floats(0.1, 90))
def test_temperature_and_share_frozen_are_inverse(mix: Mix, share: float) -> None:
    of = liquid(mix.row())
    at = float(temperature_at_frozen_c(of, np.float64(share)))
    if not np.isnan(at) and at < -1e-6:
        assert float(frozen_pct(of, np.array([at]))[0]) == pytest.approx(share, abs=1e-5)


def test_many_mixes_at_once_equal_one_by_one() -> None:
    rows = np.array([item.ingredient.row for item in catalogue().values()])
    together = frozen_pct(liquid(rows), WHOLE_DEGREES_C)
    singly = np.array([frozen_pct(liquid(row), WHOLE_DEGREES_C) for row in rows])
    np.testing.assert_allclose(together, singly, rtol=0, atol=1e-8)


def test_pure_water_freezes_at_zero_and_whole() -> None:
    found = analyse_mix(mix_of(("water", 100.0)))
    assert float(found.initial_c) == 0
    assert found.frozen_pct[0] == 0
    assert np.all(found.frozen_pct[1:] == 100)


@pytest.mark.parametrize("slug", ["coconut-oil", "sugar"])
def test_without_water_nothing_freezes(slug: str) -> None:
    found = analyse_mix(mix_of((slug, 100.0)))
    assert np.isnan(found.initial_c) and np.isnan(found.scoop_c)
    assert np.all(found.frozen_pct == 0)


def test_alcohol_alone_gives_no_ice() -> None:
    pure = Mix("spirit", (Line(Ingredient(Composition("Alcohol", {"ethanol": 100})), 10.0),))
    assert np.isnan(analyse_mix(pure).initial_c)
    strong = Mix("strong", (Line(Ingredient(Composition("Strong", {"ethanol": 70, "water": 30})), 10.0),))
    assert np.isnan(analyse_mix(strong).initial_c)
    assert np.all(analyse_mix(strong).frozen_pct == 0)


def test_water_all_bound_gives_no_ice() -> None:
    dry = Composition("Dry protein", {"other_protein": 80, "water": 20})
    assert np.isnan(analyse_mix(Mix("dry", (Line(Ingredient(dry), 10.0),))).initial_c)


@pytest.mark.parametrize(("warm", "cold"), [(5.0, 0.0), (-60.0, -32.0)])
def test_beyond_its_range_the_curve_stays_at_its_ends(warm: float, cold: float) -> None:
    of = liquid(mix_of(*DAIRY).row())
    ends = frozen_pct(of, np.array([warm, cold]))
    assert ends[0] == ends[1]


def test_bound_water_lowers_ice_by_about_two_points_in_a_dairy_mix() -> None:
    of = liquid(mix_of(*DAIRY).row())
    free = frozen_pct(
        replace(of, free_water_g=of.water_g),
        np.array([-18.0]),
    )
    assert float(free[0] - frozen_pct(of, np.array([-18.0]))[0]) == pytest.approx(1.8, abs=0.4)


def test_soluble_fibre_holds_no_water_and_lowers_freezing() -> None:
    insoluble = Composition("bran", {"fibre": 10, "water": 90})
    soluble = Composition("chains", {"fibre": 10, "water": 90}, soluble_fibre_molar_mass=1640)
    bran, chains = (liquid(ingredient.row) for ingredient in (insoluble, soluble))
    assert float(bran.free_water_g) == pytest.approx(87)
    assert float(chains.free_water_g) == pytest.approx(90)
    assert float(initial_freezing_c(chains)) < float(initial_freezing_c(bran)) == 0


def test_lactose_free_sugars_freeze_twice_as_low_as_lactose() -> None:
    split = solution("glucose", 2.5).row() + solution("galactose", 2.5).row()
    whole = solution("lactose", 5.0).row()
    assert components_of(split).sum() == pytest.approx(200)
    ratio = float(initial_freezing_c(liquid(split / 2 * 1.0))) / float(initial_freezing_c(liquid(whole)))
    assert ratio == pytest.approx(0.95, abs=0.06)


def test_no_more_than_all_water_is_ice() -> None:
    """Where nothing is dissolved the share is exactly 100, not a rounding above it."""
    assert float(analyse_mix(mix_of(("rose-water", 190.75), overrun_pct=0.0)).frozen_pct[-1]) <= 100
