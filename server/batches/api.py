"""Make and Batches: a sheet to work by, what was really weighed, and what came of it."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status

from bench.analysis import drawn
from bench.revisions import RevisionLine, mix_of_revision
from jalebi.problems import Problem
from jalebi_core.composition import Ingredient
from kitchens.sign_in import kitchen_of, person_of
from shelf.drawn import parts_of_lines
from shelf.schemas import Part

from .models import Batch
from .record import Made, add_entry, begin_batch, fold, mix_as_made
from .schemas import BatchHead, BatchLine, BatchOut, BatchSummary, NewEntry

router = Router(tags=["batches"])
_MOST_LISTED = 200


@router.post("/mixes/{mix_id}/batches", response={201: BatchOut, 401: Problem, 404: Problem, 422: Problem})
def make(request: HttpRequest, mix_id: int) -> Status[BatchOut]:
    """Begin a batch of a mix as it is now."""
    return Status(201, _out(begin_batch(person_of(request), mix_id), kitchen_of(request).freezer_c))


@router.get("/batches", response={200: list[BatchSummary], 401: Problem})
def batches(request: HttpRequest) -> list[BatchSummary]:
    """Return the kitchen's last batches, newest first."""
    kitchen = kitchen_of(request)
    rows = Batch.objects.of(kitchen).select_related("revision", "begun_by").prefetch_related("entries")
    return [_summary(batch, kitchen.freezer_c) for batch in rows[:_MOST_LISTED]]


@router.get("/batches/{batch_id}", response={200: BatchOut, 401: Problem, 404: Problem})
def batch(request: HttpRequest, batch_id: int) -> BatchOut:
    """Return one batch with its sheet."""
    return _out(_batch(request, batch_id), kitchen_of(request).freezer_c)


@router.post("/batches/{batch_id}/entries", response={201: BatchOut, 401: Problem, 404: Problem, 422: Problem})
def record(request: HttpRequest, batch_id: int, payload: NewEntry) -> Status[BatchOut]:
    """Record one thing of a batch; nothing recorded is ever changed."""
    found = _batch(request, batch_id)
    add_entry(person_of(request), found, payload)
    return Status(201, _out(found, kitchen_of(request).freezer_c))


def _batch(request: HttpRequest, batch_id: int) -> Batch:
    rows = Batch.objects.of(kitchen_of(request)).select_related("revision", "begun_by")
    found: Batch = rows.get(pk=batch_id)
    return found


def _head(batch: Batch, made: Made) -> BatchHead:
    return BatchHead(
        id=batch.pk,
        number=batch.number,
        mix_id=batch.revision.mix_id,
        mix_name=batch.revision.content["name"],
        revision=batch.revision.number,
        begun_at=batch.begun_at,
        begun_by=batch.begun_by.name if batch.begun_by else None,
        tasted=made.tasted,
        note=made.note,
    )


def _out(batch: Batch, freezer_c: float) -> BatchOut:
    content, made = batch.revision.content, fold(list(batch.entries.all()))
    as_made = mix_as_made(batch, made)
    return BatchOut(
        **dict(_head(batch, made)),
        lines=_lines(made, content["lines"]),
        planned=drawn(mix_of_revision(content), freezer_c),
        as_made=drawn(as_made, freezer_c) if as_made else None,
    )


def _lines(made: Made, lines: list[RevisionLine]) -> list[BatchLine]:
    ingredients = [Ingredient.from_dict(line["ingredient"]) for line in lines]
    parts = parts_of_lines([(ingredient, line["grams"]) for ingredient, line in zip(ingredients, lines, strict=True)])
    return [
        _line(made, number, ingredients[number].name, line, strata)
        for number, (line, strata) in enumerate(zip(lines, parts, strict=True))
    ]


def _line(made: Made, number: int, name: str, line: RevisionLine, strata: list[Part]) -> BatchLine:
    weighed = made.weighed.get(number, {})
    return BatchLine(
        name=name,
        stage=line["stage"],
        unit=line["unit"],
        planned_g=line["grams"],
        as_made_typed=weighed.get("typed"),
        as_made_g=weighed.get("grams"),
        ticked=number in made.ticked,
        strata=strata,
    )


def _summary(batch: Batch, freezer_c: float) -> BatchSummary:
    made = fold(list(batch.entries.all()))
    as_made = mix_as_made(batch, made)
    return BatchSummary(
        **dict(_head(batch, made)),
        verdict=drawn(as_made, freezer_c).verdict if as_made else "Nothing went in.",
        ticked=len(made.ticked),
        lines=len(batch.revision.content["lines"]),
    )
