"""Standing out: roughly how long a tub takes on the counter until it has warmed to a temperature."""

from __future__ import annotations

from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.physics.density import density_kg_l
from jalebi_core.physics.freezing import frozen_pct, liquid

_STEPS: Final = 12
_WATER: Final = INDEX["water"]


def standing_min(row: FloatArray, overrun_pct: float, from_c: float, to_c: float) -> float:
    """Return the minutes in a room of 20 °C until a tub of one litre has warmed through, on the whole.

    Heat balance of the tub as one lump: sensible heat and melting ice against 8 W/m²K on its surface; the rim is
    soft before. Rough by nature, a working convention until a tub is worked out in space.
    """
    celsius = np.linspace(from_c, to_c, _STEPS)
    ice_g = frozen_pct(liquid(row), celsius) * float(row[_WATER]) / 100
    middle, between = (celsius[1:] + celsius[:-1]) / 2, (ice_g[1:] + ice_g[:-1]) / 2
    solids = 100 - float(row[_WATER])
    heat_j_g_k = (
        between * c.HEAT_OF_ICE_J_G_K
        + (row[_WATER] - between) * c.HEAT_OF_WATER_J_G_K
        + solids * c.HEAT_OF_SOLIDS_J_G_K
    ) / 100
    melted = (ice_g[:-1] - ice_g[1:]) / 100 * (c.ICE_MELTING_J_G + 2.1 * middle)
    joules = (heat_j_g_k * np.diff(celsius) + melted) * float(density_kg_l(row)) / (1 + overrun_pct / 100) * 1000
    watts = c.TUB_HEAT_TRANSFER_W_M2K * c.LITRE_TUB_SURFACE_M2 * (c.ROOM_C - middle)
    return float((joules / watts).sum() / 60)
