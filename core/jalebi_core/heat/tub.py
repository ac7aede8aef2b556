"""A tub or a dish over time: hardening in a freezer, tempering on the counter, ripening in the bucket."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import pi
from typing import Final

import numpy as np

from jalebi_core.heat.conduction import Cylinder, Faces, Material, Moment, Wall
from jalebi_core.heat.curve import curve
from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import HeatError
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import firmness

HARD_C: Final = -15.0
"""How cold the middle of a tub must be before it counts as hardened."""
RIM_MM: Final = 3.0
SCOOPS_FROM: Final = 67.0
SCOOPS_TO: Final = 73.0
RIM_SOFT_BELOW: Final = 55.0
RIM_MELTS_BELOW: Final = 40.0
UNDER_LID_M2K_W: Final = 0.12
"""The still air between a filling and its lid."""
_OPEN_W_M2K: Final = 12.0
"""Of an open surface in a room, with the dew that settles on it."""


@dataclass(frozen=True, slots=True)
class WallKind:
    """What a wall is made of: its resistance, m²K/W, and the heat that a kg of it takes up, kJ/kg K."""

    name: str
    resistance: float
    kj_kgk: float


WALLS: Final[Mapping[str, WallKind]] = {
    "plastic": WallKind("plastic", 0.006, 1.9),
    "paper": WallKind("paper", 0.010, 1.4),
    "steel": WallKind("steel", 0.0, 0.50),
    "glass": WallKind("glass", 0.006, 0.84),
}


@dataclass(frozen=True, slots=True)
class Place:
    """Where a tub stands: the air's °C and its heat transfer, W/m²K."""

    name: str
    air_c: float
    h_w_m2k: float


PLACES: Final[Mapping[str, Place]] = {
    "still-freezer": Place("in a still freezer", -18.0, 8.0),
    "fan-freezer": Place("in a freezer with a fan", -20.0, 20.0),
    "blast": Place("in a blast chiller", -30.0, 35.0),
    "cabinet": Place("in the cabinet", -14.0, 8.0),
    "fridge": Place("in the fridge", 4.0, 8.0),
    "room": Place("on the counter", 20.0, 12.0),
    "brine": Place("in the bucket", -12.0, 350.0),
    "ice-bath": Place("in ice water", 0.0, 350.0),
}


@dataclass(frozen=True, slots=True)
class Vessel:
    """A tub or a dish: the radius and height of its filling in mm, its wall and whether it has a lid.

    wall_kg, wall_kj_kgk, wall_start_c : a wall whose mass counts, and how warm it is at first; 0 kg where it does not
    """

    radius_mm: float
    height_mm: float
    wall: str = "plastic"
    lid: bool = True
    wall_kg: float = 0.0
    wall_kj_kgk: float | None = None
    wall_start_c: float | None = None

    @property
    def litres(self) -> float:
        """Return what the filling takes up, L."""
        return pi * self.radius_mm**2 * self.height_mm / 1e6

    def faces(self, h_w_m2k: float) -> Faces:
        """Return its resistances in air of such a heat transfer; little passes through what it stands on."""
        through = WALLS[self.wall].resistance
        top = 1 / h_w_m2k + through + UNDER_LID_M2K_W if self.lid else 1 / h_w_m2k
        return Faces(top, 1 / h_w_m2k + through, 2 / h_w_m2k + through)


def vessel(
    shape: str,
    height_mm: float,
    diameter_mm: float | None = None,
    length_mm: float | None = None,
    width_mm: float | None = None,
    wall: str = "plastic",
    lid: bool = True,
    wall_kg: float = 0.0,
    wall_kj_kgk: float | None = None,
    wall_start_c: float | None = None,
) -> Vessel:
    """Return a cylinder or a box as what it conducts like; raises HeatError naming the size that is missing.

    The cylinder that stands for a box holds less than the box, and as much less of its wall.
    """
    sizes = {"length_mm": length_mm, "width_mm": width_mm} if shape == "box" else {"diameter_mm": diameter_mm}
    missing = [key for key, size in sizes.items() if not size]
    if missing:
        raise HeatError("ask-key-missing", key=missing[0])
    radius_mm = (diameter_mm or 0.0) / 2
    if shape == "box" and length_mm and width_mm:
        radius_mm = box_radius_mm(length_mm, width_mm)
        wall_kg *= pi * radius_mm**2 / (length_mm * width_mm)
    return Vessel(radius_mm, height_mm, wall, lid, wall_kg, wall_kj_kgk, wall_start_c)


def box_radius_mm(length_mm: float, width_mm: float) -> float:
    """Return the radius of a cylinder with as much side to its filling as a box; its core is right within 8 %."""
    return length_mm * width_mm / (length_mm + width_mm)


