"""Revisions over HTTP: keep one, list them with what was made of them, compare, and look behind the mix."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from ninja import Router, Status

from jalebi.problems import Problem
from jalebi_core.difference import difference
from kitchens.sign_in import kitchen_of, person_of

from .analysis import MixAnalysis, drawn
from .models import Mix, Revision
from .revisions import keep_revision, mix_of_revision, since
from .schemas import BatchOf, DraftLine, LineChangeOut, NewRevision, RevisionDetail, RevisionOut

router = Router(tags=["bench"])
_MOST_LISTED = 200


@router.get("/mixes/{mix_id}/revisions", response={200: list[RevisionOut], 401: Problem, 404: Problem})
def revisions(request: HttpRequest, mix_id: int) -> list[RevisionOut]:
    """Return the named points of a mix, newest first, each with its batches."""
    found = Mix.objects.of(kitchen_of(request)).get(pk=mix_id)
    rows = found.revisions.defer("content").prefetch_related("batches")
    return [_out(revision, with_batches=True) for revision in rows[:_MOST_LISTED]]


@router.post("/mixes/{mix_id}/revisions", response={201: RevisionOut, 401: Problem, 404: Problem, 422: Problem})
def keep(request: HttpRequest, mix_id: int, payload: NewRevision) -> Status[RevisionOut]:
    """Keep the mix as it is now under a name."""
    return Status(201, _out(keep_revision(person_of(request), mix_id, payload.name, payload.note)))


@router.get(
    "/mixes/{mix_id}/revisions/{number}", response={200: RevisionDetail, 401: Problem, 404: Problem, 422: Problem}
)
def revision_detail(request: HttpRequest, mix_id: int, number: int, upto: int | None = None) -> RevisionDetail:
    """Return a revision with its lines, to go back to it, and what changed: since, or up to another revision."""
    kitchen = kitchen_of(request)
    rows = Revision.objects.of(kitchen).select_related("mix").filter(mix_id=mix_id)
    found = rows.get(number=number)
    if upto is None:
        changed = since(kitchen, found)
    else:
        changed = difference(mix_of_revision(found.content), mix_of_revision(rows.get(number=upto).content))
    content = found.content
    return RevisionDetail(
        **dict(_out(found)),
        style=content["style"],
        overrun_pct=content["overrun_pct"],
        aims=content.get("aims", {}),
        lines=[
            DraftLine(
                ingredient=line["slug"],
                typed=line["typed"],
                unit=line["unit"],
                grams=line["grams"],
                stage=line["stage"],
            )
            for line in content["lines"]
        ],
        changes=[LineChangeOut(**asdict(line)) for line in changed.lines] if changed else [],
        said=changed.said if changed else "There is nothing in the mix now.",
    )


@router.get(
    "/mixes/{mix_id}/revisions/{number}/analysis",
    response={200: MixAnalysis, 401: Problem, 404: Problem, 422: Problem},
)
def revision_analysis(request: HttpRequest, mix_id: int, number: int) -> MixAnalysis:
    """Return how a revision comes out, to lay it behind the mix as it is now."""
    kitchen = kitchen_of(request)
    revision = Revision.objects.of(kitchen).get(mix_id=mix_id, number=number)
    return drawn(mix_of_revision(revision.content), kitchen.freezer_c, kitchen.cabinet_c)


def _out(revision: Revision, *, with_batches: bool = False) -> RevisionOut:
    batches = revision.batches.all() if with_batches else ()
    return RevisionOut(
        id=revision.pk,
        number=revision.number,
        name=revision.name,
        note=revision.note,
        parent=revision.parent,
        kept_at=revision.kept_at,
        batches=[BatchOf(id=batch.pk, number=batch.number, begun_at=batch.begun_at) for batch in batches],
    )
