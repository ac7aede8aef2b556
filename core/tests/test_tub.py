"""A tub over time against an independent fine solution, and what happens to a filling on its way."""

from __future__ import annotations

from dataclasses import replace
from itertools import groupby

import numpy as np
import pytest

from conftest import DAIRY, HEAT_MIXES, mix_of, plain_mix, reference_rows
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.heat.tub import (
    PLACES,
    TubRun,
    Vessel,
    box_radius_mm,
    emptied,
    filling_of,
    follow,
    tempering_min,
    vessel,
    wall_melts_pct,
)

NAME = "plain 12/10/16"
FILLING = filling_of(plain_mix(*HEAT_MIXES[NAME]))
SMALL, LARGE, BOX = Vessel(55, 85), Vessel(100, 160), Vessel(box_radius_mm(160, 110), 60)
RUNS = {
    "0.8 L blast": (SMALL, "blast", -5.0),
    "0.8 L still freezer": (SMALL, "still-freezer", -5.0),
    "0.8 L counter": (SMALL, "room", -18.0),
    "0.8 L fridge": (SMALL, "fridge", -18.0),
    "5 L blast": (LARGE, "blast", -5.0),
    "1 L box blast (3-D)": (BOX, "blast", -5.0),
}
TABLE = {tub: list(rows) for tub, rows in groupby(reference_rows("heat/tub.csv"), lambda row: row["tub"])}


@pytest.mark.parametrize("tub", TABLE)
def test_a_tub_is_that_of_an_independent_fine_solution(tub: str) -> None:
    vessel, place, start_c = RUNS[tub]
    found, box = follow(FILLING, vessel, PLACES[place], start_c, 24), "box" in tub
    rows = TABLE[tub]
    minutes = [float(row["minute"]) for row in rows]
    series = zip(*(found.at(minutes, one) for one in (found.core_c, found.rim_c, found.mean_firmness)), strict=True)
    for row, (core, rim, mean) in zip(rows, series, strict=True):
        assert core == pytest.approx(float(row["core_c"]), abs=2 if box else 0.6)
        assert rim == pytest.approx(float(row["rim_c"]), abs=3 if box else 1)
        assert mean == pytest.approx(float(row["mean_firmness"]), abs=2)
    when = [found.core_reaches(-15), found.scoops_from, found.rim_soft, found.rim_melts]
    for key, minute in zip(("core_at_target", "mean_scoops", "rim_soft", "rim_melts"), when, strict=True):
        if rows[0][key]:
            assert minute == pytest.approx(float(rows[0][key]), rel=0.12 if box else 0.06)
    assert found.stored_j == pytest.approx(found.came_in_j, rel=1e-9)


def test_half_the_cell_changes_the_minutes_by_less_than_three_in_a_hundred() -> None:
    coarse, fine = (
        follow(FILLING, SMALL, PLACES["blast"], -5.0, 6, layers=10 * times, rings=8 * times) for times in (1, 2)
    )
    for one, other in ((coarse.core_reaches(-15), fine.core_reaches(-15)), (coarse.scoops_from, fine.scoops_from)):
        assert one == pytest.approx(other, rel=0.03)


def test_a_frozen_dish_keeps_the_rim_that_a_warm_one_melts() -> None:
    dish = Vessel(80, 40, "glass", lid=False, wall_kg=0.6)
    warm, cold = (
        follow(FILLING, replace(dish, wall_start_c=celsius), PLACES["still-freezer"], -6.0, 1)
        for celsius in (20.0, -18.0)
    )

    def warmest(run: TubRun) -> float:
        return float(run.rim_c.max())

    assert warmest(warm) > warmest(cold) + 1
    assert wall_melts_pct(FILLING, replace(dish, wall_start_c=20.0), -6.0) > 5
    assert wall_melts_pct(FILLING, replace(dish, wall_start_c=-18.0), -6.0) < 0
    assert wall_melts_pct(FILLING, dish, -6.0) == 0


def test_a_box_shares_its_wall_with_all_that_it_holds() -> None:
    box = vessel("box", 42, length_mm=220, width_mm=150, wall="glass", wall_kg=0.72, wall_start_c=20.0)
    filled_kg = 0.22 * 0.15 * 0.042 * FILLING.mix.density_kg_m3
    begun = float(FILLING.mix.h_at(np.array(-6.0)))
    ends = float(np.interp(begun + 0.72 * 0.84 * 26 / filled_kg, FILLING.mix.h_kj_kg, FILLING.mix.ice_g))
    before = float(np.interp(-6.0, FILLING.mix.t_c, FILLING.mix.ice_g))
    assert wall_melts_pct(FILLING, box, -6.0) == pytest.approx(100 * (1 - ends / before), rel=1e-6)


def test_minutes_in_the_open_bowl_melt_some_of_the_ice() -> None:
    warmed = emptied(FILLING, SMALL, -5.0, 4, 25.0)
    assert -5 < warmed < -4.7
    assert emptied(FILLING, SMALL, -5.0, 0, 25.0) == -5


def test_a_small_bath_warms_as_it_ripens_the_can_and_a_large_one_does_not() -> None:
    can = Vessel(70, 140, "steel")
    small, large = (
        follow(FILLING, can, PLACES["brine"], -5.0, 2, bath=IceBath.of(ice_g, salt_g=ice_g / 5))
        for ice_g in (600.0, 20_000.0)
    )
    assert large.core_c[-1] < small.core_c[-1]
    assert follow(FILLING, can, PLACES["ice-bath"], -18.0, 1).core_c[-1] > -18


def test_a_tub_goes_on_in_another_place_from_where_it_was() -> None:
    hardened = follow(FILLING, SMALL, PLACES["still-freezer"], -5.0, 12)
    tempered = follow(FILLING, SMALL, PLACES["room"], hardened.t_c, 2)
    assert tempered.core_c[0] == pytest.approx(hardened.core_c[-1])
    begins, ends = tempered.scoops_from, tempered.scoops_to
    assert begins is not None
    assert ends is not None
    assert begins <= ends <= 120


def test_a_tub_scoops_on_the_counter_within_the_hour_and_sooner_from_a_warmer_freezer() -> None:
    dairy = mix_of(*DAIRY)
    cold, warm = tempering_min(dairy, -18.0), tempering_min(dairy, -15.0)
    assert cold is not None
    assert warm is not None
    assert 5 < warm[0] < cold[0] < cold[1] < 60
    assert tempering_min(dairy, -6.0) is None
