"""Lots and tubs of batches, and where everything came from and went to."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status
from pydantic import Field, RootModel

from api.answers import written_out
from api.pages import Page, PageQuery, page_of
from batches.batch_lots import lots_of_batch, take_for_batch
from batches.models import Batch, Tub
from batches.trace import origins_of, trace_lot
from batches.tub_schemas import LotsOfBatch, LotTrace, NewTubEvent, Origins, PackedTub, Taken
from batches.tubs import note_tub_event, serialize_tub
from idempotency.answers import IdempotencyKey, answer_once
from kitchens.sign_in import kitchen_of, person_of
from stock.models import Lot

router = Router(tags=["batches"])


class Tubs(RootModel[list[PackedTub]]):
    """The tubs of a batch."""


class TubQuery(PageQuery):
    """Which tubs: those that are in the house, or all; those whose code has these signs."""

    gone: bool = False
    code: Annotated[str, Field(max_length=20)] = ""


@router.get("/batches/{batch_id}/lots", response=LotsOfBatch)
def lots_in_batch(request: HttpRequest, batch_id: int) -> LotsOfBatch:
    """Return which lots each line was taken from, and where the rest is best taken from."""
    return lots_of_batch(kitchen_of(request), _batch(request, batch_id))


@router.post("/batches/{batch_id}/lots", response={201: LotsOfBatch})
def take(
    request: HttpRequest, batch_id: int, payload: Taken, idempotency_key: IdempotencyKey = None
) -> Status[LotsOfBatch]:
    """Take weights from lots for the lines of a batch."""
    person, batch = person_of(request), _batch(request, batch_id)

    def note() -> LotsOfBatch:
        take_for_batch(person, batch, payload)
        return lots_of_batch(person.kitchen, batch)

    return answer_once(request, person, idempotency_key, LotsOfBatch, note)


@router.get("/batches/{batch_id}/origins", response=Origins)
def origins(request: HttpRequest, batch_id: int) -> Origins:
    """Return every lot that is in a batch and its tubs, at any depth."""
    return origins_of(kitchen_of(request), _batch(request, batch_id))


@router.get("/tubs", response=Page[PackedTub])
def tubs(request: HttpRequest, wanted: Query[TubQuery]) -> Page[PackedTub]:
    """Return the kitchen's tubs, the last packed on top."""
    rows = Tub.objects.of(kitchen_of(request)).filter(code__icontains=wanted.code)
    if not wanted.gone:
        rows = rows.filter(state__in=[Tub.State.CLOSED, Tub.State.OPENED])
    rows = rows.select_related("batch__revision", "place").prefetch_related("events__by")
    return page_of(rows, wanted, serialize_tub)


@router.post("/tubs/{tub_id}/events", response={201: PackedTub})
def happen(
    request: HttpRequest, tub_id: int, payload: NewTubEvent, idempotency_key: IdempotencyKey = None
) -> Status[PackedTub]:
    """Note what happened to a tub."""
    person = person_of(request)
    return answer_once(
        request, person, idempotency_key, PackedTub, lambda: serialize_tub(note_tub_event(person, tub_id, payload))
    )


@router.get("/tubs/{tub_id}/origins", response=Origins)
def origins_of_tub(request: HttpRequest, tub_id: int) -> Origins:
    """Return every lot that is in a tub, at any depth."""
    kitchen = kitchen_of(request)
    tub = Tub.objects.of(kitchen).select_related("batch__revision", "batch__kitchen").get(pk=tub_id)
    return origins_of(kitchen, tub.batch)


@router.get("/lots/{lot_id}/trace", response=LotTrace)
def trace(request: HttpRequest, lot_id: int) -> HttpResponse:
    """Return which batches and tubs hold some of a lot, through preparations and bases, and who got them."""
    kitchen = kitchen_of(request)
    found = trace_lot(kitchen, Lot.objects.of(kitchen).get(pk=lot_id))
    return written_out(request, found)


def _batch(request: HttpRequest, batch_id: int) -> Batch:
    return Batch.objects.of(kitchen_of(request)).select_related("revision").get(pk=batch_id)


def tubs_of(batch: Batch) -> Tubs:
    """Return the tubs that were filled from a batch, by number."""
    rows = batch.tubs.select_related("batch__revision", "place").prefetch_related("events__by").order_by("number")
    return Tubs([serialize_tub(tub) for tub in rows])
