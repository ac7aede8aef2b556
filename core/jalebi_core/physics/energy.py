"""Energy of an ingredient or mix by the factors of the components."""

from __future__ import annotations

from jalebi_core.model.components import KCAL_PER_G, KJ_PER_G, FloatArray
from jalebi_core.model.composition import components_of


def energy_kcal(row: FloatArray) -> FloatArray:
    """Return kcal per 100 g, shape (...), of rows of shape (..., WIDTH)."""
    energy: FloatArray = components_of(row) @ KCAL_PER_G
    return energy


def energy_kj(row: FloatArray) -> FloatArray:
    """Return kJ per 100 g, shape (...), of rows of shape (..., WIDTH)."""
    energy: FloatArray = components_of(row) @ KJ_PER_G
    return energy
