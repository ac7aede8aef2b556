"""The freezers, cabinets and chillers of a kitchen, and places of its own."""

from __future__ import annotations

from typing import Annotated, Literal

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import Router, Status
from pydantic import BaseModel, Field

from api.problems import ConflictError
from api.versions import IfMatch, tag, version_of
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MachineError
from kitchens.models import Place
from kitchens.sign_in import kitchen_of

router = Router(tags=["kitchen"])
MOST_PLACES = 40

Kind = Literal["still-freezer", "fan-freezer", "blast", "cabinet", "fridge", "room"]
Air = Annotated[float, Field(ge=-60, le=50)]
Name = Annotated[str, Field(min_length=1, max_length=100)]
Mark = Annotated[str, Field(max_length=40)]


class KitchenPlaceIn(BaseModel):
    """A place: what it is called here, what it is like, the °C of its air, and what its dial stands on."""

    name: Name
    kind: Kind
    air_c: Air
    mark: Mark = ""


class KitchenPlaceChange(BaseModel):
    """A change to a place; what is left out stays."""

    name: Name | None = None
    kind: Kind | None = None
    air_c: Air | None = None
    mark: Mark | None = None


class KitchenPlaceOut(BaseModel):
    """A place of the kitchen."""

    id: int
    version: int
    name: str
    kind: Kind
    air_c: float
    mark: str


def _out(row: Place) -> KitchenPlaceOut:
    return KitchenPlaceOut.model_validate(row, from_attributes=True)


@router.get("/places", response=list[KitchenPlaceOut])
def places(request: HttpRequest) -> list[KitchenPlaceOut]:
    """Return the kitchen's places, in the order they came."""
    return [_out(row) for row in Place.objects.of(kitchen_of(request)).filter(put_away=False)[:MOST_PLACES]]


@router.post("/places", response={201: KitchenPlaceOut})
def add_place(request: HttpRequest, payload: KitchenPlaceIn) -> Status[KitchenPlaceOut]:
    """Add a place."""
    kitchen = kitchen_of(request)
    if Place.objects.of(kitchen).filter(put_away=False).count() >= MOST_PLACES:
        raise MachineError("too-many-places", most=MOST_PLACES)
    name = checked_name(payload.name, "the place")
    row = Place.objects.create(kitchen=kitchen, **{**payload.model_dump(), "name": name})
    return Status(201, _out(row))


@router.patch("/places/{place_id}", response=KitchenPlaceOut)
def change_place(
    request: HttpRequest, response: HttpResponse, place_id: int, payload: KitchenPlaceChange, if_match: IfMatch = None
) -> KitchenPlaceOut:
    """Change a place; what is left out stays."""
    kitchen, version = kitchen_of(request), version_of(if_match)
    with transaction.atomic():
        row = Place.objects.of(kitchen).select_for_update().get(pk=place_id, put_away=False)
        if row.version != version:
            raise ConflictError("Somebody else changed this place meanwhile. Look at it again.", version=row.version)
        changes = {key: value for key, value in payload.model_dump(exclude_unset=True).items() if value is not None}
        if "name" in changes:
            changes["name"] = checked_name(changes["name"], "the place")
        for key, value in changes.items():
            setattr(row, key, value)
        row.version += 1
        row.save()
    tag(response, row.version)
    return _out(row)


@router.delete("/places/{place_id}", response={204: None})
def remove_place(request: HttpRequest, place_id: int) -> Status[None]:
    """Put a place away: it is offered no more, and what stood or was measured there stays."""
    row = Place.objects.of(kitchen_of(request)).get(pk=place_id, put_away=False)
    row.put_away = True
    row.save(update_fields=["put_away"])
    return Status(204, None)
