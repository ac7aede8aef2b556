"""Heat that a mix gives off, its conductivity and what melts on the way: an independent integration, and the edges."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given

from conftest import DAIRY, HEAT_MIXES, heat_table, mix_of, mixes, plain_mix, reference_rows, solution
from jalebi_core.heat.enthalpy import COLDEST_C, HOTTEST_C, Thermal, melted_pct, thermal
from jalebi_core.heat.properties import of_components
from jalebi_core.model.mix import Mix


def table(parts: dict[str, float], overrun_pct: float = 30) -> Thermal:
    return thermal(plain_mix(parts, overrun_pct).row(), overrun_pct)


@pytest.mark.parametrize(
    "row", reference_rows("heat/enthalpy.csv"), ids=lambda row: f"{row['mix']} {row['t_c']}".replace("/", "-")
)
def test_heat_ice_and_conductivity_are_those_of_an_independent_integration(row: dict[str, str]) -> None:
    mix = heat_table(row["mix"])
    celsius = np.array(float(row["t_c"]))
    enthalpy = float(row["h_kj_kg"])
    assert float(mix.h_at(celsius)) == pytest.approx(enthalpy, abs=max(2.5, 0.02 * abs(enthalpy)))
    assert float(mix.frozen_at(celsius)) == pytest.approx(float(row["frozen_pct"]), abs=2)
    assert float(mix.k_at(celsius)) == pytest.approx(float(row["k_w_mk"]), rel=0.05)


@given(mixes())
def test_any_mix_gives_off_heat_as_it_cools_and_is_read_both_ways(mix: Mix) -> None:
    found = thermal(mix.row(), mix.overrun_used_pct)
    assert (np.diff(found.h_kj_kg) > 0).all()
    assert (np.diff(found.ice_g) <= 1e-9).all()
    assert float(found.h_at(np.array(0.0))) == pytest.approx(0, abs=1e-9)
    assert (found.k_w_mk > 0).all()
    assert (found.k_w_mk < 2.7).all()
    degrees = np.linspace(COLDEST_C, HOTTEST_C, 41)
    assert found.t_at(found.h_at(degrees)) == pytest.approx(degrees, abs=1e-6)


def test_pure_water_is_ice_that_melts_at_zero() -> None:
    water = table({"water": 100}, 0)
    at = {celsius: float(water.h_at(np.array(celsius))) for celsius in (-20.0, -0.001, 0.0, 50.0)}
    assert at[-0.001] == pytest.approx(-333.6, abs=0.1)
    assert at[50] == pytest.approx(209, abs=0.5)
    assert at[-20] == pytest.approx(-333.6 - 2.08 * 20, abs=1)
    assert float(water.k_at(np.array(-20.0))) == pytest.approx(2.39, abs=0.05)


@pytest.mark.parametrize(
    ("parts", "heat"),
    [({"ethanol": 100}, 4.2 * 20), ({"sucrose": 100}, 30.58), ({"egg_fat": 100}, 38.7), ({"milk_fat": 100}, 57.0)],
)
def test_what_holds_no_water_never_freezes(parts: dict[str, float], heat: float) -> None:
    mix = table(parts)
    assert not mix.ice_g.any()
    assert float(-mix.h_at(np.array(-20.0))) == pytest.approx(heat, rel=0.02)


def test_fat_gives_off_little_between_the_fridge_and_the_machine() -> None:
    """The heat of crystals is from 40 °C down; from 5 to −5 °C a mix of 12 % milk fat gives 1 to 2 kJ/kg of it."""
    dairy, oil = (table({**HEAT_MIXES["plain 12/10/16"][0], "milk_fat": 0, fat: 12}) for fat in ("milk_fat", "egg_fat"))

    def given_off(mix: Thermal, warm: float, cold: float) -> float:
        return float(mix.h_at(np.array(warm)) - mix.h_at(np.array(cold)))

    assert given_off(dairy, 5, -5) - given_off(oil, 5, -5) == pytest.approx(1.2, abs=0.2)
    assert given_off(dairy, 40, -18) - given_off(oil, 40, -18) == pytest.approx(12 * 0.78 * 0.83, abs=0.3)


def test_the_oil_of_nuts_stays_liquid() -> None:
    paste = mix_of(("hazelnut-paste", 100.0)).row()
    coconut = table({"other_fat": 60, "other_solids": 40})
    drop = [float(mix.h_at(np.array(20.0)) - mix.h_at(np.array(0.0))) for mix in (thermal(paste, 0), coconut)]
    assert drop[1] - drop[0] > 5


@pytest.mark.parametrize(("to_c", "melted"), [(-12, 9), (-10, 14), (-8, 22), (-6, 35), (-4, 59)])
def test_heat_shock_melts_the_published_share_of_the_ice(to_c: float, melted: float) -> None:
    assert melted_pct(heat_table("plain 12/10/16"), -18, to_c) == pytest.approx(melted, abs=1)


def test_cooling_melts_nothing_and_what_is_liquid_has_nothing_to_melt() -> None:
    mix = heat_table("plain 12/10/16")
    assert melted_pct(mix, -12, -18) == 0
    assert melted_pct(mix, 4, 20) == 0


def test_air_keeps_the_cold_out() -> None:
    row = mix_of(*DAIRY).row()
    at = [float(thermal(row, air).k_at(np.array(-18.0))) for air in (0, 30, 100)]
    assert at == sorted(at, reverse=True)
    assert at[2] < at[1] * 0.7


def test_every_component_has_properties_that_are_those_of_matter() -> None:
    celsius = np.linspace(COLDEST_C, 100, 29)
    found = of_components()
    assert ((found.heat_capacity.at(celsius) > 0.3) & (found.heat_capacity.at(celsius) < 4.3)).all()
    assert ((found.conductivity.at(celsius) > 0.1) & (found.conductivity.at(celsius) < 0.75)).all()
    assert ((found.density.at(celsius) > 750) & (found.density.at(celsius) < 2500)).all()


def test_brine_takes_up_less_than_water() -> None:
    brine = thermal(solution("sodium_chloride", 20).row(), 0)
    assert float(brine.h_at(np.array(20.0))) / 20 == pytest.approx(0.8 * 4.18 + 0.2 * 0.4, abs=0.01)
