"""A kitchen's plan as a plan file: its services sized, its workplace, and what happened since it was started."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import ceil
from typing import Any, Final
from zoneinfo import ZoneInfo

from django.utils import timezone

from jalebi_core.formats.plan_file import read_plan
from jalebi_core.model.errors import PlanError
from jalebi_core.production.making.layout import HOT
from jalebi_core.production.schedule.shifts import WeeklySpan, spans_in, within
from kitchens.models import Kitchen
from mixes.models import Mix
from plans.models import Plan, PlanEvent
from plans.schemas import MachineAtWork, ServiceOut, WeeklyHours, WorkplaceOut
from plans.sizes import Sized, size_service
from plans.times import local, local_now, minute_of, zone_called
from plans.ways import Preparations, cooled_without_bath, tempering
from plans.workplace import workplace_of
from stock.models import Lot

_GRID_MIN: Final = 5
_LONGEST_DAYS: Final = 5
_AHEAD: Final = timedelta(days=3)
_AFTER_MIN: Final = 1440
"""After the last service: how late all of it may be at most, with the washing."""
_BUCKET_KINDS: Final = ("ice-and-salt", "bag")
_RAW_KEEPS_DAYS: Final = 3
"""A base that was never heated is not kept longer by anybody's signature."""
_STAYS_READY: Final = 3
"""Ice is not packed, nor a compressor left running, for longer than so many times what it takes."""
_LONGEST_MIN: Final = 20_160
_LIMIT_S: Final = 20


@dataclass(frozen=True, slots=True)
class Built:
    """A plan as a plan file, with when its minutes begin, what each service takes, and what is prepared here."""

    content: dict[str, Any]
    origin: datetime
    zone: ZoneInfo | None
    sized: dict[str, Sized]
    ahead: Preparations


def build(plan: Plan, *, anew: bool) -> Built:
    """Return a plan as a plan file.

    Parameters
    ----------
    anew : from the answer that is there on, moving the rest as little as it can; otherwise a first plan

    Raises
    ------
    PlanError : nothing to make, or a mix that cannot be made here
    """
    zone = zone_called(plan.zone)
    if plan.file is not None:
        return _of_file(plan, zone, anew=anew)
    services = [ServiceOut.model_validate(one) for one in plan.services]
    if not services:
        raise PlanError("plan-empty")
    now = local_now(zone)
    begun = datetime.fromisoformat(plan.answer["origin"]) if anew and plan.answer else None
    origin = begun or _origin(services, now)
    last = max(minute_of(origin, zone, one.at) for one in services)
    horizon = _up(last + _AFTER_MIN)
    workplace = workplace_of(plan.kitchen)
    mixes = {mix.pk: mix for mix in Mix.objects.of(plan.kitchen).filter(pk__in={one.mix for one in services})}
    sized = {one.id: size_service(plan.kitchen, _mix(mixes, one), one) for one in services}
    ahead = Preparations.of(plan.kitchen)
    content: dict[str, Any] = {
        "format": "jalebi.plan",
        "version": 1,
        "origin": origin.isoformat(timespec="minutes"),
        **({"zone": plan.zone} if plan.zone else {}),
        "horizon_min": horizon,
        "grid_min": _GRID_MIN,
        "time_limit_s": _LIMIT_S,
        "spare_min": workplace.spare_min,
        "people": _people(workplace, origin, zone, horizon),
        "places": _places(workplace),
        "machines": _machines(workplace, origin, zone, horizon),
        "mixes": [_mix_of(plan.kitchen, one, sized[one.id], workplace, origin, zone, ahead) for one in services],
    }
    _apply(plan.changes, content, origin, zone)
    return Built(_with_events(plan, content, origin, zone, anew=anew), origin, zone, sized, ahead)


def _of_file(plan: Plan, zone: ZoneInfo | None, *, anew: bool) -> Built:
    content = json.loads(json.dumps(plan.file))
    content["time_limit_s"] = min(content.get("time_limit_s", _LIMIT_S), _LIMIT_S)
    origin = datetime.fromisoformat(content["origin"])
    _apply(plan.changes, content, origin, zone)
    return Built(_with_events(plan, content, origin, zone, anew=anew), origin, zone, {}, Preparations({}, {}))


