"""The tubs and dishes of a kitchen."""

from __future__ import annotations

from typing import Annotated, Literal

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Status
from pydantic import BaseModel, Field

from api.problems import ConflictError
from api.versions import IfMatch, tag, version_of
from jalebi_core.heat.tub import vessel
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MachineError
from kitchens.models import Vessel
from kitchens.sign_in import kitchen_of

router = Router(tags=["kitchen"])
MOST_VESSELS = 60

Millimetres = Annotated[float, Field(ge=5, le=3000)]


class Shape(BaseModel):
    """The shape of a filling in mm, a cylinder by its diameter and a box by its length and width, and its wall."""

    shape: Literal["cylinder", "box"] = "cylinder"
    diameter_mm: Millimetres | None = None
    length_mm: Millimetres | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres
    wall: Literal["plastic", "paper", "steel", "glass"] = "plastic"
    lid: bool = True
    wall_g: Annotated[float, Field(ge=0, le=100_000)] = 0


class VesselIn(Shape):
    """A tub or a dish, and what it is called here."""

    name: Annotated[str, Field(min_length=1, max_length=100)]


class VesselOut(VesselIn):
    """A tub or a dish of the kitchen, and the L that it holds."""

    id: int
    version: int
    litres: float


def _out(row: Vessel) -> VesselOut:
    fields = {key: getattr(row, key) for key in VesselIn.model_fields}
    return VesselOut(**fields, id=row.pk, version=row.version, litres=litres_of(VesselIn(**fields)))


def litres_of(of: Shape) -> float:
    """Return what a shape holds, L; raises HeatError for one whose sizes are not said."""
    if of.shape == "box" and of.length_mm and of.width_mm:
        return of.length_mm * of.width_mm * of.height_mm / 1e6
    return vessel(of.shape, of.height_mm, of.diameter_mm, of.length_mm, of.width_mm).litres


@router.get("/vessels", response=list[VesselOut])
def vessels(request: HttpRequest) -> list[VesselOut]:
    """Return the kitchen's tubs and dishes, in the order they came."""
    return [_out(row) for row in Vessel.objects.of(kitchen_of(request))[:MOST_VESSELS]]


@router.post("/vessels", response={201: VesselOut})
def add_vessel(request: HttpRequest, payload: VesselIn) -> Status[VesselOut]:
    """Add a tub or a dish."""
    kitchen = kitchen_of(request)
    if Vessel.objects.of(kitchen).count() >= MOST_VESSELS:
        raise MachineError("too-many-vessels", most=MOST_VESSELS)
    return Status(201, _out(_filled(Vessel(kitchen=kitchen), payload)))


@router.put("/vessels/{vessel_id}", response=VesselOut)
def change_vessel(
    request: HttpRequest, response: HttpResponse, vessel_id: int, payload: VesselIn, if_match: IfMatch = None
) -> VesselOut:
    """Change a tub or a dish to what is sent."""
    kitchen, version = kitchen_of(request), version_of(if_match)
    with transaction.atomic():
        row = Vessel.objects.of(kitchen).select_for_update().get(pk=vessel_id)
        if row.version != version:
            raise ConflictError("Somebody else changed this tub meanwhile. Look at it again.", version=row.version)
        row.version += 1
        _filled(row, payload)
    tag(response, row.version)
    return _out(row)


@router.delete("/vessels/{vessel_id}", response={204: None})
def remove_vessel(request: HttpRequest, vessel_id: int) -> Status[None]:
    """Remove a tub or a dish."""
    Vessel.objects.of(kitchen_of(request)).get(pk=vessel_id).delete()
    return Status(204, None)


def _filled(row: Vessel, payload: VesselIn) -> Vessel:
    """Save a vessel as it is sent; raises CompositionError and HeatError for what cannot be."""
    litres_of(payload)
    for key, value in {**payload.model_dump(), "name": checked_name(payload.name, "the tub")}.items():
        setattr(row, key, value)
    row.save()
    return row
