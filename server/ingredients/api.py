"""The shelf: what there is, what each is made of, and changing it; and the words that drawings need."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile
from pydantic import BaseModel, Field, RootModel

from api.answers import written_out
from api.pages import Page, PageQuery, page_of
from api.versions import IfMatch, tag, version_of
from idempotency.answers import IdempotencyKey, answer_once
from ingredients.changes import change_ingredient, confirm_pack, put_away_ingredient
from ingredients.custom import add_custom_ingredient, custom_ingredient
from ingredients.file_job import KIND, import_or_job
from ingredients.models import Ingredient, IngredientVersion, by_slug
from ingredients.preparations import add_preparation, change_preparation, work_out
from ingredients.schemas import (
    CustomWay,
    Decision,
    ImportPreview,
    IngredientChange,
    IngredientDetail,
    IngredientOut,
    LabelFigures,
    LabelText,
    OfferOut,
    Preparation,
    PreparationPreview,
    Preview,
    TypedLineOut,
    TypedMatch,
    VersionOut,
)
from ingredients.serialize import (
    figures_of,
    flow_out,
    ingredient_detail,
    ingredient_out,
    serialize_components,
)
from ingredients.shelf_cache import ingredients_of, shelf_of, shown_ingredients
from ingredients.shelf_differences import offer_out
from ingredients.shipped import settle_correction
from jalebi_core.formats.ingredient_file import MOST_BYTES, IngredientEntry, write_csv, write_json
from jalebi_core.formats.label_text import read_label_text
from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.strata import STRATA
from jalebi_core.regulation.allergens import allergens_of
from jalebi_core.regulation.restrictions import checked_restriction
from jalebi_core.shelf.typed_lines import read_typed_line
from jalebi_core.wording.message import words
from jobs.answers import JobOut, fields_of
from jobs.models import Job
from jobs.start import job_by_id, stop_job
from kitchens.models import notation_of, spoons_of
from kitchens.sign_in import kitchen_of, person_of

router = Router(tags=["ingredients"])


class Search(PageQuery):
    """What is looked for: words, what it brings, whom it must suit, own ingredients only; and which page of it."""

    find: Annotated[str, Field(max_length=200)] = ""
    brings: Annotated[str, Field(max_length=20)] = ""
    diet: Annotated[str, Field(max_length=200)] = ""
    own: bool = False


@router.get("/ingredients", response=Page[IngredientOut])
def ingredients(request: HttpRequest, search: Query[Search]) -> HttpResponse:
    """Return what of the kitchen's shelf answers a search, best first; all by name without one."""
    kitchen = kitchen_of(request)
    shelf = shelf_of(kitchen)
    diet = [checked_restriction(key) for key in search.diet.split()]
    if search.brings and search.brings not in STRATA:
        raise CompositionError("unknown-stratum", brings=search.brings, strata=tuple(STRATA))
    slugs = shelf.found(search.find, search.brings, diet, search.own)
    shown = slugs[search.offset : search.offset + search.limit]
    found = Page(items=[ingredient_out(shelf, slug) for slug in shown], total=len(slugs))
    return written_out(request, found)


class TypedLine(BaseModel):
    """A line as somebody types it: an amount, the name of an ingredient, or both."""

    text: Annotated[str, Field(max_length=100)] = ""
    limit: Annotated[int, Field(ge=1, le=20)] = 7


@router.get("/typed-lines", response=TypedLineOut)
def typed_line(request: HttpRequest, line: Query[TypedLine]) -> TypedLineOut:
    """Read a line as it is typed: how much, of what, and what on the kitchen's shelf that may be."""
    kitchen = kitchen_of(request)
    shelf, notation = shelf_of(kitchen), notation_of(kitchen)
    read = read_typed_line(line.text, shelf.words, notation.mass, spoons_of(kitchen), line.limit)
    return TypedLineOut(
        amount=read.amount,
        query=read.query,
        matches=[
            TypedMatch(
                ingredient=ingredient_out(shelf, match.slug),
                typed=match.typed,
                grams=match.grams,
                assumed=match.assumed,
                form=match.form,
                error=None if match.error is None else words(match.error, notation),
            )
            for match in read.matches
        ],
    )


@router.get("/ingredients/{slug}", response=IngredientDetail)
def ingredient(request: HttpRequest, response: HttpResponse, slug: str) -> IngredientDetail:
    """Return all that is known of one ingredient."""
    return _detail(request, response, slug)


