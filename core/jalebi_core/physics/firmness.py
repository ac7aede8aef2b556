"""How hard a tub feels: the one table of firmness words, and the temperature at which it scoops."""

from __future__ import annotations

from math import floor
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import FloatArray, selection
from jalebi_core.model.composition import components_of, trait_of

_HARDENS: Final = c.HARDENED_BY_COCOA_BUTTER * selection("cocoa_fat") + c.HARDENED_BY_COCOA_SOLIDS * selection(
    "cocoa_solids"
)

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


def hardening(row: FloatArray) -> FloatArray:
    """Return the points of firmness that solid fat and particles add to rows of shape (..., WIDTH), shape (...).

    Cocoa butter, dry cocoa and nuts make a mix eat harder at equal ice; milk fat does not. Working convention.
    """
    points: FloatArray = components_of(row) @ _HARDENS + c.HARDENED_BY_NUT_FAT * trait_of(row, "nut_fat")
    return points


def firmness(row: FloatArray, frozen_pct: FloatArray, overrun_pct: FloatArray) -> FloatArray:
    """Return firmness F = % of water frozen × air factor, and where any is frozen what hardens; shapes broadcast."""
    return frozen_pct * air_factor(overrun_pct) + np.where(frozen_pct > 0, hardening(row), 0.0)


def firmness_word(value: float, scoop_firmness: float = c.SCOOPING_FIRMNESS) -> str:
    """Return the word for a firmness as it is shown, to a tenth; a value on a limit takes the harder word.

    ``scoop_firmness`` is where a clean scoop begins for who eats it: all limits move with it.
    """
    if floor(10 * value + 0.5) / 10 <= 0:
        return "liquid"
    felt = floor(10 * (value - scoop_firmness + c.SCOOPING_FIRMNESS) + 0.5) / 10
    return next((word for least, word in FIRMNESS_WORDS if felt >= least), "slushy")


def scooping_frozen_pct(
    row: FloatArray, overrun_pct: FloatArray, scoop_firmness: FloatArray | float = c.SCOOPING_FIRMNESS
) -> FloatArray:
    """Return the % of all water that is ice where the dessert scoops, firmness 70 if nobody knows better.

    Shapes broadcast. The temperature there is uncertain by ± 0.7 °C (Norrish constants, bound water).
    """
    return np.maximum(scoop_firmness - hardening(row), 0.0) / air_factor(overrun_pct)
