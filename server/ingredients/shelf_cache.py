"""A kitchen's shelf and machines in memory, read again only when the database says that they changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ingredients.models import Ingredient as IngredientRow
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import WIDTH
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.production.machines import Machine
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import catalogue
from jalebi_core.shelf.ingredient_search import IngredientIndex, SearchIndex
from kitchens.models import Kitchen
from kitchens.models import Machine as MachineRow


@dataclass(frozen=True, slots=True)
class ServingCondition:
    """Where ingredients stand on the shelf beside what the core knows of them."""

    at: int
    also: tuple[str, ...]
    put_away: bool
    own: bool


class ShelfCache:
    """All ingredients of a kitchen by slug, an index of their names, and what each brings as arrays."""

    def __init__(self, rows: list[IngredientRow]) -> None:
        self.ingredients: Mapping[str, Ingredient] = {row.slug: row.to_core() for row in rows}
        self.places = {
            row.slug: ServingCondition(at, tuple(row.also), row.put_away, row.slug not in catalogue())
            for at, row in enumerate(rows)
        }

    @cached_property
    def _rows(self) -> FloatArray:
        return np.array([ingredient.composition.row for ingredient in self.ingredients.values()]).reshape(-1, WIDTH)

    @cached_property
    def strata(self) -> FloatArray:
        """g by stratum of 100 g of everything, shape (ingredients, strata)."""
        return by_stratum(self._rows)

    @cached_property
    def sweetness(self) -> FloatArray:
        """POD of everything, shape (ingredients,)."""
        return sweetness_pod(self._rows)

    @cached_property
    def freezing_power(self) -> FloatArray:
        """PAC of everything, shape (ingredients,)."""
        return freezing_power_pac(self._rows)

    @cached_property
    def words(self) -> SearchIndex:
        """Names, measures and kinds of all that is not put away, as reading a recipe needs them."""
        shown = {slug: ingredient for slug, ingredient in self.ingredients.items() if not self.places[slug].put_away}
        return SearchIndex(
            IngredientIndex(
                {slug: (ingredient.composition.name, *self.places[slug].also) for slug, ingredient in shown.items()}
            ),
            {slug: ingredient.measures for slug, ingredient in shown.items()},
            {slug: ingredient.kind for slug, ingredient in shown.items()},
        )

    def found(self, wanted: str, brings: str, diet: list[str], own: bool) -> list[str]:
        """Return slugs: those that answer ``wanted`` best first, else those that bring most, else all by name."""
        if wanted.strip():
            slugs = [match.slug for match in self.words.names.ranked(wanted, len(self.ingredients), typing=True)]
        else:
            slugs = [slug for slug in self.ingredients if not self.places[slug].put_away]
        if brings:
            column = self.strata[:, list(STRATA).index(brings)]
            slugs = [slug for slug in slugs if column[self.places[slug].at] >= 1]
            if not wanted.strip():
                slugs.sort(key=lambda slug: -column[self.places[slug].at])
        if own:
            slugs = [slug for slug in slugs if self.places[slug].own]
        return [slug for slug in slugs if not any(offence(self.ingredients[slug], key) for key in diet)]


@lru_cache(maxsize=64)
def _cached_shelf(kitchen_id: int, _shelf_version: int) -> ShelfCache:
    return ShelfCache(list(IngredientRow.objects.of(kitchen_id)))


def shelf_of(kitchen: Kitchen) -> ShelfCache:
    """Return a kitchen's shelf, remembered until the database says that it changed."""
    return _cached_shelf(kitchen.pk, kitchen.shelf_version)


def ingredients_of(kitchen: Kitchen) -> Mapping[str, Ingredient]:
    """Return what is on a kitchen's shelf by slug."""
    return shelf_of(kitchen).ingredients


@lru_cache(maxsize=64)
def _machines(kitchen_id: int, _shelf_version: int) -> Mapping[int, Machine]:
    return {row.pk: row.to_core() for row in MachineRow.objects.of(kitchen_id)}


def cached_machine(kitchen: Kitchen, number: int | None) -> Machine | None:
    """Return a machine of a kitchen by its number, remembered like its shelf; None where there is none."""
    return None if number is None else _machines(kitchen.pk, kitchen.shelf_version).get(number)
