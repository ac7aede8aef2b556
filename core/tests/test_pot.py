"""Pots against an independent solution, and what a hold at heat is worth."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import HEAT_MIXES, plain_mix, reference_rows
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.heat.pot import POTS, Cooling, conductance_w_k, cool, credit, mixed_c, required_s

PLAIN = thermal(plain_mix(*HEAT_MIXES["plain 12/10/16"]).row(), 0)
ROWS = {row["pot"]: row for row in reference_rows("heat/pot.csv")}
ICE_WATER = IceBath.of(800, water_g=800)


def pot(name: str) -> Cooling:
    place = "fridge" if "fridge" in name else "salt-bath" if "salted" in name else "ice-bath"
    mass_g, diameter = (5000.0, 280.0) if "5 kg" in name else (1000.0, 220.0)
    around = ICE_WATER if "800 g" in name else IceBath.of(3000, salt_g=600) if "salted" in name else POTS[place][1]
    start_c = mixed_c(PLAIN, ((750, 85.0), (250, 4.0))) if "250 g" in name else 85.0
    ua = conductance_w_k(PLAIN, mass_g, place, diameter, stirred="still" not in name)
    return cool(PLAIN, mass_g, start_c, ua, around)


@pytest.mark.parametrize("name", ROWS)
def test_a_pot_cools_as_in_an_independent_solution(name: str) -> None:
    row, found = ROWS[name], pot(name)
    assert found.start_c == pytest.approx(float(row["start_c"]), abs=0.1)
    for minute, key in zip(found.reached_min, ("to_57_min", "to_21_min", "to_5_min"), strict=True):
        assert minute == pytest.approx(float(row[key]), rel=0.04)
    assert str(found.two_stage_ok) == row["two_stage_ok"]
    assert found.given_kj == pytest.approx(found.taken_kj, rel=1e-9)
    if "250 g" not in name:
        for region in ("us", "uk"):
            assert credit(found.seen, region) == pytest.approx(float(row[f"credit_{region}"]), rel=0.05)


@pytest.mark.parametrize("row", reference_rows("heat/lethality.csv"), ids=lambda row: str(row["t_c"]))
def test_required_seconds_lie_between_the_published_pairs(row: dict[str, str]) -> None:
    for region in ("us", "uk"):
        wanted = float(row[f"{region}_s"]) if row[f"{region}_s"] else None
        found = required_s(region, float(row["t_c"]))
        assert found == (None if wanted is None else pytest.approx(wanted, rel=1e-4))


def test_a_hold_is_worth_its_minutes_and_a_cool_one_nothing() -> None:
    assert credit([(0, 69), (30, 69)], "us") == pytest.approx(1)
    assert credit([(0, 60), (120, 60)], "us") == 0
    assert credit([(0, 95), (1, 95)], "us") == pytest.approx(4)
    assert credit([(0, 80)], "us") == 0


@given(st.floats(300, 8000), st.floats(10, 95), st.sampled_from(sorted(POTS)))
def test_more_mass_never_cools_faster(mass_g: float, start_c: float, place: str) -> None:
    def to_21(mass: float) -> float:
        around = POTS[place][1]
        return cool(PLAIN, mass, start_c, conductance_w_k(PLAIN, mass, place), around).reached_min[1] or 0.0

    assert to_21(1.3 * mass_g) >= to_21(mass_g) * (1 - 1e-6)


def test_a_room_never_cools_below_itself_and_a_spent_bath_says_so() -> None:
    in_a_room = cool(PLAIN, 1000, 85, 1.0, 24.0)
    assert in_a_room.reached_min[1:] == (None, None)
    assert not in_a_room.two_stage_ok
    spent = cool(PLAIN, 3000, 85, 30.0, IceBath.of(300))
    assert spent.reached_min[2] is None
    assert spent.bath_c == pytest.approx(spent.coldest_c, abs=0.5)
