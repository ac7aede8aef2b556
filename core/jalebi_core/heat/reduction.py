"""Boiling down: when it boils, how long until it weighs what it shall, and where to watch it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil, pi
from typing import Final

import numpy as np

from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.errors import HeatError
from jalebi_core.physics.boiling import boiling_c, water_left_at
from jalebi_core.physics.density import density_kg_l

HOBS: Final[Mapping[str, float]] = {"gas": 0.40, "electric": 0.65, "induction": 0.80, "microwave": 0.90}
"""The share of its watts that gets into the pot; working conventions, put right by one logged reduction."""
_EVAPORATION_KJ_KG: Final = 2257.0
_WATCH_FROM: Final = 1.25
"""It is watched from so many times what it shall weigh."""
_SCORCHES_OVER_SOLIDS_PCT: Final = 60.0
_SCORCHES_UNDER_MM: Final = 5.0
_LONGEST_INTERVAL_S: Final = 180.0
_SHORTEST_INTERVAL_S: Final = 20.0
_INTERVAL_SHARE: Final = 0.5
_WATER: Final = INDEX["water"]


@dataclass(frozen=True, slots=True)
class Reduction:
    """A pot that is boiled down.

    to_g : what is left, g; end_solids_pct : everything but water in it, %
    boil_after_min, watch_from_min, minutes : until it boils, until it is to be watched, until it is done
    g_per_min : what boils away, and ``lost_pct_per_min`` the same in % of what is left at the end
    boils_at_c, ends_at_c : at first, and in the end
    depth_from_mm, depth_to_mm : in the pot; None where its diameter is not known
    scorches : whether it is likely to catch at the bottom towards the end
    """

    to_g: float
    end_solids_pct: float
    boil_after_min: float
    watch_from_min: float
    minutes: float
    g_per_min: float
    lost_pct_per_min: float
    boils_at_c: float
    ends_at_c: float
    depth_from_mm: float | None
    depth_to_mm: float | None
    scorches: bool


def mass_boiling_at(row: FloatArray, mass_g: float, celsius: float) -> float | None:
    """Return the g left of a mass when it boils at a temperature; None where it never does or is past it."""
    left = water_left_at(row, celsius)
    return None if left is None else mass_g * (100 - float(row[_WATER]) + left) / 100


def mass_at_depth(row: FloatArray, mass_g: float, depth_mm: float, diameter_mm: float) -> float | None:
    """Return the g of a mass that are left when it stands at a depth in a pot; None where it stands lower already."""
    least = mass_g * (100 - float(row[_WATER])) / 100
    low, high = least, mass_g
    if not _depth_mm(row, mass_g, low, diameter_mm) <= depth_mm <= _depth_mm(row, mass_g, high, diameter_mm):
        return None
    for _ in range(60):
        middle = (low + high) / 2
        deep = _depth_mm(row, mass_g, middle, diameter_mm) > depth_mm
        low, high = (low, middle) if deep else (middle, high)
    return (low + high) / 2


def target_g(
    row: FloatArray,
    mass_g: float,
    to_g: float | None = None,
    to_c: float | None = None,
    to_depth_mm: float | None = None,
    diameter_mm: float | None = None,
) -> float:
    """Return what a mass shall weigh in the end, by one of its mass, its boiling point and its depth in a pot.

    Raises HeatError where none or several are said, and for what it never comes to.
    """
    if sum(one is not None for one in (to_g, to_c, to_depth_mm)) != 1:
        raise HeatError("reduce-one-target")
    if to_c is not None:
        to_g = mass_boiling_at(row, mass_g, to_c)
        if to_g is None:
            raise HeatError("reduce-never-boils-at", to_c=to_c)
    elif to_depth_mm is not None:
        if diameter_mm is None:
            raise HeatError("ask-key-missing", key="diameter_mm")
        to_g = mass_at_depth(row, mass_g, to_depth_mm, diameter_mm)
        if to_g is None:
            raise HeatError("reduce-never-so-deep", depth_mm=to_depth_mm)
    assert to_g is not None
    if to_g > mass_g:
        raise HeatError("reduce-above-start", to_g=to_g, mass_g=mass_g)
    if to_g <= solids_g(row, mass_g):
        raise HeatError("reduce-below-solids", to_g=to_g, solids_g=solids_g(row, mass_g))
    return to_g


def solids_g(row: FloatArray, mass_g: float) -> float:
    """Return what of a mass is not water: less than that it never weighs."""
    return mass_g * (100 - float(row[_WATER])) / 100


def reduce(
    row: FloatArray, mass_g: float, to_g: float, start_c: float, watts: float, diameter_mm: float | None = None
) -> Reduction:
    """Return how a mass of a row, without air, is boiled down to another.

    s = (m₀·(h(boil) − h(start)) + (m₀ − m₁)·2257) / P. ``watts`` are those that get into the pot; ``to_g`` lies between
    the mass and its solids.
    """
    mix = thermal(row, 0.0)
    begins, left = boiling_c(row), _boiled_down(row, mass_g, to_g)
    heating_s = mass_g * max(0.0, _heat(mix, begins) - _heat(mix, start_c)) / watts
    boiling_s = (mass_g - to_g) * _EVAPORATION_KJ_KG / watts
    g_per_min = 60 * watts / _EVAPORATION_KJ_KG
    watch_g = min(_WATCH_FROM * to_g, mass_g)
    solids = 100 * solids_g(row, mass_g) / to_g
    depths = [None if diameter_mm is None else _depth_mm(row, mass_g, grams, diameter_mm) for grams in (mass_g, to_g)]
    return Reduction(
        to_g=to_g,
        end_solids_pct=solids,
        boil_after_min=heating_s / 60,
        watch_from_min=(heating_s + (mass_g - watch_g) * _EVAPORATION_KJ_KG / watts) / 60,
        minutes=(heating_s + boiling_s) / 60,
        g_per_min=g_per_min,
        lost_pct_per_min=100 * g_per_min / to_g,
        boils_at_c=begins,
        ends_at_c=boiling_c(left),
        depth_from_mm=depths[0],
        depth_to_mm=depths[1],
        scorches=solids > _SCORCHES_OVER_SOLIDS_PCT or (depths[1] is not None and depths[1] < _SCORCHES_UNDER_MM),
    )


def microwave_intervals_s(minutes: float) -> list[int]:
    """Return the intervals in a microwave, s: half of what is left each, three minutes to twenty seconds."""
    left, intervals = 60 * minutes, []
    while left > 0:
        each = min(max(_INTERVAL_SHARE * left, _SHORTEST_INTERVAL_S), _LONGEST_INTERVAL_S, left)
        intervals.append(max(1, ceil(each / 5) * 5 if each > 5 else ceil(each)))
        left -= each
    return intervals


def _boiled_down(row: FloatArray, mass_g: float, to_g: float) -> FloatArray:
    """Return the row of what is left, per 100 g of what there was."""
    left = row.copy()
    left[_WATER] = max(float(row[_WATER]) - 100 * (1 - to_g / mass_g), 0.0)
    return left


def _depth_mm(row: FloatArray, mass_g: float, left_g: float, diameter_mm: float) -> float:
    left = _boiled_down(row, mass_g, left_g)
    litres = left_g / 1000 / float(density_kg_l(left * (mass_g / left_g)))
    return 1e6 * litres / (pi * (diameter_mm / 2) ** 2)


def _heat(mix: Thermal, celsius: float) -> float:
    return float(mix.h_at(np.array(celsius)))
