"""Density of a mix and its volume with air."""

from __future__ import annotations

import numpy as np

from . import constants as c
from .components import INDEX, FloatArray
from .composition import components_of, fat, total_solids


def density_kg_l(row: FloatArray) -> FloatArray:
    """Return the density of the mix without air, kg/L, shape (...); NaN for an empty mix.

    100 / (fat/0.93 + nonfat solids/1.58 + water/1.0 + ethanol/0.79): specific volumes add.
    """
    parts = components_of(row)
    fats = fat(row)
    specific_volume = (
        fats / c.DENSITY_FAT_KG_L
        + (total_solids(row) - fats) / c.DENSITY_NONFAT_SOLIDS_KG_L
        + parts[..., INDEX["water"]] / c.DENSITY_WATER_KG_L
        + parts[..., INDEX["ethanol"]] / c.DENSITY_ETHANOL_KG_L
    )
    mass = parts.sum(axis=-1)
    density: FloatArray = np.divide(mass, specific_volume, out=np.full_like(mass, np.nan), where=specific_volume > 0)
    return density


def output_volume_l(mass_g: FloatArray, density: FloatArray, overrun_pct: FloatArray) -> FloatArray:
    """Return the volume drawn from the machine, L: mix volume × (1 + overrun/100)."""
    return mass_g / 1000 / density * (1 + overrun_pct / 100)