def _mix(mixes: dict[int, Mix], service: ServiceOut) -> Mix:
    if service.mix not in mixes:
        raise PlanError("plan-mix-gone", mix=service.name)
    return mixes[service.mix]


def check_hours(plan: Plan) -> None:
    """Refuse a draft whose services have gone by, are too far away, or lie too far apart."""
    services = [ServiceOut.model_validate(one) for one in plan.services]
    now = local_now(zone_called(plan.zone))
    for one in services:
        if local(one.at) <= now:
            raise PlanError("plan-service-past", mix=one.name, at=f"{one.at:%H:%M}")
        if local(one.at) > now + timedelta(days=14):
            raise PlanError("plan-service-far", mix=one.name)
    hours = [local(one.at) for one in services]
    if hours and max(hours) - min(hours) > timedelta(days=_LONGEST_DAYS):
        raise PlanError("plan-too-many-days", most=_LONGEST_DAYS)


def _origin(services: Iterable[ServiceOut], now: datetime) -> datetime:
    """Return when the plan begins: now, or some days before the first service where that is further away."""
    first = min(local(one.at) for one in services)
    soonest = now + timedelta(minutes=-now.minute % _GRID_MIN)
    return max(soonest, (first - _AHEAD).replace(hour=0, minute=0))


def _people(at: WorkplaceOut, origin: datetime, zone: ZoneInfo | None, horizon: int) -> list[dict[str, Any]]:
    if not at.people:
        raise PlanError("plan-nobody")
    opened = spans_in(_weekly(at.open), origin, zone, horizon) if at.open else [(0, horizon)]
    return [
        {
            "id": one.name,
            "shifts": [list(span) for span in within(spans_in(_weekly(one.hours), origin, zone, horizon), opened)],
        }
        for one in at.people
    ]


def _weekly(hours: Iterable[WeeklyHours]) -> list[WeeklySpan]:
    return [WeeklySpan(frozenset(one.days), one.start, one.end) for one in hours]


def _places(at: WorkplaceOut) -> list[dict[str, Any]]:
    pieces = {"burner": at.burners, "ice-bath": at.ice_baths, "motor": at.motors, "bucket": at.buckets}
    litres = {"fridge": at.fridge_l, "freezer": at.freezer_l, "blast": at.blast_l}
    capacity = pieces | {place: round(10 * value) for place, value in litres.items()}
    return [{"id": place, "capacity": units} for place, units in capacity.items() if units]


def _machines(at: WorkplaceOut, origin: datetime, zone: ZoneInfo | None, horizon: int) -> list[dict[str, Any]]:
    quiet = [list(span) for span in spans_in(_weekly(at.quiet), origin, zone, horizon)]
    return [_machine(one, at, quiet if one.loud else [], origin, zone) for one in at.machines]


def _machine(
    one: MachineAtWork, at: WorkplaceOut, off: list[list[int]], origin: datetime, zone: ZoneInfo | None
) -> dict[str, Any]:
    freezes = one.ready_min >= 240
    since = None if one.in_freezer_since is None else max(minute_of(origin, zone, one.in_freezer_since), -_LONGEST_MIN)
    return {
        "id": at.machine_names[one.machine],
        "churn_min": one.churn_min or 30,
        "wash_min": max(one.wash_min, 1),
        "dirty_max_min": one.dirty_max_min,
        "wash_always": one.wash_always,
        "ready_min": one.ready_min,
        "ready_hands_min": min(one.ready_hands_min, one.ready_min),
        "ready_uses": [{"place": "freezer", "units": 20}] if freezes and at.freezer_l else [],
        "ready_since": since if since is None or since <= 0 else None,
        "run_uses": [{"place": "motor", "units": 1}] if freezes and at.motors else [],
        "off": off,
        "ready_max_min": None if freezes else max(one.ready_min, 1) * _STAYS_READY,
    }


