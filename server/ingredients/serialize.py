"""From ingredients to what screens draw of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from ingredients.models import Ingredient, has_pack_been_read
from ingredients.schemas import (
    ConfusableOut,
    FlowOut,
    IngredientDetail,
    IngredientOut,
    NamedPart,
    Part,
    Preparation,
)
from ingredients.shelf_cache import ShelfCache
from ingredients.shelf_differences import differences_from_shelf
from jalebi_core.advice.swaps import confused_with
from jalebi_core.model.components import COMPONENTS, INDEX, FloatArray
from jalebi_core.model.composition import WIDTH, Composition, components_of
from jalebi_core.model.ingredient import SURE, Facts
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.physics.energy import energy_kcal
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.regulation.allergens import US_NINE
from jalebi_core.regulation.restrictions import RESTRICTIONS, suits
from jalebi_core.shelf.custom_ingredients import brix_of
from jalebi_core.wording.notation import Notation
from kitchens.learnt import Learnt
from kitchens.learnt_marks import learnt_marks


def parts_by_stratum(row: FloatArray) -> list[Part]:
    """Return what 100 g of an ingredient or mix brings, g by stratum, empty strata left out."""
    return _parts(by_stratum(row).tolist())


def flow_out(contents: FloatArray) -> FlowOut:
    """Return contents in g, shape (WIDTH,), as they are drawn."""
    return FlowOut(grams=float(components_of(contents).sum()), strata=parts_by_stratum(contents))


def parts_of_lines(lines: Sequence[tuple[CoreIngredient | None, float | None]]) -> list[list[Part]]:
    """Return what each amount of an ingredient brings, g by stratum; nothing where either is missing."""
    rows = np.array([np.zeros(WIDTH) if ingredient is None else ingredient.row for ingredient, _ in lines])
    shares = np.array([[(grams or 0.0) / 100] for _, grams in lines])
    return [_parts(parts) for parts in (by_stratum(rows) * shares).tolist()] if lines else []


def _parts(grams: list[float]) -> list[Part]:
    return [Part(key=key, grams=part) for key, part in zip(STRATA, grams, strict=True) if part > 0]


def serialize_components(row: FloatArray) -> list[NamedPart]:
    """Return the components of 100 g with their names, empty ones left out."""
    parts = components_of(row)
    return [
        NamedPart(key=component.key, name=component.name, grams=round(float(parts[INDEX[component.key]]), 2))
        for component in COMPONENTS
        if parts[INDEX[component.key]] > 0
    ]


def figures_of(composition: Composition) -> dict[str, object]:
    """Return the drawing and figures of a composition, as previews and details have them."""
    row = composition.row
    return {
        "strata": parts_by_stratum(row),
        "components": serialize_components(row),
        "sweetness_pod": round(float(sweetness_pod(row)), 1),
        "freezing_power_pac": round(float(freezing_power_pac(row)), 1),
        "energy_kcal": round(float(energy_kcal(row))),
        "brix": round(brix_of(composition), 1),
    }


def ingredient_out(shelf: ShelfCache, slug: str) -> IngredientOut:
    """Return ingredients of a shelf as lists show them."""
    ingredient, place = shelf.ingredients[slug], shelf.places[slug]
    return IngredientOut(
        slug=slug,
        name=ingredient.composition.name,
        kind=ingredient.kind,
        also=list(place.also),
        own=place.own,
        allergens=list(ingredient.allergens),
        allergens_stated=ingredient.allergens_stated,
        may_hold=list(ingredient.may_hold),
        density_kg_l=ingredient.measures.density_kg_l,
        pieces=dict(ingredient.measures.pieces),
        forms=list(ingredient.measures.forms),
        strata=_parts(shelf.strata[place.at].tolist()),
        sweetness_pod=round(float(shelf.sweetness[place.at]), 1),
        freezing_power_pac=round(float(shelf.freezing_power[place.at]), 1),
        sure=ingredient.facts.sure,
        price_per_kg=ingredient.price_per_kg,
        mistaken_for=[
            shelf.ingredients[other].composition.name for other, _ in confused_with(slug) if other in shelf.ingredients
        ],
    )


def _facts_said(facts: Facts, kept: Mapping[str, Any], notation: Notation) -> dict[str, Any]:
    """Return the facts as they are kept, those that are sentences as the kitchen writes temperatures."""
    said = {key: notation.text(value) if isinstance(value, str) else value for key, value in kept.items()}
    if facts.warnings:
        said["warnings"] = [notation.text(warning) for warning in facts.warnings]
    if facts.hydrates:
        said["hydrates"] = notation.text(str(facts.hydrates))
    return said


def ingredient_detail(
    shelf: ShelfCache, row: Ingredient, used_in: int, learnt: Learnt, notation: Notation
) -> IngredientDetail:
    """Return all that is known of an ingredient."""
    ingredient = shelf.ingredients[row.slug]
    listed = dict(ingredient_out(shelf, row.slug))
    return IngredientDetail.model_validate(
        {
            **listed,
            **figures_of(ingredient.composition),
            "basis": row.basis,
            "sure_said": SURE[ingredient.facts.sure],
            "facts": _facts_said(ingredient.facts, row.facts, notation),
            "confused_with": [
                ConfusableOut(key=other, name=shelf.ingredients[other].composition.name, differ=differ)
                for other, differ in confused_with(row.slug)
                if other in shelf.ingredients
            ],
            "made_from": Preparation.model_validate(row.made_from) if row.made_from else None,
            "price": row.price,
            "us_allergens": [name for name in ingredient.allergens if name in US_NINE],
            "suits": [RESTRICTIONS[key].name for key in suits(ingredient)],
            "shelf_says": differences_from_shelf(row),
            "pack_read_by": row.pack_read["by"] if row.pack_read and has_pack_been_read(row) else None,
            "offered": row.shelf_offer is not None,
            "learnt": learnt_marks(learnt.of_ingredient(row.slug)),
            "version": row.version,
            "used_in": used_in,
        }
    )
