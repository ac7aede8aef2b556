"""What was found for a plan, as the station shows it."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any
from zoneinfo import ZoneInfo

from jalebi_core.formats.plan_answers import report_of
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.formats.plan_words import say_change, say_overdue, say_slip, say_waits, verdict
from jalebi_core.production.schedule.conflicts import pin_conflict
from jalebi_core.production.schedule.forgiving import forgiven, overdue_waits
from jalebi_core.production.schedule.problem import Machine, Plan, Problem, Setup, Use, late_minutes
from jalebi_core.production.schedule.slack import slips
from jalebi_core.production.schedule.solving import Solved
from jalebi_core.production.schedule.tasks import tasks_of
from plans.schemas import (
    ClockChange,
    DuePlanned,
    HelpPlanned,
    PiecePlanned,
    PlanAnswer,
    Presence,
    SetupPlanned,
    StepPlanned,
    TaskPlanned,
)
from plans.times import clock_changes, clock_of, zone_called


@dataclass(frozen=True)
class Asked:
    """A plan file that was asked for, and when its minutes begin."""

    content: dict[str, Any]
    origin: datetime
    zone: ZoneInfo | None

    @classmethod
    def of(cls, asked: dict[str, Any]) -> Asked:
        """Return what a job was asked."""
        return cls(asked["content"], datetime.fromisoformat(asked["origin"]), zone_called(asked["zone"]))

    is_forgiving: bool = False

    @cached_property
    def forgiving(self) -> Asked:
        """The same with what has begun allowed to wait longer than it should."""
        return replace(self, is_forgiving=True)

    @cached_property
    def problem(self) -> Problem:
        """The problem that the plan file is."""
        found = read_plan(json.dumps(self.content).encode())
        return forgiven(found) if self.is_forgiving else found

    @cached_property
    def without_reserve(self) -> Problem:
        """The same without its reserve, which is there to be used when something slips."""
        found = read_plan(json.dumps({**self.content, "spare_min": 0}).encode())
        return forgiven(found) if self.is_forgiving else found


def answer_of(asked: Asked, found: Plan | Solved) -> PlanAnswer:
    """Return what was found; a plan on the way has neither a proof nor what would help."""
    problem, says = asked.problem, clock_of(asked.origin, asked.zone)
    solved = Solved("searching", found, (), 0.0) if isinstance(found, Plan) else found
    report = report_of(problem, solved, says)
    if solved.plan is None and pin_conflict(problem) is not None:  # what helps is to let the pin go
        report |= {"would_help": [], "refuted": []}
    said, beside = verdict(problem, report, says)
    plan = solved.plan or Plan((), ())
    if asked.is_forgiving and solved.plan:
        strict = read_plan(json.dumps(asked.content).encode())
        beside = f"{say_overdue(strict, overdue_waits(strict, plan))} {beside}"
    return PlanAnswer(
        origin=asked.origin,
        horizon=problem.horizon,
        now=problem.replanning.now if problem.replanning else None,
        clock_changes=[
            ClockChange(minute=minute, by=by) for minute, by in clock_changes(asked.origin, asked.zone, problem.horizon)
        ],
        status=solved.status,
        verdict=said,
        beside=beside,
        products=dict(problem.products),
        people={
            person.id: [Presence(start=start, end=end) for start, end in person.shifts] for person in problem.people
        },
        machines=[machine.id for machine in problem.machines],
        places=dict(problem.places),
        steps=_steps(asked, plan) if solved.plan else [],
        setups=[_setup(one, problem.machine_by_id) for one in plan.setups],
        tasks=_tasks(problem, plan) if solved.plan else [],
        services=_services(problem, plan) if solved.plan else [],
        would_help=[
            HelpPlanned(change=one["change"], said=say_change(one["change"], problem, {}, says))
            for one in report["would_help"]
        ],
        refuted=list(dict.fromkeys(_say_refuted(one, problem) for one in report["refuted"])),
        seconds=solved.seconds,
    )


def _say_refuted(change: dict[str, Any], problem: Problem) -> str:
    """Return a change that is proved useless, without its amount."""
    products = {step.id: problem.products[step.product] for step in problem.steps}
    return {
        "serve_later": f"{products.get(change.get('step', ''), '')} later",
        "longer_shift": f"{change.get('person')} {'earlier' if change.get('end') == 'start' else 'longer'}",
        "more_hands": "somebody more",
        "more_room": f"more room: {change.get('place')}",
        "another_machine": f"a second {change.get('like')}",
        "leave_out": f"leaving out {problem.products.get(change.get('product', ''), '')}",
    }[change["kind"]]


def _steps(asked: Asked, plan: Plan) -> list[StepPlanned]:
    problem = asked.problem
    slack = slips(asked.without_reserve, plan)
    titles = {(task.step, task.kind): task.title for task in reversed(tasks_of(problem, plan))}
    steps = {step.id: step for step in problem.steps}
    unsafe = {lag.after for lag in problem.lags if lag.safety}
    pins = asked.content.get("pins", {})
    found = []
    for placed in plan.steps:
        step, slip = steps[placed.id], slack.get(placed.id)
        name = problem.products[step.product]
        found.append(
            StepPlanned(
                id=step.id,
                product=step.product,
                kind=step.kind,
                title=titles.get((step.id, step.kind), f"{name}: {step.kind}"),
                start=placed.start,
                end=placed.end,
                option=placed.option,
                machine=placed.machine,
                people=_pieces(placed.people),
                uses=_uses(step.options[placed.option].uses, placed.machine, problem),
                slip=slip.minutes if slip else 0,
                held_by=say_slip(slip, {**problem.products}) if slip else "",
                waits=say_waits(problem, step.id),
                safety=step.id in unsafe,
                pinned=step.id in pins,
                begun=step.id in problem.begun,
            )
        )
    return found


def _uses(uses: tuple[Use, ...], machine: str | None, problem: Problem) -> dict[str, int]:
    run = problem.machine_by_id[machine].run_uses if machine else ()
    return {use.place: use.units for use in (*uses, *run)}


def _setup(one: Setup, machines: dict[str, Machine]) -> SetupPlanned:
    uses = machines[one.machine].ready_uses if one.kind == "ready" else ()
    return SetupPlanned(
        kind=one.kind,
        machine=one.machine,
        step=one.step,
        start=one.start,
        end=one.end,
        people=_pieces(one.people),
        uses={use.place: use.units for use in uses},
    )


def _pieces(people: Any) -> list[PiecePlanned]:
    return [PiecePlanned(who=piece.who, start=piece.start, end=piece.end) for piece in people]


def _tasks(problem: Problem, plan: Plan) -> list[TaskPlanned]:
    return [
        TaskPlanned(
            id=task.id,
            who=task.who,
            start=task.start,
            end=task.end,
            title=task.title,
            step=task.step,
            product=task.product,
            latest=task.latest,
        )
        for task in tasks_of(problem, plan)
    ]


def _services(problem: Problem, plan: Plan) -> list[DuePlanned]:
    late = late_minutes(problem, plan)
    return [
        DuePlanned(step=step.id, product=step.product, due=step.due, late=late[step.id])
        for step in problem.steps
        if step.due is not None
    ]