_USUAL_TUB: Final = Vessel(55.0, 85.0)
_TEMPERED_WITHIN_H: Final = 3.0


@dataclass(frozen=True, slots=True)
class Filling:
    """What is in a tub: its thermal table, and its firmness at the temperatures of that table, shape (nodes,)."""

    mix: Thermal
    firmness: FloatArray

    def firmness_at(self, celsius: FloatArray) -> FloatArray:
        """Return the firmness at temperatures, of their shape."""
        return np.interp(celsius, self.mix.t_c, self.firmness)


def filling_of(mix: Mix) -> Filling:
    """Return a mix as what fills a tub."""
    row, overrun_pct = mix.row(), mix.overrun_used_pct
    table = thermal(row, overrun_pct)
    return Filling(table, firmness(row, table.frozen_pct, np.array(overrun_pct)))


@dataclass(frozen=True, slots=True)
class TubRun:
    """A tub over time, arrays of shape (times,): minutes, °C and firmness of core and rim, mean firmness, % frozen.

    ``t_c`` is what its cells have in the end, for another place to go on from; the J stored are those that came in.
    """

    minutes: FloatArray
    core_c: FloatArray
    rim_c: FloatArray
    core_firmness: FloatArray
    rim_firmness: FloatArray
    mean_firmness: FloatArray
    frozen_pct: FloatArray
    rim_frozen_pct: FloatArray
    t_c: FloatArray
    stored_j: float
    came_in_j: float

    def at(self, minutes: Sequence[float], values: FloatArray) -> list[float]:
        """Return one of its arrays at other minutes."""
        found: list[float] = np.interp(minutes, self.minutes, values).tolist()
        return found

    def first(self, apart: FloatArray) -> float | None:
        """Return the minute when a figure of shape (times,) first is 0 or less; None where it never is."""
        reached = np.flatnonzero(apart <= 0)
        if not len(reached):
            return None
        at = int(reached[0])
        if at == 0:
            return 0.0
        before, now = float(apart[at - 1]), float(apart[at])
        share = before / (before - now)
        return float(self.minutes[at - 1] + share * (self.minutes[at] - self.minutes[at - 1]))

    def core_reaches(self, celsius: float) -> float | None:
        """Return when the core has a temperature, colder or warmer than it began."""
        falling = self.core_c[0] > celsius
        return self.first(self.core_c - celsius if falling else celsius - self.core_c)

    @property
    def scoops_from(self) -> float | None:
        """Return when the mean firmness is first that of a scoop."""
        outside = np.maximum(SCOOPS_FROM - self.mean_firmness, self.mean_firmness - SCOOPS_TO)
        return self.first(outside)

    @property
    def scoops_to(self) -> float | None:
        """Return when it no longer scoops, too soft on the whole or at its rim; None where that never comes."""
        begins = self.scoops_from
        if begins is None:
            return None
        later = self.minutes > begins
        soft = np.minimum(self.mean_firmness - SCOOPS_FROM, self.rim_firmness - RIM_SOFT_BELOW)
        hard = SCOOPS_TO - self.mean_firmness
        return self.first(np.where(later, np.minimum(soft, hard + 1e-9), 1.0))

    @property
    def rim_soft(self) -> float | None:
        """Return when its rim is soft-serve."""
        return self.first(self.rim_firmness - RIM_SOFT_BELOW)

    @property
    def rim_melts(self) -> float | None:
        """Return when its rim melts."""
        return self.first(self.rim_firmness - RIM_MELTS_BELOW)


def follow(
    filling: Filling,
    vessel: Vessel,
    place: Place,
    start_c: float | FloatArray,
    hours: float,
    faces: Faces | None = None,
    bath: IceBath | None = None,
    layers: int = 10,
    rings: int = 8,
    until_c: float | None = None,
) -> TubRun:
    """Return a tub in a place over hours, or until all of it is colder than ``until_c``.

    Parameters
    ----------
    start_c : of the filling, or what its cells had at the end of an earlier run, shape (layers, rings)
    faces : resistances in the place of those of vessel and place
    bath : ice and salt around it, which warms as it takes up heat, in the place of the place's temperature
    """
    mix = filling.mix
    material = Material(mix.t_c, 1000 * mix.density_kg_m3 * mix.h_kj_kg, mix.k_w_mk)
    cylinder = Cylinder(
        material,
        vessel.radius_mm / 1000,
        vessel.height_mm / 1000,
        faces or vessel.faces(place.h_w_m2k),
        _wall(vessel, start_c),
        layers,
        rings,
    )
    moments = cylinder.moments(start_c, _around(place, bath), 3600 * hours)
    return _run(filling, cylinder, list(moments if until_c is None else _until(until_c, moments)))


