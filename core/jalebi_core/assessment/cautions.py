"""What the reader of an analysis must know: assumptions made, limits passed, what a style stands on and lacks."""

from __future__ import annotations

from math import isfinite
from typing import Final

from jalebi_core.assessment.analysis import Analysis
from jalebi_core.assessment.serving_conditions import Served
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import bulk_sweetener, components_of, fat, yolk_solids
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF, noticeable
from jalebi_core.model.styles import styles
from jalebi_core.physics.phases import Phases
from jalebi_core.wording.message import Message

_LEAST_SWEETENER_G: Final = 4.0
_LEAST_FAT_G: Final = 1.0
_HALF_A_PERCENT: Final = 0.005
_SERVED_FIRMNESS: Final = (30.0, 82.0)
"""Softer it runs off the spoon, harder no spoon goes in."""

_COVERS_GLUCOSE: Final = frozenset(("cocoa", "nut"))


def cautions(mix: Mix, found: Analysis, cold: Phases, freezer_c: float, served: Served) -> list[Message]:
    """Return what the reader must know of an analysis and its phases at a freezer: assumptions and limits passed."""
    messages = []
    if mix.overrun_pct is None:
        messages.append(Message("overrun-assumed", {"overrun_pct": c.REFERENCE_OVERRUN_PCT}))
    parts = components_of(found.row)
    if parts[INDEX["water"]] <= 0:
        messages.append(Message("no-water"))
    elif not isfinite(found.initial_c):
        messages.append(Message("no-ice", {"coldest_c": c.COLDEST_ICE_C}))
    if cold.crystals_g >= c.FELT_CRYSTALS_G:
        facts = {"out_g": float(cold.crystals_g), "whole_g": float(parts[INDEX["erythritol"]])}
        messages.append(Message("crystals-out", facts))
    if parts[INDEX["ethanol"]] > 0 and cold.ethanol_pct > c.ETHANOL_VALIDITY_PCT:
        messages.append(Message("much-alcohol", {"most_pct": c.ETHANOL_VALIDITY_PCT}))
    if cold.salt_mol_kg > c.NACL_VALIDITY_MOL_KG:
        messages.append(Message("strong-brine"))
    if freezer_c < c.COLDEST_ICE_C:
        messages.append(Message("below-curve", {"coldest_c": c.COLDEST_ICE_C}))
    if isfinite(found.initial_c) and not _SERVED_FIRMNESS[0] <= served.firmness <= _SERVED_FIRMNESS[1]:
        messages.append(Message("served-badly", {"served_c": served.t_c, "eats": served.words}))
    return messages + _missing_pillars(found.row, mix) + _against_style(found.row, mix)


def free_glucose_most(mix: Mix) -> float:
    """Return the share of free glucose in the sugars, 0 to 1, from which it tells: it cools and tastes thin.

    Cocoa and nuts cover it and want it.
    """
    covers = any(line.ingredient.kind in _COVERS_GLUCOSE for line in mix.base)
    return c.MOST_FREE_GLUCOSE_COVERED if covers else c.MOST_FREE_GLUCOSE


def _against_style(row: FloatArray, mix: Mix) -> list[Message]:
    """Return what does not go with the style, and more glucose or air than it carries."""
    messages: list[Message] = []
    sweet, glucose = float(bulk_sweetener(row)), float(components_of(row)[INDEX["glucose"]])
    most = free_glucose_most(mix)
    if sweet >= _LEAST_SWEETENER_G and glucose > (most + _HALF_A_PERCENT) * sweet:
        messages.append(Message("much-glucose", {"share_pct": 100 * glucose / sweet, "most_pct": 100 * most}))
    style = styles().get(mix.style or "")
    if style is None:
        return messages
    low, high = style.bands["overrun_pct"]
    named = {"style": style.noun}
    if mix.overrun_used_pct > noticeable()["overrun"].moved(high, HALF):
        messages.append(Message("much-air", {**named, "overrun_pct": mix.overrun_used_pct, "low": low, "high": high}))
    if style.slug == "frozen-custard" and float(yolk_solids(row)) < c.CUSTARD_YOLK_SOLIDS_G:
        messages.append(Message("little-yolk", {"yolk_g": float(yolk_solids(row)), "asked_g": c.CUSTARD_YOLK_SOLIDS_G}))
    milk = [line.ingredient.name for line in mix.lines if "milk" in line.ingredient.allergens]
    if style.slug == "dairy-free" and milk:
        messages.append(Message("milk-in-dairy-free", {"names": milk}))
    return messages


def _missing_pillars(row: FloatArray, mix: Mix) -> list[Message]:
    """Return what a mix has none of although its style stands on it."""
    style, bands = styles().get(mix.style or ""), mix.bands
    if style is None:
        return []
    messages, named = [], {"style": style.noun}
    if "sweetness" in bands and float(bulk_sweetener(row)) < _LEAST_SWEETENER_G:
        messages.append(Message("hardly-sugar", named))
    if bands.get("fat", (0, 0))[0] > 0 and float(fat(row)) < _LEAST_FAT_G:
        messages.append(Message("hardly-fat", named))
    return messages
