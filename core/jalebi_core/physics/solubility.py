"""What stays dissolved in the cold: the solubility of erythritol and of lactose in water.

Ideal van 't Hoff lines through one measured solubility, x = x₀ · exp(−ΔH/R · (1/T − 1/T₀)); what else is dissolved is
taken to change nothing. Both sugars can stay dissolved beyond it for a time; lactose does so for weeks in the cold,
erythritol hardly.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import COMPONENTS, INDEX, FloatArray

_WATER_G_MOL: Final = 1000 * c.WATER_MOLAR_MASS_KG_MOL


@dataclass(frozen=True, slots=True)
class Solubility:
    """A solubility line: g per 100 g of water at a temperature, and the heat of solution in J/mol."""

    molar_mass_g_mol: float
    known_g: float
    known_c: float
    heat_j_mol: float

    def mol_per_mol(self, temperature_c: FloatArray) -> FloatArray:
        """Return moles that saturate a mole of water, same shape."""
        known = self.known_g / self.molar_mass_g_mol / (100 / _WATER_G_MOL)
        kelvin, known_k = temperature_c + c.ZERO_CELSIUS_K, self.known_c + c.ZERO_CELSIUS_K
        slope = self.heat_j_mol / c.GAS_CONSTANT_J_MOL_K
        fraction = known / (1 + known) * np.exp(slope * (1 / known_k - 1 / kelvin))
        saturated: FloatArray = fraction / (1 - fraction)
        return saturated

    def g_per_100g(self, temperature_c: FloatArray) -> FloatArray:
        """Return g that saturate 100 g of water, same shape."""
        return self.mol_per_mol(temperature_c) * self.molar_mass_g_mol / _WATER_G_MOL * 100


ERYTHRITOL: Final = Solubility(COMPONENTS[INDEX["erythritol"]].molar_mass_g_mol, *c.ERYTHRITOL_SOLUBLE)
LACTOSE: Final = Solubility(COMPONENTS[INDEX["lactose"]].molar_mass_g_mol, *c.LACTOSE_SOLUBLE)
