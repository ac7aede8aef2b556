"""Conduction in a cylinder that freezes or thaws: finite volumes in enthalpy, energy kept exactly."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from math import pi
from typing import Final

import numpy as np

from jalebi_core.model.components import FloatArray

_FIRST_STEP_S: Final = 2.0
_LONGEST_STEP_S: Final = 900.0
_GROWTH: Final = 1.5
_MOST_MOVED_K: Final = 2.0
_GAMMA: Final = 1 - 0.5**0.5
"""With it the method damps what is fast, as the implicit step of the first order does."""
_TOO_FAR: Final = 2.0
"""A step that moves a cell by so many times as much as it may is taken again, shorter."""
_SHORTEST_STEP_S: Final = 0.5
_BENT_K: Final = 0.5
_SETTLED_K: Final = 0.1
_OVERSHOT_K: Final = 0.02
_MOST_ROUNDS: Final = 12
_FINER: Final = 0.5
"""How much finer the cells are towards a face: they begin half as wide again as the mean, and end half as wide."""
_LEAST_K_W_MK: Final = 1e-6


class Material:
    """What conducts: heat in J/m³ and θ = ∫k dT in W/m by temperature, all rising, of shape (nodes,).

    Between two nodes temperature and θ are linear in heat, so that fluxes are differences of θ and no apparent heat
    capacity is wanted.
    """

    def __init__(self, t_c: FloatArray, h_j_m3: FloatArray, k_w_mk: FloatArray) -> None:
        theta = np.concatenate(([0.0], np.cumsum((k_w_mk[1:] + k_w_mk[:-1]) / 2 * np.diff(t_c))))
        self._t, self._h, self._theta, self._k = t_c, h_j_m3, theta, k_w_mk
        width = np.diff(h_j_m3)
        self._t_slope, self._theta_slope = np.diff(t_c) / width, np.diff(theta) / width

    def heat_at(self, celsius: FloatArray) -> FloatArray:
        """Return the heat at temperatures, J/m³."""
        return np.interp(celsius, self._t, self._h)

    def t_at(self, heat: FloatArray) -> FloatArray:
        """Return the temperature at heats, °C."""
        return np.interp(heat, self._h, self._t)

    def at(self, heat: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray, FloatArray, FloatArray]:
        """Return °C, θ, conductivity, dT/dH and dθ/dH at heats, all of their shape."""
        found = np.searchsorted(self._h, heat, side="right") - 1
        node = np.minimum(np.maximum(found, 0), len(self._t_slope) - 1)
        beyond = heat - self._h[node]
        t_slope, theta_slope = self._t_slope[node], self._theta_slope[node]
        celsius = self._t[node] + beyond * t_slope
        k = np.maximum(theta_slope / t_slope, _LEAST_K_W_MK)
        return celsius, self._theta[node] + beyond * theta_slope, k, t_slope, theta_slope


@dataclass(frozen=True, slots=True)
class Faces:
    """Resistances from the outer face of a cylinder to what surrounds it, m²K/W; infinite where no heat passes."""

    top: float
    side: float
    bottom: float


@dataclass(frozen=True, slots=True)
class Wall:
    """A wall with a mass of its own between the filling and its resistances, at the side and at the bottom.

    heat_kj_k : what it takes up for each °C in all; start_c : how warm it is at first
    """

    heat_kj_k: float
    start_c: float


@dataclass(frozen=True, slots=True)
class Moment:
    """The cylinder at one time: seconds, °C of its cells, shape (layers, rings), and J that have come in by then."""

    seconds: float
    t_c: FloatArray
    stored_j: float
    came_in_j: float


class Cylinder:
    """A cylinder of a material cut into layers and rings, the rings and layers finer towards the faces.

    Parameters
    ----------
    radius_m, height_m : of the filling
    layers, rings : how many cells up and across
    wall : a wall with a mass of its own; None where only its resistance counts
    """

    def __init__(
        self,
        material: Material,
        radius_m: float,
        height_m: float,
        faces: Faces,
        wall: Wall | None = None,
        layers: int = 10,
        rings: int = 8,
    ) -> None:
        self.material = material
        self.wall = wall
        across, up = radius_m * _towards_the_end(rings), height_m * _towards_both_ends(layers)
        self.r_m, self.z_m = (across[1:] + across[:-1]) / 2, (up[1:] + up[:-1]) / 2
        self.radius_m, self.height_m = radius_m, height_m
        dr, dz = np.diff(across), np.diff(up)
        ring = pi * np.diff(across**2)
        self.volume_m3 = np.outer(dz, ring)
        self._half_side, self._half_bottom = dr[-1] / 2, dz[0] / 2
        self._half_top = dz[-1] / 2
        self._between_rings = np.outer(dz, 2 * pi * across[1:-1] / np.diff(self.r_m))
        self._between_layers = np.outer(1 / np.diff(self.z_m), ring)
        self._side_m2, self._end_m2 = 2 * pi * radius_m * dz, ring
        self._faces = faces
        area = self._side_m2.sum() + self._end_m2.sum()
        per_m2 = 1000 * wall.heat_kj_k / area if wall else 0.0
        self._side_j_k, self._bottom_j_k = per_m2 * self._side_m2, per_m2 * self._end_m2

    def moments(
        self,
        start_c: float | FloatArray,
        surroundings_c: Callable[[float], float],
        seconds: float,
        most_moved_k: float = _MOST_MOVED_K,
    ) -> Iterator[Moment]:
        """Yield how it stands, from the start on and after every step, until so many seconds are over.

        (V − γΔt·S·D)·k = f(H), D the slopes of θ and T by heat: one banded matrix a step, which is so long that no
        cell moves by more than about 2 K.

        Parameters
        ----------
        start_c : °C at first, one or one for each cell, shape (layers, rings)
        surroundings_c : what is around it in °C, by the J that have come in from there
        """
        volume = self._all(self.volume_m3, self._side_j_k, self._bottom_j_k)
        begun = self.material.heat_at(np.broadcast_to(np.asarray(start_c, dtype=np.float64), self.volume_m3.shape))
        heat = begun.copy() if self.wall is None else self._all(begun, self.wall.start_c, self.wall.start_c)
        first, came_in, passed, step = float((volume * heat).sum()), 0.0, 0.0, _FIRST_STEP_S
        celsius = self._celsius(heat)
        yield Moment(0.0, self._inside(celsius), 0.0, 0.0)
        while passed < seconds:
            step = min(step, seconds - passed)
            around = surroundings_c(came_in)
            flows = self._flows(heat, around)
            while True:
                change, joules = self._smooth_step(heat, flows, around, volume, step)
                after = self._celsius(heat + change)
                settled = not flows.bend(change, self._inside(celsius), self._inside(after), _BENT_K)
                if not settled or _overshoots(celsius, after, around):
                    change, joules, settled = self._bent_step(heat, around, volume, step)
                    after = self._celsius(heat + change)
                moved = float(np.abs(after - celsius).max())
                if step <= _SHORTEST_STEP_S or (settled and moved <= _TOO_FAR * most_moved_k):
                    break
                step = max(step * min(0.5, most_moved_k / moved), _SHORTEST_STEP_S)
            heat, celsius = heat + change, after
            passed += step
            came_in += joules
            yield Moment(passed, self._inside(celsius), float((volume * heat).sum()) - first, came_in)
            grown = _GROWTH if moved <= 0 else min(_GROWTH, most_moved_k / moved)
            step = min(step * grown, _LONGEST_STEP_S)

    def gains(self, heat: FloatArray, surroundings_c: float) -> tuple[FloatArray, FloatArray]:
        """Return the J/m³ that each cell gains in a second, and how fast that falls as it gains, 1/s; shapes of heat.

        For a wall whose mass does not count: what an explicit scheme steps by, to be held against this one.
        """
        flows = self._flows(heat, surroundings_c)
        return flows.net() / self.volume_m3, flows.diagonal(np.zeros_like(heat)) / self.volume_m3

    def _smooth_step(
        self, heat: FloatArray, flows: _Flows, around: float, volume: FloatArray, step: float
    ) -> tuple[FloatArray, float]:
        """Return the change of heat over seconds and the J that come in, by a Rosenbrock method of the second order."""
        solve = flows.solver(volume / (_GAMMA * step))
        first = solve(flows.net()) / (_GAMMA * step)
        later = self._flows(heat + step * first, around)
        second = solve(later.net() - 2 * volume * first) / (_GAMMA * step)
        first_w = flows.inward.sum() - _GAMMA * step * (flows.outward_slope * first).sum()
        second_w = later.inward.sum() - _GAMMA * step * (flows.outward_slope * second).sum() - 2 * first_w
        return step * (1.5 * first + 0.5 * second), step * float(1.5 * first_w + 0.5 * second_w)

    def _bent_step(
        self, heat: FloatArray, around: float, volume: FloatArray, step: float
    ) -> tuple[FloatArray, float, bool]:
        """Return the same by the implicit Euler method, solved by Newton's, and whether that has settled.

        It holds where ice begins or ends, and overshoots nothing.
        """
        now, celsius = heat, self._celsius(heat)
        for _ in range(_MOST_ROUNDS):
            flows = self._flows(now, around)
            by = flows.solver(volume / step)(flows.net() - volume * (now - heat) / step)
            now, before, celsius = now + by, celsius, self._celsius(now + by)
            settled = not flows.bend(by, self._inside(before), self._inside(celsius), _SETTLED_K)
            if settled:
                break
        return now - heat, step * float((flows.inward - flows.outward_slope * by).sum()), settled

    def _all(self, inside: FloatArray, side: FloatArray | float, bottom: FloatArray | float) -> FloatArray:
        """Return an array over cells and, where the wall has a mass, its parts: a first row and a last column more."""
        if self.wall is None:
            return inside
        whole = np.full((inside.shape[0] + 1, inside.shape[1] + 1), inside[0, -1])
        whole[1:, :-1], whole[1:, -1], whole[0, :-1] = inside, side, bottom
        return whole

    def _inside(self, values: FloatArray) -> FloatArray:
        return values if self.wall is None else values[1:, :-1]

    def _celsius(self, heat: FloatArray) -> FloatArray:
        celsius = self.material.t_at(self._inside(heat))
        return celsius if self.wall is None else self._all(celsius, heat[1:, -1], heat[0, :-1])

    def _flows(self, heat: FloatArray, surroundings_c: float) -> _Flows:
        """Return what flows between cells and to the surroundings, and how that changes with their heat."""
        celsius, theta, k, t_slope, theta_slope = self.material.at(self._inside(heat))
        across = self._between_rings
        rings = _Links(
            across * (theta[:, :-1] - theta[:, 1:]), across * theta_slope[:, :-1], across * theta_slope[:, 1:]
        )
        up = self._between_layers
        layers = _Links(up * (theta[:-1] - theta[1:]), up * theta_slope[:-1], up * theta_slope[1:])
        outer = np.zeros_like(celsius)
        outer[-1] += self._end_m2 / (self._faces.top + self._half_top / k[-1])
        side = self._side_m2 / (self._half_side / k[:, -1] + (0.0 if self.wall else self._faces.side))
        bottom = self._end_m2 / (self._half_bottom / k[0] + (0.0 if self.wall else self._faces.bottom))
        if self.wall is None:
            outer[:, -1] += side
            outer[0] += bottom
            return _Flows(rings, layers, outer * (surroundings_c - celsius), outer * t_slope, t_slope)
        wall_side, wall_bottom = heat[1:, -1], heat[0, :-1]
        to_side = _Links(side * (celsius[:, -1] - wall_side), side * t_slope[:, -1], side)
        from_bottom = _Links(bottom * (wall_bottom - celsius[0]), bottom, bottom * t_slope[0])
        inward = self._all(
            outer * (surroundings_c - celsius),
            self._side_m2 / self._faces.side * (surroundings_c - wall_side),
            self._end_m2 / self._faces.bottom * (surroundings_c - wall_bottom),
        )
        slope = self._all(outer * t_slope, self._side_m2 / self._faces.side, self._end_m2 / self._faces.bottom)
        inward[0, -1] = slope[0, -1] = 0.0
        return _Flows(rings.and_column(to_side), layers.and_row(from_bottom), inward, slope, t_slope)


@dataclass(frozen=True, slots=True)
class _Links:
    """W from each cell to the next, and how that changes with the heat of the one and, falling, of the other."""

    watts: FloatArray
    by_near: FloatArray
    by_far: FloatArray

    def and_column(self, last: _Links) -> _Links:
        """Return the links across with those to the side wall, and none along the bottom wall."""
        pairs = zip(self._parts(), last._parts(), strict=True)
        return _Links(*(np.pad(np.column_stack(pair), ((1, 0), (0, 0))) for pair in pairs))

    def and_row(self, first: _Links) -> _Links:
        """Return the links up with those from the bottom wall, and none along the side wall."""
        pairs = zip(self._parts(), first._parts(), strict=True)
        return _Links(*(np.pad(np.vstack((row, inside)), ((0, 0), (0, 1))) for inside, row in pairs))

    def _parts(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        return self.watts, self.by_near, self.by_far


@dataclass(frozen=True, slots=True)
class _Flows:
    """All flows of a moment: between rings, between layers, and W in from outside with their slope by heat.

    ``t_slope`` is dT/dH of the cells of the filling.
    """

    rings: _Links
    layers: _Links
    inward: FloatArray
    outward_slope: FloatArray
    t_slope: FloatArray

    def bend(self, change: FloatArray, before_c: FloatArray, after_c: FloatArray, most_k: float) -> bool:
        """Return whether a change of heat takes a cell off the line on which it began: over its first or last ice."""
        rows, columns = self.t_slope.shape
        inside = change[-rows:, :columns]
        return float(np.abs(after_c - before_c - self.t_slope * inside).max()) > most_k

    def net(self) -> FloatArray:
        """Return the W that each cell gains."""
        net = self.inward.copy()
        net[:, :-1] -= self.rings.watts
        net[:, 1:] += self.rings.watts
        net[:-1] -= self.layers.watts
        net[1:] += self.layers.watts
        return net

    def diagonal(self, volume_per_s: FloatArray) -> FloatArray:
        """Return what each cell loses for each J/m³ that it gains, W, beside its volume per second."""
        diagonal = volume_per_s + self.outward_slope
        diagonal[:, :-1] += self.rings.by_near
        diagonal[:, 1:] += self.rings.by_far
        diagonal[:-1] += self.layers.by_near
        diagonal[1:] += self.layers.by_far
        return diagonal

    def solver(self, volume_per_s: FloatArray) -> Callable[[FloatArray], FloatArray]:
        """Return what solves (volume per second − slopes)·x = W for W of shape (layers, rings), factored once."""
        from scipy.linalg.lapack import dgbtrf, dgbtrs

        layers, rings = volume_per_s.shape
        diagonal = self.diagonal(volume_per_s)
        band, middle = np.zeros((3 * rings + 1, layers * rings)), 2 * rings
        band[middle] = diagonal.ravel()
        band[middle - rings, rings:] = -self.layers.by_far.ravel()
        band[middle + rings, :-rings] = -self.layers.by_near.ravel()
        band[middle - 1].reshape(layers, rings)[:, 1:] -= self.rings.by_far
        band[middle + 1].reshape(layers, rings)[:, :-1] -= self.rings.by_near
        factors, pivots, _ = dgbtrf(band, rings, rings, overwrite_ab=True)

        def solve(watts: FloatArray) -> FloatArray:
            found: FloatArray = dgbtrs(factors, rings, rings, watts.ravel(), pivots)[0]
            return found.reshape(layers, rings)

        return solve


def _overshoots(before: FloatArray, after: FloatArray, around: float) -> bool:
    """Return whether anything is warmer or colder than all that there was."""
    warmest, coldest = max(float(before.max()), around), min(float(before.min()), around)
    return float(after.max()) > warmest + _OVERSHOT_K or float(after.min()) < coldest - _OVERSHOT_K


def _towards_the_end(cells: int) -> FloatArray:
    """Return the edges of cells from 0 to 1, finer towards 1."""
    share = np.linspace(0.0, 1.0, cells + 1)
    return share * (1 + _FINER * (1 - share))


def _towards_both_ends(cells: int) -> FloatArray:
    """Return the edges of cells from 0 to 1, finer towards both ends."""
    half = _towards_the_end(cells // 2) / 2
    return np.concatenate((0.5 - half[::-1], 0.5 + half[1:]))
