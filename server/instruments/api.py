"""A kitchen's instruments, and what they show now: asked for again and again while a step needs it."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated, Final

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from pydantic import BaseModel, Field

from instruments.models import Instrument, Shown, Told
from jalebi_core.formats.device_lines import UNITS
from jalebi_core.model.errors import DeviceError
from kitchens.sign_in import kitchen_of, person_of

router = Router(tags=["instruments"])
_MOST: Final = 200
_JUST_NOW: Final = timedelta(seconds=1.5)


class InstrumentOut(BaseModel):
    """An instrument; ``stand_in`` is a simulated one."""

    key: str
    name: str
    kind: str
    unit: str
    step: float
    speed: float
    stand_in: bool
    connected: bool
    fault: str
    """Why it was cut off; empty where it was not."""


class ShownOut(BaseModel):
    """What an instrument showed: the second of its own clock, its value, and whether that stands still."""

    instrument: str
    t: float
    value: float
    steady: bool
    wall_c: float | None
    at: datetime


class ShownPage(BaseModel):
    """What is new since ``upto`` of the answer before."""

    upto: int
    now: datetime
    shown: list[ShownOut]


class Since(BaseModel):
    """After which number; 0 is the last second. Only of one instrument where it is named."""

    since: Annotated[int, Field(ge=0, le=2**62)] = 0
    instrument: Annotated[str, Field(max_length=40)] = ""


@router.get("/instruments", response=list[InstrumentOut])
def instruments(request: HttpRequest) -> list[InstrumentOut]:
    """Return the kitchen's instruments and whether each is connected."""
    return [_out(row) for row in Instrument.objects.of(kitchen_of(request))]


@router.get("/shown", response=ShownPage)
def shown(request: HttpRequest, asked: Query[Since]) -> ShownPage:
    """Return what the kitchen’s instruments have shown since a number, oldest first."""
    rows = Shown.objects.filter(instrument__kitchen=kitchen_of(request), pk__gt=asked.since)
    if asked.since == 0:  # what is older may have been something else on the scale
        rows = rows.filter(at__gte=timezone.now() - _JUST_NOW)
    if asked.instrument:
        rows = rows.filter(instrument__key=asked.instrument)
    last = list(
        rows.order_by("-pk").values_list("pk", "instrument__key", "t", "value", "steady", "wall_c", "at")[:_MOST]
    )
    shown = [
        ShownOut(instrument=key, t=t, value=value, steady=steady, wall_c=wall_c, at=at)
        for _, key, t, value, steady, wall_c, at in reversed(last)
    ]
    return ShownPage(upto=last[0][0] if last else asked.since, now=timezone.now(), shown=shown)


@router.post("/instruments/{key}/tare", response=InstrumentOut)
def tare(request: HttpRequest, key: str) -> InstrumentOut:
    """Let a scale show nothing for what stands on it; raises DeviceError where it is not connected."""
    person = person_of(request)
    row = Instrument.objects.of(person.kitchen).get(key=key)
    tell(row, {"do": "tare"}, person.pk)
    return _out(row)


def tell(row: Instrument, body: dict[str, object], by: int) -> None:
    """Tell an instrument something; raises DeviceError where it is not connected."""
    if not row.connected:
        raise DeviceError("device-gone", name=row.name)
    Told.objects.create(kitchen_id=row.kitchen_id, instrument=row, body=body, by_id=by)


def _out(row: Instrument) -> InstrumentOut:
    return InstrumentOut(
        key=row.key,
        name=row.name,
        kind=row.kind,
        unit=UNITS[row.kind],
        step=row.step,
        speed=row.speed,
        stand_in=row.stand_in,
        connected=row.connected,
        fault=row.fault,
    )
