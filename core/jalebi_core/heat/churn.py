"""Churning: how long a machine takes to freeze a mix, how far it comes, and what cold is left."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cache
from math import exp, log, nan
from typing import Any, Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.heat.curve import curve
from jalebi_core.heat.enthalpy import Thermal
from jalebi_core.heat.ice_bath import IceBath

LEAST_FACTOR: Final = 0.4
MOST_FACTOR: Final = 2.5
_STEP_S: Final = 2.0
_DRAW_ICE_G: Final = 27.0
_SEEN_EVERY_S: Final = 30.0
_STILL_K: Final = 1e-9
"""What falls by less in a step no longer gets colder."""
_BARE: Final = 0.3
"""The share of the wall that even a nearly empty bowl wets as it turns."""
_MOST_COOLING: Final = 1.5
_REFERENCE_WALL_C: Final = -20.0


@dataclass(frozen=True, slots=True)
class Churner:
    """What decides how fast one machine freezes; what a kind has not is 0.

    ``factor`` multiplies its heat transfer and its cooling: 1 untuned, learnt from the kitchen's log.
    """

    kind: str
    bowl_l: float
    factor: float = 1.0
    area_m2: float = 0.0
    leak_w_k: float = 0.0
    u_w_m2k: float = 0.0
    wall_kj_k: float = 0.0
    dasher_w: float = 0.0
    freezer_w_k: float = 0.0
    gel_kg: float = 0.0
    gel_melts_c: float = 0.0
    gel_kj_kg: float = 0.0
    gel_c_solid: float = 0.0
    gel_c_liquid: float = 0.0
    spent_m2k_w: float = 0.0
    q_w: float = 0.0
    q_per_k: float = 0.0
    coldest_c: float = 0.0
    precool_min: float = 0.0
    draw_ice_g: float = _DRAW_ICE_G
    max_min: float = 90.0


@cache
def _kinds() -> dict[str, Any]:
    return read_toml("churners.toml")


def churner_kinds() -> tuple[str, ...]:
    """Return the kinds of machines that freeze as they stir."""
    return tuple(_kinds())


def constants_of(kind: str) -> tuple[str, ...]:
    """Return the constants that a kind of machine has, as `Churner` names them."""
    of = _kinds()[kind]
    return (*of["surface"], *of["volume"], *of["fixed"])


def churner(kind: str, bowl_l: float | None = None, **own: float) -> Churner:
    """Return a machine of a kind, with constants of its own for the whole machine in the place of the usual ones."""
    fields = _kinds()[kind]
    litres = float(fields["bowl_l"] if bowl_l is None else bowl_l)
    usual = {
        **{key: float(each) * litres ** (2 / 3) for key, each in fields["surface"].items()},
        **{key: float(each) * litres for key, each in fields["volume"].items()},
        **{key: float(value) for key, value in fields["fixed"].items()},
        "draw_ice_g": float(fields.get("draw_ice_g", _DRAW_ICE_G)),
        "max_min": float(fields["max_min"]),
    }
    return Churner(kind, litres, **{**usual, **own})


@dataclass(frozen=True, slots=True)
class Conditions:
    """How a run begins.

    start_c, room_c, freezer_c : of the mix, the room, and the freezer in which a canister was frozen
    prefreeze_h : how long the canister was in there, from room temperature
    gel_frozen_pct : how much of its gel is frozen, in the place of that; 100 is at the freezer's temperature
    bath : the ice and salt around a bucket or a bag
    draw_c : to draw at a temperature instead of at an amount of ice
    """

    start_c: float = 4.0
    room_c: float = 20.0
    freezer_c: float = -18.0
    prefreeze_h: float = 24.0
    gel_frozen_pct: float | None = None
    bath: IceBath | None = None
    draw_c: float | None = None


@dataclass(frozen=True, slots=True)
class Churned:
    """A run: whether it is drawn or stalls, and how it stands then.

    minutes : until drawn, or until it gets no colder
    t_c, ice_g, frozen_pct : of the mix then; ice in g per 100 g of mix and in % of all its water
    wall_c : of the wall, or the bath
    begins_frozen_pct, left_frozen_pct : how much of a canister's gel is frozen before and after; NaN for others
    seen : (minute, °C of the mix, °C of the wall, % frozen) every half minute
    given_kj, taken_kj, brought_kj : heat given off by the mix, taken up by wall, gel or bath and compressor, and
        brought in by the dasher and the room; the first and the last add up to the second
    """

    drawn: bool
    minutes: float
    t_c: float
    ice_g: float
    frozen_pct: float
    wall_c: float
    begins_frozen_pct: float
    left_frozen_pct: float
    seen: tuple[tuple[float, float, float, float], ...]
    given_kj: float
    taken_kj: float
    brought_kj: float


class _Gel:
    """The wall of a canister: gel that melts at one temperature, its heat counted from frozen at that."""

    def __init__(self, machine: Churner) -> None:
        self.machine = machine
        self.melting_kj = machine.gel_kg * machine.gel_kj_kg
        self._solid = machine.gel_kg * machine.gel_c_solid + machine.wall_kj_k
        self._liquid = machine.gel_kg * machine.gel_c_liquid + machine.wall_kj_k

    def wall_c(self, kj: float) -> float:
        beyond = kj / self._solid if kj < 0 else max(0.0, kj - self.melting_kj) / self._liquid
        return self.machine.gel_melts_c + beyond

    def kj_at(self, celsius: float) -> float:
        above = celsius - self.machine.gel_melts_c
        return above * self._solid if above < 0 else self.melting_kj + above * self._liquid

    def frozen_pct(self, kj: float) -> float:
        return 100 * (1 - self._melted(kj))

    def resistance(self, kj: float) -> float:
        """Return what molten gel adds to the way of the heat, m²K/W."""
        return self._melted(kj) * self.machine.spent_m2k_w

    def cooling_w(self, _wall_c: float) -> float:
        return 0.0

    def _melted(self, kj: float) -> float:
        return min(1.0, max(0.0, kj / self.melting_kj))

    def begins(self, conditions: Conditions) -> float:
        """Return its heat as the run begins."""
        if conditions.gel_frozen_pct is not None and conditions.gel_frozen_pct < 100:
            return self.melting_kj * (1 - conditions.gel_frozen_pct / 100)
        if conditions.gel_frozen_pct is not None:
            return min(0.0, self.kj_at(conditions.freezer_c))
        return self._frozen_for(conditions)

    def _frozen_for(self, conditions: Conditions) -> float:
        """Return its heat after hours in the freezer: cooling down to the melting point, freezing, cooling on."""
        melts, air, to_air = self.machine.gel_melts_c, conditions.freezer_c, self.machine.freezer_w_k / 1000
        left = 3600 * conditions.prefreeze_h
        if air >= conditions.room_c:
            return self.kj_at(conditions.room_c)
        lag = self._liquid / to_air
        to_freezing = lag * log((conditions.room_c - air) / (melts - air)) if air < melts else left
        if left <= to_freezing:
            return self.kj_at(air + (conditions.room_c - air) * exp(-left / lag))
        left -= to_freezing
        freezing = self.melting_kj / (to_air * (melts - air))
        if left <= freezing:
            return self.melting_kj * (1 - left / freezing)
        return self.kj_at(air + (melts - air) * exp(-(left - freezing) * to_air / self._solid))


class _Compressor:
    """A wall that a compressor cools; its heat is counted from 0 °C."""

    def __init__(self, machine: Churner) -> None:
        self.machine = machine

    def wall_c(self, kj: float) -> float:
        return kj / self.machine.wall_kj_k

    def frozen_pct(self, _kj: float) -> float:
        return nan

    def resistance(self, _kj: float) -> float:
        return 0.0

    def cooling_w(self, wall_c: float) -> float:
        of = self.machine
        if wall_c <= of.coldest_c:
            return 0.0
        share = 1 + of.q_per_k * (wall_c - _REFERENCE_WALL_C)
        return of.factor * of.q_w * min(max(share, 0.0), _MOST_COOLING)

    def begins(self, conditions: Conditions) -> float:
        """Return its heat after running empty for as long as it is cooled down before."""
        kj = self.machine.wall_kj_k * conditions.room_c
        for _ in range(round(60 * self.machine.precool_min / _STEP_S)):
            wall = self.wall_c(kj)
            kj += _STEP_S * (self.machine.leak_w_k * (conditions.room_c - wall) - self.cooling_w(wall)) / 1000
        return kj


class _Bath:
    """A wall that is ice and salt; its heat is that of the bath."""

    def __init__(self, bath: IceBath) -> None:
        self.bath = bath
        self.wall_c = curve(*bath.warming())

    def frozen_pct(self, _kj: float) -> float:
        return nan

    def resistance(self, _kj: float) -> float:
        return 0.0

    def cooling_w(self, _wall_c: float) -> float:
        return 0.0

    def begins(self, _conditions: Conditions) -> float:
        return self.bath.enthalpy_kj


def _wall_of(machine: Churner, conditions: Conditions) -> _Gel | _Compressor | _Bath:
    if machine.gel_kg > 0:
        return _Gel(machine)
    if machine.q_w > 0:
        return _Compressor(machine)
    return _Bath(conditions.bath or IceBath.of(1000.0))


def gel_frozen_pct(machine: Churner, conditions: Conditions) -> float:
    """Return how much of a canister's gel is frozen as a run begins, %; NaN for other kinds."""
    wall = _wall_of(machine, conditions)
    return wall.frozen_pct(wall.begins(conditions))


