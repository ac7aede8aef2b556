"""The freezing curve: ice and the liquid left between its crystals have the same water activity.

Everything that lowers the activity of a mix's water comes down to four amounts per 100 g mix
(`Liquid`), so one mix or ten thousand are solved by the same few array operations.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from . import constants as c
from .components import BOUND_WATER, INDEX, MOL_PER_G, OSMOTIC_MOL_PER_G, ROOT_NORRISH_K, FloatArray
from .composition import components_of, trait_of

_MOST_STEPS: Final = 60
_RELATIVE_PRECISION: Final = 1e-11
_LEAST_OSMOTIC_COEFFICIENT: Final = c.NACL_OSMOTIC_COEFFICIENT[0] - c.NACL_OSMOTIC_COEFFICIENT[1] ** 2 / (
    4 * c.NACL_OSMOTIC_COEFFICIENT[2]
)

_MOLECULAR = MOL_PER_G.copy()
_MOLECULAR[[INDEX["water"], INDEX["sodium_chloride"]]] = 0.0


@dataclass(frozen=True, slots=True)
class Liquid:
    """What dissolves in the water of mixes; every field has shape (...), per 100 g mix.

    ``water_g`` is all water, ``free_water_g`` what protein, fibre, starch and cocoa do not hold.
    ``molecules_mol`` counts non-electrolytes and ``root_k_mol`` the same times √K (Norrish);
    ``osmoles_mol`` are those of milk salts and ash, ``salt_mol`` moles of sodium chloride.
    """

    water_g: FloatArray
    free_water_g: FloatArray
    molecules_mol: FloatArray
    root_k_mol: FloatArray
    osmoles_mol: FloatArray
    salt_mol: FloatArray

    def spread(self) -> Liquid:
        """Return the same liquids with a last axis of length 1, to meet a row of temperatures."""
        return Liquid(*(np.asarray(getattr(self, name))[..., None] for name in self.__slots__))


def liquid(row: FloatArray) -> Liquid:
    """Return the liquid of mix rows of shape (..., WIDTH)."""
    parts = components_of(row)
    water = parts[..., INDEX["water"]]
    held = parts @ BOUND_WATER - BOUND_WATER[INDEX["fibre"]] * trait_of(row, "soluble_fibre")
    return Liquid(
        water_g=water,
        free_water_g=np.maximum(water - held, 0.0),
        molecules_mol=parts @ _MOLECULAR + trait_of(row, "chain_mol"),
        root_k_mol=parts @ (_MOLECULAR * ROOT_NORRISH_K) + trait_of(row, "chain_root_k_mol"),
        osmoles_mol=parts @ OSMOTIC_MOL_PER_G,
        salt_mol=parts[..., INDEX["sodium_chloride"]] * MOL_PER_G[INDEX["sodium_chloride"]],
    )


def ln_ice_activity(temperature_c: FloatArray) -> FloatArray:
    """Return ln of the water activity of ice, same shape; 0.9073 at −10 °C, 0.8224 at −20 °C.

    ln a = (ΔH₀ − ΔCp·T₀)/R · (1/T₀ − 1/T) + ΔCp/R · ln(T/T₀), the integrated Clausius–Clapeyron
    relation with a constant difference of heat capacities.
    """
    zero = c.ZERO_CELSIUS_K
    kelvin = temperature_c + zero
    slope = (c.ICE_FUSION_J_MOL - c.ICE_FUSION_CP_J_MOL_K * zero) / c.GAS_CONSTANT_J_MOL_K
    return slope * (1 / zero - 1 / kelvin) + c.ICE_FUSION_CP_J_MOL_K / c.GAS_CONSTANT_J_MOL_K * np.log(kelvin / zero)


def ice_temperature_c(ln_activity: FloatArray) -> FloatArray:
    """Invert `ln_ice_activity`: °C at which ice has this activity; NaN where that is below −32 °C."""
    reachable = ln_activity >= ln_ice_activity(np.array(c.COLDEST_ICE_C))
    target = np.where(reachable, ln_activity, 0.0)
    celsius = np.maximum(target * c.GAS_CONSTANT_J_MOL_K * c.ZERO_CELSIUS_K**2 / c.ICE_FUSION_J_MOL, c.COLDEST_ICE_C)
    for _ in range(4):
        kelvin = celsius + c.ZERO_CELSIUS_K
        fusion = c.ICE_FUSION_J_MOL + c.ICE_FUSION_CP_J_MOL_K * celsius
        celsius = celsius - (ln_ice_activity(celsius) - target) * c.GAS_CONSTANT_J_MOL_K * kelvin**2 / fusion
    return np.where(reachable, celsius + 0.0, np.nan)


def ln_water_activity(of: Liquid, unfrozen_free_water_g: FloatArray) -> FloatArray:
    """Return ln of the water activity when this much free water (g per 100 g mix) is unfrozen.

    Norrish for the molecules, ln x_w − (Σ √K·x)², plus −2·m·φ·M_w for sodium chloride and the
    ideal osmotic term for milk salts and ash. −∞ where solutes have no water left.
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        per_water_mol = 1000 * c.WATER_MOLAR_MASS_KG_MOL / np.asarray(unfrozen_free_water_g, dtype=np.float64)
        lowering, _ = _lowering(of, per_water_mol)
    dry = np.isinf(per_water_mol)
    solute = of.molecules_mol + of.osmoles_mol + of.salt_mol > 0
    return -np.where(dry, np.where(solute, np.inf, 0.0), lowering)


