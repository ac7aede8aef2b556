"""A mix's analysis: what it is and what it becomes in the cold, for one mix or many."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import fat, msnf, sugars, total_solids
from jalebi_core.model.constants import SCOOPING_FIRMNESS
from jalebi_core.model.mix import Mix
from jalebi_core.physics.density import density_kg_l, output_volume_l
from jalebi_core.physics.firmness import firmness, scooping_frozen_pct
from jalebi_core.physics.freezing import frozen_pct, liquid, temperature_at_frozen_c
from jalebi_core.physics.freezing_power import freezing_power_pac, freezing_power_per_100g_water
from jalebi_core.physics.sweetness import sweetness_pod

WHOLE_DEGREES_C: Final = np.arange(0.0, -31.0, -1.0)
HOME_FREEZER_C: Final = -18.0

_BLOCK: Final = 1000
"""So many mixes at once stay in the processor's cache; more take longer each."""


@dataclass(frozen=True, slots=True)
class Analysis:
    """The figures of mixes; shape (...) each, ``frozen_pct`` (..., temperatures); NaN where there is none."""

    row: FloatArray
    fat: FloatArray
    msnf: FloatArray
    sugars: FloatArray
    total_solids: FloatArray
    sweetness_pod: FloatArray
    freezing_power_pac: FloatArray
    freezing_power_per_100g_water: FloatArray
    initial_c: FloatArray
    scoop_c: FloatArray
    frozen_pct: FloatArray
    firmness: FloatArray
    density_kg_l: FloatArray
    volume_l: FloatArray


def analyse(
    row: FloatArray,
    mass_g: FloatArray,
    overrun_pct: FloatArray,
    temperatures_c: FloatArray = WHOLE_DEGREES_C,
    freezer_c: float = HOME_FREEZER_C,
    scoop_firmness: float = SCOOPING_FIRMNESS,
) -> Analysis:
    """Analyse mixes.

    Parameters
    ----------
    row : shape (..., WIDTH), per 100 g of each mix
    mass_g, overrun_pct : shape (...)
    temperatures_c : shape (temperatures,), where the curve is wanted
    freezer_c : where firmness is wanted
    scoop_firmness : where a clean scoop begins
    """
    if row.ndim == 2 and len(row) > _BLOCK:
        blocks = [slice(at, at + _BLOCK) for at in range(0, len(row), _BLOCK)]
        found = [
            analyse(row[at], mass_g[at], overrun_pct[at], temperatures_c, freezer_c, scoop_firmness) for at in blocks
        ]
        return Analysis(*(np.concatenate([getattr(one, name) for one in found]) for name in Analysis.__slots__))
    in_water = liquid(row)
    curve = frozen_pct(in_water, np.concatenate((temperatures_c, [freezer_c])))
    shares = np.stack((np.zeros_like(mass_g), scooping_frozen_pct(row, overrun_pct, scoop_firmness)), axis=-1)
    marks_c = temperature_at_frozen_c(in_water.spread(), shares)
    density = density_kg_l(row)
    return Analysis(
        row=row,
        fat=fat(row),
        msnf=msnf(row),
        sugars=sugars(row),
        total_solids=total_solids(row),
        sweetness_pod=sweetness_pod(row),
        freezing_power_pac=freezing_power_pac(row),
        freezing_power_per_100g_water=freezing_power_per_100g_water(row),
        initial_c=marks_c[..., 0],
        scoop_c=marks_c[..., 1],
        frozen_pct=curve[..., :-1],
        firmness=firmness(row, curve[..., -1], overrun_pct),
        density_kg_l=density,
        volume_l=output_volume_l(mass_g, density, overrun_pct),
    )


def analyse_mix(mix: Mix, temperatures_c: FloatArray = WHOLE_DEGREES_C, freezer_c: float = HOME_FREEZER_C) -> Analysis:
    """Analyse one mix; every field is a number or, for the curve, shape (temperatures,)."""
    mass_g, overrun_pct = np.array(mix.mass_g), np.array(mix.overrun_used_pct)
    return analyse(mix.row(), mass_g, overrun_pct, temperatures_c, freezer_c, mix.scoop_firmness)


def number(value: FloatArray) -> float | None:
    """Return a figure as plain data, to 10 digits, None where there is none."""
    plain = float(value)
    return float(f"{plain:.10g}") + 0.0 if isfinite(plain) else None
