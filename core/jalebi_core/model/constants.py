"""Physical constants and working conventions, each with its source."""

from __future__ import annotations

from typing import Final

ZERO_CELSIUS_K: Final = 273.15
GAS_CONSTANT_J_MOL_K: Final = 8.314462618
"""CODATA 2018 (exact)."""

ICE_FUSION_J_MOL: Final = 6009.5
"""Enthalpy of fusion of ice at 0 °C; handbook value."""

ICE_FUSION_CP_J_MOL_K: Final = 38.0
"""Heat capacity of liquid water less that of ice; gives ice activities 0.9073 at −10 °C and 0.8224 at −20 °C."""

WATER_MOLAR_MASS_KG_MOL: Final = 0.0180153

SUCROSE_MOLAR_MASS_G_MOL: Final = 342.30
"""The yardstick of freezing power: sucrose counts as 100."""

GLUCOSE_MOLAR_MASS_G_MOL: Final = 180.16
LEAST_ACID_MOLAR_MASS_G_MOL: Final = 46.03
"""Formic acid, the smallest there is in food."""

NACL_OSMOTIC_COEFFICIENT: Final = (0.9139, -0.00498, 0.00806)
"""φ = a + b·m + c·m², m in mol NaCl per kg water; fitted to handbook brine, within 0.08 °C up to the eutectic."""

COLDEST_ICE_C: Final = -32.0
"""Below about −32 °C the unfrozen phase is a glass and no more ice forms; nothing is computed colder."""

DEFAULT_HIGHER_SACCHARIDES_MOLAR_MASS_G_MOL: Final = 772.0
"""Those of a DE 42 syrup (19 % glucose, 14 % maltose of its solids): 1/429 = 0.19/180.16 + 0.14/342.3 + 0.67/M."""

NORRISH_K_PER_GLUCOSE_UNIT: Final = 2.25
"""Working convention for chains of sugars: K grows with the number of units, as from glucose 2.23 to maltose 4.54."""

CHAIN_UNIT_MOLAR_MASS_G_MOL: Final = 162.14
"""One anhydroglucose unit of a saccharide chain."""

DENSITY_FAT_KG_L: Final = 0.93
DENSITY_NONFAT_SOLIDS_KG_L: Final = 1.58
DENSITY_WATER_KG_L: Final = 1.0
DENSITY_ETHANOL_KG_L: Final = 0.79
"""Additive specific volumes of the parts of a mix; dairy-science convention."""

SCOOPING_FIRMNESS: Final = 70.0
"""Firmness at which a dessert scoops; the kitchen's own log will correct it."""

REFERENCE_OVERRUN_PCT: Final = 30.0
"""Overrun at which firmness equals the percentage of water frozen; also assumed where a mix states none."""

AIR_SOFTENING_EXPONENT: Final = 0.25
"""Working convention: 70 % frozen at 30 % overrun feels like 76 % at 80 %."""

SCOOPING_UNCERTAINTY_C: Final = 0.7
"""Spread of the scooping temperature from the uncertainty of K and of bound water."""

MSNF_DEPRESSION_C: Final = 2.37
"""°C of depression by milk salts per g MSNF per g of unfrozen water in 100 g mix; Leighton's factor."""

ETHANOL_VALIDITY_PCT: Final = 20.0
"""Alcohol in the unfrozen liquid beyond which the curve is an extrapolation of the fitted Norrish constant."""

ERYTHRITOL_SOLUBLE: Final = (61.0, 25.0, 22_000.0)
"""g per 100 g water, °C, J/mol: 61 g at 25 °C (38 % by mass) and the cooling of 180 J per g that dissolves, both from
handbooks. They give 26 g at 0 °C and 13 g at −18 °C. The 10 g at 0 °C that is often repeated belongs to mannitol."""

LACTOSE_SOLUBLE: Final = (11.9, 0.0, 16_100.0)
"""g anhydrous per 100 g water at 0 °C, °C, J/mol: the slope through 11.9 g at 0 and 21.6 g at 25 °C; handbook."""

FELT_CRYSTALS_G: Final = 0.5
"""g of crystals in 100 g from which a tongue feels grit; working convention."""

