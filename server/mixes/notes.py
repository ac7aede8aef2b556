"""The kitchen's own notes: of a mix, of what goes into it, and of everything that is made here."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from django.db.models import Q
from django.http import HttpRequest
from ninja import Query, Router, Status
from pydantic import BaseModel, Field

from api.pages import Page, PageQuery, page_of
from ingredients.models import Ingredient, by_slug
from jalebi_core.model.errors import MixError
from kitchens.sign_in import kitchen_of, person_of
from mixes.models import Mix, Note

router = Router(tags=["bench"])


class NewNote(BaseModel):
    """A note of a mix, of an ingredient, or with neither of everything that is made here."""

    text: Annotated[str, Field(min_length=1, max_length=1000)]
    mix: int | None = None
    ingredient: Annotated[str, Field(max_length=60)] | None = None


class NoteOut(BaseModel):
    """A note, and what it is about; none of the two for everything that is made here."""

    id: int
    text: str
    mix: int | None
    ingredient: str | None
    about: str
    written_at: datetime
    written_by: str | None


@router.get("/mixes/{mix_id}/notes", response=Page[NoteOut])
def notes(request: HttpRequest, mix_id: int, page: Query[PageQuery]) -> Page[NoteOut]:
    """Return the notes that matter to a mix: its own, those of what goes in, and those of everything, newest first."""
    kitchen = kitchen_of(request)
    mix = Mix.objects.of(kitchen).get(pk=mix_id)
    of_all = Q(mix=None, ingredient=None)
    rows = Note.objects.of(kitchen).filter(Q(mix=mix) | Q(ingredient__in=mix.lines.values("ingredient")) | of_all)
    return page_of(rows.select_related("mix", "ingredient", "written_by"), page, _out)


@router.post("/notes", response={201: NoteOut})
def write_note(request: HttpRequest, payload: NewNote) -> Status[NoteOut]:
    """Write a note."""
    person = person_of(request)
    kitchen = person.kitchen
    if not payload.text.strip() or not all(letter.isprintable() or letter == "\n" for letter in payload.text):
        raise MixError("note-malformed")
    row = Note.objects.create(
        kitchen=kitchen,
        mix=Mix.objects.of(kitchen).get(pk=payload.mix) if payload.mix is not None else None,
        ingredient=by_slug(Ingredient.objects.of(kitchen), payload.ingredient) if payload.ingredient else None,
        text=payload.text.strip(),
        written_by=person,
    )
    return Status(201, _out(row))


@router.delete("/notes/{note_id}", response={204: None})
def remove_note(request: HttpRequest, note_id: int) -> Status[None]:
    """Remove a note."""
    Note.objects.of(kitchen_of(request)).get(pk=note_id).delete()
    return Status(204, None)


def _out(row: Note) -> NoteOut:
    about = row.ingredient.name if row.ingredient else row.mix.name if row.mix else "everything made here"
    return NoteOut(
        id=row.pk,
        text=row.text,
        mix=row.mix_id,
        ingredient=row.ingredient.slug if row.ingredient else None,
        about=about,
        written_at=row.written_at,
        written_by=row.written_by.name if row.written_by else None,
    )