def _lowering(of: Liquid, per_water_mol: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Return −ln a_w and its derivative by z, the reciprocal of the moles of unfrozen free water."""
    z = per_water_mol
    a, b, d = c.NACL_OSMOTIC_COEFFICIENT
    dilution = 1 + of.molecules_mol * z
    norrish = of.root_k_mol * z / dilution
    molality = of.salt_mol * z / c.WATER_MOLAR_MASS_KG_MOL
    salt = 2 * of.salt_mol
    value = np.log(dilution) + norrish**2 + of.osmoles_mol * z + salt * z * (a + molality * (b + molality * d))
    slope = (
        of.molecules_mol / dilution
        + 2 * norrish * of.root_k_mol / dilution**2
        + of.osmoles_mol
        + salt * (a + molality * (2 * b + molality * 3 * d))
    )
    return value, slope


def unfrozen_free_water_g(of: Liquid, temperature_c: FloatArray) -> FloatArray:
    """Return the free water still liquid at a temperature, g per 100 g mix; shapes broadcast.

    Newton's method on 1/water from above, kept inside its bracket by bisection. The bracket is
    sound because ln(1 + a) + b ≥ ln(1 + a + b): the ideal mixture of all particles binds least.
    """
    coldest = np.clip(temperature_c, c.COLDEST_ICE_C, 0.0)
    target = 0.0 - ln_ice_activity(coldest)
    particles = of.molecules_mol + of.osmoles_mol + 2 * _LEAST_OSMOTIC_COEFFICIENT * of.salt_mol
    target, particles = np.broadcast_arrays(target, particles)
    solute = particles > 0
    high = np.where(solute, np.expm1(target) / np.where(solute, particles, 1.0), 0.0)
    low = np.zeros_like(high)
    z = high.copy()
    for _ in range(_MOST_STEPS):
        value, slope = _lowering(of, z)
        miss = value - target
        if np.all(np.abs(miss) <= _RELATIVE_PRECISION * target + 1e-15):
            break
        high = np.where(miss > 0, z, high)
        low = np.where(miss < 0, z, low)
        step = z - miss / np.where(solute, slope, 1.0)
        z = np.where((step > low) & (step < high), step, np.where(miss == 0, z, (low + high) / 2))
    with np.errstate(divide="ignore"):
        water = 1000 * c.WATER_MOLAR_MASS_KG_MOL / z
    unfrozen = np.where(solute, water, np.where(target > 0, 0.0, np.inf))
    return np.minimum(unfrozen, of.free_water_g)


def frozen_pct(of: Liquid, temperature_c: FloatArray) -> FloatArray:
    """Return ice as % of all water, shape (..., temperatures); 0 where there is no water.

    Parameters
    ----------
    of : liquids of shape (...)
    temperature_c : shape (temperatures,); above 0 counts as 0, below −32 as −32
    """
    spread = of.spread()
    ice = spread.free_water_g - unfrozen_free_water_g(spread, temperature_c)
    return np.divide(100 * ice, spread.water_g, out=np.zeros_like(ice), where=spread.water_g > 0)


def temperature_at_frozen_c(of: Liquid, frozen: FloatArray) -> FloatArray:
    """Return the °C at which this % of all water is ice, shape (...); NaN where that needs below −32 °C.

    Parameters
    ----------
    of : liquids of shape (...)
    frozen : % of all water, shape (...) or a number
    """
    unfrozen = of.free_water_g - frozen / 100 * of.water_g
    possible = (unfrozen >= 0) & (of.free_water_g > 0)
    celsius = ice_temperature_c(ln_water_activity(of, np.maximum(unfrozen, 0.0)))
    return np.where(possible, celsius, np.nan)


def initial_freezing_c(of: Liquid) -> FloatArray:
    """Return the temperature of the first ice, °C, shape (...); NaN without freezable water."""
    return temperature_at_frozen_c(of, np.array(0.0))


def ethanol_in_liquid_pct(row: FloatArray, temperature_c: float) -> FloatArray:
    """Return the alcohol, % of the mass of alcohol and unfrozen free water, shape (...)."""
    ethanol = components_of(row)[..., INDEX["ethanol"]]
    left = unfrozen_free_water_g(liquid(row), np.array(temperature_c))
    return np.divide(100 * ethanol, ethanol + left, out=np.zeros_like(ethanol), where=ethanol + left > 0)
