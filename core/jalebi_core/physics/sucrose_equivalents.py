"""The classic comparison line: freezing by sucrose equivalents and a table of sucrose solutions."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_text
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray, mask
from jalebi_core.model.composition import components_of, msnf
from jalebi_core.physics.freezing_power import freezing_power_pac


@cache
def _sucrose_table() -> FloatArray:
    text = read_text("sucrose_equivalent_fpd.csv")
    rows = [line for line in text.splitlines() if line[:1].isdigit()]
    return np.array([[float(cell) for cell in row.split(",")] for row in rows])


def freezing_point_c(row: FloatArray, frozen_pct: FloatArray) -> FloatArray:
    """Return the °C at which this share of the water is ice, by sucrose equivalents; shapes broadcast.

    Depression of the table at g sucrose equivalents per 100 g unfrozen water, plus
    2.37 · MSNF / unfrozen water for the milk salts. Calibrated on sucrose-led dairy mixes with all
    water counted as free. NaN beyond the table's 180 g per 100 g.
    """
    unfrozen = components_of(row)[..., INDEX["water"]] * (1 - frozen_pct / 100)
    table = _sucrose_table()
    with np.errstate(divide="ignore", invalid="ignore"):
        strength = 100 * freezing_power_pac(row) / unfrozen
        by_sugar = np.interp(strength, table[:, 0], table[:, 1], right=np.nan)
        return -(by_sugar + c.MSNF_DEPRESSION_C * msnf(row) / unfrozen)


@dataclass(frozen=True, slots=True)
class ComparisonLine:
    """The comparison line of one mix: °C and % of water frozen, point by point, and how far to trust it."""

    t_c: tuple[float, ...]
    frozen_pct: tuple[float, ...]
    message: str


_FROZEN: Final = np.arange(0.0, 91.0, 3.0)
_POLYOLS: Final = mask(family="polyol")
_STRANGE_G: Final = 0.5
"""g of polyol or alcohol in 100 g from which the line is not comparable: its table is one of sucrose."""


def comparison_line(row: FloatArray) -> ComparisonLine:
    """Return the line of one mix, row of shape (WIDTH,), as far as its table goes."""
    celsius = freezing_point_c(row, _FROZEN)
    known = np.isfinite(celsius)
    parts = components_of(row)
    if float(parts @ _POLYOLS) > _STRANGE_G or float(parts[INDEX["ethanol"]]) > _STRANGE_G:
        message = "Not comparable here: the table is one of sucrose, and this has polyols or alcohol."
    elif known.any() and not known.all():
        message = f"Ends at {float(_FROZEN[known][-1]):.0f} % ice with its table, 180 g per 100 g of unfrozen water."
    elif not known.any():
        message = "Beyond its table from the first ice on."
    else:
        message = (
            "Within half a degree of the curve up to 55 % ice in sucrose mixes; further on and with dextrose more."
        )
    return ComparisonLine(tuple(celsius[known].tolist()), tuple(_FROZEN[known].tolist()), message)