def _until(celsius: float, moments: Iterator[Moment]) -> Iterator[Moment]:
    """Yield moments, the last of them the first at which no cell is warmer."""
    for moment in moments:
        yield moment
        if float(moment.t_c.max()) < celsius:
            return


def tempering_min(mix: Mix, from_c: float, place: str = "room") -> tuple[float, float] | None:
    """Return from when to when a tub of 0.8 L scoops in a place, in minutes; None where it does not."""
    run = follow(filling_of(mix), _USUAL_TUB, PLACES[place], from_c, _TEMPERED_WITHIN_H)
    begins, ends = run.scoops_from, run.scoops_to
    return None if not begins or ends is None else (begins, ends)


def emptied(filling: Filling, vessel: Vessel, start_c: float, minutes: float, room_c: float) -> float:
    """Return the °C of a mix that has stood for minutes in the open bowl, all of it stirred in from there."""
    mix = filling.mix
    area = pi * (vessel.radius_mm / 1000) ** 2
    kg = mix.density_kg_m3 * vessel.litres / 1000
    h, seconds = float(mix.h_at(np.array(start_c))), 10.0
    for _ in range(round(60 * minutes / seconds)):
        h += seconds * _OPEN_W_M2K * area * (room_c - float(mix.t_at(np.array(h)))) / kg / 1000
    return float(mix.t_at(np.array(h)))


def wall_melts_pct(filling: Filling, vessel: Vessel, start_c: float) -> float:
    """Return the % of a filling's ice that a warmer wall melts as it cools to it; below 0 a colder one freezes more."""
    if vessel.wall_kg <= 0 or vessel.wall_start_c is None:
        return 0.0
    mix = filling.mix
    kg = mix.density_kg_m3 * vessel.litres / 1000
    kj = vessel.wall_kg * _kj_kgk(vessel) * (vessel.wall_start_c - start_c)
    before = float(np.interp(start_c, mix.t_c, mix.ice_g))
    after = float(np.interp(float(mix.h_at(np.array(start_c))) + kj / kg, mix.h_kj_kg, mix.ice_g))
    return 100 * (1 - after / before) if before > 0 else 0.0


def _kj_kgk(vessel: Vessel) -> float:
    return WALLS[vessel.wall].kj_kgk if vessel.wall_kj_kgk is None else vessel.wall_kj_kgk


def _wall(vessel: Vessel, start_c: float | FloatArray) -> Wall | None:
    if vessel.wall_kg <= 0:
        return None
    usual = float(np.mean(start_c))
    return Wall(vessel.wall_kg * _kj_kgk(vessel), usual if vessel.wall_start_c is None else vessel.wall_start_c)


def _around(place: Place, bath: IceBath | None) -> Callable[[float], float]:
    """Return what surrounds a tub, °C by the J that it has taken from there."""
    if bath is None:
        return lambda _: place.air_c
    celsius_at = curve(*bath.warming())
    return lambda came_in: celsius_at(bath.enthalpy_kj - came_in / 1000)


def _run(filling: Filling, cylinder: Cylinder, moments: Sequence[Moment]) -> TubRun:
    cells = np.array([moment.t_c for moment in moments])
    middle = cells.shape[1] // 2
    level = (cells[:, middle - 1] + cells[:, middle]) / 2 if cells.shape[1] % 2 == 0 else cells[:, middle]
    first, second = cylinder.r_m[:2] ** 2
    core = level[:, 0] - (level[:, 1] - level[:, 0]) * first / (second - first)
    rim_at = cylinder.radius_m - RIM_MM / 1000
    rim = _between(cylinder.r_m, level, max(rim_at, 0.0))
    share = cylinder.volume_m3 / cylinder.volume_m3.sum()
    mix = filling.mix
    return TubRun(
        minutes=np.array([moment.seconds / 60 for moment in moments]),
        core_c=core,
        rim_c=rim,
        core_firmness=filling.firmness_at(core),
        rim_firmness=filling.firmness_at(rim),
        mean_firmness=(filling.firmness_at(cells) * share).sum(axis=(1, 2)),
        frozen_pct=(mix.frozen_at(cells) * share).sum(axis=(1, 2)),
        rim_frozen_pct=mix.frozen_at(rim),
        t_c=cells[-1],
        stored_j=moments[-1].stored_j,
        came_in_j=moments[-1].came_in_j,
    )


def _between(places: FloatArray, values: FloatArray, at: float) -> FloatArray:
    """Return values of shape (times, places) at a place, along the line through the two nearest to it."""
    right = int(np.clip(np.searchsorted(places, at), 1, len(places) - 1))
    share = (at - places[right - 1]) / (places[right] - places[right - 1])
    found: FloatArray = values[:, right - 1] + share * (values[:, right] - values[:, right - 1])
    return found
