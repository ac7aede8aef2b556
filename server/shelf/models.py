"""A kitchen's ingredients."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from django.db import models

from jalebi_core.allergens import allergens_of
from jalebi_core.amounts import Measures
from jalebi_core.composition import Ingredient as Composition
from jalebi_core.measures import measures_of
from jalebi_core.shelf import shelf as shelf_that_ships
from kitchens.models import Kitchen, KitchenOwned


class Ingredient(KitchenOwned):
    """An ingredient on a kitchen's shelf; ``composition`` is what the core reads back."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=30)
    also = models.JSONField(default=list)
    basis = models.TextField()
    allergens = models.JSONField(null=True)
    """Names of the core's list; None where nobody has stated them."""
    composition = models.JSONField()

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "slug"), name="one_slug_a_kitchen"),)

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> Composition:
        """Return the ingredient as the core knows it."""
        return Composition.from_dict(self.composition)

    def to_goods(self) -> Goods:
        """Return what drafts need of the ingredient."""
        composition = self.to_core()
        allergens = allergens_of(composition, self.allergens or ())
        return Goods(composition, measures_of(composition), allergens, self.allergens is not None)


@dataclass(frozen=True, slots=True)
class Goods:
    """What drafts need of an ingredient: composition, measures, allergens and whether those were stated."""

    composition: Composition
    measures: Measures
    allergens: tuple[str, ...]
    allergens_stated: bool


@lru_cache(maxsize=64)
def _goods(kitchen_id: int, _shelf_version: int) -> Mapping[str, Goods]:
    return {row.slug: row.to_goods() for row in Ingredient.objects.filter(kitchen_id=kitchen_id)}


def goods_of(kitchen: Kitchen) -> Mapping[str, Goods]:
    """Return what is on a kitchen's shelf by slug, remembered until the database says that it changed."""
    return _goods(kitchen.pk, kitchen.shelf_version)


def stock_shelf(kitchen: Kitchen) -> None:
    """Bring the shelf that ships into a kitchen; what the kitchen has already stays as it is."""
    Ingredient.objects.bulk_create(
        (
            Ingredient(
                kitchen=kitchen,
                slug=item.slug,
                name=item.ingredient.name,
                kind=item.kind,
                also=list(item.also),
                basis=item.basis,
                allergens=list(item.allergens),
                composition=item.ingredient.as_dict(),
            )
            for item in shelf_that_ships().values()
        ),
        ignore_conflicts=True,
    )
