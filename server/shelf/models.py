"""A kitchen's ingredients with their versions, and what of them is in the house."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.db.models import QuerySet

from jalebi_core.allergens import allergens_of
from jalebi_core.composition import Ingredient as Composition
from jalebi_core.goods import Facts, Goods
from jalebi_core.goods_file import GoodsEntry
from jalebi_core.measures import measures_of
from jalebi_core.shelf import ShelfItem
from jalebi_core.shelf import shelf as shelf_that_ships
from kitchens.models import AppendOnly, Kitchen, KitchenOwned


class Ingredient(KitchenOwned):
    """An ingredient on a kitchen's shelf; ``composition`` and ``facts`` are what the core reads back."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=30)
    also = models.JSONField(default=list)
    basis = models.TextField()
    allergens = models.JSONField(null=True)
    """Names of the core's list; None where nobody has stated them."""
    composition = models.JSONField()
    facts = models.JSONField(default=dict)
    price = models.FloatField(null=True)
    """Of one pack of ``facts.pack_g``, in the kitchen's currency."""
    made_from = models.JSONField(null=True)
    """Lines and steps of a preparation, None for what is bought."""
    version = models.PositiveIntegerField(default=1)
    put_away = models.BooleanField(default=False)

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "slug"), name="one_slug_a_kitchen"),)

    def __str__(self) -> str:
        return self.name

    def to_core(self) -> Composition:
        """Return the ingredient as the core knows it."""
        return Composition.from_dict({**self.composition, "name": self.name})

    def to_goods(self) -> Goods:
        """Return what drafts need of the ingredient."""
        composition, facts = self.to_core(), Facts.from_dict(self.facts)
        per_kg = self.price / facts.pack_g * 1000 if self.price is not None and facts.pack_g else None
        return Goods(
            self.slug,
            composition,
            self.kind,
            measures_of(composition),
            allergens_of(composition, self.allergens or ()),
            self.allergens is not None,
            facts,
            per_kg,
        )

    def to_entry(self) -> GoodsEntry:
        """Return the ingredient as files of goods have it."""
        return GoodsEntry(
            self.slug,
            self.to_core(),
            self.kind,
            tuple(self.also),
            self.basis,
            None if self.allergens is None else tuple(self.allergens),
            Facts.from_dict(self.facts),
            self.price,
        )


class IngredientVersion(AppendOnly, KitchenOwned):
    """An ingredient as it was before a change, so that nobody wonders what last month's figures were."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    content = models.JSONField()
    why = models.CharField(max_length=200, blank=True)
    changed_at = models.DateTimeField(auto_now_add=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("ingredient", "number"), name="one_version_a_number"),)

    def __str__(self) -> str:
        return f"{self.ingredient_id} {self.number}"


class Stock(KitchenOwned):
    """An amount of an ingredient in the house, and until when it must be used."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.CASCADE, related_name="stock")
    grams = models.FloatField()
    typed = models.CharField(max_length=60)
    until = models.DateField(null=True)
    state = models.CharField(max_length=40, blank=True)
    note = models.CharField(max_length=200, blank=True)
    came_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = (models.F("until").asc(nulls_last=True), "id")

    def __str__(self) -> str:
        return f"{self.typed} {self.ingredient_id}"


def by_slug(rows: QuerySet[Ingredient], slug: str) -> Ingredient:
    """Return one of a kitchen's ingredients; raises Ingredient.DoesNotExist, also for what no slug can be."""
    if not slug.isprintable():
        raise Ingredient.DoesNotExist
    return rows.get(slug=slug)


def stock_shelf(kitchen: Kitchen) -> None:
    """Bring the shelf that ships into a kitchen; what the kitchen has already stays as it is."""
    shipped = shelf_that_ships()
    Ingredient.objects.bulk_create((_shipped(kitchen, item) for item in shipped.values()), ignore_conflicts=True)
    behind = [row for row in Ingredient.objects.of(kitchen).filter(slug__in=shipped) if _lacks(row, shipped[row.slug])]
    for row in behind:
        item = shipped[row.slug]
        row.facts = {**item.facts.as_dict(), **row.facts}
        row.also = list(dict.fromkeys((*row.also, *item.also)))
    Ingredient.objects.bulk_update(behind, ["facts", "also"])


def _lacks(row: Ingredient, item: ShelfItem) -> bool:
    """Tell whether the shelf that ships says more of an ingredient than a kitchen's, which an older version stocked."""
    return not item.facts.as_dict().keys() <= row.facts.keys()


def _shipped(kitchen: Kitchen, item: ShelfItem) -> Ingredient:
    return Ingredient(
        kitchen=kitchen,
        slug=item.slug,
        name=item.ingredient.name,
        kind=item.kind,
        also=list(item.also),
        basis=item.basis,
        allergens=list(item.allergens),
        composition=item.ingredient.as_dict(),
        facts=item.facts.as_dict(),
    )
