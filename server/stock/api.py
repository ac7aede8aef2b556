"""Lots: what is in the house, until when, and what happened to it."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile
from pydantic import BaseModel, Field

from api.pages import Page, PageQuery, page_of
from api.versions import IfMatch, tag, version_of
from idempotency.answers import IdempotencyKey, answer_once
from ingredients.schemas import Slug
from jalebi_core.formats.delivery_file import MOST_BYTES
from kitchens.sign_in import kitchen_of, person_of
from stock.deliveries import take_delivery
from stock.lots import change_lot, correct_movement, note_movement, receive_lot, suggest_for
from stock.models import lots_on_hand, with_on_hand
from stock.schemas import (
    Correction,
    DeliveryOut,
    LotChange,
    LotDetail,
    LotOut,
    NewLot,
    NewMovement,
    SharesOut,
)
from stock.serialize import serialize_lot, serialize_lot_detail, serialize_split

router = Router(tags=["stock"])


class LotQuery(PageQuery):
    """Which lots: of one ingredient or of all, and those that are used up too."""

    ingredient: Slug = ""
    used_up: bool = False


@router.get("/lots", response=Page[LotOut])
def lots(request: HttpRequest, wanted: Query[LotQuery]) -> Page[LotOut]:
    """Return what is in the house, what must be used first on top."""
    person = person_of(request)
    kitchen = person.kitchen
    rows = with_on_hand(kitchen) if wanted.used_up else lots_on_hand(kitchen)
    if wanted.ingredient:
        rows = rows.filter(ingredient__slug=wanted.ingredient)
    return page_of(rows.select_related("ingredient", "batch"), wanted, serialize_lot)


@router.post("/lots", response={201: LotDetail})
def receive(request: HttpRequest, payload: NewLot, idempotency_key: IdempotencyKey = None) -> Status[LotDetail]:
    """Take a lot in."""
    person = person_of(request)
    return answer_once(
        request, person, idempotency_key, LotDetail, lambda: _detail(request, receive_lot(person, payload).pk)
    )


@router.get("/lots/{lot_id}", response=LotDetail)
def lot(request: HttpRequest, response: HttpResponse, lot_id: int) -> LotDetail:
    """Return a lot with all that happened to it."""
    found = _detail(request, lot_id)
    tag(response, found.version)
    return found


@router.patch("/lots/{lot_id}", response=LotDetail)
def change(
    request: HttpRequest, response: HttpResponse, lot_id: int, payload: LotChange, if_match: IfMatch = None
) -> LotDetail:
    """Note what is known of a lot now: opened, thawed, another date or state."""
    changed = change_lot(person_of(request), lot_id, version_of(if_match), payload)
    tag(response, changed.version)
    return _detail(request, lot_id)


@router.post("/lots/{lot_id}/movements", response={201: LotDetail})
def move(
    request: HttpRequest, lot_id: int, payload: NewMovement, idempotency_key: IdempotencyKey = None
) -> Status[LotDetail]:
    """Note what was wasted, counted, sent back or thrown away; nothing noted is ever changed."""
    person = person_of(request)

    def note() -> LotDetail:
        note_movement(person, lot_id, payload.kind, payload.typed, payload.why)
        return _detail(request, lot_id)

    return answer_once(request, person, idempotency_key, LotDetail, note)


@router.post("/movements/{movement_id}/corrections", response={201: LotDetail})
def correct(
    request: HttpRequest, movement_id: int, payload: Correction, idempotency_key: IdempotencyKey = None
) -> Status[LotDetail]:
    """Set right what a movement said, by another that names it."""
    person = person_of(request)
    return answer_once(
        request,
        person,
        idempotency_key,
        LotDetail,
        lambda: _detail(request, correct_movement(person, movement_id, payload.typed, payload.why).pk),
    )


class Wanted(BaseModel):
    """A weight of an ingredient, a kilo where none is said."""

    ingredient: Slug = ""
    grams: Annotated[float, Field(gt=0, le=1_000_000)] = 1000


@router.get("/lot-suggestions", response=SharesOut)
def suggestion(request: HttpRequest, wanted: Query[Wanted]) -> SharesOut:
    """Return which lots to take a weight from: what expires first goes first."""
    return serialize_split(*suggest_for(kitchen_of(request), wanted.ingredient, wanted.grams))


class DeliveryHow(BaseModel):
    """Whether to take it in; without it only what it would bring is said."""

    apply: bool = False


@router.post("/deliveries", response=DeliveryOut)
def deliver(
    request: HttpRequest, how: Query[DeliveryHow], file: File[UploadedFile], idempotency_key: IdempotencyKey = None
) -> DeliveryOut:
    """Say what a delivery list, CSV or XLSX, would bring in, and take it in where asked to."""
    person = person_of(request)
    return answer_once(
        request,
        person,
        idempotency_key,
        DeliveryOut,
        lambda: take_delivery(person, file.read(MOST_BYTES + 1), how.apply),
    ).value


def _detail(request: HttpRequest, lot_id: int) -> LotDetail:
    person = person_of(request)
    rows = with_on_hand(person.kitchen).select_related("ingredient", "batch")
    return serialize_lot_detail(rows.get(pk=lot_id))
