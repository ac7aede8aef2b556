"""The shelf that ships, in a kitchen: stocking it, and bringing its corrections to rows that are there already.

A row that nobody has edited becomes what the shelf says now, as a version. A row that somebody has edited stays, is
listed with what the shelf says now, and counts the allergens of both until somebody decides. The price and the pack
that it is for are the kitchen's own and no edit.
"""

from __future__ import annotations

import hashlib
import json
from functools import cache
from typing import Any, Final

from django.db import transaction

from api.problems import ConflictError
from ingredients.locking import changes_shelf, lock_shelf
from ingredients.models import STOCKED_BEFORE, Ingredient, IngredientVersion, by_slug
from ingredients.preparations import complete_preparations, remake_after
from ingredients.versions import version_now
from jalebi_core.formats.ingredient_file import entry_data
from jalebi_core.model.errors import CompositionError, PreparationError
from jalebi_core.shelf.catalogue import CatalogueEntry, catalogue
from kitchens.models import Kitchen, Person

WHY: Final = "corrected by the shelf"
_SAID: Final = ("name", "kind", "also", "basis", "allergens", "may_hold", "composition", "facts")
_WRITTEN: Final = (*_SAID, "nutrients", "on_label", "version", "shelf_said", "shelf_offer")


@transaction.atomic
def stock_shelf(kitchen: Kitchen) -> None:
    """Bring the shelf that ships into a kitchen, and its corrections to what the kitchen has already."""
    lock_shelf(kitchen)
    shipped, marks = _shipped()
    known = dict(Ingredient.objects.of(kitchen).values_list("slug", "shelf_said"))
    new = (Ingredient(kitchen=kitchen, slug=slug, **shipped[slug], shelf_said=marks[slug]) for slug in shipped)
    Ingredient.objects.bulk_create((row for row in new if row.slug not in known), ignore_conflicts=True)
    complete_preparations(kitchen)
    outdated = [slug for slug, mark in known.items() if mark and mark != marks.get(slug, mark)]
    behind = list(Ingredient.objects.of(kitchen).filter(slug__in=outdated))
    if not behind:
        return
    first = _first_versions(kitchen, [row for row in behind if row.shelf_said == STOCKED_BEFORE])
    taken = [row for row in behind if not _edited(row, first.get(row.pk))]
    IngredientVersion.objects.bulk_create(version_now(None, row, WHY) for row in taken)
    for row in behind:
        said = shipped[row.slug]
        if row in taken:
            _take(row, said)
        else:
            row.shelf_said, row.shelf_offer = marks[row.slug], None if _same(row, said) else said
    Ingredient.objects.of(kitchen).bulk_update(behind, _WRITTEN, batch_size=200)
    _remake(kitchen, [row.slug for row in behind])


@changes_shelf
def settle_correction(person: Person, slug: str, version: int, take: bool) -> Ingredient:
    """Take what the shelf that ships says of an ingredient, or keep it as it is here.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    CompositionError : it did not come with the shelf, so there is nothing to take
    ConflictError : somebody changed it first
    """
    row = by_slug(Ingredient.objects.of(person.kitchen), slug)
    if row.version != version:
        raise ConflictError("Somebody else changed this ingredient meanwhile. Look at it again.", version=row.version)
    entry = catalogue().get(slug) if row.shelf_said else None
    if entry is None and not take:
        return row
    if entry is None:
        raise CompositionError("not-of-the-shelf", name=row.name)
    version_now(person, row, WHY if take else "kept as it is here").save()
    if take:
        _take(row, _content(entry))
        row.put_away = False
    else:
        row.version += 1
        row.shelf_offer = None
    row.save()
    remake_after(person.kitchen, [row.slug], person)
    return row


def shelf_row(row: Ingredient) -> dict[str, Any] | None:
    """Return what the shelf that ships says of an ingredient where that differs; None where it does not."""
    entry = catalogue().get(row.slug)
    if entry is None or not row.shelf_said:
        return None
    said = _content(entry)
    return None if _same(row, said) else said


@cache
def _shipped() -> tuple[dict[str, dict[str, Any]], dict[str, str]]:
    """Return what the shelf says of every ingredient, and its mark, by slug; nobody changes what is returned."""
    said = {slug: _content(entry) for slug, entry in catalogue().items()}
    return said, {slug: _mark(one) for slug, one in said.items()}


def _content(entry: CatalogueEntry) -> dict[str, Any]:
    """Return what the shelf says of an ingredient, by the fields of a kitchen's row."""
    one = entry.ingredient
    return {
        "name": one.name,
        "kind": one.kind,
        "also": list(entry.also),
        "basis": entry.basis,
        "allergens": list(one.allergens) if one.allergens_stated else None,
        "may_hold": list(one.may_hold),
        "composition": one.composition.as_dict(),
        "facts": one.facts.as_dict(),
    }


def _mark(said: dict[str, Any]) -> str:
    """Return a mark by which it is known whether something else is said; the pack is the kitchen's own."""
    facts = {key: value for key, value in said["facts"].items() if key != "pack_g"}
    text = json.dumps({**said, "facts": facts}, sort_keys=True)
    return hashlib.sha256(text.encode()).hexdigest()


def _same(row: Ingredient, said: dict[str, Any]) -> bool:
    return _mark({key: getattr(row, key) for key in _SAID}) == _mark(said)


def _edited(row: Ingredient, first: IngredientVersion | None) -> bool:
    """Tell whether somebody changed a row since it was stocked.

    Rows stocked before marks were kept are compared with their first version: what that lacks came with later shelves.
    """
    if row.shelf_said != STOCKED_BEFORE:
        return _mark({key: getattr(row, key) for key in _SAID}) != row.shelf_said
    if first is None:
        return False
    then, now = first.content, entry_data(row.to_entry())
    facts = then["facts"].keys() & now["facts"].keys() - {"pack_g"}
    return (
        then["composition"] != now["composition"]
        or then["allergens"] != now["allergens"]
        or not set(then["also"]) <= set(now["also"])
        or any(then["facts"][key] != now["facts"][key] for key in facts)
    )


def _first_versions(kitchen: Kitchen, rows: list[Ingredient]) -> dict[int, IngredientVersion]:
    found = IngredientVersion.objects.of(kitchen).filter(ingredient__in=rows).order_by("ingredient_id", "number")
    return {version.ingredient_id: version for version in found.distinct("ingredient_id")}


def _take(row: Ingredient, said: dict[str, Any]) -> None:
    pack = {"pack_g": row.facts["pack_g"]} if row.price is not None and "pack_g" in row.facts else {}
    for field, value in said.items():
        setattr(row, field, value)
    row.facts = {**row.facts, **pack}
    row.nutrients = row.on_label = None
    row.version += 1
    row.shelf_said, row.shelf_offer = _mark(said), None


def _remake(kitchen: Kitchen, slugs: list[str]) -> None:
    """Make preparations anew; one that can no longer be made stays as it was made, and so do all the others."""
    try:
        with transaction.atomic():
            remake_after(kitchen, slugs)
    except PreparationError:
        return
