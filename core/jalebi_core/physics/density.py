"""Density of a mix and its volume with air."""

from __future__ import annotations

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import FAT, SOLIDS, FloatArray, selection
from jalebi_core.model.composition import components_of

_LITRES_PER_KG: FloatArray = (
    FAT / c.DENSITY_FAT_KG_L
    + (SOLIDS - FAT) / c.DENSITY_NONFAT_SOLIDS_KG_L
    + selection("water") / c.DENSITY_WATER_KG_L
    + selection("ethanol") / c.DENSITY_ETHANOL_KG_L
)


def density_kg_l(row: FloatArray) -> FloatArray:
    """Return the density of the mix without air, kg/L, shape (...); NaN for an empty mix.

    100 / (fat/0.93 + nonfat solids/1.58 + water/1.0 + ethanol/0.79): specific volumes add.
    """
    parts = components_of(row)
    mass, volume = parts.sum(axis=-1), parts @ _LITRES_PER_KG
    density: FloatArray = np.divide(mass, volume, out=np.full_like(mass, np.nan), where=volume > 0)
    return density


def output_volume_l(mass_g: FloatArray, density: FloatArray, overrun_pct: FloatArray) -> FloatArray:
    """Return the volume drawn from the machine, L: mix volume × (1 + overrun/100)."""
    return mass_g / 1000 / density * (1 + overrun_pct / 100)
