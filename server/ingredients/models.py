"""A kitchen's ingredients with their versions and prices."""

from __future__ import annotations

from typing import Final

from django.conf import settings
from django.db import models
from django.db.models import QuerySet

from jalebi_core.formats.ingredient_file import IngredientEntry
from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.model.label_facts import CALLED_AS_HERE
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of, in_order
from jalebi_core.shelf.catalogue import with_label_facts_of_shelf
from jalebi_core.shelf.label_facts import with_label_facts
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
    nutrients = models.JSONField(null=True)
    """What it states per 100 g beside its composition, keys of the core's `NUTRIENTS`; else what the shelf ships."""
    on_label = models.JSONField(null=True)
    """How it stands on a label, as the core's `read_on_label` reads it; else as the shelf ships it."""
    pack_read = models.JSONField(null=True)
    """Which traces somebody has read on the pack, who, and when: objects of ``may_hold``, ``by`` and ``on``."""
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
        ingredient = CoreIngredient(
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
        if self.nutrients is None and self.on_label is None:
            return with_label_facts_of_shelf(ingredient)
        return with_label_facts(ingredient, self.nutrients, self.on_label)

    def to_entry(self) -> IngredientEntry:
        """Return the ingredient as files of ingredients have it; what of a preparation follows is left out."""
        for_labels = None if self.made_from else self.to_core()
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
            for_labels.nutrients if for_labels else None,
            for_labels.on_label if for_labels else CALLED_AS_HERE,
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


def has_pack_been_read(row: Ingredient) -> bool:
    """Tell whether somebody has read the pack of what may hold allergens, since that was last said otherwise."""
    return not row.may_hold or (row.pack_read is not None and row.pack_read["may_hold"] == row.may_hold)


class Price(AppendOnly, KitchenOwned):
    """What a pack of an ingredient cost since a day, and whom it was bought of."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.CASCADE, related_name="prices")
    price = models.FloatField()
    pack_g = models.FloatField()
    supplier = models.CharField(max_length=80, blank=True)
    since = models.DateField()
    noted_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-since", "-id")

    def __str__(self) -> str:
        return f"{self.price:g} for {self.pack_g:g} g"


def by_slug(rows: QuerySet[Ingredient], slug: str) -> Ingredient:
    """Return one of a kitchen's ingredients; raises Ingredient.DoesNotExist, also for what no slug can be."""
    if not slug.isprintable():
        raise Ingredient.DoesNotExist
    return rows.get(slug=slug)
