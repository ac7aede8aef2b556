"""Sweetness as sucrose equivalents."""

from __future__ import annotations

from jalebi_core.model.components import POD, FloatArray
from jalebi_core.model.composition import components_of, trait_of


def sweetness_pod(row: FloatArray) -> FloatArray:
    """Return the sweetness of rows, g sucrose equivalents per 100 g, shape (...).

    Σ grams · POD / 100 over the components, each POD from ``components.csv``, plus the stated
    difference of ingredients whose handbook sweetness the sum of species misses (syrups).
    A scale, not a taste: cold, acid and bitterness dull it.
    """
    return components_of(row) @ POD / 100 + trait_of(row, "pod_adjustment")
