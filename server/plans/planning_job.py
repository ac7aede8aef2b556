"""Planning as a job: the first plan, each better one, and the best that is proved, kept with the plan it is of."""

from __future__ import annotations

import json
import time
from typing import Any, Final

from django.db import transaction

from jalebi_core.formats.plan_file import read_plan
from jobs.kinds import Report
from jobs.models import Job
from jobs.start import start_job
from kitchens.models import Kitchen, Person
from plans.answers import Asked, answer_of
from plans.building import build
from plans.models import Plan

KIND: Final = "plan"
_BEST_EVERY_S: Final = 0.3


def begin_planning(person: Person, plan: Plan, *, anew: bool) -> Job:
    """Begin to look for a plan; raises JalebiError for what cannot be planned, before anything begins."""
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
    return start_job(person, KIND, f"plan {plan.pk}", asked)


def planning_job(job: Job, report: Report) -> Any:
    """Look for a plan as a job, and keep what was found with the plan unless that was changed meanwhile."""
    from jalebi_core.production.schedule.solving import solve

    asked = Asked.of(job.asked)
    told = 0.0
    began = time.monotonic()

    def tell(plan: Any) -> None:
        nonlocal told
        if time.monotonic() - told >= _BEST_EVERY_S:
            told = time.monotonic()
            share = min((told - began) / asked.problem.time_limit_s, 0.99)
            report(share, answer_of(asked, plan).model_dump(mode="json"))

    report(0.0)
    found = answer_of(asked, solve(asked.problem, tell)).model_dump(mode="json")
    keep_answer(job.kitchen, job.asked["plan"], job.asked["version"], found)
    return found


def plan_at_once(plan: Plan) -> None:
    """Look for a plan here and now and keep it: for what is made without a worker, such as the demo."""
    from jalebi_core.production.schedule.solving import solve

    built = build(plan, anew=False)
    asked = Asked(built.content, built.origin, built.zone)
    found = answer_of(asked, solve(asked.problem)).model_dump(mode="json")
    keep_answer(plan.kitchen, plan.pk, plan.version, found)


@transaction.atomic
def keep_answer(kitchen: Kitchen, plan_id: int, version: int, answer: dict[str, Any]) -> None:
    """Keep an answer with its plan, the one before it beside it; an answer to an older question is let go."""
    plan = Plan.objects.of(kitchen).select_for_update().filter(pk=plan_id, version=version).first()
    if plan is None:
        return
    plan.previous, plan.answer, plan.answer_of = plan.answer, answer, version
    plan.save(update_fields=["previous", "answer", "answer_of"])
