"""Changes of ingredients: each keeps what was there before."""

from __future__ import annotations

from django.db import transaction

from jalebi.problems import ConflictError
from jalebi_core.allergens import ALLERGENS
from jalebi_core.composition import checked_name
from jalebi_core.errors import CompositionError
from jalebi_core.goods import Facts
from jalebi_core.goods_file import entry_data, slug_of
from kitchens.models import Kitchen, Person

from .models import Ingredient, IngredientVersion, by_slug
from .schemas import IngredientChange


def free_slug(kitchen: Kitchen, name: str) -> str:
    """Return a slug that is free on the kitchen's shelf; raises CompositionError where the name is taken."""
    rows, name = Ingredient.objects.of(kitchen), checked_name(name, "an ingredient")
    if rows.filter(name__iexact=name, put_away=False).exists():
        raise CompositionError(f"“{name}” is on the shelf already. Give it a name of its own, or change that one.")
    slug = slug_of(name)
    taken = set(rows.filter(slug__startswith=slug[:54]).values_list("slug", flat=True))
    return next(free for n in range(1, len(taken) + 2) if (free := slug if n == 1 else f"{slug[:54]}-{n}") not in taken)


def keep_version(person: Person, row: Ingredient, why: str) -> None:
    """Keep an ingredient as it is now, before a change."""
    content = {**entry_data(row.to_entry()), "made_from": row.made_from}
    IngredientVersion.objects.create(
        kitchen=row.kitchen, ingredient=row, number=row.version, content=content, why=why, changed_by=person
    )


def checked_allergens(allergens: list[str] | None) -> list[str] | None:
    """Return known allergens; raises CompositionError for any other."""
    unknown = [name for name in allergens or () if name not in ALLERGENS]
    if unknown:
        raise CompositionError(f"“{unknown[0]}” is not an allergen. Known are {', '.join(ALLERGENS)}.")
    return allergens


@transaction.atomic
def change_ingredient(person: Person, slug: str, change: IngredientChange) -> Ingredient:
    """Change an ingredient, keeping the version before.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    ConflictError : somebody changed it first
    CompositionError : a value that cannot be
    """
    row = by_slug(Ingredient.objects.of(person.kitchen).select_for_update(), slug)
    if row.version != change.version:
        raise ConflictError("Somebody else changed this ingredient meanwhile. Look at it again.")
    if not change.why.isprintable():
        raise CompositionError("the reason holds characters that cannot be shown.")
    keep_version(person, row, change.why)
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
    if "pack_g" in said:
        facts["pack_g"] = said["pack_g"]
    if "price" in said:
        row.price = said["price"]
    row.facts = Facts.from_dict(facts).as_dict()
    row.composition = composition
    row.to_core()
    row.version += 1
    row.save()
    return row
