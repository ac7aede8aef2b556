"""Make and Batches: a sheet to work by, what was really weighed, and what came of it."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status

from analysis.draft_analysis import serialize_fill
from api.problems import Problem
from batches.models import Batch
from batches.record import add_entry, begin_batch
from batches.schemas import BatchOfMix, BatchOut, BatchSummary, LastBatch, NewEntry
from batches.serialize import serialize_batch, serialize_summary
from jalebi_core.formats.snapshot import read_mix_snapshot
from kitchens.sign_in import kitchen_of, person_of
from mixes.drafts import mix_by_id

router = Router(tags=["batches"])
_MOST_LISTED = 200


@router.post("/mixes/{mix_id}/batches", response={201: BatchOut, 401: Problem, 404: Problem, 422: Problem})
def make(request: HttpRequest, mix_id: int) -> Status[BatchOut]:
    """Begin a batch of a mix as it is now."""
    return Status(201, serialize_batch(begin_batch(person_of(request), mix_id), kitchen_of(request)))


@router.get("/mixes/{mix_id}/batches", response={200: list[BatchOfMix], 401: Problem, 404: Problem})
def batches_of_mix(request: HttpRequest, mix_id: int) -> list[BatchOfMix]:
    """Return the batches that were made of a mix, newest first, each with the revision that it is one of."""
    mix = mix_by_id(kitchen_of(request), mix_id)
    rows = Batch.objects.of(mix.kitchen).filter(revision__mix_id=mix.pk).order_by("-begun_at")
    return [
        BatchOfMix(id=pk, number=number, revision=revision, begun_at=begun_at)
        for pk, number, revision, begun_at in rows.values_list("pk", "number", "revision__number", "begun_at")[
            :_MOST_LISTED
        ]
    ]


@router.get("/mixes/{mix_id}/last-batch", response={200: LastBatch | None, 401: Problem, 404: Problem})
def last_batch(request: HttpRequest, mix_id: int) -> LastBatch | None:
    """Return the last batch of a mix, and how full it made the machine that the mix is meant for now."""
    mix = mix_by_id(kitchen_of(request), mix_id)
    rows = Batch.objects.of(mix.kitchen).filter(revision__mix_id=mix.pk).select_related("revision")
    batch = rows.order_by("-begun_at").first()
    if batch is None:
        return None
    machine = mix.machine.to_core() if mix.machine else None
    fill = serialize_fill(read_mix_snapshot(batch.revision.content), machine)
    return LastBatch(
        id=batch.pk, number=batch.number, revision=batch.revision.number, begun_at=batch.begun_at, fill=fill
    )


@router.get("/batches", response={200: list[BatchSummary], 401: Problem})
def batches(request: HttpRequest) -> list[BatchSummary]:
    """Return the kitchen's last batches, newest first."""
    kitchen = kitchen_of(request)
    rows = Batch.objects.of(kitchen).select_related("revision", "begun_by").prefetch_related("entries")
    return [serialize_summary(batch, kitchen) for batch in rows[:_MOST_LISTED]]


@router.get("/batches/{batch_id}", response={200: BatchOut, 401: Problem, 404: Problem})
def batch(request: HttpRequest, batch_id: int) -> BatchOut:
    """Return one batch with its sheet."""
    return serialize_batch(_batch(request, batch_id), kitchen_of(request))


@router.post("/batches/{batch_id}/entries", response={201: BatchOut, 401: Problem, 404: Problem, 422: Problem})
def record(request: HttpRequest, batch_id: int, payload: NewEntry) -> Status[BatchOut]:
    """Record one thing of a batch; nothing recorded is ever changed."""
    found = _batch(request, batch_id)
    add_entry(person_of(request), found, payload)
    return Status(201, serialize_batch(found, kitchen_of(request)))


def _batch(request: HttpRequest, batch_id: int) -> Batch:
    return Batch.objects.of(kitchen_of(request)).select_related("revision", "begun_by").get(pk=batch_id)