def fill_of(mix: Thermal, mass_g: float, machine: Churner) -> float:
    """Return the share of the bowl that a mass of the mix takes up with its air; above 1 it does not fit."""
    return mass_g / mix.density_kg_m3 / machine.bowl_l


def churn(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Churned:
    """Return how a mass of a mix freezes in a machine, by the midpoint rule in steps of 2 s.

    m·dh/dt = P − U·A·(T − wall), the wall taking up what the mix gives off. It is drawn at an amount of ice, which is
    what stiffens it, or at a temperature; it stalls when neither it nor the wall gets colder, or at ``max_min``.
    """
    kg, wall = mass_g / 1000, _wall_of(machine, conditions)
    area = machine.area_m2 * (_BARE + (1 - _BARE) * min(1.0, fill_of(mix, mass_g, machine)))
    one_over_u = 1 / (machine.factor * machine.u_w_m2k)
    celsius_at, wall_c_at = curve(mix.h_kj_kg, mix.t_c), wall.wall_c

    def flows(h: float, kj: float) -> tuple[float, float, float]:
        """Return kW out of the mix to the wall, in from the room, and out to the compressor."""
        celsius, wall_c = celsius_at(h), wall_c_at(kj)
        through = area / (one_over_u + wall.resistance(kj)) * (celsius - wall_c)
        leak = machine.leak_w_k * (conditions.room_c - wall_c)
        return through / 1000, leak / 1000, wall.cooling_w(wall_c) / 1000

    ready = _readiness(mix, machine, conditions)
    dasher = machine.dasher_w / 1000
    h, kj = float(mix.h_at(np.array(conditions.start_c))), wall.begins(conditions)
    begun_h, begun_pct = h, wall.frozen_pct(kj)
    seconds, taken, brought = 0.0, 0.0, 0.0
    seen = [_seen(mix, 0.0, h, wall_c_at(kj))]
    drawn, before = ready(h) <= 0, ready(h)
    while not drawn and seconds < 60 * machine.max_min:
        through, leak, cooled = flows(h, kj)
        half = _STEP_S / 2
        through, leak, cooled = flows(h + half * (dasher - through) / kg, kj + half * (through + leak - cooled))
        gain, warming = (dasher - through) / kg, through + leak - cooled
        if gain >= -_STILL_K and wall_c_at(kj + _STEP_S * warming) >= wall_c_at(kj) - _STILL_K:
            break
        now = ready(h + _STEP_S * gain)
        drawn = now <= 0
        step = _STEP_S * (before / (before - now) if drawn else 1.0)
        h, kj, seconds, before = h + step * gain, kj + step * warming, seconds + step, now
        taken, brought = taken + step * (through + leak), brought + step * (dasher + leak)
        if drawn or seconds % _SEEN_EVERY_S < _STEP_S:
            seen.append(_seen(mix, seconds / 60, h, wall_c_at(kj)))
    celsius = celsius_at(h)
    return Churned(
        drawn=drawn,
        minutes=seconds / 60,
        t_c=celsius,
        ice_g=float(np.interp(celsius, mix.t_c, mix.ice_g)),
        frozen_pct=float(np.interp(celsius, mix.t_c, mix.frozen_pct)),
        wall_c=wall_c_at(kj),
        begins_frozen_pct=begun_pct,
        left_frozen_pct=wall.frozen_pct(kj),
        seen=tuple(seen),
        given_kj=kg * (begun_h - h),
        taken_kj=taken,
        brought_kj=brought,
    )


def _readiness(mix: Thermal, machine: Churner, conditions: Conditions) -> Callable[[float], float]:
    """Return what says of an enthalpy how far the mix is from being drawn: falling, 0 or less when it is ready."""
    if conditions.draw_c is not None:
        aim = float(np.interp(conditions.draw_c, mix.t_c, mix.h_kj_kg))
        return lambda h: h - aim
    ice_at = curve(mix.h_kj_kg, mix.ice_g)
    return lambda h: machine.draw_ice_g - ice_at(h)


def _seen(mix: Thermal, minute: float, h: float, wall_c: float) -> tuple[float, float, float, float]:
    celsius = float(np.interp(h, mix.h_kj_kg, mix.t_c))
    return minute, celsius, wall_c, float(np.interp(celsius, mix.t_c, mix.frozen_pct))


def factor_from(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions, minutes: float) -> float:
    """Return the factor with which the machine takes the minutes that were logged, 0.4 to 2.5."""
    from scipy.optimize import brentq

    def late(factor: float) -> float:
        found = churn(mix, mass_g, replace(machine, factor=factor, max_min=2 * minutes), conditions)
        return (found.minutes if found.drawn else 2 * minutes) - minutes

    if late(MOST_FACTOR) > 0:
        return MOST_FACTOR
    if late(LEAST_FACTOR) < 0:
        return LEAST_FACTOR
    return float(brentq(late, LEAST_FACTOR, MOST_FACTOR, xtol=0.005))
