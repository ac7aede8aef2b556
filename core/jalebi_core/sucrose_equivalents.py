"""The classic comparison line: freezing by sucrose equivalents and a table of sucrose solutions."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

import numpy as np

from . import constants as c
from .components import INDEX, FloatArray
from .composition import components_of, msnf
from .freezing_power import freezing_power_pac


@cache
def _sucrose_table() -> FloatArray:
    text = files(__package__).joinpath("data/sucrose_equivalent_fpd.csv").read_text(encoding="utf-8")
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
