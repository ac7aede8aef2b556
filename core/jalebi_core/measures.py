"""Measures of an ingredient: stated ones, and the density of liquids from their composition."""

from __future__ import annotations

from .amounts import Measures
from .components import INDEX
from .composition import Ingredient, fat
from .volume import density_kg_l

_LEAST_WATER_OF_A_LIQUID = 15.0
_LEAST_FAT_OF_A_PASTE = 45.0


def measures_of(ingredient: Ingredient) -> Measures:
    """Return how an ingredient is measured; dry goods without a stated density have none."""
    density = ingredient.density_kg_l
    flows = ingredient.row[INDEX["water"]] >= _LEAST_WATER_OF_A_LIQUID or fat(ingredient.row) >= _LEAST_FAT_OF_A_PASTE
    if density is None and flows:
        density = float(density_kg_l(ingredient.row))
    return Measures(density, ingredient.pieces or {})
