"""Batches of a plan: begun in the size and machine that it has planned, and the plan follows what happens to them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from django.db import transaction
from django.utils import timezone

from batches.models import Batch
from batches.record import Size, begin_batch
from jalebi_core.model.errors import PlanError
from jalebi_core.model.mix import Mix as CoreMix
from kitchens.models import Person
from mixes.models import Mix
from mixes.revisions import content_of
from plans.models import Plan, PlanBatch, PlanEvent
from plans.schemas import ServiceOut
from plans.sizes import size_service
from plans.times import local, minute_of, time_at, zone_called
from plans.workplace import workplace_of

_BASE: Final = "base "


@dataclass(frozen=True, slots=True)
class PlannedTimes:
    """When the steps of a product are planned, by their kind and number."""

    origin: datetime
    zone: Any
    steps: dict[str, tuple[int, int]]

    def of(self, plan_step: str) -> tuple[datetime, datetime] | None:
        """Return the local times of a step; None where the plan has none such."""
        found = self.steps.get(plan_step)
        if found is None:
            return None
        return time_at(self.origin, self.zone, found[0]), time_at(self.origin, self.zone, found[1])


def plan_of(batch: Batch) -> PlanBatch | None:
    """Return which product of which plan a batch is; None for one without a plan."""
    return PlanBatch.objects.filter(batch=batch).select_related("plan").first()


def planned_times(found: PlanBatch) -> PlannedTimes | None:
    """Return when the steps of a batch are planned; None where no plan was found yet."""
    plan = found.plan
    if not plan.answer:
        return None
    steps = {
        plan_step: (one["start"], one["end"])
        for one in plan.answer["steps"]
        for plan_step in [_own(one, found)]
        if plan_step is not None
    }
    return PlannedTimes(datetime.fromisoformat(plan.answer["origin"]), zone_called(plan.zone), steps)


def _own(step: dict[str, Any], found: PlanBatch) -> str | None:
    """Return what a planned step is called without its product; None for one of another product."""
    base = next(
        (f"{_BASE}{one['base']}" for one in found.plan.services if one["id"] == found.product and one["base"]), None
    )
    for prefix in (found.product, base):
        if prefix is not None and step["id"].startswith(f"{prefix}."):
            return str(step["id"][len(prefix) + 1 :])
    return None


@transaction.atomic
def begin_product(person: Person, plan_id: int, product: str) -> PlanBatch:
    """Begin the batch of a product, once: whoever asks again gets the one that was begun.

    Raises
    ------
    PlanError : a product that the plan does not have, or whose mix is gone
    """
    plan = Plan.objects.of(person.kitchen).select_for_update(of=("self",)).select_related("kitchen").get(pk=plan_id)
    known = plan.batches.filter(product=product).select_related("batch").first()
    if known is not None:
        return known
    service = next((ServiceOut.model_validate(one) for one in plan.services if one["id"] == product), None)
    if service is None:
        raise PlanError("plan-unknown-id", what="the batch", id=product)
    mix = Mix.objects.of(person.kitchen).filter(pk=service.mix).first()
    if mix is None:
        raise PlanError("plan-mix-gone", mix=service.name)
    sized = size_service(person.kitchen, mix, service)
    machine, runs = _churned_in(plan, product, workplace_of(person.kitchen).machine_names)
    size = Size(_grams(mix, sized.mix), machine, runs, service.fresh)
    return PlanBatch.objects.create(plan=plan, product=product, batch=begin_batch(person, mix.pk, size=size))


def _grams(mix: Mix, sized: CoreMix) -> list[float]:
    """Return what each line of the revision weighs in the size of a service."""
    lines = content_of(mix)["lines"]
    if len(lines) == len(sized.lines):
        return [line.grams for line in sized.lines]
    whole = sum(line["grams"] for line in lines)
    return [line["grams"] * sum(one.grams for one in sized.lines) / whole for line in lines]


def _churned_in(plan: Plan, product: str, names: dict[int, str]) -> tuple[int | None, int | None]:
    """Return the machine and the number of runs that a plan has chosen for a product."""
    steps = plan.answer["steps"] if plan.answer else []
    runs = [one for one in steps if one["product"] == product and one["kind"] == "churn"]
    numbers = {name: number for number, name in names.items()}
    return (numbers.get(runs[0]["machine"]) if runs else None), (len(runs) or None)


@transaction.atomic
def follow_batch(
    person: Person, found: PlanBatch, begun: Iterable[tuple[str, datetime]], ended: Iterable[tuple[str, datetime]]
) -> bool:
    """Let a plan know which steps of its batch began and ended; says whether anything of that was new."""
    plan = Plan.objects.of(person.kitchen).select_for_update().get(pk=found.plan_id)
    if plan.state != Plan.State.STARTED or not plan.answer:
        return False
    origin, zone = datetime.fromisoformat(plan.answer["origin"]), zone_called(plan.zone)
    names = {own: one["id"] for one in plan.answer["steps"] if (own := _own(one, found)) is not None}
    known = set(plan.events.values_list("kind", "step"))
    new = [
        PlanEvent(plan=plan, kind=kind, step=names[step], minute=minute_of(origin, zone, _local(at, zone)), by=person)
        for kind, steps in ((PlanEvent.Kind.BEGAN, begun), (PlanEvent.Kind.ENDED, ended))
        for step, at in steps
        if step in names and (kind.value, names[step]) not in known
    ]
    if not new:
        return False
    PlanEvent.objects.bulk_create(new)
    plan.version += 1
    plan.save(update_fields=["version", "changed_at"])
    return True


def _local(at: datetime, zone: Any) -> datetime:
    return local(at.astimezone(zone or timezone.get_default_timezone()))
