"""Plans: mixes to steps, plans proved best and checked by other code, what would help, and files that are refused."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from icalendar import Calendar

from conftest import REFERENCE
from jalebi_core.formats.plan_answers import expanded, plan_report
from jalebi_core.formats.plan_calendar import CalendarOf, plan_calendar
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.formats.plan_words import say_overdue
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.conflicts import pin_conflict
from jalebi_core.production.schedule.forgiving import forgiven, overdue_waits
from jalebi_core.production.schedule.problem import (
    Piece,
    PlacedStep,
    Plan,
    Problem,
    Setup,
    elapsed_minutes,
    late_minutes,
    washes,
)
from jalebi_core.production.schedule.slack import slips
from jalebi_core.production.schedule.solving import solve
from jalebi_core.production.schedule.tasks import tasks_of

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
        (asked("plan_one_custard", actual=[{"id": "tea.weigh"}]), "with now"),
        (asked("plan_one_custard", now=600, actual=[{"id": "tea.weigh"}]), "say when it began"),
        (asked("plan_one_custard", now=600, actual=[{"id": "tea.stew", "start": 1}]), "names “tea.stew”"),
        (asked("plan_one_custard", pins={"tea.cook": 602}), "pinned off the grid"),
        (asked("plan_one_custard", pins={"tea.stew": 600}), "names “tea.stew”"),
        (mix(stock={"kind": "fridge", "since": "2026-04-20T09:00"}), "longer than it keeps"),
        (mix(churn_min={"moon": 30}), "names “moon”"),
        (mix(style="granita"), "not planned yet"),
        (mix(cool="stand-then-fridge"), "from the pot model"),
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


def replanned(name: str, data: bytes) -> tuple[Problem, Plan, dict[str, Any]]:
    report = plan_report(data)
    assert report["status"] == "optimal", (name, report["why"])
    return read_plan(data), plan_in(report), {one["name"]: one["value"] for one in report["objective"]}


def test_a_longer_churn_is_planned_around_as_the_reference_says() -> None:
    data = asked("plan_churn_longer")
    *_, objective = replanned("plan_churn_longer", data)
    assert objective == expected("plan_churn_longer")["objective"]
    assert faults_of(read_plan(data), plan_in(expected("plan_churn_longer")["a_plan"])) == []


@pytest.mark.parametrize("name", ["plan_bowls_over_night", "plan_one_custard", "plan_order_of_runs"])
@pytest.mark.parametrize("share", [0.0, 0.3, 0.6, 0.9])
def test_a_plan_that_goes_as_planned_stays_as_it_is(name: str, share: float) -> None:
    before = expected(name)["a_plan"]
    ends = max(step["end"] for step in before["steps"])
    now = int(ends * share)
    _, plan, objective = replanned(name, asked(name, now=now, previous=before))
    assert objective == {"late_min": 0, "moved_min": 0, "reassigned": 0}
    began = {step["id"] for step in before["steps"] if step["start"] < now}
    assert {(step.id, step.start) for step in plan.steps if step.id in began} == {
        (step["id"], step["start"]) for step in before["steps"] if step["id"] in began
    }


@pytest.mark.parametrize("name", ["plan_bowls_over_night", "plan_one_custard", "plan_order_of_runs", "plan_too_late"])
def test_a_step_that_slips_as_far_as_it_may_breaks_nothing(name: str) -> None:
    problem, plan = read_plan(asked(name)), plan_in(expected(name)["a_plan"])
    found = slips(problem, plan)
    assert found.keys() == {step.id for step in problem.steps}
    assert all(found[step.id].minutes == 0 for step in problem.steps if step.due is not None)
    for slip in found.values():
        assert faults_of(problem, delayed(plan, slip.delays)) == [], slip.step


def test_the_reserve_of_a_plan_is_what_its_steps_may_slip() -> None:
    report = plan_report(asked("plan_one_custard", spare_min=30))
    problem, plan = read_plan(asked("plan_one_custard")), plan_in(report)
    found = slips(problem, plan)
    assert (found["tea.churn.1"].minutes, found["tea.churn.1"].by, found["tea.churn.1"].of) == (30, "service", "tea")
    assert found["tea.serve"].minutes == 0
    assert all(faults_of(problem, delayed(plan, slip.delays)) == [] for slip in found.values())


def delayed(plan: Plan, delays: dict[str, int]) -> Plan:
    """Return a plan with every time later by its delay; a piece goes with the start or the end of its step."""

    def moved(one: Any, name: str) -> Any:
        first, last = delays.get(f"{name}>", 0), delays.get(f"{name}<", 0)
        pieces = tuple(
            Piece(
                piece.who,
                piece.start + (first if piece.start == one.start else last),
                piece.end + (last if piece.end == one.end else first),
            )
            for piece in one.people
        )
        return replace(one, start=one.start + first, end=one.end + last, people=pieces)

    return Plan(
        tuple(moved(step, step.id) for step in plan.steps),
        tuple(moved(setup, f"{setup.kind} {setup.step}") for setup in plan.setups),
    )


def test_a_calendar_file_has_an_event_for_each_piece_of_work() -> None:
    data = asked("plan_one_custard")
    problem, plan = read_plan(data), plan_in(expected("plan_one_custard")["a_plan"])
    tasks = tasks_of(problem, plan)
    attended = [*(step.people for step in plan.steps), *(setup.people for setup in plan.setups)]
    assert len(tasks) == sum(map(len, attended)) > 8
    assert "Check that Tea is at 5\N{NO-BREAK SPACE}°C, into the fridge" in [task.title for task in tasks]
    cook = next(task for task in tasks if task.kind == "cook")
    assert cook.latest == next(task.end for task in tasks if task.kind == "weigh") + 10
    names = {"ada": "Ada; the keeper, " + "of a name that is far too long for one line of seventy-five bytes " * 2}
    origin, made = datetime(2026, 5, 2), datetime(2026, 5, 1, 12, tzinfo=UTC)
    for zone in (None, ZoneInfo("Europe/Vienna")):
        text = plan_calendar(CalendarOf("plan-7.kitchen", 3, made, origin, zone, names), tasks)
        assert all(len(line) <= 75 for line in text.split(b"\r\n"))
        assert text.replace(b"\r\n", b"").count(b"\n") == 0
        events = Calendar.from_ical(text).walk("VEVENT")
        assert len({event["UID"] for event in events}) == len(tasks)
        first = min(events, key=lambda event: event["DTSTART"].dt)
        assert first["DTSTART"].dt.replace(tzinfo=None) == origin + timedelta(minutes=min(task.start for task in tasks))
        assert (first["DTSTART"].dt.tzinfo is None) == (zone is None)
        assert {event["SEQUENCE"] for event in events} == {3}
        assert all(event.walk("VALARM") for event in events)
        assert str(events[0]["SUMMARY"]).endswith(f"({names['ada']})")


def test_a_crowded_machine_is_named() -> None:
    one = json.loads(asked("plan_one_custard"))
    bowl = {**one["machines"][0], "wash_always": True, "ready_min": 720, "ready_since": None}
    mixes = [
        {**one["mixes"][0], "id": name, "name": name, "runs": 2, "machines": [bowl["id"]]} for name in ("tea", "oat")
    ]
    report = plan_report(asked("plan_one_custard", machines=[bowl], mixes=mixes, time_limit_s=10))
    assert report["status"] == "impossible"
    assert "would be busy for" in report["why"]["said"]
    assert "with 4 runs" in report["why"]["said"]


def test_a_machine_that_stays_ready_only_for_a_while_is_made_ready_late() -> None:
    one = json.loads(asked("plan_one_custard"))
    iced = {**one["machines"][0], "ready_min": 15, "ready_max_min": 20, "ready_since": None}
    data = asked("plan_one_custard", machines=[iced], zone="Europe/Vienna")
    report = plan_report(data)
    ready = next(setup for setup in report["setups"] if setup["kind"] == "ready")
    assert 15 <= ready["end"] - ready["start"] <= 20
    plan = plan_in(report)
    long = [replace(one, start=one.start - 60) if one.kind == "ready" else one for one in plan.setups]
    assert "stands ready" in "; ".join(faults_of(read_plan(data), Plan(plan.steps, tuple(long))))
    off = asked("plan_one_custard", machines=[{**iced, "off": [[0, 1440]]}])
    assert plan_report(off)["status"] == "impossible"


def test_mixes_that_share_a_base_heat_and_cool_it_once() -> None:
    one = json.loads(asked("plan_one_custard"))
    mixes = [{**one["mixes"][0], "id": name, "name": name.title(), "base": "white"} for name in ("tea", "oat")]
    data = asked("plan_one_custard", mixes=mixes)
    problem = read_plan(data)
    ids = [step.id for step in problem.steps]
    assert ids[:4] == ["white.weigh", "white.cook", "white.cool", "white.age"]
    assert [name for name in ids if name.startswith("tea")][:2] == ["tea.flavour", "tea.churn.1"]
    assert problem.products["white"] == "Base of Tea and Oat"
    report = plan_report(data)
    assert report["status"] == "optimal"
    kinds = [step["id"] for step in report["steps"] if step["id"].endswith(".cook")]
    assert kinds == ["white.cook"]
    other = [mixes[0], {**mixes[1], "way": "syrup"}]
    with pytest.raises(PlanError, match="another way"):
        read_plan(asked("plan_one_custard", mixes=other))


def test_a_bucket_hardens_and_a_kitchen_without_a_bath_cools_otherwise() -> None:
    one = json.loads(asked("plan_one_custard"))
    places = [{"id": "bucket", "capacity": 1}, *(place for place in one["places"] if place["id"] != "ice-bath")]
    stands = {**one["mixes"][0], "cool": "stand-then-fridge", "minutes": {"cool": 150}}
    problem = read_plan(asked("plan_one_custard", places=places, mixes=[stands]))
    steps = {step.kind: step for step in problem.steps}
    assert [use.place for use in steps["cool"].options[0].uses] == ["fridge"]
    assert steps["cool"].options[0].least == 150
    assert "bucket" in [use.place for option in steps["harden"].options for use in option.uses]


def test_what_began_before_the_plan_does_is_a_fact_too() -> None:
    before = plan_report(asked("plan_one_custard"))
    previous = {"steps": before["steps"], "setups": before["setups"]}
    begun = [{"id": "tea.weigh", "start": -3, "end": 650}]
    after = plan_report(asked("plan_one_custard", now=655, previous=previous, actual=begun))
    weigh = next(step for step in after["steps"] if step["id"] == "tea.weigh")
    assert (weigh["start"], weigh["end"], after["status"]) == (-3, 650, "optimal")


def test_what_has_waited_too_long_may_be_forgiven_but_not_for_safety() -> None:
    before = plan_report(asked("plan_one_custard"))
    previous = {"steps": before["steps"], "setups": before["setups"]}
    early = [{"id": "tea.weigh", "start": 500, "end": 510}]
    strict = read_plan(asked("plan_one_custard", now=600, previous=previous, actual=early))
    assert solve(strict).plan is None
    lenient = solve(forgiven(strict))
    assert lenient.plan is not None
    assert faults_of(forgiven(strict), lenient.plan) == []
    said = say_overdue(strict, overdue_waits(strict, lenient.plan))
    assert said == "Tea waits longer than 10 min (sugar does not lie on yolks): look at it before you go on."
    hot = [{"id": "tea.cook", "start": 500, "end": 520}]
    unsafe = read_plan(asked("plan_one_custard", now=600, previous=previous, actual=[*early, *hot]))
    assert solve(forgiven(unsafe)).plan is None


@pytest.mark.parametrize(
    ("pins", "says"),
    [
        ({"tea.temper": 900}, "15 min at most lie between tempering and serving (served before it softens)."),
        ({"tea.cook": 600, "tea.cool": 700}, "This is for safety and cannot be moved away."),
        ({"tea.weigh": 1100}, "cannot be pinned like that, weighing at 18:20"),
    ],
)
def test_a_pin_that_breaks_a_wait_says_which(pins: dict[str, int], says: str) -> None:
    report = plan_report(asked("plan_one_custard", pins=pins, horizon_min=1440))
    assert (report["status"], report["steps"]) == ("impossible", [])
    assert says in report["why"]["said"]


def test_a_pin_that_fits_is_kept() -> None:
    free = plan_report(asked("plan_one_custard"))
    weigh = next(step for step in free["steps"] if step["id"] == "tea.weigh")["start"]
    data = asked("plan_one_custard", pins={"tea.weigh": weigh - 60})
    assert pin_conflict(read_plan(data)) is None
    pinned = plan_report(data)
    assert next(step for step in pinned["steps"] if step["id"] == "tea.weigh")["start"] == weigh - 60