def _detail(request: HttpRequest, response: HttpResponse, slug: str) -> IngredientDetail:
    kitchen = kitchen_of(request)
    row = by_slug(Ingredient.objects.of(kitchen), slug)
    used_in = row.lines.values("mix").distinct().count()
    kitchen.refresh_from_db(fields=["shelf_version"])
    tag(response, row.version)
    return ingredient_detail(shelf_of(kitchen), row, used_in, kitchen.learnt, notation_of(kitchen))


@router.post("/label-readings", response=LabelFigures)
def read_label(request: HttpRequest, payload: LabelText) -> LabelFigures:
    """Read a nutrition label pasted as text into figures, without keeping anything."""
    return LabelFigures(figures=read_label_text(payload.text))


@router.post("/custom-ingredients/preview", response=Preview)
def preview_own(request: HttpRequest, payload: CustomWay) -> Preview:
    """Say what an own ingredient would be, without keeping it."""
    made = custom_ingredient(payload, ingredients_of(kitchen_of(request)))
    allergens = list(allergens_of(made.composition, payload.allergens or ()))
    said = {"allergens": allergens, "may_hold": list(payload.may_hold), "doubts": list(made.doubts)}
    return Preview.model_validate({**figures_of(made.composition), **said})


@router.post("/custom-ingredients", response={201: IngredientDetail})
def create_own(request: HttpRequest, response: HttpResponse, payload: CustomWay) -> Status[IngredientDetail]:
    """Put an own ingredient on the shelf."""
    row = add_custom_ingredient(person_of(request), payload)
    return Status(201, _detail(request, response, row.slug))


@router.patch("/ingredients/{slug}", response=IngredientDetail)
def change(
    request: HttpRequest, response: HttpResponse, slug: str, payload: IngredientChange, if_match: IfMatch = None
) -> IngredientDetail:
    """Change an ingredient; the version before is kept, and what is made with it is made anew."""
    change_ingredient(person_of(request), slug, version_of(if_match), payload)
    return _detail(request, response, slug)


@router.delete("/ingredients/{slug}", response={204: None})
def put_away(request: HttpRequest, slug: str) -> Status[None]:
    """Put an ingredient away: it is no longer found; mixes that hold it keep it."""
    put_away_ingredient(person_of(request), slug)
    return Status(204, None)


@router.put("/ingredients/{slug}/correction", response=IngredientDetail)
def settle(
    request: HttpRequest, response: HttpResponse, slug: str, payload: Decision, if_match: IfMatch = None
) -> IngredientDetail:
    """Take what the shelf that ships says of an ingredient, or keep it as it is here."""
    settle_correction(person_of(request), slug, version_of(if_match), payload.take)
    return _detail(request, response, slug)


@router.put("/ingredients/{slug}/pack-reading", response=IngredientDetail)
def confirm(request: HttpRequest, response: HttpResponse, slug: str) -> IngredientDetail:
    """Note that who asks has read on the pack which traces it names."""
    confirm_pack(person_of(request), slug)
    return _detail(request, response, slug)


@router.get("/corrections", response=Page[OfferOut])
def corrections(request: HttpRequest, page: Query[PageQuery]) -> Page[OfferOut]:
    """Return the ingredients that somebody changed here and the shelf that ships corrected since."""
    rows = Ingredient.objects.of(kitchen_of(request)).filter(shelf_offer__isnull=False, put_away=False)
    return page_of(rows, page, offer_out)


@router.get("/ingredients/{slug}/versions", response=Page[VersionOut])
def versions(request: HttpRequest, slug: str, page: Query[PageQuery]) -> Page[VersionOut]:
    """Return what an ingredient was before its changes, newest first."""
    row = by_slug(Ingredient.objects.of(kitchen_of(request)), slug)
    return page_of(row.versions.all(), page, _version_out)


def _version_out(version: IngredientVersion) -> VersionOut:
    composition = Composition.from_dict(version.content["composition"])
    return VersionOut(
        number=version.number,
        name=composition.name,
        why=version.why,
        changed_at=version.changed_at,
        components=serialize_components(composition.row),
    )


