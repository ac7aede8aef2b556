"""What is done to a plan: services, pins, remedies, mishaps, what happened, and copies for another day."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Any

from django.db import transaction

from api.problems import ConflictError
from jalebi_core.formats.service_line import mix_called, read_service
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import PlanError
from kitchens.models import Kitchen, Person
from mixes.models import Mix
from plans.models import Plan, PlanEvent
from plans.schemas import MOST_SERVICES, Happened, Mishap, NewPlan, PlanChange, ServiceIn, ServiceOut
from plans.times import local, local_now, time_at, zone_called


def plan_by_id(kitchen: Kitchen, plan_id: int) -> Plan:
    """Return one of a kitchen's plans; raises Plan.DoesNotExist."""
    return Plan.objects.of(kitchen).select_related("kitchen").get(pk=plan_id)


def begin_plan(person: Person, new: NewPlan) -> Plan:
    """Begin a plan; raises PlanError for a zone that is not known."""
    zone_called(new.zone)
    name = checked_name(new.name, "the plan")
    return Plan.objects.create(kitchen=person.kitchen, name=name, zone=new.zone or person.kitchen.zone, made_by=person)


@transaction.atomic
def change_plan(kitchen: Kitchen, plan_id: int, version: int, change: PlanChange) -> Plan:
    """Change what is said of a plan; raises ConflictError where somebody changed it first."""
    plan = _locked(kitchen, plan_id)
    if plan.version != version:
        raise ConflictError("Somebody else changed this plan meanwhile. Look at it again.", version=plan.version)
    if change.name is not None:
        plan.name = checked_name(change.name, "the plan")
    if change.services is not None:
        known = set(
            Mix.objects.of(kitchen).filter(pk__in=[one.mix for one in change.services]).values_list("pk", flat=True)
        )
        gone = next((one for one in change.services if one.mix not in known), None)
        if gone is not None:
            raise PlanError("plan-mix-gone", mix=gone.name)
        plan.services = [_kept(one) for one in change.services]
    for step, at in (change.pins or {}).items():
        plan.pins.pop(step, None)
        if at is not None:
            plan.pins[step] = local(at).isoformat(timespec="minutes")
    if change.state is not None:
        plan.state = change.state
    return _saved(plan)


@transaction.atomic
def add_service(kitchen: Kitchen, plan_id: int, text: str) -> Plan:
    """Add a service as it is typed; raises PlanError for what cannot be read, or a mix that is not there."""
    plan = _locked(kitchen, plan_id)
    now = local_now(zone_called(plan.zone))
    said = read_service(text, now.date())
    mixes = list(Mix.objects.of(kitchen).filter(put_away=False).values_list("pk", "name"))
    number, name = mixes[mix_called(said.name, [name for _, name in mixes])]
    day = said.day or _usual_day(plan, now, said.minute)
    at = datetime(day.year, day.month, day.day) + timedelta(minutes=said.minute)
    if len(plan.services) >= MOST_SERVICES:
        raise PlanError("plan-too-many", what="services", most=MOST_SERVICES)
    service = ServiceIn.model_validate(
        {"mix": number, "by": said.by, "amount": said.amount, "at": at, "fresh": said.fresh}
    )
    plan.services = [*plan.services, _kept(ServiceOut(**service.model_dump(), id=_free_id(plan), name=name))]
    return _saved(plan)


@transaction.atomic
def take_remedy(kitchen: Kitchen, plan_id: int, change: dict[str, Any]) -> Plan:
    """Let one of the changes hold that the answer offers; raises PlanError for one that it does not."""
    plan = _locked(kitchen, plan_id)
    answer = plan.answer or {"would_help": []}
    if change not in [one["change"] for one in answer["would_help"]]:
        raise PlanError("plan-unknown-change")
    kind, zone = change["kind"], zone_called(plan.zone)
    origin = datetime.fromisoformat(answer["origin"])
    if kind == "leave_out":
        plan.services = [one for one in plan.services if one["id"] != change["product"]]
    elif kind == "serve_later":
        product = next(one["product"] for one in answer["services"] if one["step"] == change["step"])
        plan.services = [_later(one, change["minutes"]) if one["id"] == product else one for one in plan.services]
    else:
        plan.changes = [*plan.changes, _change(change, origin, zone)]
    return _saved(plan)


