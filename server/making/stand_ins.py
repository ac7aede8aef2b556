"""What a hand does at the simulated instruments, for a step of a batch: pouring, heating, cooling, churning."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Final

from ingredients.shelf_cache import machines_of
from instruments.api import tell
from instruments.models import Instrument
from jalebi_core.heat.churn import churner_kinds
from jalebi_core.model.errors import DeviceError
from jalebi_core.production.making.steps import MakingStep
from kitchens.models import Person
from making.bench import Making
from making.schemas import StandInAct

_WEAK_PCT: Final = 40.0
_BASE_C: Final = 5.0
_FROM_FRIDGE_C: Final = 6.0
_OF_ANY: Final = ("drop-out", "die", "wake")

Told = tuple[str, dict[str, Any]]


def act(person: Person, making: Making, step: MakingStep, wanted: StandInAct) -> None:
    """Do something at the stand-ins; raises DeviceError where the instrument is real, or not connected."""
    rows = {row.kind: row for row in Instrument.objects.of(person.kitchen)}
    for kind, body in _told(person, making, step, wanted):
        row = rows.get(kind)
        if row is None:
            raise DeviceError("device-gone", name=kind)
        if not row.stand_in:
            raise DeviceError("device-not-simulated", name=row.name)
        tell(row, body, person.pk)


def _told(person: Person, making: Making, step: MakingStep, wanted: StandInAct) -> Iterator[Told]:
    weighing = step.weighing
    scale = "fine-scale" if weighing is not None and weighing.fine else "scale"
    if wanted.act in _OF_ANY:
        yield scale if weighing is not None else "probe", {"do": wanted.act, "seconds": 4.0}
    elif wanted.act == "pour":
        yield scale, {"do": "pour", "grams": wanted.grams}
    elif wanted.act == "take-off":
        yield scale, {"do": "take-off"}
    elif wanted.act == "heat":
        if step.kind in ("warm", "scald", "syrup"):
            yield "probe", {"do": "fill", "grams": making.mix.mass_g, "c": _FROM_FRIDGE_C}
        yield "probe", {"do": "put", "in": "pot"}
        yield "probe", {"do": "stove-on"}
    elif wanted.act == "off":
        yield "probe", {"do": "stove-off"}
    elif wanted.act in ("ice-bath", "fridge"):
        yield "probe", {"do": "put", "in": "pot"}
        yield "probe", {"do": "stand", "in": wanted.act}
    elif wanted.act in ("start", "start-weak"):
        yield from _churned(person, making, weak=wanted.act == "start-weak")
    elif wanted.act == "stop":
        yield "batch-freezer", {"do": "stop"}
        yield "probe", {"do": "put", "in": "air"}
    else:
        yield "probe", {"do": "put", "in": "freezer"}
        if wanted.act == "freezer-dies":
            yield "probe", {"do": "freezer-dies"}


def _churned(person: Person, making: Making, *, weak: bool) -> Iterator[Told]:
    machine = machines_of(person.kitchen).get(making.machine) if making.machine is not None else None
    kind = machine.kind.key if machine is not None and machine.kind.key in churner_kinds() else "canister"
    yield (
        "batch-freezer",
        {
            "do": "load",
            "kind": kind,
            "bowl_l": machine.bowl_l if machine is not None else 1.5,
            "grams": making.run.mass_g if making.run is not None else making.mix.mass_g,
            "start_c": _BASE_C,
            "row": making.mix.row().tolist(),
            "gel_frozen_pct": _WEAK_PCT if weak else None,
        },
    )
    yield "batch-freezer", {"do": "start"}
    yield "probe", {"do": "put", "in": "bowl"}