def _mix_of(
    kitchen: Kitchen,
    service: ServiceOut,
    sized: Sized,
    at: WorkplaceOut,
    origin: datetime,
    zone: ZoneInfo | None,
    ahead: Preparations,
) -> dict[str, Any]:
    own = {one.machine: one.churn_min for one in at.machines}
    mix: dict[str, Any] = {
        "id": service.id,
        "name": service.name,
        "style": sized.style,
        "grams": sized.grams,
        "has": sorted(sized.facts.has),
        "serve": local(service.at).isoformat(timespec="minutes"),
        "overrun_pct": sized.overrun_pct,
        "runs": sized.churning[0].runs if sized.churning else 1,
        "fresh": service.fresh,
        "mix_in": sized.facts.mix_in,
        "machines": [at.machine_names[one.machine] for one in sized.churning],
        "churn_min": {
            at.machine_names[one.machine]: own.get(one.machine) or _up(one.minutes) for one in sized.churning
        },
        "minutes": dict(at.minutes),
        "way": sized.facts.way,
    }
    if not at.ice_baths and sized.facts.way in HOT and service.lot is None:
        without = cooled_without_bath(sized.mix, service.name)
        mix |= {"cool": without["cool"], "minutes": {**without["minutes"], **mix["minutes"]}}
    tempers = None if service.fresh or "temper" in mix["minutes"] else tempering(sized.mix, kitchen.used_freezer_c)
    if tempers is not None:
        mix["minutes"] = {**mix["minutes"], "temper": tempers}
    if service.lot is None and (prepare := ahead.steps_for(sized.needed)):
        mix["prepare"] = prepare
    if service.base:
        mix["base"] = f"base {service.base}"
    if at.base_days is not None:
        days = at.base_days.days
        mix["keeps_min"] = round(1440 * (min(days, _RAW_KEEPS_DAYS) if sized.facts.way == "blend" else days))
    if service.lot is not None:
        mix["stock"] = _stock(kitchen, service, origin, zone)
    return mix


def _stock(kitchen: Kitchen, service: ServiceOut, origin: datetime, zone: ZoneInfo | None) -> dict[str, Any]:
    lot = Lot.objects.of(kitchen).filter(pk=service.lot or 0, batch__revision__mix=service.mix).first()
    if lot is None:
        raise PlanError("plan-base-gone", mix=service.name)
    if lot.state == "frozen":
        return {"kind": "frozen"}
    made = timezone.localtime(lot.noted_at, zone).replace(tzinfo=None) if zone else lot.noted_at.replace(tzinfo=None)
    return {"kind": "fridge", "since": min(local(made), origin).isoformat(timespec="minutes")}


def _apply(changes: list[dict[str, Any]], content: dict[str, Any], origin: datetime, zone: ZoneInfo | None) -> None:
    """Let what holds for this plan alone hold: somebody there longer or gone, a machine more or out, more room."""
    for change in changes:
        kind, of = change["kind"], change.get("of")
        at = minute_of(origin, zone, datetime.fromisoformat(change["at"])) if "at" in change else 0
        people = {one["id"]: one for one in content["people"]}
        machines = {one["id"]: one for one in content["machines"]}
        places = {one["id"]: one for one in content["places"]}
        if kind == "gone" and of in people:
            people[of]["shifts"] = [[start, min(end, at)] for start, end in people[of]["shifts"] if start < at]
        elif kind == "there" and of in people:
            until = minute_of(origin, zone, datetime.fromisoformat(change["until"]))
            people[of]["shifts"] = _longer(people[of]["shifts"], at, until)
        elif kind == "helper" and of in people:
            content["people"].append({"id": change["id"], "shifts": [list(one) for one in people[of]["shifts"]]})
        elif kind == "out" and of in machines:
            machines[of].setdefault("off", []).append([at, content["horizon_min"]])
        elif kind == "not-in" and of in machines:
            machines[of]["ready_since"] = None
        elif kind == "room" and of in places:
            places[of]["capacity"] = change["capacity"]
        elif kind == "machine" and of in machines:
            content["machines"].append({**machines[of], "id": change["id"]})
            for mix in content.get("mixes", []):
                if of in mix.get("machines", []):
                    mix["machines"].append(change["id"])
                    mix["churn_min"] |= {change["id"]: mix["churn_min"][of]} if "churn_min" in mix else {}


