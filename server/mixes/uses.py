"""Where an ingredient is used, and putting another in its place everywhere at once."""

from __future__ import annotations

from django.db.models import F
from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from ingredients.locking import changes_shelf
from ingredients.models import Ingredient, by_slug
from ingredients.preparations import replace_in_preparations
from ingredients.schemas import Slug
from jalebi_core.model.errors import MixError
from kitchens.models import Person
from kitchens.sign_in import kitchen_of, person_of
from mixes.models import Mix, Note
from stock.lots import replace_ingredient

router = Router(tags=["ingredients"])


class UseOut(BaseModel):
    """A mix that holds an ingredient."""

    id: int
    name: str


class UsesOut(BaseModel):
    """The mixes and, by name, the preparations that hold an ingredient, how many lots of it there were, and notes."""

    mixes: list[UseOut]
    preparations: list[str]
    lots: int
    notes: int


class Merge(BaseModel):
    """The ingredient that takes the place of another everywhere."""

    into: Slug


@router.get("/ingredients/{slug}/uses", response=UsesOut)
def uses(request: HttpRequest, slug: str) -> UsesOut:
    """Say where an ingredient is used: before it is put away or merged with another."""
    kitchen = kitchen_of(request)
    row = by_slug(Ingredient.objects.of(kitchen), slug)
    mixes = Mix.objects.of(kitchen).filter(lines__ingredient=row, put_away=False).distinct().order_by("name")
    made = Ingredient.objects.of(kitchen).filter(made_from__lines__contains=[{"ingredient": slug}], put_away=False)
    return UsesOut(
        mixes=[UseOut(id=number, name=name) for number, name in mixes.values_list("pk", "name")],
        preparations=list(made.order_by("name").values_list("name", flat=True)),
        lots=row.lots.count(),
        notes=Note.objects.of(kitchen).filter(ingredient=row).count(),
    )


@router.put("/ingredients/{slug}/merged", response=UsesOut)
def merge(request: HttpRequest, slug: str, payload: Merge) -> UsesOut:
    """Put another ingredient in the place of one in all mixes, preparations, lots and notes, and put the one away.

    Its names find the other from then on; revisions and batches keep what they were made of.
    """
    merge_ingredients(person_of(request), slug, payload.into)
    return uses(request, payload.into)


@changes_shelf
def merge_ingredients(person: Person, slug: str, into: str) -> None:
    """Merge an ingredient into another.

    Raises
    ------
    Ingredient.DoesNotExist : one of them is not in this kitchen
    MixError : they are the same
    PreparationError : a preparation could not be made with the other; nothing is changed then
    """
    kitchen = person.kitchen
    rows = Ingredient.objects.of(kitchen)
    gone, kept = by_slug(rows, slug), by_slug(rows, into)
    if gone == kept:
        raise MixError("merged-with-itself", name=gone.name)
    replace_in_preparations(person, gone, kept)
    touched = Mix.objects.of(kitchen).filter(lines__ingredient=gone).values("pk")
    Mix.objects.of(kitchen).filter(pk__in=list(touched.values_list("pk", flat=True))).update(version=F("version") + 1)
    gone.lines.update(ingredient=kept)
    replace_ingredient(gone, kept)
    Note.objects.of(kitchen).filter(ingredient=gone).update(ingredient=kept)
    kept.also = list(dict.fromkeys((*kept.also, gone.name, *gone.also)))[:30]
    kept.version += 1
    gone.put_away = True
    kept.save(update_fields=["also", "version"])
    gone.save(update_fields=["put_away"])
