"""What the reader of an analysis must know: assumptions made, limits passed, what a style stands on and lacks."""

from __future__ import annotations

from math import isfinite
from typing import Final

from jalebi_core.assessment.analysis import Analysis
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import bulk_sweetener, components_of, fat
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import styles
from jalebi_core.physics.phases import Phases
from jalebi_core.wording.message import Message

_LEAST_SWEETENER_G: Final = 4.0
_LEAST_FAT_G: Final = 1.0


def cautions(mix: Mix, found: Analysis, cold: Phases, freezer_c: float) -> list[Message]:
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
    return messages + _missing_pillars(found.row, mix)


def _missing_pillars(row: FloatArray, mix: Mix) -> list[Message]:
    """Return what a mix has none of although its style stands on it."""
    style, bands = styles().get(mix.style or ""), mix.bands
    if style is None:
        return []
    messages, named = [], {"style": _with_article(style.name)}
    if "sweetness" in bands and float(bulk_sweetener(row)) < _LEAST_SWEETENER_G:
        messages.append(Message("hardly-sugar", named))
    if bands.get("fat", (0, 0))[0] > 0 and float(fat(row)) < _LEAST_FAT_G:
        messages.append(Message("hardly-fat", named))
    return messages


def _with_article(name: str) -> str:
    return f"{'an' if name[0] in 'aeiou' else 'a'} {name}"
