"""A stirred pot: how long it takes to cool, whether it cools safely, and what a hold at heat is worth."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import exp, log, pi
from typing import Final

import numpy as np

from jalebi_core.heat.curve import curve
from jalebi_core.heat.enthalpy import Thermal
from jalebi_core.heat.ice_bath import IceBath

FIRST_STAGE_MIN: Final = 120.0
"""From 57 to 21 °C; this and the next as food codes have them."""
SECOND_STAGE_MIN: Final = 240.0
"""From 21 on to 5 °C."""
STAGES_C: Final = (57.0, 21.0, 5.0)
POTS: Final[Mapping[str, tuple[float, float]]] = {
    "fridge": (10.0, 4.0),
    "room": (12.0, 20.0),
    "ice-bath": (350.0, 0.0),
    "salt-bath": (350.0, -12.0),
}
"""Heat transfer, W/m²K, and °C of where a pot may cool, stirred."""
_BATHS: Final = ("ice-bath", "salt-bath")
_STILL_BATH_W_M2K: Final = 120.0
_STIRS_FOR_MIN: Final = 0.5
COOK_STIRS_EVERY_MIN: Final = 3.0
"""What a cook really does who has other work."""
_MOST_MOVED_K: Final = 0.25
_LONGEST_STEP_S: Final = 120.0
_LONGEST_S: Final = 72 * 3600.0
_MOST_OF_LAG: Final = 0.1
"""Of the time in which the mix would come near its surroundings: so that a spent bath is not overrun."""
_STANDS_STILL: Final = 1e-7
_CREDIT_STEP_K: Final = 0.05

HOLDS: Final[Mapping[str, tuple[tuple[float, float], ...]]] = {
    "us": ((69.0, 1800.0), (80.0, 25.0), (83.0, 15.0)),
    "uk": ((65.6, 1800.0), (71.1, 600.0), (79.4, 15.0)),
}
"""Pairs of °C and seconds that pasteurise a mix, as published."""


def required_s(region: str, celsius: float) -> float | None:
    """Return the seconds at a temperature that pasteurise a mix; None below the coldest published pair.

    Log-linear between the published pairs, and no shorter above the hottest.
    """
    pairs = HOLDS[region]
    if celsius < pairs[0][0]:
        return None
    at, seconds = zip(*pairs, strict=True)
    return exp(float(np.interp(celsius, at, [log(one) for one in seconds])))


def credit(record: Sequence[tuple[float, float]], region: str) -> float:
    """Return what a record of (minute, °C) is worth: ∫ dt / required, 1 is done; straight between its points."""
    worth = 0.0
    for (begins, from_c), (ends, to_c) in pairwise(record):
        parts = max(1, int(abs(to_c - from_c) / _CREDIT_STEP_K) + 1)
        seconds = 60 * (ends - begins) / parts
        for part in range(parts):
            required = required_s(region, from_c + (to_c - from_c) * (part + 0.5) / parts)
            worth += seconds / required if required else 0.0
    return worth


@dataclass(frozen=True, slots=True)
class Cooling:
    """A pot as it cools.

    start_c : after mixing in what was held back cold
    reached_min : minutes to 57, 21 and 5 °C; 0 where it begins colder, None where it never gets there
    seen : (minute, °C), from the start on
    bath_c : what the bath around it has in the end; None without one
    given_kj, taken_kj : heat given off by the mix, and taken up by what surrounds it
    """

    start_c: float
    reached_min: tuple[float | None, float | None, float | None]
    seen: tuple[tuple[float, float], ...]
    bath_c: float | None
    given_kj: float
    taken_kj: float

    @property
    def coldest_c(self) -> float:
        """Return the coldest that it gets."""
        return min(celsius for _, celsius in self.seen)

    @property
    def two_stage_ok(self) -> bool:
        """Return whether it passes from 57 to 21 °C within two hours and to 5 °C within four more."""
        hot, warm, cold = self.reached_min
        if hot is None or warm is None or cold is None:
            return False
        return warm - hot <= FIRST_STAGE_MIN and cold - warm <= SECOND_STAGE_MIN


def surface_m2(mix: Thermal, mass_g: float, diameter_mm: float, open_top: bool) -> float:
    """Return the surface that a mass of mix, without air, has in a pot: side and bottom, and its top where open."""
    radius = diameter_mm / 2000
    bottom = pi * radius**2
    height = mass_g / 1000 / mix.density_kg_m3 / bottom
    return 2 * pi * radius * height + bottom * (2 if open_top else 1)


def mixed_c(mix: Thermal, parts: Sequence[tuple[float, float]]) -> float:
    """Return the °C of parts of one mix put together, each (g, °C): their heat is shared."""
    grams = sum(mass for mass, _ in parts)
    heat = sum(mass * float(mix.h_at(np.array(celsius))) for mass, celsius in parts)
    return float(mix.t_at(np.array(heat / grams)))


def cool(mix: Thermal, mass_g: float, start_c: float, conductance_w_k: float, around: float | IceBath) -> Cooling:
    """Return how a stirred mass cools: m·dh/dt = −UA·(T − surroundings), by the midpoint rule.

    Parameters
    ----------
    conductance_w_k : heat transfer times surface
    around : °C of the surroundings, or a bath that warms as it takes up the heat
    """
    kg = mass_g / 1000
    bath_c = _bath_c(around)
    h = float(mix.h_at(np.array(start_c)))
    begun, taken, seconds = h, 0.0, 0.0
    celsius, seen = start_c, [(0.0, start_c)]
    celsius_at, heat_at = curve(mix.h_kj_kg, mix.t_c), curve(mix.t_c, mix.h_kj_kg)
    while seconds < _LONGEST_S and celsius > STAGES_C[-1]:
        watts = conductance_w_k * (celsius - bath_c(taken))
        rate = watts / 1000 / kg
        if rate <= _STANDS_STILL:
            break
        heat = 2 * (heat_at(celsius) - heat_at(celsius - 0.5))
        step = min(_LONGEST_STEP_S, _MOST_MOVED_K * heat / rate, _MOST_OF_LAG * 1000 * kg * heat / conductance_w_k)
        half = celsius_at(h - step / 2 * rate)
        kj = step * conductance_w_k * (half - bath_c(taken + step / 2 * watts / 1000)) / 1000
        h, taken, seconds = h - kj / kg, taken + kj, seconds + step
        celsius = celsius_at(h)
        seen.append((seconds / 60, celsius))
    reached = tuple(_minute(seen, stage) for stage in STAGES_C)
    return Cooling(
        start_c=start_c,
        reached_min=(reached[0], reached[1], reached[2]),
        seen=tuple(seen),
        bath_c=bath_c(taken) if isinstance(around, IceBath) else None,
        given_kj=kg * (begun - h),
        taken_kj=taken,
    )


def conductance_w_k(
    mix: Thermal,
    mass_g: float,
    place: str,
    diameter_mm: float = 220.0,
    stirred: bool = True,
    stir_every_min: float | None = None,
) -> float:
    """Return heat transfer times surface of a pot in one of `POTS`; a bath that nobody stirs takes up less.

    Parameters
    ----------
    stir_every_min : a cook stirs half a minute that often, and lets it stand between; None for all the time or never
    """
    bath = place in _BATHS
    u = POTS[place][0] if stirred or not bath else _STILL_BATH_W_M2K
    if bath and stirred and stir_every_min is not None:
        u = _STILL_BATH_W_M2K + (u - _STILL_BATH_W_M2K) * min(_STIRS_FOR_MIN / stir_every_min, 1.0)
    return u * surface_m2(mix, mass_g, diameter_mm, open_top=not bath)


def _bath_c(around: float | IceBath) -> Callable[[float], float]:
    """Return the °C of the surroundings by the kJ that they have taken up."""
    if not isinstance(around, IceBath):
        return lambda _: around
    celsius_at, begun = curve(*around.warming()), around.enthalpy_kj
    return lambda taken: celsius_at(begun + taken)


def _minute(seen: Sequence[tuple[float, float]], stage_c: float) -> float | None:
    if seen[0][1] <= stage_c:
        return 0.0
    for (before, warm), (now, cold) in pairwise(seen):
        if cold <= stage_c:
            return before + (warm - stage_c) / (warm - cold) * (now - before)
    return None
