"""Freezing power: the adding-up shorthand for how far a mix's solutes lower its freezing point."""

from __future__ import annotations

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, IONS, MOL_PER_G, FloatArray
from jalebi_core.model.composition import components_of, trait_of


def freezing_power_pac(row: FloatArray) -> FloatArray:
    """Return the freezing power of rows, g sucrose equivalents per 100 g mix, shape (...).

    Σ grams · i · 342.3 / M: lactose included, salt with both its ions, milk salts and ash left
    out, as the convention has it. Sucrose is 100 per 100 g, glucose 190, ethanol 743, salt 1171.
    """
    moles = components_of(row) @ (MOL_PER_G * IONS) + trait_of(row, "chain_mol")
    moles = moles + trait_of(row, "acid_adjustment")
    return c.SUCROSE_MOLAR_MASS_G_MOL * moles


def freezing_power_per_100g_water(row: FloatArray) -> FloatArray:
    """Return the freezing power per 100 g of the mix's water, shape (...); NaN where there is none."""
    water = components_of(row)[..., INDEX["water"]]
    power = freezing_power_pac(row)
    return np.divide(100 * power, water, out=np.full_like(power, np.nan), where=water > 0)
