"""A kitchen's ingredients with their versions, and what of them is in the house."""

from __future__ import annotations

from typing import Final

from django.conf import settings
from django.db import models
from django.db.models import QuerySet

from jalebi_core.formats.ingredient_file import IngredientEntry
from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of, in_order
from kitchens.owned import AppendOnly, KitchenOwned

STOCKED_BEFORE: Final = "before"
"""The mark of a row that came with a shelf when none was kept."""


class Ingredient(KitchenOwned):
    """An ingredient on a kitchen's shelf; ``composition`` and ``facts`` are what the core reads back."""

    slug = models.SlugField(max_length=60)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=30)
    also = models.JSONField(default=list)
    basis = models.TextField()
    allergens = models.JSONField(null=True)
    """Names of the core's list; None where nobody has stated them."""
    may_hold = models.JSONField(default=list)
    """Allergens of traces, or such as only the maker can tell."""
    composition = models.JSONField()
    facts = models.JSONField(default=dict)
    price = models.FloatField(null=True)
    """Of one pack of ``facts.pack_g``, in the kitchen's currency."""
    made_from = models.JSONField(null=True)
    """Lines and steps of a preparation, None for what is bought."""
    version = models.PositiveIntegerField(default=1)
    put_away = models.BooleanField(default=False)
    shelf_said = models.CharField(max_length=64, blank=True, default="")
    """A mark of what the shelf that ships said when it was last taken or kept away; empty for the kitchen's own."""
    shelf_offer = models.JSONField(null=True)
    """What the shelf that ships says now, where somebody has edited the row and not yet decided."""

    class Meta:
        ordering = ("name",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "slug"), name="one_slug_a_kitchen"),)

    def __str__(self) -> str:
        return self.name

    def to_composition(self) -> Composition:
        """Return the ingredient as the core knows it."""
        return Composition.from_dict({**self.composition, "name": self.name})

    def to_core(self) -> CoreIngredient:
        """Return what drafts need of the ingredient; its allergens are also those that the shelf names in an offer."""
        composition, facts = self.to_composition(), Facts.from_dict(self.facts)
        offer = self.shelf_offer or {}
        per_kg = self.price / facts.pack_g * 1000 if self.price is not None and facts.pack_g else None
        return CoreIngredient(
            composition,
            self.slug,
            self.kind,
            measures_of(composition),
            in_order((*allergens_of(composition, self.allergens or ()), *(offer.get("allergens") or ()))),
            allergens_stated=self.allergens is not None,
            may_hold=in_order((*self.may_hold, *(offer.get("may_hold") or ()))),
            made_of=frozenset(line["ingredient"] for line in (self.made_from or {}).get("lines", ())),
            facts=facts,
            price_per_kg=per_kg,
        )

    def to_entry(self) -> IngredientEntry:
        """Return the ingredient as files of ingredients have it."""
        return IngredientEntry(
            self.slug,
            self.to_composition(),
            self.kind,
            tuple(self.also),
            self.basis,
            None if self.allergens is None else tuple(self.allergens),
            tuple(self.may_hold),
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