@router.post("/preparations/preview", response=PreparationPreview)
def preview_preparation(request: HttpRequest, payload: Preparation) -> PreparationPreview:
    """Say what a preparation would give, without keeping it."""
    kitchen = kitchen_of(request)
    result = work_out(payload, shown_ingredients(kitchen), spoons_of(kitchen))
    made = result.made
    return PreparationPreview.model_validate(
        {
            **figures_of(made.composition),
            "allergens": list(allergens_of(made.composition, result.allergens or ())),
            "may_hold": list(result.may_hold),
            "doubts": [] if result.allergens is not None else ["Not all that goes in states its allergens."],
            "yield_g": made.yield_g,
            "put_in_g": made.put_in_g,
            "messages": [words(message, notation_of(kitchen)) for message in made.messages],
            "cautions": list(made.cautions),
            "assumed": list(result.assumed),
            "cost": result.cost,
            "keeps_days": result.keeps_days,
            "lines": [flow_out(line) for line in result.brought],
            "flow": [flow_out(state) for state in made.states],
        }
    )


@router.post("/preparations", response={201: IngredientDetail})
def create_preparation(request: HttpRequest, response: HttpResponse, payload: Preparation) -> Status[IngredientDetail]:
    """Put a preparation on the shelf, to be used like any ingredient."""
    row = add_preparation(person_of(request), payload)
    return Status(201, _detail(request, response, row.slug))


@router.put("/preparations/{slug}", response=IngredientDetail)
def save_preparation(
    request: HttpRequest, response: HttpResponse, slug: str, payload: Preparation, if_match: IfMatch = None
) -> IngredientDetail:
    """Change a preparation, and with it all that is made with it."""
    change_preparation(person_of(request), slug, version_of(if_match), payload)
    return _detail(request, response, slug)


@router.get("/ingredients.csv", response=None)
def export_csv(request: HttpRequest) -> HttpResponse:
    """Return the whole shelf as CSV."""
    return _file(write_csv(_entries(request)), "text/csv", "csv")


@router.get("/ingredients.json", response=dict)
def export_json(request: HttpRequest) -> HttpResponse:
    """Return the whole shelf as JSON."""
    return _file(write_json(_entries(request)), "application/json", "json")


def _entries(request: HttpRequest) -> Iterator[IngredientEntry]:
    kitchen = kitchen_of(request)
    entries = (row.to_entry() for row in Ingredient.objects.of(kitchen).filter(put_away=False))
    return entries if kitchen.shows_prices else (replace(entry, price=None) for entry in entries)


def _file(text: str, content_type: str, ending: str) -> HttpResponse:
    headers = {"Content-Disposition": f'attachment; filename="jalebi-goods.{ending}"'}
    return HttpResponse(text, content_type=f"{content_type}; charset=utf-8", headers=headers)


class Import(RootModel[ImportPreview | JobOut[ImportPreview]]):
    """What came of a file, or the job that finds out."""


class ImportHow(BaseModel):
    """Whether to do it, and whether wrong rows are left out then."""

    apply: bool = False
    leave_out_wrong: bool = False


@router.post("/ingredient-files", response={200: ImportPreview, 202: JobOut[ImportPreview]})
def import_file(
    request: HttpRequest, how: Query[ImportHow], file: File[UploadedFile], idempotency_key: IdempotencyKey = None
) -> Status[ImportPreview | JobOut[ImportPreview]]:
    """Say what importing a file of ingredients would change, and change it where asked to.

    A large file becomes a job (202).
    """
    person = person_of(request)

    def take_in() -> Import:
        found = import_or_job(person, file.read(MOST_BYTES + 1), how.apply, how.leave_out_wrong)
        return Import(found if isinstance(found, ImportPreview) else _file_job(found))

    done = answer_once(request, person, idempotency_key, Import, take_in).value.root
    return Status(200 if isinstance(done, ImportPreview) else 202, done)


@router.get("/ingredient-files/{job_id}", response=JobOut[ImportPreview])
def look_at_file_job(request: HttpRequest, job_id: int) -> JobOut[ImportPreview]:
    """Say how far the reading of a file is, and what it has come to."""
    return _file_job(job_by_id(person_of(request), KIND, job_id))


@router.delete("/ingredient-files/{job_id}", response=JobOut[ImportPreview])
def stop_file_job(request: HttpRequest, job_id: int) -> JobOut[ImportPreview]:
    """Stop the reading of a file; nothing of it is on the shelf then."""
    return _file_job(stop_job(person_of(request), KIND, job_id))


def _file_job(job: Job) -> JobOut[ImportPreview]:
    return JobOut[ImportPreview].model_validate(fields_of(job))
