"""Mixes: kept as drafts, listed, marked, and in and out as files."""

from __future__ import annotations

import json

from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile
from pydantic import BaseModel

from analysis.schemas import Draft
from api.pages import Page
from api.versions import IfMatch, IfNoneMatch, entity_tag, tag, version_of
from idempotency.answers import IdempotencyKey, answer_once
from jalebi_core.formats.mix_file import MOST_BYTES
from kitchens.sign_in import kitchen_of, person_of
from mixes.drafts import begin_mix, draft_lines, save_draft
from mixes.files import file_of, mix_from_file
from mixes.list_schemas import Marks, MixSummary
from mixes.listing import MixFilter, mixes_page, set_marks, tags_of
from mixes.models import Mix
from mixes.recipes import mix_from_recipe, serialize_recipe
from mixes.revisions import drafts_difference
from mixes.schemas import (
    DifferenceOut,
    DraftToSave,
    MethodStep,
    MixFromRecipe,
    MixOut,
    NewMix,
    RecipeOut,
    RecipeText,
    Saved,
)

router = Router(tags=["mixes"])


@router.post("/recipe-readings", response=RecipeOut)
def read_pasted(request: HttpRequest, payload: RecipeText) -> RecipeOut:
    """Read a pasted recipe against the kitchen's shelf, without keeping anything."""
    return serialize_recipe(kitchen_of(request), payload.text, american=payload.american)


@router.post("/mixes/recipes", response={201: MixOut})
def create_from_recipe(
    request: HttpRequest, payload: MixFromRecipe, idempotency_key: IdempotencyKey = None
) -> Status[MixOut]:
    """Make a mix of a pasted recipe whose lines have been looked through."""
    person = person_of(request)
    return answer_once(request, person, idempotency_key, MixOut, lambda: _out(mix_from_recipe(person, payload)))


@router.post("/mixes/files", response={201: MixOut})
def create_from_file(
    request: HttpRequest, file: File[UploadedFile], idempotency_key: IdempotencyKey = None
) -> Status[MixOut]:
    """Make a mix of a mix file."""
    person = person_of(request)

    def make() -> MixOut:
        return _out(mix_from_file(person.kitchen, file.read(MOST_BYTES + 1)))

    return answer_once(request, person, idempotency_key, MixOut, make)


@router.get("/mixes", response=Page[MixSummary])
def mixes(request: HttpRequest, mix_filter: Query[MixFilter]) -> Page[MixSummary]:
    """Return some of the kitchen's mixes and how each comes out."""
    return mixes_page(kitchen_of(request), mix_filter)


@router.get("/tags", response=list[str])
def tags(request: HttpRequest) -> list[str]:
    """Return every tag of the kitchen's mixes."""
    return tags_of(kitchen_of(request))


def _mix(request: HttpRequest, mix_id: int) -> Mix:
    found: Mix = Mix.objects.of(kitchen_of(request)).get(pk=mix_id)
    return found


def _out(mix: Mix) -> MixOut:
    return MixOut(
        id=mix.pk,
        name=mix.name,
        style=mix.style,
        overrun_pct=mix.overrun_pct,
        restrictions=mix.restrictions,
        aims=mix.aims,
        method=[MethodStep.model_validate(step) for step in mix.method],
        servings=mix.servings,
        makes=mix.makes,
        version=mix.version,
        based_on=mix.based_on,
        machine=mix.machine_id,
        changed_at=mix.changed_at,
        lines=draft_lines(mix),
    )


@router.post("/mixes", response={201: MixOut})
def create_mix(request: HttpRequest, payload: NewMix, idempotency_key: IdempotencyKey = None) -> Status[MixOut]:
    """Make a mix from nothing, from a copy, or as the first draft of a style by an approach."""
    person = person_of(request)
    return answer_once(request, person, idempotency_key, MixOut, lambda: _out(begin_mix(person.kitchen, payload)))


@router.get("/mixes/{mix_id}", response={200: MixOut, 304: None})
def mix(
    request: HttpRequest, response: HttpResponse, mix_id: int, if_none_match: IfNoneMatch = None
) -> Status[MixOut] | Status[None]:
    """Return one mix; nothing but 304 where the version that is known already is still the one that is kept."""
    rows = Mix.objects.of(kitchen_of(request)).filter(pk=mix_id)
    if if_none_match is not None and if_none_match == entity_tag(rows.values_list("version", flat=True).get()):
        response["ETag"] = if_none_match
        return Status(304, None)
    found = _mix(request, mix_id)
    tag(response, found.version)
    return Status(200, _out(found))


@router.put("/mixes/{mix_id}", response=Saved)
def save(
    request: HttpRequest, response: HttpResponse, mix_id: int, payload: DraftToSave, if_match: IfMatch = None
) -> Saved:
    """Save a draft whole, unless somebody else saved another version first."""
    saved = save_draft(kitchen_of(request), mix_id, version_of(if_match), payload)
    tag(response, saved.version)
    return Saved(version=saved.version, changed_at=saved.changed_at)


@router.patch("/mixes/{mix_id}", response={204: None})
def mark(request: HttpRequest, mix_id: int, payload: Marks) -> Status[None]:
    """Star a mix, tag it, put it into the archive or take it out; the draft itself is not touched."""
    set_marks(_mix(request, mix_id), payload)
    return Status(204, None)


@router.post("/mixes/{mix_id}/differences", response=DifferenceOut)
def difference_from_kept(request: HttpRequest, mix_id: int, payload: Draft) -> DifferenceOut:
    """Say how a draft differs from the mix as it is kept: what another person changed meanwhile, and what is ours."""
    return drafts_difference(kitchen_of(request), _mix(request, mix_id), payload)


@router.delete("/mixes/{mix_id}", response={204: None})
def put_away(request: HttpRequest, mix_id: int) -> Status[None]:
    """Put a mix into the archive: it leaves the list, its batches and revisions stay."""
    set_marks(_mix(request, mix_id), Marks(archived=True))
    return Status(204, None)


class FileHow(BaseModel):
    """Whether what the lines cost goes with them; never for who may not see prices."""

    prices: bool = False


@router.get("/mixes/{mix_id}/file", response=dict)
def mix_file(request: HttpRequest, mix_id: int, how: Query[FileHow]) -> HttpResponse:
    """Return a mix as a mix file that `./jalebi analyse` reads."""
    found = _mix(request, mix_id)
    prices = how.prices and kitchen_of(request).shows_prices
    text = json.dumps(file_of(found, prices=prices), ensure_ascii=False, indent=2)
    name = slugify(found.name) or "mix"
    headers = {"Content-Disposition": f'attachment; filename="{name}.jalebi.json"'}
    return HttpResponse(text, content_type="application/json", headers=headers)
