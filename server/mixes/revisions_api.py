"""Revisions over HTTP: keep one, list them with what was made of them, compare, and look behind the mix."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from ninja import Query, Router, Status

from analysis.serialize import MixAnalysis, serialize_analysis
from api.pages import Page, PageQuery, page_of
from jalebi_core.advice.difference import difference
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.wording.message import words
from kitchens.models import notation_of
from kitchens.sign_in import kitchen_of, person_of
from mixes.models import Mix, Revision
from mixes.revisions import draft_of_revision, keep_revision, since
from mixes.schemas import LineChangeOut, NewRevision, RevisionDetail, RevisionOut

router = Router(tags=["bench"])


@router.get("/mixes/{mix_id}/revisions", response=Page[RevisionOut])
def revisions(request: HttpRequest, mix_id: int, page: Query[PageQuery]) -> Page[RevisionOut]:
    """Return the named points of a mix, newest first."""
    found = Mix.objects.of(kitchen_of(request)).get(pk=mix_id)
    return page_of(found.revisions.defer("content"), page, _out)


@router.post("/mixes/{mix_id}/revisions", response={201: RevisionOut})
def keep(request: HttpRequest, mix_id: int, payload: NewRevision) -> Status[RevisionOut]:
    """Keep the mix as it is now under a name."""
    return Status(201, _out(keep_revision(person_of(request), mix_id, payload.name, payload.note)))


@router.get("/mixes/{mix_id}/revisions/{number}", response=RevisionDetail)
def revision_detail(request: HttpRequest, mix_id: int, number: int, upto: int | None = None) -> RevisionDetail:
    """Return a revision with its lines, to go back to it, and what changed: since, or up to another revision."""
    kitchen = kitchen_of(request)
    rows = Revision.objects.of(kitchen).select_related("mix").filter(mix_id=mix_id)
    found = rows.get(number=number)
    if upto is None:
        changed = since(kitchen, found)
    else:
        changed = difference(read_mix_snapshot(found.content), read_mix_snapshot(rows.get(number=upto).content))
    return RevisionDetail(
        **dict(_out(found)),
        **draft_of_revision(found.content),
        changes=[LineChangeOut(**asdict(line)) for line in changed.lines] if changed else [],
        message=words(changed.message, notation_of(kitchen)) if changed else "There is nothing in the mix now.",
    )


@router.get(
    "/mixes/{mix_id}/revisions/{number}/analysis",
    response=MixAnalysis,
)
def revision_analysis(request: HttpRequest, mix_id: int, number: int) -> MixAnalysis:
    """Return how a revision comes out, to draw it beside the mix as it is now."""
    kitchen = kitchen_of(request)
    revision = Revision.objects.of(kitchen).get(mix_id=mix_id, number=number)
    return serialize_analysis(read_mix_snapshot(revision.content), kitchen)


def _out(revision: Revision) -> RevisionOut:
    return RevisionOut(
        id=revision.pk,
        number=revision.number,
        name=revision.name,
        note=revision.note,
        parent=revision.parent,
        kept_at=revision.kept_at,
    )
