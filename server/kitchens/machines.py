"""The machines of a kitchen."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Status
from pydantic import BaseModel, Field

from api.problems import ConflictError
from api.versions import IfMatch, tag, version_of
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MachineError
from jalebi_core.production.machines import Tuning
from kitchens.models import Kitchen, Machine, notation_of
from kitchens.sign_in import kitchen_of

router = Router(tags=["kitchen"])
MOST_MACHINES = 40


class ProgrammeIn(BaseModel):
    """A programme or a mark of a machine: where it draws, and after how many minutes it stops, where it does."""

    name: Annotated[str, Field(min_length=1, max_length=40)]
    draw_c: Annotated[float, Field(ge=-30, le=0)] | None = None
    max_min: Annotated[float, Field(ge=1, le=600)] | None = None


Programmes = Annotated[list[ProgrammeIn], Field(max_length=20)]


class MachineIn(BaseModel):
    """A machine: what it is called here, its kind, the L of its bowl, and its programmes, the usual one first."""

    name: Annotated[str, Field(min_length=1, max_length=100)]
    kind: Annotated[str, Field(max_length=40)]
    bowl_l: float
    programmes: Programmes = []


class MachineChange(BaseModel):
    """A change to a machine; what is left out stays."""

    name: Annotated[str, Field(min_length=1, max_length=100)] | None = None
    kind: Annotated[str, Field(max_length=40)] | None = None
    bowl_l: Annotated[float, Field(gt=0)] | None = None
    programmes: Programmes | None = None


class MachineOut(MachineIn):
    """A machine with its kind's share of the bowl in % at most, what comes before a run, and what to mind.

    ``factor`` is how fast it is beside its kind, as ``logged`` runs say, within a share of ``factor_sd``.
    """

    id: int
    version: int
    kind_name: str
    most_pct: float
    before: str
    caution: str | None
    factor: float
    factor_sd: float
    logged: int


def _out(kitchen: Kitchen, row: Machine) -> MachineOut:
    notation, tuning = notation_of(kitchen), kitchen.learnt.tuning.get(row.pk, Tuning())
    kind = row.to_core().kind
    return MachineOut(
        id=row.pk,
        version=row.version,
        name=row.name,
        kind=row.kind,
        bowl_l=row.bowl_l,
        kind_name=kind.name,
        most_pct=kind.most,
        before=kind.before,
        caution=notation.text(kind.caution) if kind.caution else None,
        programmes=[ProgrammeIn(**one) for one in row.programmes],
        factor=tuning.factor,
        factor_sd=tuning.sd,
        logged=tuning.runs,
    )


@router.get("/machines", response=list[MachineOut])
def machines(request: HttpRequest) -> list[MachineOut]:
    """Return the kitchen's machines, in the order they came."""
    kitchen = kitchen_of(request)
    return [_out(kitchen, row) for row in Machine.objects.of(kitchen)[:MOST_MACHINES]]


@router.post("/machines", response={201: MachineOut})
def add_machine(request: HttpRequest, payload: MachineIn) -> Status[MachineOut]:
    """Add a machine."""
    kitchen = kitchen_of(request)
    if Machine.objects.of(kitchen).count() >= MOST_MACHINES:
        raise MachineError("too-many-machines", most_machines=MOST_MACHINES)
    added = _filled(Machine(kitchen=kitchen), payload)
    return Status(201, _out(kitchen, added))


@router.patch("/machines/{machine_id}", response=MachineOut)
def change_machine(
    request: HttpRequest, response: HttpResponse, machine_id: int, payload: MachineChange, if_match: IfMatch = None
) -> MachineOut:
    """Change a machine; what is left out stays."""
    kitchen, version = kitchen_of(request), version_of(if_match)
    with transaction.atomic():
        row = Machine.objects.of(kitchen).select_for_update().get(pk=machine_id)
        if row.version != version:
            raise ConflictError("Somebody else changed this machine meanwhile. Look at it again.", version=row.version)
        row.version += 1
        tag(response, row.version)
        kept = {"name": row.name, "kind": row.kind, "bowl_l": row.bowl_l, "programmes": row.programmes}
        changes = {key: value for key, value in payload.model_dump(exclude_unset=True).items() if value is not None}
        return _out(kitchen, _filled(row, MachineIn.model_validate({**kept, **changes})))


@router.delete("/machines/{machine_id}", response={204: None})
def remove_machine(request: HttpRequest, machine_id: int) -> Status[None]:
    """Remove a machine; mixes that were meant for it have none then."""
    Machine.objects.of(kitchen_of(request)).get(pk=machine_id).delete()
    return Status(204, None)


def _filled(row: Machine, wanted: MachineIn) -> Machine:
    """Save a machine as it is asked for; raises CompositionError and MachineError for what cannot be."""
    row.name, row.kind, row.bowl_l = checked_name(wanted.name, "the machine"), wanted.kind, wanted.bowl_l
    programmes = [{**one.model_dump(), "name": checked_name(one.name, "the programme")} for one in wanted.programmes]
    row.programmes = programmes
    row.to_core()
    row.save()
    return row
