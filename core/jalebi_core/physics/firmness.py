"""How hard a tub feels: the one table of firmness words, and the temperature at which it scoops."""

from __future__ import annotations

from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import FloatArray

FIRMNESS_WORDS: Final = (
    (82.0, "rock"),
    (78.0, "hard"),
    (73.0, "stiff"),
    (67.0, "scoops"),
    (60.0, "soft scoop"),
    (55.0, "very soft"),
    (40.0, "soft-serve"),
)
"""Least firmness of each word, hardest first; below them slushy, and liquid where there is no ice."""


def air_factor(overrun_pct: FloatArray) -> FloatArray:
    """Return by how much air softens: (1.30 / (1 + overrun/100))^0.25, a working convention."""
    reference = 1 + c.REFERENCE_OVERRUN_PCT / 100
    return (reference / (1 + overrun_pct / 100)) ** c.AIR_SOFTENING_EXPONENT


def firmness(frozen_pct: FloatArray, overrun_pct: FloatArray) -> FloatArray:
    """Return firmness F = % of water frozen × air factor; shapes broadcast."""
    return frozen_pct * air_factor(overrun_pct)


def firmness_word(value: float) -> str:
    """Return the word for a firmness; a value on a limit takes the harder word."""
    if value <= 0:
        return "liquid"
    return next((word for least, word in FIRMNESS_WORDS if value >= least), "slushy")


def scooping_frozen_pct(overrun_pct: FloatArray) -> FloatArray:
    """Return the % of all water that is ice where the dessert scoops, firmness 70; same shape.

    The temperature there is uncertain by ± 0.7 °C (Norrish constants, bound water).
    """
    return np.asarray(c.SCOOPING_FIRMNESS / air_factor(overrun_pct))
