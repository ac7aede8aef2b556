"""How a mix will eat: each outcome from a few terms, as arrays for many mixes at once.

No outcome is a bare score: each is a quantity with a unit that a cook can picture, and its terms say where it
comes from. `judgement` puts bands, words and reasons to them for one mix.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, PROTEIN, FloatArray
from jalebi_core.model.composition import components_of, fat, msnf, total_solids, trait_of, yolk_solids
from jalebi_core.physics.density import density_kg_l
from jalebi_core.physics.firmness import firmness
from jalebi_core.physics.phases import undissolved_erythritol_g
from jalebi_core.physics.sweetness import sweetness_pod

_GUM: Final = INDEX["hydrocolloids"]
_WATER: Final = INDEX["water"]
_LEAST_SWEETNESS: Final = 0.01
_COCOA_FAT: Final = INDEX["cocoa_fat"]


@dataclass(frozen=True, slots=True)
class Eating:
    """Outcomes of mixes, shape (...) each.

    firmness : firmness F at the freezer's temperature
    sweetness : g sucrose equivalents per 100 g
    saltiness : g sodium chloride per 100 g that lines bring; milk's own salts are no part of it
    tartness : g acid for each 100 g of sucrose equivalents
    richness : g fat per 100 g
    body : g solids per 100 g
    iciness : g of ice per 100 g at the freezer's temperature that nothing keeps from growing
    sand : g lactose per 100 g of water
    grit : g erythritol per 100 g that are out of solution at the freezer's temperature
    butter : g fat per 100 g that nothing keeps from churning out
    slip : g gum per 100 g
    snow : % overrun for each g of solids in 100 g
    melt : minutes until half of a scoop has run off at 20 °C
    """

    firmness: FloatArray
    sweetness: FloatArray
    saltiness: FloatArray
    tartness: FloatArray
    richness: FloatArray
    body: FloatArray
    iciness: FloatArray
    sand: FloatArray
    grit: FloatArray
    butter: FloatArray
    slip: FloatArray
    snow: FloatArray
    melt: FloatArray


def eating(
    row: FloatArray, overrun_pct: FloatArray, frozen: FloatArray, freezer_c: float, working_gum: FloatArray
) -> Eating:
    """Work out all outcomes.

    Parameters
    ----------
    row : shape (..., WIDTH), per 100 g of each mix
    overrun_pct : shape (...)
    frozen : ice as % of all water where firmness is wanted, shape (...), as `frozen_at` gives it
    freezer_c : the temperature of that
    working_gum : g per 100 g of mix that holds water, shape (...); see `gums.working_gum_pct`
    """
    parts = components_of(row)
    ice_g = frozen * parts[..., _WATER] / 100
    solids = total_solids(row)
    return Eating(
        firmness=firmness(row, frozen, overrun_pct),
        sweetness=sweetness_pod(row),
        saltiness=parts[..., INDEX["sodium_chloride"]],
        tartness=tartness(row),
        richness=fat(row),
        body=solids,
        iciness=ungoverned_ice_g(row, ice_g, working_gum),
        sand=per_100g_water(row, "lactose"),
        grit=undissolved_erythritol_g(row, frozen, freezer_c),
        butter=unguarded_fat_g(row),
        slip=parts[..., _GUM],
        snow=np.divide(overrun_pct, solids, out=np.zeros_like(solids), where=solids > 0),
        melt=half_melted_min(row, overrun_pct, ice_g, working_gum),
    )


def tartness(row: FloatArray) -> FloatArray:
    """Return g of acid for each 100 g of sweetness, shape (...), at least a hundredth of a g of it."""
    acids: FloatArray = components_of(row)[..., INDEX["acids"]]
    return 100 * acids / np.maximum(sweetness_pod(row), _LEAST_SWEETNESS)


def per_100g_water(row: FloatArray, key: str) -> FloatArray:
    """Return a component in g per 100 g of water, shape (...); 0 where there is no water."""
    parts = components_of(row)
    water = parts[..., _WATER]
    dissolved: FloatArray = np.divide(100 * parts[..., INDEX[key]], water, out=np.zeros_like(water), where=water > 0)
    return dissolved


def gum_hold(working_gum: FloatArray) -> FloatArray:
    """Return the share of the ice's growth that gums hold back, 0 to 0.3, shape (...); working convention."""
    hold: FloatArray = c.MOST_HELD_BY_GUM * np.minimum(working_gum / c.FULL_GUM_DOSE_G, 1.0)
    return hold


