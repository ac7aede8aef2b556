"""A kitchen's ingredients."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

from django.db import models

from jalebi_core.composition import Ingredient as Composition
from jalebi_core.shelf import shelf as shelf_that_ships
from kitchens.models import Kitchen, KitchenOwned


class Ingredient(KitchenOwned):
    """An ingredient on a kitchen's shelf; ``composition`` is what the core reads back."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=30)
    also = models.JSONField(default=list)
    basis = models.TextField()
    composition = models.JSONField()

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "slug"), name="one_slug_a_kitchen"),)

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> Composition:
        """Return the ingredient as the core knows it."""
        return Composition.from_dict(self.composition)


@lru_cache(maxsize=64)
def _compositions(kitchen_id: int, _shelf_version: int) -> Mapping[str, Composition]:
    rows = Ingredient.objects.filter(kitchen_id=kitchen_id).values_list("slug", "composition")
    return {slug: Composition.from_dict(composition) for slug, composition in rows}


def compositions_of(kitchen: Kitchen) -> Mapping[str, Composition]:
    """Return what is on a kitchen's shelf by slug, remembered until the database says that it changed."""
    return _compositions(kitchen.pk, kitchen.shelf_version)


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
                composition=item.ingredient.as_dict(),
            )
            for item in shelf_that_ships().values()
        ),
        ignore_conflicts=True,
    )
