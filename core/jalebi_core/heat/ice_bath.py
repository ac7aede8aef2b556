"""Ice and salt: how cold the bath is, how much heat it takes up, and how much of each a load wants."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_text
from jalebi_core.model.components import FloatArray

COLDEST_BATH_C: Final = -21.1
_EUTECTIC_SALT_PCT: Final = 23.3
_MOST_SALT_PER_WATER: Final = _EUTECTIC_SALT_PCT / (100 - _EUTECTIC_SALT_PCT)
_MELTING_KJ_KG: Final = 333.6
_ICE_KJ_KGK: Final = 2.08
_WATER_KJ_KGK: Final = 4.18
_SALT_KJ_KGK: Final = 0.86
_DISSOLVING_KJ_KG: Final = 50.0
"""Taken up by salt as it dissolves; 30 to 70, as the brine is strong or weak."""
_DISSOLVED_KJ_KGK: Final = 0.4
_MELTED_WHEN_SPENT: Final = 0.8
"""A load is sized so that its bath has the wanted temperature when this share of the ice has melted."""
_SALT_FROM_C: Final = 20.0
_LEAK_STEPS: Final = 200
_LIQUIDUS_STEPS: Final = 200
_BELOW_K: Final = 40.0
_ABOVE_K: Final = 60.0


@cache
def _liquidus() -> tuple[FloatArray, FloatArray]:
    """Return °C, falling, and % of salt in the brine that ice and brine share there."""
    rows = [line.split(",") for line in read_text("brine_liquidus.csv").splitlines() if line[:1].isdigit()]
    pct, celsius = np.array(rows, dtype=np.float64).T
    return celsius, pct


def freezing_c(brine_pct: float) -> float:
    """Return the temperature at which brine of so much salt, % by mass, begins to freeze, °C."""
    celsius, pct = _liquidus()
    return float(np.interp(brine_pct, pct, celsius))


def brine_at_pct(celsius: float) -> float:
    """Return the % of salt in brine that is in equilibrium with ice at a temperature."""
    degrees, pct = _liquidus()
    return float(np.interp(-celsius, -degrees, pct))


@dataclass(frozen=True, slots=True)
class IceBath:
    """Ice, water and salt in a closed vessel: kg of water, frozen or not, kg of salt, and kJ from liquid at 0 °C."""

    water_kg: float
    salt_kg: float
    enthalpy_kj: float

    @classmethod
    def of(
        cls,
        ice_g: float,
        ice_c: float = 0.0,
        salt_g: float = 0.0,
        salt_c: float = 20.0,
        water_g: float = 0.0,
        water_c: float = 10.0,
    ) -> IceBath:
        """Return the bath of what is put together."""
        enthalpy = (
            ice_g * (_ICE_KJ_KGK * ice_c - _MELTING_KJ_KG)
            + water_g * _WATER_KJ_KGK * water_c
            + salt_g * _SALT_KJ_KGK * salt_c
        )
        return cls((ice_g + water_g) / 1000, salt_g / 1000, enthalpy / 1000)

    def heated(self, kj: float) -> IceBath:
        """Return the bath after so much heat has come in."""
        return replace(self, enthalpy_kj=self.enthalpy_kj + kj)

    def left_standing(self, hours: float, leak_w_k: float, room_c: float) -> IceBath:
        """Return the bath after hours in a room, warmed through its wall."""
        seconds = 3600 * hours / _LEAK_STEPS
        bath = self
        for _ in range(_LEAK_STEPS if hours > 0 else 0):
            bath = bath.heated(seconds * leak_w_k * (room_c - bath.state().t_c) / 1000)
        return bath

    @property
    def dissolves_kg(self) -> float:
        """Salt that can dissolve: beyond 30.4 g per 100 g of ice and water it never does."""
        return min(self.salt_kg, _MOST_SALT_PER_WATER * self.water_kg)

    @property
    def ends_at_c(self) -> float:
        """Return the temperature when the last ice melts, °C."""
        dissolved = self.dissolves_kg
        return freezing_c(100 * dissolved / (dissolved + self.water_kg))

    @property
    def takes_kj(self) -> float:
        """Return the heat that it takes up until the last ice melts; 0 where none is left."""
        return max(0.0, self.enthalpy_of(self.ends_at_c, 0.0, self.dissolves_kg) - self.enthalpy_kj)

    def state(self) -> BathState:
        """Return what it has come to, at equilibrium."""
        dissolved = self.dissolves_kg
        frozen = self.enthalpy_of(COLDEST_BATH_C, self.water_kg, 0.0)
        if dissolved == 0:
            return self._fresh()
        if self.enthalpy_kj <= frozen:
            slope = self.water_kg * _ICE_KJ_KGK + self.salt_kg * _SALT_KJ_KGK
            return self._state(COLDEST_BATH_C + (self.enthalpy_kj - frozen) / slope, self.water_kg, 0.0)
        brine_begins = self.enthalpy_of(COLDEST_BATH_C, self._ice_kg(COLDEST_BATH_C), dissolved)
        if self.enthalpy_kj <= brine_begins:
            share = (self.enthalpy_kj - frozen) / (brine_begins - frozen)
            molten = share * dissolved / _MOST_SALT_PER_WATER
            return self._state(COLDEST_BATH_C, self.water_kg - molten, share * dissolved)
        if self.takes_kj > 0:
            from scipy.optimize import brentq

            celsius = brentq(
                lambda t: self.enthalpy_of(t, self._ice_kg(t), dissolved) - self.enthalpy_kj,
                COLDEST_BATH_C,
                self.ends_at_c,
            )
            return self._state(celsius, self._ice_kg(celsius), dissolved)
        slope = self._warm_slope(dissolved)
        rest = self.enthalpy_kj - self.enthalpy_of(self.ends_at_c, 0.0, dissolved)
        return self._state(self.ends_at_c + rest / slope, 0.0, dissolved)

    def warming(self) -> tuple[FloatArray, FloatArray]:
        """Return its temperature by its enthalpy as arrays of one shape, kJ rising and °C, to be read by interpolation.

        From 40 °C below the eutectic to 60 °C above the last ice; between them it is exact to some hundredths of a °C.
        """
        dissolved = self.dissolves_kg
        if dissolved > 0:
            melting = np.linspace(COLDEST_BATH_C, self.ends_at_c, _LIQUIDUS_STEPS)
            kj = [self.enthalpy_of(t, self._ice_kg(t), dissolved) for t in melting.tolist()]
        else:
            melting, kj = np.zeros(1), [0.0]
        begins = self.enthalpy_of(float(melting[0]), self.water_kg, 0.0)
        below = begins - _BELOW_K * (self.water_kg * _ICE_KJ_KGK + self.salt_kg * _SALT_KJ_KGK)
        above = kj[-1] + _ABOVE_K * self._warm_slope(dissolved)
        return (
            np.array([below, begins, *kj, above]),
            np.concatenate(([melting[0] - _BELOW_K, melting[0]], melting, [melting[-1] + _ABOVE_K])),
        )

    def _fresh(self) -> BathState:
        """Return the state without salt: ice below 0 °C, ice and water at 0 °C, or water."""
        all_ice = -_MELTING_KJ_KG * self.water_kg
        if self.enthalpy_kj <= all_ice:
            return self._state((self.enthalpy_kj - all_ice) / (self.water_kg * _ICE_KJ_KGK), self.water_kg, 0.0)
        if self.enthalpy_kj < 0:
            return self._state(0.0, -self.enthalpy_kj / _MELTING_KJ_KG, 0.0)
        return self._state(self.enthalpy_kj / self._warm_slope(0.0), 0.0, 0.0)

    def _ice_kg(self, celsius: float) -> float:
        """Return the ice beside brine that holds all salt that dissolves."""
        brine = brine_at_pct(celsius) / 100
        return max(0.0, self.water_kg - self.dissolves_kg * (1 - brine) / brine)

    def _warm_slope(self, dissolved: float) -> float:
        return self.water_kg * _WATER_KJ_KGK + (self.salt_kg - dissolved) * _SALT_KJ_KGK + dissolved * _DISSOLVED_KJ_KGK

    def enthalpy_of(self, celsius: float, ice_kg: float, dissolved_kg: float) -> float:
        """Return the kJ of its water and salt with so much of them frozen and dissolved at a temperature."""
        return (
            ice_kg * (_ICE_KJ_KGK * celsius - _MELTING_KJ_KG)
            + (self.water_kg - ice_kg) * _WATER_KJ_KGK * celsius
            + (self.salt_kg - dissolved_kg) * _SALT_KJ_KGK * celsius
            + dissolved_kg * (_DISSOLVING_KJ_KG + _DISSOLVED_KJ_KGK * celsius)
        )

    def _state(self, celsius: float, ice_kg: float, dissolved_kg: float) -> BathState:
        water = self.water_kg - ice_kg
        brine = 100 * dissolved_kg / (water + dissolved_kg) if dissolved_kg > 0 else 0.0
        return BathState(celsius, 1000 * ice_kg, 1000 * (self.salt_kg - dissolved_kg), brine)


@dataclass(frozen=True, slots=True)
class BathState:
    """What a bath has come to: °C, g of ice and of salt that are left, and % of salt in its brine."""

    t_c: float
    ice_left_g: float
    salt_left_g: float
    brine_pct: float


@dataclass(frozen=True, slots=True)
class IceLoad:
    """What cools something down: kJ to be taken up, and g of ice at 0 °C and of salt that take them."""

    heat_kj: float
    ice_g: float
    salt_g: float


def ice_for(heat_kj: float, bath_c: float) -> IceLoad:
    """Return the ice and salt for so much heat, at the wanted temperature when four fifths of the ice have melted.

    Parameters
    ----------
    heat_kj : what has to be taken up, losses in
    bath_c : from −21.1 to 0 °C
    """
    brine = brine_at_pct(bath_c) / 100
    salt = _MELTED_WHEN_SPENT * brine / (1 - brine)
    begins = IceBath.of(1000.0, salt_g=1000 * salt, salt_c=_SALT_FROM_C)
    takes = begins.enthalpy_of(bath_c, 1 - _MELTED_WHEN_SPENT, salt) - begins.enthalpy_kj
    return IceLoad(heat_kj, 1000 * heat_kj / takes, 1000 * salt * heat_kj / takes)
