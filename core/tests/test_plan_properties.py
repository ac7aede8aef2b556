"""Plans of random kitchens: each obeys all rules, is worth what it says, survives a delay, and slips as it says."""

from __future__ import annotations

import json
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from jalebi_core.formats.plan_answers import plan_data
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.list_schedule import list_schedule
from jalebi_core.production.schedule.problem import (
    Plan,
    Problem,
    elapsed_minutes,
    late_minutes,
    moved_minutes,
    reassigned,
    washes,
)
from jalebi_core.production.schedule.slack import slips
from jalebi_core.production.schedule.solving import Solved, solve
from jalebi_core.production.schedule.tasks import tasks_of
from test_plan import delayed

SLOWLY = settings(
    max_examples=25,
    deadline=None,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
STYLES = ("gelato", "frozen-custard", "sorbet", "sherbet", "no-churn")

mixes = st.builds(
    lambda style, grams, hour, has, fresh, mix_in, way: {
        "style": style,
        "grams": grams,
        "has": sorted(has | ({"egg", "milk"} if style == "frozen-custard" else set())),
        "serve": f"2026-05-02T{hour}:00",
        "fresh": fresh and style != "no-churn",
        "mix_in": mix_in,
        **({"way": "blend"} if way and style in ("sorbet", "sherbet") else {}),
    },
    st.sampled_from(STYLES),
    st.sampled_from((700, 1000, 1600)),
    st.integers(16, 20),
    st.sets(st.sampled_from(("milk", "nuts", "alcohol", "gums", "dark")), max_size=2),
    st.booleans(),
    st.booleans(),
    st.booleans(),
)


@st.composite
def kitchens(draw: st.DrawFn) -> dict[str, Any]:
    """Return a plan file of one to three mixes on one day, with a compressor and perhaps a bowl."""
    bowl = {
        "id": "bowl", "churn_min": 25, "wash_min": 10, "dirty_max_min": 60, "wash_always": True, "ready_min": 720,
        "ready_hands_min": 5, "ready_uses": [{"place": "freezer", "units": 20}], "ready_since": -600,
    }  # fmt: skip
    compressor = {
        "id": "compressor", "churn_min": draw(st.sampled_from((25, 35))), "wash_min": 15, "dirty_max_min": 120,
        "wash_always": False, "ready_min": 15, "ready_hands_min": 5, "ready_max_min": draw(st.sampled_from((None, 45))),
    }  # fmt: skip
    start = draw(st.sampled_from((300, 360, 420)))
    people = [{"id": "ada", "shifts": [[start, 1260]]}]
    people += [{"id": "ben", "shifts": [[600, 1300]]}] if draw(st.booleans()) else []
    places = {"burner": 1, "ice-bath": 1, "fridge": 120, "freezer": 120}
    places |= {"blast": 30} if draw(st.booleans()) else {}
    made = draw(st.lists(mixes, min_size=1, max_size=3))
    return {
        "format": "jalebi.plan", "version": 1, "origin": "2026-05-02T00:00", "horizon_min": 1440, "time_limit_s": 20,
        "people": people, "places": [{"id": place, "capacity": units} for place, units in places.items()],
        "machines": [compressor, *([bowl] if draw(st.booleans()) else [])],
        "mixes": [{"id": f"m{number}", **mix} for number, mix in enumerate(made)],
    }  # fmt: skip


def planned(content: dict[str, Any]) -> tuple[Problem, Solved]:
    problem = read_plan(json.dumps(content).encode())
    return problem, solve(problem)


def worth(problem: Problem, plan: Plan, solved: Solved) -> dict[str, int | None]:
    """Return the levels of a plan, worked out from the plan itself."""
    found: dict[str, int | None] = {"late_min": sum(late_minutes(problem, plan).values())}
    names = {level.name for level in solved.levels}
    if "washes" in names:
        return found | {"washes": washes(plan), "elapsed_min": elapsed_minutes(problem, plan)}
    return found | {"moved_min": moved_minutes(problem, plan), "reassigned": reassigned(problem, plan)}


@SLOWLY
@given(kitchens())
def test_every_plan_obeys_all_rules_and_is_worth_what_it_says(content: dict[str, Any]) -> None:
    problem, solved = planned(content)
    if solved.plan is None:
        return
    assert faults_of(problem, solved.plan) == []
    assert {level.name: level.value for level in solved.levels} == worth(problem, solved.plan, solved)
    assert all(level.bound is None or level.value is None or level.bound <= level.value for level in solved.levels)
    pieces = sum(len(one.people) for one in (*solved.plan.steps, *solved.plan.setups))
    assert len({task.id for task in tasks_of(problem, solved.plan)}) == pieces


@SLOWLY
@given(kitchens(), st.floats(0.2, 0.8), st.sampled_from((0, 5, 15, 40)))
def test_a_day_goes_on_whatever_takes_longer(content: dict[str, Any], share: float, longer: int) -> None:
    _, solved = planned(content)
    if solved.plan is None:
        return
    ends = max(step.end for step in solved.plan.steps)
    now = int(ends * share)
    running = [step for step in solved.plan.steps if step.start < now < step.end and step.end - step.start < 60]
    actual = [{"id": step.id, "end": step.end + longer} for step in running[:1]]
    replanned = {**content, "now": now, "previous": plan_data(solved.plan), "actual": actual}
    again, found = planned(replanned)
    if found.plan is None:
        assert longer
        return
    assert faults_of(again, found.plan) == []
    assert {level.name: level.value for level in found.levels} == worth(again, found.plan, found)
    if not longer:
        assert moved_minutes(again, found.plan) == 0
    before = {step.id: step for step in solved.plan.steps}
    assert all(step.start == before[step.id].start for step in found.plan.steps if step.id in again.begun)


@SLOWLY
@given(kitchens())
def test_a_step_that_slips_is_still_on_time(content: dict[str, Any]) -> None:
    _, solved = planned({**content, "spare_min": 30})
    if solved.plan is None:
        return
    without = read_plan(json.dumps({**content, "spare_min": 0}).encode())
    due = {step.id for step in without.steps if step.due is not None}
    for slip in slips(without, solved.plan).values():
        assert all(slip.delays.get(f"{name}>", 0) == 0 for name in due)
        assert faults_of(without, delayed(solved.plan, slip.delays)) == [], slip.step


@SLOWLY
@given(kitchens())
def test_a_plan_put_together_backwards_is_on_time_and_never_better_than_the_best(content: dict[str, Any]) -> None:
    problem, solved = planned(content)
    by_hand = list_schedule(problem)
    if by_hand is None:
        return
    assert faults_of(problem, by_hand) == []
    assert solved.status == "optimal"
    assert solved.plan is not None
    assert (washes(by_hand), elapsed_minutes(problem, by_hand)) >= (
        washes(solved.plan),
        elapsed_minutes(problem, solved.plan),
    )
