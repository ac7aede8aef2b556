"""Critical points of a batch: no press sent late, twice or from nowhere turns a missed point into one that is met."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.heat.churn import Conditions
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.machines import machine
from jalebi_core.production.making.critical import CriticalPoint, critical_points
from jalebi_core.production.making.method import making_steps
from jalebi_core.production.making.process import MOST_OFF_K, Noted, thermometer_check
from jalebi_core.production.making.steps import MakingBench
from jalebi_core.production.runs import forecast_run
from jalebi_core.shelf.catalogue import find

AT_SIX = datetime(2026, 12, 2, 6, 0, tzinfo=UTC)
CUSTARD = Mix(
    "Custard",
    tuple(
        Line(find(slug), grams, stage)
        for slug, grams, stage in (
            ("whole-milk", 600, "pot"),
            ("cream-36", 220, "pot"),
            ("sugar", 150, "pot"),
            ("egg-yolk", 90, "yolks"),
        )
    ),
    "frozen-custard",
    30.0,
)
_MACHINE = machine("Machine", "compressor", 2.0)
STEPS = making_steps(CUSTARD, MakingBench(machine=_MACHINE, run=forecast_run(CUSTARD, _MACHINE, Conditions())))


def noted(at_min: float, what: str, step: str, key: str = "", value: float | None = None) -> Noted:
    return Noted(step, what, AT_SIX + timedelta(minutes=at_min), key, value, "Keeper")


def began(at_min: float) -> Noted:
    return noted(at_min, "began", "cool")


def cooled(at_min: float, t_c: float) -> Noted:
    return noted(at_min, "read", "cool", "cooled_c", t_c)


def point(key: str, notes: Sequence[Noted]) -> CriticalPoint:
    return next(one for one in critical_points(STEPS, notes) if one.key == key)


def cooling(*notes: Noted) -> str:
    return point("cooled", notes).state


def test_the_first_press_of_began_counts_whatever_is_pressed_again() -> None:
    slow = [began(0), cooled(500, 4.0)]
    assert cooling(*slow) == "missed"
    assert cooling(*slow, began(499), cooled(500, 4.0)) == "missed"
    aged = [noted(0, "began", "age"), noted(5000, "began", "churn.1")]
    assert point("aged", aged).state == "missed"
    assert point("aged", [*aged, noted(4999, "began", "age")]).state == "missed"


def test_a_reading_from_before_the_cooling_began_leaves_it_open() -> None:
    assert cooling(began(0), cooled(-300, 4.0)) == "open"
    assert cooling(began(0), cooled(-1, 4.0), cooled(500, 4.0)) == "missed"
    assert point("aged", [noted(0, "began", "age"), noted(-30, "began", "churn.1")]).state == "open"


def test_both_stages_are_judged_of_typed_readings() -> None:
    assert cooling(began(0), cooled(110, 4.0)) == "met"
    assert cooling(began(0), cooled(115, 20.0), cooled(350, 5.0)) == "met"
    assert cooling(began(0), cooled(115, 20.0)) == "open"
    assert cooling(began(0), cooled(130, 30.0)) == "missed"
    assert cooling(began(0), cooled(115, 20.0), cooled(370, 5.0)) == "missed"


def test_a_first_stage_that_nobody_read_is_said() -> None:
    found = point("cooled", [began(0), cooled(180, 4.0)])
    assert found.state == "missed"
    assert str(found.noted) == "4.0 °C after 180 min, but no reading shows 21 °C within 2 h"
    assert str(found.limit) == "21 °C or colder within 2 h and 5 °C or colder within 6 h"


def test_a_batch_from_before_both_stages_were_judged_has_the_last_alone() -> None:
    before = [replace(step, stages=()) for step in STEPS]
    found = next(one for one in critical_points(before, [began(0), cooled(180, 4.0)]) if one.key == "cooled")
    assert (found.state, str(found.limit)) == ("met", "5 °C or colder within 6 h")


def test_a_thermometer_far_off_corrects_nothing_and_settles_nothing() -> None:
    far = noted(0, "read", "thermometer", "ice_water_c", -60.0)
    heated = noted(20, "read", "cook", "heated_c", 24.0)
    found = point("heated", [far, heated])
    assert found.state == "open"
    assert "replace or recalibrate" in str(found.noted)
    assert point("cooled", [far, began(30), cooled(60, 4.0)]).state == "open"
    checked = noted(10, "read", "thermometer", "ice_water_c", 1.0)
    assert point("heated", [far, checked, heated]).state == "missed"
    right = noted(25, "read", "cook", "heated_c", 84.0)
    assert point("heated", [far, checked, right]).state == "met"


def test_a_thermometer_is_usable_up_to_its_bound() -> None:
    for shown_c, usable in ((MOST_OFF_K, True), (-MOST_OFF_K, True), (3.1, False), (-3.1, False)):
        check = thermometer_check([noted(0, "read", "thermometer", "ice_water_c", shown_c)])
        assert check is not None
        assert check.is_usable is usable
    assert thermometer_check([]) is None


def test_what_came_in_long_after_it_was_pressed_is_said() -> None:
    late = replace(cooled(100, 4.0), late_min=300.0)
    assert str(point("cooled", [began(0), late]).noted) == "4.0 °C after 100 min, sent in 5.0 h later"


@given(
    st.lists(
        st.tuples(st.sampled_from(["began", "read"]), st.floats(-400, 900), st.floats(-5, 90)), min_size=1, max_size=6
    )
)
def test_more_presses_never_turn_a_missed_cooling_into_a_met_one(more: list[tuple[str, float, float]]) -> None:
    late = [began(at) if what == "began" else cooled(at, t_c) for what, at, t_c in more if at > 0]
    missed = [began(0), cooled(400, 30.0)]
    in_time = any(one.key == "cooled_c" and one.at <= AT_SIX + timedelta(minutes=360) for one in late)
    found = cooling(*missed, *late)
    assert found == "missed" or in_time
