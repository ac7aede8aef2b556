"""Plans as the API answers them."""

from __future__ import annotations

from datetime import datetime
from typing import Any, Final

from kitchens.learnt import Learnt
from kitchens.learnt_marks import learnt_marks
from plans.models import Plan
from plans.schemas import PlanAnswer, PlanOut, PlanSummary, ServiceOut

_SAID: Final = {
    "gone": "{of} is gone from {at}",
    "out": "{of} is out from {at}",
    "not-in": "{of} was not in the freezer",
    "there": "{of} is there {at} to {until}",
    "helper": "Somebody more, there when {of} is",
    "room": "More room: {of}",
    "machine": "A second {of}",
}


def serialize_summary(plan: Plan) -> PlanSummary:
    """Return a plan as it stands among others."""
    return PlanSummary(**_summary(plan))


def serialize_plan(plan: Plan, learnt: Learnt) -> PlanOut:
    """Return a plan whole, with what was found for it last and before that."""
    answer = PlanAnswer.model_validate(plan.answer) if plan.answer else None
    return PlanOut(
        **_summary(plan),
        version=plan.version,
        zone=plan.zone,
        services=[ServiceOut.model_validate(one) for one in plan.services],
        pins={step: datetime.fromisoformat(at) for step, at in plan.pins.items()},
        mishaps=[_said(change) for change in plan.changes],
        from_file=plan.file is not None,
        answer=answer,
        previous=PlanAnswer.model_validate(plan.previous) if plan.previous else None,
        stale=plan.answer_of != plan.version,
        learnt=learnt_marks(learnt.of_machines(answer.machines if answer else ())),
    )


def _summary(plan: Plan) -> dict[str, Any]:
    hours = [datetime.fromisoformat(one["at"]) for one in plan.services]
    return {
        "id": plan.pk,
        "name": plan.name,
        "state": plan.state,
        "changed_at": plan.changed_at,
        "first": min(hours, default=None),
        "count": len(plan.services) or len((plan.file or {}).get("mixes", [])),
    }


def _said(change: dict[str, Any]) -> str:
    hours = {key: f"{datetime.fromisoformat(change[key]):%H:%M}" for key in ("at", "until") if key in change}
    return _SAID[change["kind"]].format(**(change | hours))
