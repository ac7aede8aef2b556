"""Measures of an ingredient: stated ones, and the density of liquids from their composition."""

from __future__ import annotations

from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import Composition, fat
from jalebi_core.model.measures import Measures
from jalebi_core.physics.density import density_kg_l

_LEAST_WATER_OF_A_LIQUID = 15.0
_LEAST_FAT_OF_A_PASTE = 45.0


def measures_of(ingredient: Composition) -> Measures:
    """Return how an ingredient is measured; dry ingredients without a stated density have none."""
    density = ingredient.density_kg_l
    flows = ingredient.row[INDEX["water"]] >= _LEAST_WATER_OF_A_LIQUID or fat(ingredient.row) >= _LEAST_FAT_OF_A_PASTE
    if density is None and flows:
        density = float(density_kg_l(ingredient.row))
    return Measures(density, ingredient.pieces or {}, ingredient.forms or {})
