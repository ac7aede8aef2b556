"""How far the mark at which a mix scoops may be off: the curve's own error, and how its ingredients differ."""

from __future__ import annotations

from math import hypot, isfinite
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, KEYS, FloatArray
from jalebi_core.model.composition import blend
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import scooping_frozen_pct
from jalebi_core.physics.freezing import liquid, temperature_at_frozen_c

SPREAD_PCT: Final = {"fruit": 12.0, "dairy": 2.5, "plant": 6.0, "egg": 4.0, "nut": 4.0, "preparation": 5.0, "own": 5.0}
"""Standard deviation of what is not water, % of it, by kind; working conventions. Others count as exact."""

_WATER: Final = INDEX["water"]


def spread_of(ingredient: Ingredient) -> float:
    """Return the standard deviation of what is not water in an ingredient, as a share of it."""
    return SPREAD_PCT.get(ingredient.kind, 0.0) / 100


def scooping_uncertainty_c(mix: Mix) -> float:
    """Return the ± °C of a mix's scooping mark: √(0.7² + the spread of its ingredients²).

    Each line is made richer by its own spread, the rest as it is; what they do to the mark adds up in squares.
    """
    lines = [(at, line) for at, line in enumerate(mix.base) if spread_of(line.ingredient) > 0 and line.grams > 0]
    if not lines:
        return c.SCOOPING_UNCERTAINTY_C
    rows = np.array([line.ingredient.row for line in mix.base])
    grams = np.array([line.grams for line in mix.base])
    tried = [_richer_by_spread(grams, rows, at, spread_of(line.ingredient)) for at, line in lines]
    mixes = np.array([blend(grams, rows), *tried])
    share = scooping_frozen_pct(mixes, np.array(mix.overrun_used_pct), mix.scoop_firmness)
    marks_c = temperature_at_frozen_c(liquid(mixes), share, extrapolated=True)
    moved = np.nan_to_num(marks_c[1:] - marks_c[0])
    spread = float(np.sqrt((moved**2).sum()))
    return hypot(c.SCOOPING_UNCERTAINTY_C, spread) if isfinite(spread) else c.SCOOPING_UNCERTAINTY_C


def _richer_by_spread(grams: FloatArray, rows: FloatArray, at: int, spread: float) -> FloatArray:
    changed = rows.copy()
    solids = rows[at].copy()
    solids[_WATER] = 0.0
    richer = solids * (1 + spread)
    richer[_WATER] = max(100 - float(richer[: len(KEYS)].sum()), 0.0)
    changed[at] = richer
    return blend(grams, changed)
