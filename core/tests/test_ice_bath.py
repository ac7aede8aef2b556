"""Ice and salt against an independent solution, and what no bath does."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import reference_rows
from jalebi_core.heat.ice_bath import COLDEST_BATH_C, IceBath, brine_at_pct, freezing_c, ice_for


@pytest.mark.parametrize(
    "row", reference_rows("heat/bath.csv"), ids=lambda row: f"{row['ice_g']} {row['salt_g']} {row['heat_kj']}"
)
def test_bath_is_that_of_an_independent_solution(row: dict[str, str]) -> None:
    bath = IceBath.of(float(row["ice_g"]), salt_g=float(row["salt_g"])).heated(float(row["heat_kj"]))
    found = bath.state()
    assert found.t_c == pytest.approx(float(row["t_c"]), abs=0.5)
    assert found.ice_left_g == pytest.approx(float(row["ice_left_g"]), abs=20)
    assert found.salt_left_g == pytest.approx(float(row["salt_left_g"]), abs=20)
    assert found.brine_pct == pytest.approx(float(row["brine_pct"]), abs=0.5)
    assert bath.takes_kj == pytest.approx(float(row["takes_kj"]), abs=8)
    assert bath.ends_at_c == pytest.approx(float(row["ends_at_c"]), abs=0.5)


BATHS = st.builds(
    IceBath.of,
    ice_g=st.floats(1, 20_000),
    ice_c=st.floats(-30, 0),
    salt_g=st.one_of(st.just(0.0), st.floats(0.001, 10_000)),
    salt_c=st.floats(-10, 35),
    water_g=st.floats(0, 5000),
    water_c=st.floats(0, 60),
)


@given(BATHS, st.floats(0, 5000))
def test_heat_never_cools_a_bath_and_all_of_it_is_kept(bath: IceBath, kj: float) -> None:
    before, after = bath.state(), bath.heated(kj).state()
    assert after.t_c >= before.t_c - 1e-6
    assert after.ice_left_g <= before.ice_left_g + 1e-6
    dissolved = (1000 * bath.salt_kg - after.salt_left_g) / 1000
    kept = bath.enthalpy_of(after.t_c, after.ice_left_g / 1000, dissolved)
    assert kept == pytest.approx(bath.enthalpy_kj + kj, rel=1e-6, abs=1e-3)


@given(BATHS, st.floats(0, 1))
def test_what_a_bath_takes_up_melts_its_last_ice(bath: IceBath, share: float) -> None:
    takes = bath.takes_kj
    assert bath.heated(takes + 1e-6).state().ice_left_g == pytest.approx(0, abs=0.1)
    assert bath.heated(share * takes).takes_kj == pytest.approx((1 - share) * takes, abs=1e-6)


@pytest.mark.parametrize(("salt_g", "takes", "ends_c"), [(100, 312, -5.9), (200, 287, -12.6), (300, 254, -20.8)])
def test_salt_decides_how_long_and_not_how_cold(salt_g: float, takes: float, ends_c: float) -> None:
    bath = IceBath.of(1000, salt_g=salt_g)
    assert bath.state().t_c == pytest.approx(COLDEST_BATH_C)
    assert bath.takes_kj == pytest.approx(takes, abs=1)
    assert bath.ends_at_c == pytest.approx(ends_c, abs=0.1)


def test_salt_beyond_what_dissolves_is_waste() -> None:
    assert IceBath.of(1000, salt_g=600).takes_kj < IceBath.of(1000, salt_g=304).takes_kj
    assert IceBath.of(1000, salt_g=600).heated(1000).state().salt_left_g == pytest.approx(296, abs=1)


@given(st.floats(COLDEST_BATH_C, -0.5), st.floats(1, 5000))
def test_a_load_is_cold_enough_when_four_fifths_of_its_ice_have_melted(bath_c: float, kj: float) -> None:
    load = ice_for(kj, bath_c)
    spent = IceBath.of(load.ice_g, salt_g=load.salt_g).heated(kj).state()
    assert spent.t_c == pytest.approx(bath_c, abs=0.05)
    assert spent.ice_left_g == pytest.approx(0.2 * load.ice_g, rel=0.01)


def test_standing_in_a_room_melts_it_and_no_further_than_the_room() -> None:
    bath = IceBath.of(2000, salt_g=400)
    hour, days = (bath.left_standing(hours, 1.5, 20).state() for hours in (1, 100))
    assert hour.ice_left_g < bath.state().ice_left_g
    assert days.t_c == pytest.approx(20, abs=0.1)
    assert bath.left_standing(0, 1.5, 20) == bath


@given(st.floats(0, 23.3))
def test_brine_and_temperature_are_read_both_ways(pct: float) -> None:
    assert brine_at_pct(freezing_c(pct)) == pytest.approx(pct, abs=1e-9)
