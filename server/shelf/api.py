"""The shelf: ingredients and what each is made of; and the words that drawings need."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from jalebi.problems import Problem
from jalebi_core.amounts import GRAMS_PER_UNIT, ML_PER_SPOON, ML_PER_UNIT
from jalebi_core.components import COMPONENTS, INDEX, FloatArray
from jalebi_core.composition import WIDTH, components_of
from jalebi_core.composition import Ingredient as Composition
from jalebi_core.firmness import FIRMNESS_WORDS
from jalebi_core.freezing_power import freezing_power_pac
from jalebi_core.strata import STRATA, by_stratum
from jalebi_core.styles import STAGES, styles
from jalebi_core.sweetness import sweetness_pod
from kitchens.sign_in import kitchen_of

from .models import Ingredient

router = Router(tags=["shelf"])


class Part(BaseModel):
    """Grams of one stratum or component."""

    key: str
    grams: float


class NamedPart(Part):
    """Grams of one component, with its name."""

    name: str


class IngredientOut(BaseModel):
    """An ingredient: what it is per 100 g, and where that comes from."""

    slug: str
    name: str
    kind: str
    also: list[str]
    basis: str
    allergens: list[str]
    allergens_stated: bool
    density_kg_l: float | None
    pieces: dict[str, float]
    strata: list[Part]
    components: list[NamedPart]
    sweetness_pod: float
    freezing_power_pac: float


class Named(BaseModel):
    """A key and its name."""

    key: str
    name: str


class StyleOut(Named):
    """A style and its usual bands, low and high by quantity."""

    bands: dict[str, tuple[float, float]]


class Vocabulary(BaseModel):
    """The words that screens share, in the order they are shown."""

    strata: list[Named]
    stages: list[Named]
    styles: list[StyleOut]
    units: list[str]
    firmness_words: list[str]


def parts_by_stratum(row: FloatArray) -> list[Part]:
    """Return what 100 g of an ingredient or mix brings, g by stratum, empty strata left out."""
    return _parts(by_stratum(row).tolist())


def parts_of_lines(lines: Sequence[tuple[Composition | None, float | None]]) -> list[list[Part]]:
    """Return what each amount of an ingredient brings, g by stratum; nothing where either is missing."""
    rows = np.array([np.zeros(WIDTH) if ingredient is None else ingredient.row for ingredient, _ in lines])
    shares = np.array([[(grams or 0.0) / 100] for _, grams in lines])
    return [_parts(parts) for parts in (by_stratum(rows) * shares).tolist()] if lines else []


def _parts(grams: list[float]) -> list[Part]:
    return [Part(key=key, grams=part) for key, part in zip(STRATA, grams, strict=True) if part > 0]


def _ingredient_out(ingredient: Ingredient) -> IngredientOut:
    goods = ingredient.to_goods()
    composition = goods.composition
    parts = components_of(composition.row)
    return IngredientOut(
        slug=ingredient.slug,
        name=ingredient.name,
        kind=ingredient.kind,
        also=ingredient.also,
        basis=ingredient.basis,
        allergens=list(goods.allergens),
        allergens_stated=goods.allergens_stated,
        density_kg_l=goods.measures.density_kg_l,
        pieces=dict(goods.measures.pieces),
        strata=parts_by_stratum(composition.row),
        components=[
            NamedPart(key=component.key, name=component.name, grams=round(float(parts[INDEX[component.key]]), 2))
            for component in COMPONENTS
            if parts[INDEX[component.key]] > 0
        ],
        sweetness_pod=round(float(sweetness_pod(composition.row)), 1),
        freezing_power_pac=round(float(freezing_power_pac(composition.row)), 1),
    )


@router.get("/ingredients", response={200: list[IngredientOut], 401: Problem})
def ingredients(request: HttpRequest) -> list[IngredientOut]:
    """Return the kitchen's shelf by name."""
    return [_ingredient_out(ingredient) for ingredient in Ingredient.objects.of(kitchen_of(request))]


@router.get("/vocabulary", response={200: Vocabulary, 401: Problem})
def vocabulary(request: HttpRequest) -> Vocabulary:
    """Return the words for strata, stages, styles, units and firmness."""
    return Vocabulary(
        strata=[Named(key=key, name=name) for key, name in STRATA.items()],
        stages=[Named(key=key, name=name) for key, name in STAGES.items()],
        styles=[StyleOut(key=style.slug, name=style.name, bands=style.bands) for style in styles().values()],
        units=[*GRAMS_PER_UNIT, *ML_PER_UNIT, *ML_PER_SPOON["metric"]],
        firmness_words=["liquid", "slushy", *(word for _, word in reversed(FIRMNESS_WORDS))],
    )
