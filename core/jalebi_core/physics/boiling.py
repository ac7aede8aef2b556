"""Where a liquid boils at sea level: solutes hold its water back, and the more so the more of it has boiled away."""

from __future__ import annotations

from math import inf, log
from typing import Final

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.physics.freezing import liquid, ln_water_activity

HOTTEST_C: Final = 112.0
"""Handbook syrups of sucrose, 65 % to 80 %, are met within half a degree up to here; hotter is not computed."""
_BOILING_K: Final = c.ZERO_CELSIUS_K + 100
_EVAPORATION_J_MOL: Final = 40_650.0
"""Of water at 100 °C."""
_CLOSE_G: Final = 1e-6


def boiling_c(row: FloatArray) -> float:
    """Return the °C at which the liquid of a row, shape (WIDTH,), boils; alcohol is taken to be gone by then.

    1/T = 1/373.15 K + R·ln a_w / ΔH, the Clausius–Clapeyron relation with Norrish's water activity.
    """
    bare = row.copy()
    bare[INDEX["ethanol"]] = 0.0
    of = liquid(bare)
    lowered = float(ln_water_activity(of, of.water_g, of.erythritol_mol))
    reciprocal = 1 / _BOILING_K + c.GAS_CONSTANT_J_MOL_K * lowered / _EVAPORATION_J_MOL
    return 1 / reciprocal - c.ZERO_CELSIUS_K if reciprocal > 0 else inf


def water_left_at(row: FloatArray, boils_c: float) -> float | None:
    """Return the g of water that 100 g of a row keep when they boil at a temperature; None where they do not get there.

    None too where they boil hotter than that already.
    """
    water = INDEX["water"]

    def boils_with(grams: float) -> float:
        left = row.copy()
        left[water] = grams
        return boiling_c(left)

    most = float(row[water])
    if most <= 0 or boils_with(most) > boils_c or boils_with(most * 1e-4) < boils_c:
        return None
    least = most * 1e-4
    for _ in range(int(log(most / _CLOSE_G, 2)) + 2):
        middle = (least + most) / 2
        least, most = (middle, most) if boils_with(middle) > boils_c else (least, middle)
    return (least + most) / 2
