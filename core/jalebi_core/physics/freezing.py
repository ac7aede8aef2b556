"""The freezing curve: ice and the liquid left between its crystals have the same water activity.

Everything that lowers the activity of a mix's water comes down to five amounts per 100 g mix
(`Liquid`), so one mix or ten thousand are solved by the same few array operations. Erythritol beyond
its solubility crystallises and lowers nothing; lactose is counted whole, as it stays dissolved for weeks.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import BOUND_WATER, INDEX, MOL_PER_G, OSMOTIC_MOL_PER_G, ROOT_NORRISH_K, FloatArray
from jalebi_core.model.composition import components_of, trait_of
from jalebi_core.physics.solubility import ERYTHRITOL

_WATER_MOLAR_MASS_G_MOL: Final = 1000 * c.WATER_MOLAR_MASS_KG_MOL
_MOST_STEPS: Final = 60
_DROP_OUT_ROUNDS: Final = 12
_NONE: Final = np.array(0.0)
_RELATIVE_STEP: Final = 1e-7
"""Newton's method doubles its digits: what moved by so little is right to the last digit."""
_LEAST_OSMOTIC_COEFFICIENT: Final = c.NACL_OSMOTIC_COEFFICIENT[0] - c.NACL_OSMOTIC_COEFFICIENT[1] ** 2 / (
    4 * c.NACL_OSMOTIC_COEFFICIENT[2]
)

_MOLECULAR = MOL_PER_G.copy()
_MOLECULAR[[INDEX["water"], INDEX["sodium_chloride"], INDEX["erythritol"]]] = 0.0
_ACID_ROOT_K: Final = float(ROOT_NORRISH_K[INDEX["acids"]])
_ERYTHRITOL_MOL_PER_G: Final = float(MOL_PER_G[INDEX["erythritol"]])
_ERYTHRITOL_ROOT_K: Final = float(ROOT_NORRISH_K[INDEX["erythritol"]])


@dataclass(frozen=True, slots=True)
class Liquid:
    """What dissolves in the water of mixes; every field has shape (...), per 100 g mix.

    ``water_g`` is all water, ``free_water_g`` what protein, fibre, starch and cocoa do not hold.
    ``molecules_mol`` counts non-electrolytes but erythritol and ``root_k_mol`` the same times √K (Norrish);
    ``osmoles_mol`` are those of milk salts and ash, ``salt_mol`` moles of sodium chloride,
    ``erythritol_mol`` all erythritol, dissolved or not.
    """

    water_g: FloatArray
    free_water_g: FloatArray
    molecules_mol: FloatArray
    root_k_mol: FloatArray
    osmoles_mol: FloatArray
    salt_mol: FloatArray
    erythritol_mol: FloatArray

    def spread(self) -> Liquid:
        """Return the same liquids with a last axis of length 1, to meet a row of temperatures."""
        if np.ndim(self.water_g) == 0:
            return self
        return Liquid(*(getattr(self, name)[..., None] for name in self.__slots__))


