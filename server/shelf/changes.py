"""Changing an ingredient: the version before is kept, and what is made with it follows."""

from __future__ import annotations

from django.db import transaction

from jalebi.problems import ConflictError
from jalebi_core.composition import checked_name
from jalebi_core.errors import CompositionError
from jalebi_core.goods import Facts
from kitchens.models import Person

from .models import Ingredient, by_slug
from .preparations import remake_after
from .schemas import IngredientChange
from .versions import checked_allergens, version_now


@transaction.atomic
def change_ingredient(person: Person, slug: str, change: IngredientChange) -> Ingredient:
    """Change an ingredient, keeping the version before, and make anew what is made with it.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    ConflictError : somebody changed it first
    CompositionError : a value that cannot be
    PreparationError : something made with it could no longer be made; nothing is changed then
    """
    row = by_slug(Ingredient.objects.of(person.kitchen).select_for_update(), slug)
    if row.version != change.version:
        raise ConflictError("Somebody else changed this ingredient meanwhile. Look at it again.")
    if not change.why.isprintable():
        raise CompositionError("the reason holds characters that cannot be shown.")
    version_now(person, row, change.why).save()
    said = change.model_dump(exclude_unset=True)
    composition, facts = dict(row.composition), dict(row.facts)
    if said.get("name"):
        row.name = composition["name"] = checked_name(said["name"], "an ingredient")
    if "also" in said:
        row.also = [checked_name(other, "another name") for other in said["also"] or []]
    if "allergens" in said:
        row.allergens = checked_allergens(said["allergens"])
    for key in ("density_kg_l", "pieces"):
        if key in said:
            composition[key] = said[key]
            if not said[key]:
                del composition[key]
    for key in ("pack_g", "strength_g_kg"):
        if key in said:
            facts[key] = said[key]
    if "price" in said:
        row.price = said["price"]
    row.facts = Facts.from_dict(facts).as_dict()
    row.composition = composition
    row.to_core()
    row.version += 1
    row.save()
    remake_after(row.kitchen, [row.slug])
    return row
