"""What a mix gives off as it cools and freezes, and how well it conducts: one table per mix, read both ways."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.heat.properties import HEAT_OF_CRYSTALLISATION_KJ_KG, of_components, of_ice, solid_share
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import components_of, trait_of
from jalebi_core.physics.density import density_kg_l
from jalebi_core.physics.freezing import frozen_pct, initial_freezing_c, liquid

COLDEST_C: Final = -40.0
HOTTEST_C: Final = 120.0
_FINE_TO_C: Final = -8.0
_ICE_STEP_C: Final = 1e-6
"""What freezes at one temperature, as pure water does, is spread over so little."""
_ICE_HEAT_SLOPE_KJ_KG_K: Final = 2.1
"""How far melting ice takes up less heat per °C of cold: 4.18 of water less 2.08 of ice."""
_AIR_W_MK: Final = 0.024
_WATER: Final = INDEX["water"]


@dataclass(frozen=True, slots=True)
class Thermal:
    """A mix from −40 to 120 °C: arrays of one shape (nodes,), temperatures rising.

    ``h_kj_kg`` is 0 for the liquid mix at 0 °C, ``ice_g`` g of ice in 100 g, ``frozen_pct`` the same of all water,
    ``k_w_mk`` the conductivity with its air, ``density_kg_m3`` that with its air, taken as constant.
    """

    t_c: FloatArray
    h_kj_kg: FloatArray
    ice_g: FloatArray
    frozen_pct: FloatArray
    k_w_mk: FloatArray
    density_kg_m3: float

    def h_at(self, celsius: FloatArray) -> FloatArray:
        """Return the enthalpy at temperatures, kJ/kg."""
        return np.interp(celsius, self.t_c, self.h_kj_kg)

    def t_at(self, enthalpy: FloatArray) -> FloatArray:
        """Return the temperature at enthalpies, °C."""
        return np.interp(enthalpy, self.h_kj_kg, self.t_c)

    def frozen_at(self, celsius: FloatArray) -> FloatArray:
        """Return ice as % of all water at temperatures."""
        return np.interp(celsius, self.t_c, self.frozen_pct)

    def k_at(self, celsius: FloatArray) -> FloatArray:
        """Return the conductivity at temperatures, W/m K."""
        return np.interp(celsius, self.t_c, self.k_w_mk)


def thermal(row: FloatArray, overrun_pct: float) -> Thermal:
    """Return the thermal table of one mix, row of shape (WIDTH,) per 100 g, with so much air.

    h(T) = Σ w·∫c dT − w_ice·(333.6 + 2.1·T) − Σ w_fat·q·(solid(T) − solid(0)): all water, frozen or not, counts with
    the heat capacity of water, and the second term makes ice of what is frozen.
    """
    celsius = _nodes(float(initial_freezing_c(liquid(row))))
    shares = components_of(row) / 100
    frozen = frozen_pct(liquid(row), celsius)
    ice = shares[_WATER] * frozen / 100
    sensible = of_components().heat_capacity.from_zero(celsius) @ shares
    melting = ice * (c.ICE_MELTING_J_G + _ICE_HEAT_SLOPE_KJ_KG_K * celsius)
    density = 1000 * float(density_kg_l(row)) / (1 + overrun_pct / 100)
    return Thermal(
        t_c=celsius,
        h_kj_kg=sensible - melting - _fat_heat(row, celsius),
        ice_g=100 * ice,
        frozen_pct=frozen,
        k_w_mk=_conductivity(shares, ice, celsius, density),
        density_kg_m3=density,
    )


def melted_pct(mix: Thermal, from_c: float, to_c: float) -> float:
    """Return the % of its ice that melts on the way from one temperature to a warmer one; 0 where there is none."""
    before, after = (float(mix.frozen_at(np.array(celsius))) for celsius in (from_c, to_c))
    return 100 * max(0.0, 1 - after / before) if before > 0 else 0.0


def _nodes(first_ice_c: float) -> FloatArray:
    """Return the temperatures of the table: fine where most ice forms, with that of the first ice among them."""
    celsius = np.concatenate(
        (
            np.arange(COLDEST_C, _FINE_TO_C, 0.25),
            np.arange(_FINE_TO_C, 0.0, 0.05),
            np.arange(0.0, HOTTEST_C + 1, 2.0),
            [] if np.isnan(first_ice_c) else [first_ice_c, first_ice_c - _ICE_STEP_C],
        )
    )
    return np.unique(celsius)


def _fat_heat(row: FloatArray, celsius: FloatArray) -> FloatArray:
    """Return what fat has given off by turning solid, kJ per kg of mix, 0 at 0 °C; the oil of nuts stays liquid."""
    parts = components_of(row)
    share = {fat: float(parts[INDEX[fat]]) / 100 for fat in HEAT_OF_CRYSTALLISATION_KJ_KG}
    share["other_fat"] = max(0.0, share["other_fat"] - float(trait_of(row, "nut_fat")) / 100)
    given = np.zeros_like(celsius)
    for fat, heat in HEAT_OF_CRYSTALLISATION_KJ_KG.items():
        given += share[fat] * heat * (solid_share(fat, celsius) - solid_share(fat, np.zeros(1)))
    return given


def _conductivity(shares: FloatArray, ice: FloatArray, celsius: FloatArray, density: float) -> FloatArray:
    """Return W/m K: serum by shares of volume, ice dispersed in it, air dispersed in both."""
    serum = np.tile(shares, (len(celsius), 1))
    serum[:, _WATER] -= ice
    volumes = serum / of_components().density.at(celsius)
    ice_volume = ice / of_ice().density.at(celsius)[:, 0]
    volume = volumes.sum(axis=1)
    whole = volume + ice_volume
    conducted = (volumes * of_components().conductivity.at(celsius)).sum(axis=1)
    through_ice = of_ice().conductivity.at(celsius)[:, 0]
    through_serum = np.divide(conducted, volume, out=through_ice.copy(), where=volume > 0)
    condensed = _dispersed(through_serum, through_ice, ice_volume / whole)
    air = np.maximum(0.0, 1 - density * whole)
    return _dispersed(condensed, np.full_like(condensed, _AIR_W_MK), air)


def _dispersed(around: FloatArray, within: FloatArray, share: FloatArray) -> FloatArray:
    """Return the conductivity of one thing dispersed in another by its share of the volume (Maxwell–Eucken)."""
    apart = around - within
    return around * (2 * around + within - 2 * share * apart) / (2 * around + within + share * apart)