@transaction.atomic
def note_mishap(kitchen: Kitchen, plan_id: int, mishap: Mishap) -> Plan:
    """Note that somebody is gone, a machine is out, or a bowl was not in the freezer, from now on."""
    plan = _locked(kitchen, plan_id)
    known = plan.answer or {"people": {}, "machines": []}
    if mishap.of not in (known["people"] if mishap.kind == "gone" else known["machines"]):
        raise PlanError("plan-unknown-id", what="what happened", id=mishap.of)
    now = local_now(zone_called(plan.zone)).isoformat(timespec="minutes")
    plan.changes = [*plan.changes, {"kind": mishap.kind, "of": mishap.of, "at": now}]
    return _saved(plan)


@transaction.atomic
def take_back(kitchen: Kitchen, plan_id: int) -> Plan:
    """Take back the last of the changes that hold for a plan alone."""
    plan = _locked(kitchen, plan_id)
    plan.changes = plan.changes[:-1]
    return _saved(plan)


@transaction.atomic
def note_event(person: Person, plan_id: int, happened: Happened) -> Plan:
    """Note that a step began or ended, or takes longer; raises PlanError for a plan that was not started."""
    plan = _locked(person.kitchen, plan_id)
    if plan.state != Plan.State.STARTED or not plan.answer:
        raise PlanError("plan-not-started")
    step = next((one for one in plan.answer["steps"] if one["id"] == happened.step), None)
    if step is None:
        raise PlanError("plan-unknown-step", step=happened.step)
    zone, origin = zone_called(plan.zone), datetime.fromisoformat(plan.answer["origin"])
    now = int((local_now(zone) - time_at(origin, zone, 0)).total_seconds() // 60)
    minute = step["end"] + happened.minutes if happened.kind == "longer" else now
    PlanEvent.objects.create(plan=plan, kind=happened.kind, step=happened.step, minute=minute, by=person)
    return _saved(plan)


@transaction.atomic
def copy_plan(person: Person, plan_id: int, day: str) -> Plan:
    """Make a plan like another on another day; raises PlanError for a day that is none."""
    plan = plan_by_id(person.kitchen, plan_id)
    try:
        to = date.fromisoformat(day)
    except ValueError:
        to = date.min
    if to.year not in range(2000, 2100):
        raise PlanError("plan-time", text=day)
    services = [ServiceOut.model_validate(one) for one in plan.services]
    if not services:
        raise PlanError("plan-empty")
    by = to - min(one.at for one in services).date()
    moved = [_kept(one.model_copy(update={"at": one.at + by, "lot": None})) for one in services]
    return Plan.objects.create(kitchen=person.kitchen, name=plan.name, zone=plan.zone, services=moved, made_by=person)


def _locked(kitchen: Kitchen, plan_id: int) -> Plan:
    return Plan.objects.of(kitchen).select_related("kitchen").select_for_update(of=("self",)).get(pk=plan_id)


def _saved(plan: Plan) -> Plan:
    plan.version += 1
    plan.save()
    return plan


def _kept(service: ServiceOut) -> dict[str, Any]:
    return {**service.model_dump(mode="json"), "at": local(service.at).isoformat(timespec="minutes")}


def _free_id(plan: Plan) -> str:
    taken = {one["id"] for one in plan.services}
    return next(f"s{number}" for number in range(1, MOST_SERVICES + 2) if f"s{number}" not in taken)


def _usual_day(plan: Plan, now: datetime, minute: int) -> date:
    """Return the day of the service before it; today, or tomorrow where that hour has gone by, for the first."""
    if plan.services:
        return datetime.fromisoformat(plan.services[-1]["at"]).date()
    gone_by = 60 * now.hour + now.minute >= minute
    return now.date() + timedelta(days=int(gone_by))


def _later(service: dict[str, Any], minutes: int) -> dict[str, Any]:
    at = datetime.fromisoformat(service["at"]) + timedelta(minutes=minutes)
    return {**service, "at": at.isoformat(timespec="minutes")}


def _change(change: dict[str, Any], origin: datetime, zone: Any) -> dict[str, Any]:
    kind = change["kind"]
    if kind == "longer_shift":
        start, end = (time_at(origin, zone, at).isoformat(timespec="minutes") for at in change["to"])
        return {"kind": "there", "of": change["person"], "at": start, "until": end}
    if kind == "more_hands":
        return {"kind": "helper", "of": change["like"], "id": change["id"]}
    if kind == "more_room":
        return {"kind": "room", "of": change["place"], "capacity": change["capacity"]}
    return {"kind": "machine", "of": change["like"], "id": change["id"]}