NACL_VALIDITY_MOL_KG: Final = 5.2
"""Sodium chloride per kg unfrozen water beyond which its osmotic coefficient is not fitted: the eutectic, −21.1 °C."""

DENSITY_ICE_KG_L: Final = 0.917

CLOSURE_TOLERANCE_G: Final = 0.5
"""How far the parts of 100 g may miss 100 before a composition is refused."""

ETHANOL_RELATIVE_VOLATILITY: Final = 9.0
"""By mass, dilute and boiling: vapour over 1 to 10 % ethanol holds about nine times its share (Rayleigh boiling)."""

HELD_BY_DRY_LEAF_G_G: Final = (1.5, 3.0)
HELD_BY_FRESH_LEAF_G_G: Final = (0.3, 0.8)
"""Liquid kept by steeped leaves, g per g, pressed and left to drain; working conventions, replaced by weighing."""

FRESH_LEAF_WATER_PCT: Final = 50.0

SYRUP_SHARE: Final = 0.6
"""Share of the liquid of macerated fruit that runs off as syrup overnight; working convention."""

COARSE_SHARE_OF_STRAININGS: Final = 0.5
"""Most of what stays in a sieve that can be fibre; the rest is liquid clinging to it. Working convention."""

SOURED_MILK_ACIDS_PCT: Final = (0.3, 0.8)
"""Acid, as citric, in milk that is soured as a stand-in for buttermilk."""

MOST_HELD_BY_GUM: Final = 0.3
FULL_GUM_DOSE_G: Final = 0.25
MOST_HELD_BY_FAT: Final = 0.2
FULL_FAT_HOLD_G: Final = 14.0
"""How much of the ice's growth gum and fat hold back at most, and g per 100 g where they do; working conventions."""

FAT_NEVER_CHURNED_G: Final = 18.0
"""g of fat in 100 g up to which a usual run of 20 min from 4 °C makes no butter."""

FAT_GUARDED_PER_G_PROTEIN: Final = 4.0
"""g of fat beyond that which a g of protein keeps from churning to butter."""

SCOOP_ML: Final = 65.0
SCOOP_SURFACE_M2: Final = 0.00782
"""A ball of 65 ml: radius 24.9 mm."""

ROOM_C: Final = 20.0
ROOM_HEAT_TRANSFER_W_M2K: Final = 15.0
"""Still air, radiation and dew on a cold ball together."""

ICE_MELTING_J_G: Final = 333.6

STANDS_LONGER_BY_AIR: Final = 0.3
"""Share by which a scoop stands longer for 100 % of overrun; a working convention, as are those that follow."""

USUAL_FAT_G: Final = 10.0
STANDS_LONGER_BY_G_FAT: Final = 0.03
STANDS_BY_FAT: Final = (0.7, 1.4)
"""Fat that joins to a network holds what has melted: by how much more for a g of it in 100 g, from and up to what."""

STANDS_LONGER_BY_GUM: Final = 0.5
MELT_GUM_G: Final = 0.3
"""By how much more with a full dose of gum, and g of it in 100 g."""

STANDS_LONGER_BY_EMULSIFIER: Final = 0.1
MELT_EMULSIFIER_G: Final = 0.15
"""By how much more with a usual dose of emulsifier, or the yolk of a custard, and g of it in 100 g."""

LEAST_MILK_FAT_TO_NAME_G: Final = 0.5
"""Below this a mix comes into question for no protected dairy name."""

CUSTARD_YOLK_SOLIDS_G: Final = 1.4
"""g egg-yolk solids per 100 g from which the United States call ice cream frozen custard; 21 CFR 135.110(f)."""

MOST_FREE_GLUCOSE: Final = 0.3
MOST_FREE_GLUCOSE_COVERED: Final = 0.5
"""Share of free glucose in the sweeteners from which it cools the tongue, and beside cocoa and nuts; conventions."""

HARDENED_BY_COCOA_BUTTER: Final = 0.43
HARDENED_BY_COCOA_SOLIDS: Final = 0.87
HARDENED_BY_NUT_FAT: Final = 0.68
"""Points of firmness for each g in 100 g of mix: 0.9, 1.8 and 1.4 of the adding-up school's hardening factors, 100 of
whose points per kg are about 4.8 of firmness; working conventions."""
