"""Planning as a job: the first plan, each better one, and the best that is proved, kept with the plan it is of."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from typing import Any, Final

from django.db import transaction

from jalebi_core.formats.plan_file import read_plan
from jalebi_core.production.schedule.problem import Plan as CorePlan
from jobs.kinds import Report, unreported
from jobs.models import Job
from jobs.start import start_job
from kitchens.models import Kitchen, Person
from plans.answers import Asked, answer_of
from plans.building import build, check_hours
from plans.models import Plan
from plans.schemas import PlanAnswer

KIND: Final = "plan"
_BEST_EVERY_S: Final = 0.3
_AT_ONCE_S: Final = 8
_SAID: Final = ("status", "verdict", "beside", "would_help", "refuted", "seconds")


def begin_planning(person: Person, plan: Plan, *, anew: bool) -> Job:
    """Begin to look for a plan; raises JalebiError for what cannot be planned, before anything begins."""
    if plan.state == Plan.State.DRAFT:
        check_hours(plan)
    anew = plan.answer is not None and bool(plan.answer["steps"]) and (anew or plan.state == Plan.State.STARTED)
    built = build(plan, anew=anew)
    read_plan(json.dumps(built.content).encode())
    asked = {
        "plan": plan.pk,
        "version": plan.version,
        "origin": built.origin.isoformat(timespec="minutes"),
        "zone": plan.zone,
        "content": built.content,
    }
    return start_job(person, KIND, f"plan {plan.pk}", asked, shared=True)


def planning_job(job: Job, report: Report) -> Any:
    """Look for a plan as a job, and keep what was found with the plan unless that was changed meanwhile."""
    found = _solved(Asked.of(job.asked), report).model_dump(mode="json")
    keep_answer(job.kitchen, job.asked["plan"], job.asked["version"], found)
    return found


def plan_at_once(plan: Plan) -> None:
    """Look for a plan here and now and keep it: for what is made without a worker, such as the demo."""
    built = build(plan, anew=False)
    asked = Asked({**built.content, "time_limit_s": _AT_ONCE_S}, built.origin, built.zone)
    keep_answer(plan.kitchen, plan.pk, plan.version, _solved(asked, unreported).model_dump(mode="json"))


def _solved(asked: Asked, report: Report) -> PlanAnswer:
    """Look for a plan; where what has begun allows of none, for one in which it has waited too long, which is said."""
    from jalebi_core.production.schedule.solving import solve

    report(0.0)
    found = solve(asked.problem, _teller(asked, report))
    if found.plan is None and asked.problem.replanning is not None:
        asked = asked.forgiving
        found = solve(asked.problem, _teller(asked, report))
    return answer_of(asked, found)


def _teller(asked: Asked, report: Report) -> Callable[[CorePlan], None]:
    """Return what reports the best plan so far, now and then."""
    told, began = 0.0, time.monotonic()

    def tell(plan: CorePlan) -> None:
        nonlocal told
        if time.monotonic() - told >= _BEST_EVERY_S:
            told = time.monotonic()
            share = min((told - began) / asked.problem.time_limit_s, 0.99)
            report(share, answer_of(asked, plan).model_dump(mode="json"))

    return tell


@transaction.atomic
def keep_answer(kitchen: Kitchen, plan_id: int, version: int, answer: dict[str, Any]) -> None:
    """Keep an answer with its plan, the one before it beside it; an answer to an older question is let go.

    Where no plan was found the steps of the one before stay, with what was said of them since: the day goes on
    from there.
    """
    plan = Plan.objects.of(kitchen).select_for_update().filter(pk=plan_id, version=version).first()
    if plan is None:
        return
    if not answer["steps"] and plan.answer and plan.answer["steps"]:
        begun = set(plan.events.values_list("step", flat=True))
        steps = [{**step, "begun": step["begun"] or step["id"] in begun} for step in plan.answer["steps"]]
        answer = {**plan.answer, "steps": steps, **{key: answer[key] for key in _SAID}}
    plan.previous, plan.answer, plan.answer_of = plan.answer, answer, version
    plan.save(update_fields=["previous", "answer", "answer_of"])