def liquid(row: FloatArray) -> Liquid:
    """Return the liquid of mix rows of shape (..., WIDTH)."""
    parts = components_of(row)
    water = parts[..., INDEX["water"]]
    held = parts @ BOUND_WATER - BOUND_WATER[INDEX["fibre"]] * trait_of(row, "soluble_fibre")
    return Liquid(
        water_g=water,
        free_water_g=np.maximum(water - held, 0.0),
        molecules_mol=parts @ _MOLECULAR + trait_of(row, "chain_mol") + trait_of(row, "acid_adjustment"),
        root_k_mol=parts @ (_MOLECULAR * ROOT_NORRISH_K)
        + trait_of(row, "chain_root_k_mol")
        + trait_of(row, "acid_adjustment") * _ACID_ROOT_K,
        osmoles_mol=parts @ OSMOTIC_MOL_PER_G,
        salt_mol=parts[..., INDEX["sodium_chloride"]] * MOL_PER_G[INDEX["sodium_chloride"]],
        erythritol_mol=parts[..., INDEX["erythritol"]] * _ERYTHRITOL_MOL_PER_G,
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


_LN_COLDEST_ACTIVITY: Final = ln_ice_activity(np.array(c.COLDEST_ICE_C))
_LN_EXTRAPOLATED: Final = ln_ice_activity(np.array(2 * c.COLDEST_ICE_C))


def ice_temperature_c(ln_activity: FloatArray, *, extrapolated: bool = False) -> FloatArray:
    """Invert `ln_ice_activity`: °C at which ice has this activity; NaN where that is below −32 °C.

    ``extrapolated`` goes on below that as if ice went on forming, for whoever needs a function without a jump.

    Newton's method from the solution for equal heat capacities, which is within 1 °C; three steps
    square the error down to nothing.
    """
    reachable = ln_activity >= (_LN_EXTRAPOLATED if extrapolated else _LN_COLDEST_ACTIVITY)
    target = np.where(reachable, ln_activity, 0.0)
    kelvin = 1 / (1 / c.ZERO_CELSIUS_K - c.GAS_CONSTANT_J_MOL_K / c.ICE_FUSION_J_MOL * target)
    celsius = kelvin - c.ZERO_CELSIUS_K
    for _ in range(3):
        fusion = c.ICE_FUSION_J_MOL + c.ICE_FUSION_CP_J_MOL_K * celsius
        kelvin = celsius + c.ZERO_CELSIUS_K
        celsius = celsius - (ln_ice_activity(celsius) - target) * (c.GAS_CONSTANT_J_MOL_K * kelvin * kelvin) / fusion
    return np.where(reachable, celsius + 0.0, np.nan)


@dataclass(frozen=True, slots=True)
class _Lowering:
    """−ln a_w of liquids as a function of z, the reciprocal of the moles of unfrozen free water.

    With d = 1 + r + N·z and s = (r·√K + A·z) / d it is ln d + s² + z·(linear + z·(square + z·cube)): Norrish for the
    molecules, and a polynomial for what is counted in osmoles and for sodium chloride, −2·m·φ(m)·M_w with m = S·z/M_w.
    r is what keeps its ratio to the water however much of it freezes: a saturated solute.
    """

    molecules: FloatArray
    root_k: FloatArray
    linear: FloatArray
    square: FloatArray
    cube: FloatArray
    saturated: FloatArray
    particles: FloatArray
    """A count that the ideal mixture of all particles does not fall below."""

    @classmethod
    def of(cls, liquids: Liquid, erythritol_mol: FloatArray, saturated: FloatArray = _NONE) -> _Lowering:
        """Return it with so much erythritol dissolved, or with erythritol in a fixed ratio to the water."""
        a, b, d = c.NACL_OSMOTIC_COEFFICIENT
        salt = 2 * liquids.salt_mol
        molality_per_z = liquids.salt_mol / c.WATER_MOLAR_MASS_KG_MOL
        molecules = liquids.molecules_mol + erythritol_mol
        return cls(
            molecules=molecules,
            root_k=liquids.root_k_mol + erythritol_mol * _ERYTHRITOL_ROOT_K,
            linear=liquids.osmoles_mol + salt * a,
            square=salt * molality_per_z * b,
            cube=salt * molality_per_z * molality_per_z * d,
            saturated=saturated,
            particles=molecules + liquids.osmoles_mol + salt * _LEAST_OSMOTIC_COEFFICIENT,
        )

    def value(self, z: FloatArray) -> FloatArray:
        return self.value_and_slope(z)[0]

    def value_and_slope(self, z: FloatArray) -> tuple[FloatArray, FloatArray]:
        dilution = 1 + self.saturated + self.molecules * z
        norrish = (self.saturated * _ERYTHRITOL_ROOT_K + self.root_k * z) / dilution
        cube = z * self.cube
        value = np.log(dilution) + norrish * norrish + z * (self.linear + z * (self.square + cube))
        slope = (self.molecules + 2 * norrish * (self.root_k - norrish * self.molecules)) / dilution
        return value, slope + self.linear + z * (2 * self.square + 3 * cube)

    def first_guess(self, target: FloatArray) -> FloatArray:
        """Solve the second-order expansion of the lowering."""
        bend = np.maximum(self.root_k * self.root_k - self.molecules * self.molecules / 2, 0.0)
        left = np.maximum(target - np.log1p(self.saturated), 0.0)
        particles = self.particles + (self.particles <= 0)
        guess: FloatArray = 2 * left / (particles + np.sqrt(particles * particles + 4 * bend * left))
        return guess


def ln_water_activity(of: Liquid, unfrozen_free_water_g: FloatArray, erythritol_mol: FloatArray) -> FloatArray:
    """Return ln of the water activity when this much free water (g per 100 g mix) is unfrozen.

    −∞ where solutes have no water left, 0 where there is no solute; ``erythritol_mol`` is what of it is dissolved.
    """
    water = np.asarray(unfrozen_free_water_g)
    dry = water <= 0
    lowering = _Lowering.of(of, erythritol_mol)
    lowered = lowering.value(_WATER_MOLAR_MASS_G_MOL / np.where(dry, 1.0, water))
    return 0.0 - np.where(dry & (lowering.particles > 0), np.inf, lowered)


def unfrozen_free_water_g(of: Liquid, temperature_c: FloatArray) -> FloatArray:
    """Return the free water still liquid at a temperature, g per 100 g mix; shapes broadcast."""
    celsius = np.clip(temperature_c, c.COLDEST_ICE_C, 0.0)
    target = 0.0 - ln_ice_activity(celsius)
    unfrozen = _water_at(_Lowering.of(of, of.erythritol_mol), target)
    if of.erythritol_mol.any():
        ratio = ERYTHRITOL.mol_per_mol(celsius)
        held = np.minimum(unfrozen, of.free_water_g) * ratio / _WATER_MOLAR_MASS_G_MOL
        saturated = _water_at(_Lowering.of(of, _NONE, ratio), target)
        unfrozen = np.where(of.erythritol_mol > held, saturated, unfrozen)
    return np.minimum(unfrozen, of.free_water_g)


def _water_at(lowering: _Lowering, target: FloatArray) -> FloatArray:
    """Return the g of unfrozen free water at which the lowering reaches a target.

    Newton's method on z from above, kept inside its bracket by bisection. The bracket is sound
    because ln(1 + a) + b ≥ ln(1 + a + b): the ideal mixture of all particles binds least.
    """
    dry = lowering.particles <= 0
    high = np.maximum(np.expm1(target) - lowering.saturated, 0.0) / (lowering.particles + dry) * ~dry
    low = np.zeros_like(high)
    z = np.minimum(lowering.first_guess(target) * ~dry, high)
    for _ in range(_MOST_STEPS):
        value, slope = lowering.value_and_slope(z)
        miss = value - target
        proposed = z - miss / (slope + dry)
        high, low = np.where(miss > 0, z, high), np.where(miss < 0, z, low)
        within = (proposed >= low) & (proposed <= high)
        moved = proposed if within.all() else np.where(within, proposed, (low + high) / 2)
        settled = np.abs(moved - z) <= _RELATIVE_STEP * z
        z = moved
        if settled.all():
            break
    with np.errstate(divide="ignore"):
        water = _WATER_MOLAR_MASS_G_MOL / z
    if not dry.any():
        return water
    frozen_through = target > lowering.value(np.zeros_like(target))
    return np.where(dry, np.where(frozen_through, 0.0, np.inf), water)


def dissolved_erythritol_mol(of: Liquid, unfrozen_free_water_g: FloatArray, temperature_c: FloatArray) -> FloatArray:
    """Return what of the erythritol so much water holds at a temperature, mol per 100 g mix; shapes broadcast."""
    saturated = ERYTHRITOL.mol_per_mol(temperature_c) * unfrozen_free_water_g / _WATER_MOLAR_MASS_G_MOL
    return np.minimum(of.erythritol_mol, saturated)


def frozen_pct(of: Liquid, temperature_c: FloatArray) -> FloatArray:
    """Return ice as % of all water, shape (..., temperatures); 0 where there is no water.

    Parameters
    ----------
    of : liquids of shape (...)
    temperature_c : shape (temperatures,); above 0 counts as 0, below −32 as −32
    """
    spread = of.spread()
    ice = spread.free_water_g - unfrozen_free_water_g(spread, temperature_c)
    shares = np.divide(100 * ice, spread.water_g, out=np.zeros_like(ice), where=spread.water_g > 0)
    return np.minimum(shares, 100.0)


def temperature_at_frozen_c(of: Liquid, frozen: FloatArray, *, extrapolated: bool = False) -> FloatArray:
    """Return the °C at which this % of all water is ice, shape (...); NaN where that needs below −32 °C.

    Parameters
    ----------
    of : liquids of shape (...)
    frozen : % of all water, shape (...) or a number
    extrapolated : see `ice_temperature_c`
    """
    unfrozen = of.free_water_g - frozen / 100 * of.water_g
    possible = (unfrozen >= 0) & (of.free_water_g > 0)
    left = np.maximum(unfrozen, 0.0)
    celsius = ice_temperature_c(ln_water_activity(of, left, of.erythritol_mol), extrapolated=extrapolated)
    if of.erythritol_mol.any():
        celsius = _where_erythritol_drops_out(of, left, celsius, extrapolated=extrapolated)
    return np.where(possible, celsius, np.nan)


def _where_erythritol_drops_out(
    of: Liquid, unfrozen: FloatArray, celsius: FloatArray, *, extrapolated: bool
) -> FloatArray:
    """Refine temperatures found with all erythritol dissolved; each round leaves a seventh of the error."""
    for _ in range(_DROP_OUT_ROUNDS):
        held = dissolved_erythritol_mol(of, unfrozen, np.nan_to_num(celsius, nan=c.COLDEST_ICE_C))
        celsius = ice_temperature_c(ln_water_activity(of, unfrozen, held), extrapolated=extrapolated)
    return celsius


def initial_freezing_c(of: Liquid) -> FloatArray:
    """Return the temperature of the first ice, °C, shape (...); NaN without freezable water."""
    return temperature_at_frozen_c(of, np.array(0.0))


def frozen_at(row: FloatArray, freezer_c: float) -> FloatArray:
    """Return the ice of mixes at one temperature as % of all their water, shape (...)."""
    frozen: FloatArray = frozen_pct(liquid(row), np.array([freezer_c]))[..., 0]
    return frozen
