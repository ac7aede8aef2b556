"""What a frozen mix consists of at a temperature: ice, the liquid between its crystals, and what fell out of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, MOL_PER_G, FloatArray, mask
from jalebi_core.model.composition import components_of, trait_of
from jalebi_core.physics.density import density_kg_l
from jalebi_core.physics.freezing import dissolved_erythritol_mol, liquid
from jalebi_core.physics.solubility import LACTOSE

_WATER: Final = INDEX["water"]
_DISSOLVES: Final = sum(mask(family=family) for family in ("sugar", "polyol", "alcohol", "salt", "mineral", "acid"))
_LACTOSE: Final = INDEX["lactose"]
_SALT_MOL_PER_G: Final = float(MOL_PER_G[INDEX["sodium_chloride"]])


@dataclass(frozen=True, slots=True)
class Phases:
    """The phases of mixes, shape (...) each.

    ice_g, unfrozen_water_g : g per 100 g mix; the water that protein, fibre, starch and cocoa hold is in neither
    strength_pct : what is dissolved, % by mass of the liquid between the crystals; NaN where there is no liquid
    ethanol_pct : alcohol, % by mass of the alcohol and water of that liquid
    ice_volume_pct : ice, % of the volume of the product with its air
    crystals_g : g erythritol out of solution per 100 g mix
    lactose_in_water, lactose_soluble : g per 100 g of unfrozen water: what is in it, and what would stay dissolved
    salt_mol_kg : sodium chloride, mol per kg of unfrozen water
    """

    ice_g: FloatArray
    unfrozen_water_g: FloatArray
    strength_pct: FloatArray
    ethanol_pct: FloatArray
    ice_volume_pct: FloatArray
    crystals_g: FloatArray
    lactose_in_water: FloatArray
    lactose_soluble: FloatArray
    salt_mol_kg: FloatArray


def phases_of(
    row: FloatArray, overrun_pct: FloatArray, frozen_pct: FloatArray, temperature_c: FloatArray | float
) -> Phases:
    """Work out the phases.

    Parameters
    ----------
    row : shape (..., WIDTH), per 100 g of each mix
    overrun_pct, frozen_pct : shape (...); ice as % of all water at the temperature
    temperature_c : shape (...) or a number
    """
    parts, of = components_of(row), liquid(row)
    ice = frozen_pct * of.water_g / 100
    unfrozen = np.maximum(of.free_water_g - ice, 0.0)
    crystals = undissolved_erythritol_g(row, frozen_pct, temperature_c)
    dissolved = parts @ _DISSOLVES + trait_of(row, "soluble_fibre") - crystals
    ethanol = parts[..., INDEX["ethanol"]]
    volume = np.nan_to_num(100 / density_kg_l(row)) * (1 + overrun_pct / 100)
    return Phases(
        ice_g=ice,
        unfrozen_water_g=unfrozen,
        strength_pct=_share_pct(dissolved, dissolved + unfrozen, np.nan),
        ethanol_pct=_share_pct(ethanol, ethanol + unfrozen, 0.0),
        ice_volume_pct=_share_pct(ice / c.DENSITY_ICE_KG_L, volume, 0.0),
        crystals_g=crystals,
        lactose_in_water=_share_pct(parts[..., _LACTOSE], unfrozen, 0.0),
        lactose_soluble=LACTOSE.g_per_100g(np.asarray(temperature_c)),
        salt_mol_kg=_share_pct(10 * parts[..., INDEX["sodium_chloride"]] * _SALT_MOL_PER_G, unfrozen, 0.0),
    )


def undissolved_erythritol_g(row: FloatArray, frozen: FloatArray, temperature_c: FloatArray | float) -> FloatArray:
    """Return the g erythritol per 100 g of mix that are out of solution at a temperature, shape (...)."""
    parts = components_of(row)
    erythritol: FloatArray = parts[..., INDEX["erythritol"]]
    if not erythritol.any():
        return np.zeros_like(erythritol)
    of = liquid(row)
    unfrozen = np.maximum(of.free_water_g - frozen * of.water_g / 100, 0.0)
    held = dissolved_erythritol_mol(of, unfrozen, np.maximum(temperature_c, c.COLDEST_ICE_C))
    stays = np.divide(held, of.erythritol_mol, out=np.ones_like(held), where=of.erythritol_mol > 0)
    crystals: FloatArray = erythritol * (1 - stays)
    return crystals


def _share_pct(part: FloatArray, whole: FloatArray, without: float) -> FloatArray:
    """Return 100 · part / whole, or ``without`` where there is no whole."""
    return np.divide(100 * part, whole, out=np.full_like(whole, without), where=whole > 0)
