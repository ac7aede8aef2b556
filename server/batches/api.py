"""Make and Batches: a sheet to work by, what was really weighed, and what came of it."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Query, Router, Status

from analysis.draft_analysis import serialize_fill
from api.pages import Page, PageQuery, page_of
from batches.models import Batch
from batches.record import begin_batch
from batches.replay import WITH_EVENTS
from batches.schemas import BatchOfMix, BatchOut, BatchSummary, LastBatch
from batches.serialize import serialize_batch, serialize_summary
from idempotency.answers import IdempotencyKey, answer_once
from jalebi_core.formats.snapshot import read_mix_snapshot
from kitchens.sign_in import kitchen_of, person_of
from mixes.drafts import mix_by_id

router = Router(tags=["batches"])


@router.post("/mixes/{mix_id}/batches", response={201: BatchOut})
def make(request: HttpRequest, mix_id: int, idempotency_key: IdempotencyKey = None) -> Status[BatchOut]:
    """Begin a batch of a mix as it is now."""
    person = person_of(request)

    def begin() -> BatchOut:
        return serialize_batch(begin_batch(person, mix_id), person.kitchen)

    return answer_once(request, person, idempotency_key, BatchOut, begin)


@router.get("/mixes/{mix_id}/batches", response=Page[BatchOfMix])
def batches_of_mix(request: HttpRequest, mix_id: int, page: Query[PageQuery]) -> Page[BatchOfMix]:
    """Return the batches that were made of a mix, newest first, each with the revision that it is one of."""
    mix = mix_by_id(kitchen_of(request), mix_id)
    rows = Batch.objects.of(mix.kitchen).filter(revision__mix_id=mix.pk).order_by("-begun_at", "-id")
    of_revisions = rows.select_related("revision").defer("revision__content")
    return page_of(of_revisions, page, _batch_of_mix)


def _batch_of_mix(batch: Batch) -> BatchOfMix:
    return BatchOfMix(id=batch.pk, number=batch.number, revision=batch.revision.number, begun_at=batch.begun_at)


@router.get("/mixes/{mix_id}/last-batch", response=LastBatch | None)
def last_batch(request: HttpRequest, mix_id: int) -> LastBatch | None:
    """Return the last batch of a mix, and how full it made the machine that the mix is meant for now."""
    mix = mix_by_id(kitchen_of(request), mix_id)
    rows = Batch.objects.of(mix.kitchen).filter(revision__mix_id=mix.pk).select_related("revision")
    batch = rows.order_by("-begun_at").first()
    if batch is None:
        return None
    machine = mix.machine.to_core() if mix.machine else None
    fill = serialize_fill(read_mix_snapshot(batch.content), machine)
    return LastBatch(
        id=batch.pk, number=batch.number, revision=batch.revision.number, begun_at=batch.begun_at, fill=fill
    )


@router.get("/batches", response=Page[BatchSummary])
def batches(request: HttpRequest, page: Query[PageQuery]) -> Page[BatchSummary]:
    """Return the kitchen's batches, newest first."""
    kitchen = kitchen_of(request)
    rows = Batch.objects.of(kitchen).select_related("revision", "begun_by").prefetch_related(WITH_EVENTS)
    return page_of(rows, page, lambda batch: serialize_summary(batch, kitchen))


@router.get("/batches/{batch_id}", response=BatchOut)
def batch(request: HttpRequest, batch_id: int) -> BatchOut:
    """Return one batch with its sheet."""
    return serialize_batch(_batch(request, batch_id), kitchen_of(request))


def _batch(request: HttpRequest, batch_id: int) -> Batch:
    return Batch.objects.of(kitchen_of(request)).select_related("revision", "begun_by").get(pk=batch_id)
