"""What can be ready by an hour: each of the kitchen's mixes planned alone, as early as it can be served."""

from __future__ import annotations

import json
from datetime import datetime
from typing import Any, Final

from jalebi_core.formats.plan_answers import report_of
from jalebi_core.formats.plan_file import read_plan
from jalebi_core.model.errors import JalebiError
from jobs.kinds import Report
from jobs.models import Job
from jobs.start import start_job
from kitchens.models import Person
from mixes.models import Mix
from plans.building import build
from plans.models import Plan
from plans.schemas import ReadyBy, ReadyMix
from plans.times import clock_of, time_at

KIND: Final = "readiness"
_MOST_MIXES: Final = 24
_EACH_S: Final = 2.0


def begin_looking(person: Person, plan: Plan, at: datetime, amount: str) -> Job:
    """Begin to look which mixes can be ready by an hour."""
    asked = {"zone": plan.zone, "at": at.isoformat(timespec="minutes"), "amount": amount}
    return start_job(person, KIND, f"plan {plan.pk}", asked)


def readiness_job(job: Job, report: Report) -> Any:
    """Plan each mix alone; the answer grows mix by mix."""
    mixes = list(Mix.objects.of(job.kitchen).filter(put_away=False).order_by("-starred", "name")[:_MOST_MIXES])
    found: list[ReadyMix] = []
    for number, mix in enumerate(mixes, start=1):
        found.append(_ready(job, mix))
        report(number / len(mixes), _sorted(found))
    return _sorted(found)


def _sorted(found: list[ReadyMix]) -> Any:
    latest = datetime.max
    return ReadyBy(mixes=sorted(found, key=lambda one: (one.at or latest, one.name))).model_dump(mode="json")


def _ready(job: Job, mix: Mix) -> ReadyMix:
    from jalebi_core.production.schedule.solving import solve

    size = {"by": "litres", "amount": job.asked["amount"]}
    service = {"id": "s1", "mix": mix.pk, "name": mix.name, "at": job.asked["at"], **size}
    plan = Plan(kitchen=job.kitchen, name="", zone=job.asked["zone"], services=[service])
    try:
        built = build(plan, anew=False)
        content = {**built.content, "time_limit_s": _EACH_S, "spare_min": 0}
        problem = read_plan(json.dumps(content).encode())
        solved = solve(problem)
        if solved.plan is None:
            return ReadyMix(mix=mix.pk, name=mix.name, at=None, why="Not within a day of that hour.")
        report = (
            report_of(problem, solved, clock_of(built.origin, built.zone)) if solved.status == "impossible" else None
        )
    except JalebiError as error:
        return ReadyMix(mix=mix.pk, name=mix.name, at=None, why=str(error))
    served = next(
        placed.start for placed, step in zip(solved.plan.steps, problem.steps, strict=True) if step.due is not None
    )
    why = report["why"]["said"] if report and report["why"] else ""
    return ReadyMix(mix=mix.pk, name=mix.name, at=time_at(built.origin, built.zone, served), why=why)
