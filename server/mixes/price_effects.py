"""What another price does: every mix that it moves, directly or through preparations, and by how much."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router
from pydantic import BaseModel, Field

from ingredients.models import Ingredient, Price, by_slug
from ingredients.preparations import preparations_holding, work_out
from ingredients.schemas import Preparation
from ingredients.shelf_cache import ingredients_of
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.model.mix import Line
from jalebi_core.model.mix import Mix as CoreMix
from jalebi_core.production.cost import cost_of
from kitchens.models import Kitchen, spoons_of
from kitchens.prices import VisiblePrice
from kitchens.sign_in import kitchen_of, person_of
from mixes.models import Mix

router = Router(tags=["ingredients"])
_MOST_MIXES = 200


class NewPrice(BaseModel):
    """A price of a kilo as bought, in the kitchen's currency."""

    per_kg: Annotated[float, Field(ge=0, le=1e6)] = 0


class MovedMix(BaseModel):
    """A mix and what a litre of it costs before and after; none while something in it has no price."""

    id: int
    name: str
    per_litre: VisiblePrice
    per_litre_then: VisiblePrice


class PriceEffects(BaseModel):
    """What a price does to the mixes that hold the ingredient, those that it moves most first."""

    per_kg: VisiblePrice
    per_kg_then: VisiblePrice
    mixes: list[MovedMix]


class PriceOut(BaseModel):
    """A price that was paid or asked: of a pack, since when, and of whom."""

    price: VisiblePrice
    pack_g: float
    supplier: str
    since: str


@router.get("/ingredients/{slug}/prices", response=list[PriceOut])
def prices(request: HttpRequest, slug: str) -> list[PriceOut]:
    """Return the prices that an ingredient has had, newest first; none for those who may not see them."""
    row = by_slug(Ingredient.objects.of(kitchen_of(request)), slug)
    if not person_of(request).sees_prices:
        return []
    rows = Price.objects.of(row.kitchen_id).filter(ingredient=row).order_by("-since", "-pk")[:50]
    return [
        PriceOut(price=one.price, pack_g=one.pack_g, supplier=one.supplier, since=one.since.isoformat()) for one in rows
    ]


@router.get("/ingredients/{slug}/price-effects", response=PriceEffects)
def price_effects(request: HttpRequest, slug: str, price: Query[NewPrice]) -> PriceEffects:
    """Say what a new price of an ingredient would do to every mix that holds it; nothing to who may not see prices."""
    person = person_of(request)
    kitchen = person.kitchen
    row = by_slug(Ingredient.objects.of(kitchen), slug)
    if not person.sees_prices:
        return PriceEffects(per_kg=None, per_kg_then=0, mixes=[])
    before = dict(ingredients_of(kitchen))
    after = _repriced(kitchen, before, row.slug, price.per_kg)
    changed = {one for one in after if after[one].price_per_kg != before[one].price_per_kg}
    moved = [
        MovedMix(
            id=mix.pk,
            name=mix.name,
            per_litre=_per_litre(mix, before, kitchen),
            per_litre_then=_per_litre(mix, after, kitchen),
        )
        for mix in _mixes_with(kitchen, changed)
    ]
    moved.sort(key=lambda one: -abs((one.per_litre_then or 0) - (one.per_litre or 0)))
    return PriceEffects(per_kg=before[row.slug].price_per_kg, per_kg_then=price.per_kg, mixes=moved)


def _repriced(
    kitchen: Kitchen, known: dict[str, CoreIngredient], slug: str, per_kg: float
) -> dict[str, CoreIngredient]:
    """Return the shelf with another price of one ingredient, and of what is made with it."""
    found = {**known, slug: replace(known[slug], price_per_kg=per_kg)}
    for row in preparations_holding(kitchen, slug):
        result = work_out(Preparation.model_validate(row.made_from), found, spoons_of(kitchen))
        then = None if result.cost is None else 1000 * result.cost / result.made.yield_g
        found[row.slug] = replace(found[row.slug], price_per_kg=then)
    return found


def _mixes_with(kitchen: Kitchen, slugs: set[str]) -> list[Mix]:
    rows = Mix.objects.of(kitchen).filter(lines__ingredient__slug__in=slugs, put_away=False).distinct()
    return list(rows.order_by("name").prefetch_related("lines__ingredient")[:_MOST_MIXES])


def _per_litre(mix: Mix, shelf: dict[str, CoreIngredient], kitchen: Kitchen) -> float | None:
    made = core_mix(mix, shelf)
    return None if made is None else cost_of(made, kitchen.loss_pct).per_litre


def core_mix(mix: Mix, shelf: dict[str, CoreIngredient]) -> CoreMix | None:
    """Return a mix as it is now; None while a line of it weighs nothing readable, or nothing of it does."""
    rows = list(mix.lines.all())
    if any(row.grams is None for row in rows) or not any(row.grams for row in rows):
        return None
    lines = tuple(Line(shelf[row.ingredient.slug], row.grams or 0.0, row.stage) for row in rows)
    made = CoreMix(mix.name, lines, mix.style, mix.overrun_pct)
    return made if made.mass_g > 0 else None
