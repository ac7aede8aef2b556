"""Churning against an independent fine solution, and what no machine does."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import heat_table, reference_rows
from jalebi_core.heat.churn import Churner, Conditions, churn, churner, churner_kinds, factor_from
from jalebi_core.heat.ice_bath import IceBath

ROWS = reference_rows("heat/churn.csv")
PLAIN = heat_table("plain 12/10/16")


def run_of(row: dict[str, str]) -> tuple[Churner, Conditions]:
    told = {key: float(row[key]) for key in ("prefreeze_h", "freezer_c", "gel_frozen_pct") if row[key]}
    bath = IceBath.of(float(row["bath_ice_g"]), salt_g=float(row["bath_salt_g"])) if row["bath_ice_g"] else None
    own = {"precool_min": float(row["precool_min"])} if row["precool_min"] else {}
    machine = churner(row["machine"], float(row["bowl_l"]), **own)
    return machine, Conditions(start_c=float(row["start_c"]), bath=bath, **told)


@pytest.mark.parametrize("row", ROWS, ids=lambda row: f"{row['name']} {row['mass_g']}")
def test_a_run_is_that_of_an_independent_fine_solution(row: dict[str, str]) -> None:
    found = churn(heat_table(row["mix"]), float(row["mass_g"]), *run_of(row))
    assert str(found.drawn) == row["drawn"]
    if found.drawn:
        assert found.minutes == pytest.approx(float(row["minutes"]), abs=max(0.7, 0.05 * float(row["minutes"])))
    apart = (0.3, 2) if found.drawn else (0.4, 3)
    assert found.t_c == pytest.approx(float(row["t_c"]), abs=apart[0])
    assert found.frozen_pct == pytest.approx(float(row["ice_pct_of_water"]), abs=apart[1])
    assert found.wall_c == pytest.approx(float(row["wall_c"]), abs=0.5)
    if row["gel_left_pct"]:
        assert found.left_frozen_pct == pytest.approx(float(row["gel_left_pct"]), abs=3)


RUNS = st.tuples(
    st.sampled_from(churner_kinds()), st.floats(0.2, 1.0), st.floats(-1.0, 40.0), st.floats(5, 35), st.floats(0.5, 2.0)
)


def started(kind: str, fill: float, start_c: float, room_c: float, factor: float) -> tuple[float, Churner, Conditions]:
    machine = churner(kind, factor=factor)
    bath = IceBath.of(1500 * machine.bowl_l, salt_g=300 * machine.bowl_l)
    return 1000 * fill * machine.bowl_l * 0.8, machine, Conditions(start_c=start_c, room_c=room_c, bath=bath)


@given(RUNS)
@settings(max_examples=40)
def test_all_heat_is_accounted_for(run: tuple[str, float, float, float, float]) -> None:
    found = churn(PLAIN, *started(*run))
    assert found.given_kj + found.brought_kj == pytest.approx(found.taken_kj, rel=1e-9, abs=1e-9)


@given(RUNS)
@settings(max_examples=25)
def test_more_mass_or_a_warmer_base_is_never_faster(run: tuple[str, float, float, float, float]) -> None:
    mass_g, machine, conditions = started(*run)

    def minutes(mass_g: float, conditions: Conditions) -> float:
        found = churn(PLAIN, mass_g, machine, conditions)
        return found.minutes if found.drawn else machine.max_min

    usual = minutes(mass_g, conditions)
    assert minutes(mass_g, replace(conditions, start_c=conditions.start_c + 5)) >= usual - 1e-6
    if machine.q_w == 0:
        assert minutes(1.2 * mass_g, replace(conditions)) >= usual - 0.05


def test_stiffness_is_ice_and_not_temperature() -> None:
    canister, conditions = churner("canister"), Conditions()
    plain, watery = (churn(heat_table(name), 800, canister, conditions) for name in ("plain 12/10/16", "watery sorbet"))
    assert (plain.t_c, watery.t_c) == pytest.approx((-4.9, -2.0), abs=0.1)
    assert watery.minutes < plain.minutes
    assert churn(PLAIN, 800, canister, Conditions(draw_c=-4.0)).minutes < plain.minutes


def test_what_is_frozen_already_is_drawn_at_once() -> None:
    assert churn(PLAIN, 800, churner("canister"), Conditions(start_c=-8.0)).minutes == 0


def test_a_bowl_in_a_freezer_too_warm_never_freezes() -> None:
    found = churn(PLAIN, 800, churner("canister"), Conditions(freezer_c=-9.0, prefreeze_h=240))
    assert not found.drawn
    assert found.begins_frozen_pct == 0


@pytest.mark.parametrize("kind", ["canister", "compressor"])
def test_the_factor_is_the_one_that_gives_the_logged_minutes(kind: str) -> None:
    machine = churner(kind)
    minutes = churn(PLAIN, 800, replace(machine, factor=1.3), Conditions()).minutes
    assert factor_from(PLAIN, 800, machine, Conditions(), minutes) == pytest.approx(1.3, abs=0.02)
    assert factor_from(PLAIN, 800, machine, Conditions(), 1.0) == 2.5
    assert factor_from(PLAIN, 800, machine, Conditions(), 600.0) == 0.4