def fat_hold(row: FloatArray) -> FloatArray:
    """Return the share of the ice's growth that fat in its way holds back, 0 to 0.2, shape (...)."""
    hold: FloatArray = c.MOST_HELD_BY_FAT * np.minimum(fat(row) / c.FULL_FAT_HOLD_G, 1.0)
    return hold


def ungoverned_ice_g(row: FloatArray, ice_g: FloatArray, working_gum: FloatArray) -> FloatArray:
    """Return the g of ice per 100 g of mix that neither gum nor fat keeps from growing coarse, shape (...).

    More water makes more of it, more solids and more dissolved make less; gums hold up to three tenths, fat up to
    a fifth. Working convention; slow churning, slow hardening and every thaw come on top and are not in the mix.
    """
    return ice_g * (1 - gum_hold(working_gum)) * (1 - fat_hold(row))


def unguarded_fat_g(row: FloatArray) -> FloatArray:
    """Return the g of fat per 100 g that may churn to butter in a usual run of 20 min, shape (...)."""
    return np.maximum(churning_fat_g(row) - guarded_fat_g(row), 0.0)


def churning_fat_g(row: FloatArray) -> FloatArray:
    """Return the g of fat per 100 g that can churn, shape (...); that of cocoa and nuts stays in its particles."""
    churns: FloatArray = fat(row) - components_of(row)[..., _COCOA_FAT] - trait_of(row, "nut_fat")
    return churns


def guarded_fat_g(row: FloatArray) -> FloatArray:
    """Return the g of fat per 100 g that a usual run leaves apart, shape (...).

    18 g, or 4 g for each g of protein where that is more; a working convention for 20 min at the blade from 4 °C.
    Emulsifier guards none: it helps fat to join.
    """
    guarded: FloatArray = np.maximum(
        c.FAT_NEVER_CHURNED_G, c.FAT_GUARDED_PER_G_PROTEIN * (components_of(row) @ PROTEIN)
    )
    return guarded


def half_melted_min(row: FloatArray, overrun_pct: FloatArray, ice_g: FloatArray, working_gum: FloatArray) -> FloatArray:
    """Return the minutes until half of a scoop has run off in a room of 20 °C, shape (...).

    A ball of 65 ml without air takes up heat at 15 W/m²K (still air, radiation and dew together) at its whole surface;
    melting takes 333.6 J per g of ice. Air insulates and its foam holds back what has melted; a network of fat and gum
    that swelled hold it too, so that what is rich runs off later than what is lean, though there is less ice in it.
    Emulsifier and yolk help the fat to join. Working conventions that lie in the range of drip tests (half in 30 to 85
    minutes). Without ice it is 0.
    """
    ice = ice_g / 100 * np.nan_to_num(density_kg_l(row)) * c.SCOOP_ML
    watts = c.ROOM_HEAT_TRANSFER_W_M2K * c.SCOOP_SURFACE_M2 * c.ROOM_C
    by_air = 1 + c.STANDS_LONGER_BY_AIR * overrun_pct / 100
    by_fat = np.clip(1 + c.STANDS_LONGER_BY_G_FAT * (churning_fat_g(row) - c.USUAL_FAT_G), *c.STANDS_BY_FAT)
    by_gum = 1 + c.STANDS_LONGER_BY_GUM * np.minimum(working_gum / c.MELT_GUM_G, 1.0)
    emulsifier = components_of(row)[..., INDEX["emulsifiers"]] / c.MELT_EMULSIFIER_G
    joined = np.minimum(emulsifier, 1.0) + np.minimum(yolk_solids(row) / c.CUSTARD_YOLK_SOLIDS_G, 1.0)
    by_joining = 1 + c.STANDS_LONGER_BY_EMULSIFIER * joined
    minutes: FloatArray = ice / 2 * c.ICE_MELTING_J_G / watts / 60 * by_air * by_fat * by_gum * by_joining
    return minutes


def milk_solids_share(row: FloatArray) -> FloatArray:
    """Return MSNF / (MSNF + water), the classic measure of sandiness, shape (...); 0 where there is neither."""
    solids = msnf(row)
    both = solids + components_of(row)[..., _WATER]
    return np.divide(solids, both, out=np.zeros_like(both), where=both > 0)
