"""Plans: mixes to steps, plans proved best and checked by other code, what would help, and files that are refused."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import pytest

from conftest import REFERENCE
from jalebi_core.formats.plan_answers import expanded, plan_report
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.problem import (
    Piece,
    PlacedStep,
    Plan,
    Setup,
    elapsed_minutes,
    late_minutes,
    washes,
)

PLANS = REFERENCE / "plan"
NAMES = ("plan_bowls_over_night", "plan_one_custard", "plan_order_of_runs", "plan_too_late")


def asked(name: str, **changes: Any) -> bytes:
    content = json.loads((PLANS / f"{name}.json").read_text(encoding="utf-8"))
    return json.dumps({**content, "time_limit_s": 60, **changes}).encode()


def expected(name: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((PLANS / f"{name}.expected.json").read_text(encoding="utf-8"))
    return found


def people(data: list[dict[str, Any]]) -> tuple[Piece, ...]:
    return tuple(Piece(**one) for one in data)


def plan_in(data: dict[str, Any]) -> Plan:
    return Plan(
        tuple(PlacedStep(**{**step, "people": people(step["people"])}) for step in data["steps"]),
        tuple(Setup(**{**setup, "people": people(setup["people"])}) for setup in data["setups"]),
    )


@pytest.mark.parametrize("name", NAMES)
def test_mixes_come_to_the_steps_and_waits_of_the_reference(name: str) -> None:
    assert expanded(read_plan(asked(name))) == expected(name)["expanded"]


@pytest.mark.parametrize("name", NAMES)
def test_the_checker_finds_nothing_in_plans_of_the_reference(name: str) -> None:
    problem, plan, objective = read_plan(asked(name)), plan_in(expected(name)["a_plan"]), expected(name)["objective"]
    assert faults_of(problem, plan) == []
    found = (sum(late_minutes(problem, plan).values()), washes(plan), elapsed_minutes(problem, plan))
    assert found == (objective["late_min"], objective["washes"], objective["elapsed_min"])


@pytest.mark.parametrize("name", NAMES)
def test_plans_are_proved_as_good_as_the_reference_says(name: str) -> None:
    report = plan_report(asked(name))
    assert report["status"] == expected(name)["status"]
    assert {one["name"]: one["value"] for one in report["objective"]} == expected(name)["objective"]
    assert all(one["proved"] for one in report["objective"])
    changes = [one["change"] for one in report["would_help"]]
    assert all(change in changes for change in expected(name).get("helps", []))


def test_what_helps_is_least_and_what_is_useless_is_said_to_be() -> None:
    report = plan_report(asked("plan_too_late"))
    assert report["why"]["products"] == ["tea"]
    assert report["why"]["said"] == "Tea takes 10 h 5 min from weighing, ada comes at 9:00: 19:05."
    longer = next(one["change"] for one in report["would_help"] if one["change"]["kind"] == "longer_shift")
    assert longer["to"] == [540 - 125, 1200]
    assert {"kind": "more_hands", "like": "ada", "id": "ada-2"} in report["refuted"]


def test_every_fault_of_a_plan_is_found() -> None:
    problem, plan = read_plan(asked("plan_one_custard")), plan_in(expected("plan_one_custard")["a_plan"])

    def moved(name: str, **changes: Any) -> Plan:
        return Plan(tuple(replace(one, **changes) if one.id == name else one for one in plan.steps), plan.setups)

    def broken(plan: Plan, **asked_otherwise: Any) -> str:
        return "; ".join(faults_of(replace(problem, **asked_otherwise), plan))

    assert "off the grid" in broken(moved("tea.keep.1", start=1063))
    assert "lasts 35 min" in broken(moved("tea.cook", end=700))
    assert "waits" in broken(moved("tea.weigh", start=600, end=610))
    assert "attended at other times" in broken(moved("tea.cool", people=()))
    assert "nobody is called bo" in broken(moved("tea.weigh", people=(Piece("bo", 655, 665),)))
    late = Piece("ada", 1136, 1146)
    assert "ada is not there" in broken(moved("tea.weigh", start=1136, end=1146, people=(late,)))
    assert "two things at 1000" in broken(moved("tea.temper", people=(Piece("ada", 1000, 1005),)))
    assert "not washed after" in broken(Plan(plan.steps, plan.setups[:1]))
    assert "not made ready" in broken(Plan(plan.steps, plan.setups[1:]))
    assert "burner holds 1 of 0" in broken(plan, places={**problem.places, "burner": 0})
    assert "other steps" in broken(Plan(plan.steps[1:], plan.setups))


def mix(**changes: Any) -> bytes:
    one = json.loads(asked("plan_one_custard"))["mixes"][0]
    return asked("plan_one_custard", mixes=[{**one, **changes}])


def kinds(data: bytes) -> list[str]:
    return [step.id.removeprefix("tea.") for step in read_plan(data).steps]


def test_ways_runs_and_stock_change_the_steps() -> None:
    assert kinds(mix(style="no-churn"))[:3] == ["weigh", "whip", "serve"]
    assert kinds(mix(stock={"kind": "frozen"}))[:2] == ["thaw", "churn.1"]
    chilled = read_plan(mix(stock={"kind": "fridge", "since": "2026-05-01T22:00"})).steps[0]
    assert (chilled.kind, chilled.earliest, chilled.latest, chilled.options[0].least) == ("age", 0, 0, 120)
    assert kinds(mix(runs=2))[4:] == [
        "churn.1",
        "churn.2",
        "serve",
        "temper",
        "harden.1",
        "keep.1",
        "harden.2",
        "keep.2",
    ]
    assert kinds(mix(way="blend"))[:3] == ["weigh", "blend", "age"]
    assert kinds(mix(prepare=[{"kind": "reduce"}, {"kind": "steep"}]))[:3] == ["reduce.1", "steep.2", "weigh"]
    longer = read_plan(mix(minutes={"cook": 45})).steps[1].options[0]
    assert (longer.least, longer.most) == (45, 45)


def test_a_clock_that_is_set_forward_at_night_takes_an_hour_away() -> None:
    wall = read_plan(mix(serve="2026-05-02T18:00")).steps
    spring = json.loads(mix(serve="2026-03-29T18:00"))
    zoned = read_plan(json.dumps({**spring, "origin": "2026-03-29T00:00", "zone": "Europe/Vienna"}).encode()).steps
    due = [next(step.due for step in steps if step.due is not None) for steps in (wall, zoned)]
    assert due == [1080, 1020]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"{", "is JSON"),
        (asked("plan_one_custard", version=2), "not a plan file"),
        (asked("plan_one_custard", moon=1), "“moon” is not a key"),
        (asked("plan_one_custard", grid_min=0), "grid_min is 0"),
        (asked("plan_one_custard", grid_min=2.5), "grid_min is 2.5"),
        (asked("plan_one_custard", origin="noon"), "“noon” is not a local time"),
        (asked("plan_one_custard", zone="Mars/Base"), "not a time zone"),
        (asked("plan_one_custard", mixes=[]), "nothing to plan"),
        (asked("plan_one_custard", machines=[]), "there is no machine"),
        (asked("plan_one_custard", now=10), "cannot be done yet"),
        (asked("plan_one_custard", people=[{"id": "ada", "shifts": [[9, 8]]}]), "Turn the two round"),
        (asked("plan_one_custard", people=[{"id": "ada"}, {"id": "ada"}]), "stands there twice"),
        (asked("plan_one_custard", places=[{"id": "burner", "capacity": 2}]), "never goes into the fridge"),
        (asked("plan_one_custard", time_limit_s="long"), "time_limit_s is long"),
        (mix(serve="2026-05-02T18:02"), "off the grid"),
        (mix(serve="2026-06-02T18:00"), "beyond the horizon"),
        (mix(way="stew"), "“stew” is not a way"),
        (mix(machines=["moon"]), "names “moon”"),
        (mix(grams=-1), "grams is -1"),
        (mix(grams=float("nan")), "grams is nan"),
        (mix(stock={"kind": "fridge", "since": "2026-05-02T09:00"}), "later than the origin"),
        (b" " * 1_000_001, "at most 1 MB"),
    ],
)  # fmt: skip
def test_what_cannot_be_planned_is_refused_by_name(data: bytes, says: str) -> None:
    with pytest.raises(PlanError) as refused:
        read_plan(data)
    assert says in str(refused.value)