def _longer(shifts: list[list[int]], start: int, end: int) -> list[list[int]]:
    """Return shifts with one that takes the place of those it touches."""
    apart = [shift for shift in shifts if shift[1] < start or end < shift[0]]
    touched = [shift for shift in shifts if shift not in apart]
    low, high = min([start, *(one[0] for one in touched)]), max([end, *(one[1] for one in touched)])
    return sorted([*apart, [low, high]])


def _with_events(
    plan: Plan, content: dict[str, Any], origin: datetime, zone: ZoneInfo | None, *, anew: bool
) -> dict[str, Any]:
    """Add pins, and what is known of a plan that is made anew: the hour, the answer before, what went otherwise."""
    pins = {step: minute_of(origin, zone, datetime.fromisoformat(at)) for step, at in plan.pins.items()}
    pins = {step: at for step, at in pins.items() if 0 <= at <= content["horizon_min"]}
    if pins:
        content["pins"] = {step: at - at % content["grid_min"] for step, at in pins.items()}
    if not anew or plan.answer is None:
        return content
    kept = ("id", "start", "end", "option", "machine", "people")
    ids = _products(content)
    content["now"] = max(minute_of(origin, zone, local_now(zone)), 0) if plan.state == Plan.State.STARTED else 0
    content["now"] = min(content["now"], content["horizon_min"])
    content["previous"] = {
        "steps": [{key: one[key] for key in kept} for one in plan.answer["steps"] if one["product"] in ids],
        "setups": [
            {key: one[key] for key in ("kind", "machine", "step", "start", "end", "people")}
            for one in plan.answer["setups"]
            if one["step"].rsplit(".churn", 1)[0] in ids or plan.file is not None
        ],
    }
    previous = {one["id"]: one for one in content["previous"]["steps"]}
    actual = _actual(plan.events.all(), previous)
    content["actual"] = [*actual, *_done_before(content, actual, previous)]
    begun = {one["id"] for one in content["actual"]}
    began = {one["id"] for one in content["previous"]["steps"] if one["start"] < content["now"]}
    content["pins"] = {step: at for step, at in content.get("pins", {}).items() if step not in begun | began}
    return content


def _products(content: dict[str, Any]) -> set[str]:
    mixes = content.get("mixes", [])
    return {one["id"] for one in (*mixes, *content.get("products", []))} | {
        mix["base"] for mix in mixes if "base" in mix
    }


def _actual(events: Iterable[PlanEvent], previous: dict[str, dict[str, Any]]) -> list[dict[str, Any]]:
    """Return what went otherwise than planned, by step; a later event takes an earlier one's place."""
    found: dict[str, dict[str, Any]] = {}
    for event in events:
        if event.step in previous:
            known = found.setdefault(event.step, {"id": event.step})
            known["start" if event.kind == PlanEvent.Kind.BEGAN else "end"] = event.minute
    for one in found.values():
        start = one.get("start", previous[one["id"]]["start"])
        if "end" in one and one["end"] < start:
            one["start"] = one["end"]
    return list(found.values())


def _done_before(
    content: dict[str, Any], actual: list[dict[str, Any]], previous: dict[str, dict[str, Any]]
) -> list[dict[str, Any]]:
    """Return what must have been done when something after it has begun, although nobody has said so."""
    first = {key: value for key, value in content.items() if key not in ("now", "previous", "actual", "pins")}
    problem = read_plan(json.dumps({**first, "spare_min": 0}).encode())
    known = {one["id"] for one in actual}
    found: dict[str, dict[str, Any]] = {}
    waiting = [(one["id"], one.get("start", previous[one["id"]]["start"])) for one in actual]
    while waiting:
        step, began = waiting.pop()
        for lag in problem.lags:
            if lag.after == step and not lag.from_start and not lag.to_end and lag.before in previous:
                before = previous[lag.before]
                is_said = lag.before in known or (before["start"] < content["now"] and before["end"] <= began)
                if not is_said and lag.before not in found:
                    found[lag.before] = {"id": lag.before, "start": min(before["start"], began), "end": began}
                    waiting.append((lag.before, found[lag.before]["start"]))
    return list(found.values())


def _up(minutes: int) -> int:
    return ceil(minutes / _GRID_MIN) * _GRID_MIN
