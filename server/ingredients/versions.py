"""What every change of the shelf needs: a free slug, the version before."""

from __future__ import annotations

from ingredients.models import Ingredient, IngredientVersion
from jalebi_core.formats.ingredient_file import entry_data, slug_of
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import CompositionError
from kitchens.models import Kitchen, Person


def free_slug(kitchen: Kitchen, name: str) -> str:
    """Return a slug that is free on the kitchen's shelf; raises CompositionError where the name is taken."""
    rows, name = Ingredient.objects.of(kitchen), checked_name(name, "an ingredient")
    if rows.filter(name__iexact=name, put_away=False).exists():
        raise CompositionError("name-taken", name=name)
    slug = slug_of(name)
    taken = set(rows.filter(slug__startswith=slug[:54]).values_list("slug", flat=True))
    return next(free for n in range(1, len(taken) + 2) if (free := slug if n == 1 else f"{slug[:54]}-{n}") not in taken)


def version_now(person: Person | None, row: Ingredient, why: str) -> IngredientVersion:
    """Return an ingredient as it is now, to be kept before a change; nobody changes it where the shelf does."""
    content = {**entry_data(row.to_entry()), "made_from": row.made_from}
    return IngredientVersion(
        kitchen=row.kitchen, ingredient=row, number=row.version, content=content, why=why, changed_by=person
    )
