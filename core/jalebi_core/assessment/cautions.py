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

_LEAST_SWEETENER_G: Final = 4.0
_LEAST_FAT_G: Final = 1.0


def cautions(mix: Mix, found: Analysis, cold: Phases, freezer_c: float) -> list[str]:
    """Return what the reader must know of an analysis and its phases at a freezer: assumptions and limits passed."""
    messages = []
    if mix.overrun_pct is None:
        messages.append(f"No overrun is stated; {c.REFERENCE_OVERRUN_PCT:g} % is assumed.")
    parts = components_of(found.row)
    water = parts[INDEX["water"]]
    if water <= 0:
        messages.append("There is no water in it, so nothing freezes.")
    elif not isfinite(found.initial_c):
        messages.append(f"No ice forms in it down to {c.COLDEST_ICE_C:g} °C.".replace("-", "−"))
    if cold.crystals_g >= c.FELT_CRYSTALS_G:
        out, whole = float(cold.crystals_g), float(parts[INDEX["erythritol"]])
        messages.append(
            f"{out:.1f} g of the {whole:.1f} g erythritol in 100 g fall out of solution in the freezer: they feel "
            "gritty and soften nothing. The curve counts what stays dissolved."
        )
    if parts[INDEX["ethanol"]] > 0 and cold.ethanol_pct > c.ETHANOL_VALIDITY_PCT:
        messages.append(
            f"More than {c.ETHANOL_VALIDITY_PCT:g} % of its liquid is alcohol in the freezer: "
            "beyond that the freezing curve is an estimate."
        )
    if cold.salt_mol_kg > c.NACL_VALIDITY_MOL_KG:
        messages.append("Its liquid is stronger brine than salt stays dissolved in: there the curve is an estimate.")
    if freezer_c < c.COLDEST_ICE_C:
        messages.append(f"No more ice forms below {c.COLDEST_ICE_C:g} °C; that is what is shown.".replace("-", "−"))
    return messages + _missing_pillars(found.row, mix)


def _missing_pillars(row: FloatArray, mix: Mix) -> list[str]:
    """Return what a mix has none of although its style stands on it, as sentences."""
    style, bands = styles().get(mix.style or ""), mix.bands
    messages = []
    if style and "sweetness" in bands and float(bulk_sweetener(row)) < _LEAST_SWEETENER_G:
        messages.append(
            f"There is hardly any sugar in it: {_with_article(style.name)} sets like stone without something that "
            "dissolves."
        )
    if style and bands.get("fat", (0, 0))[0] > 0 and float(fat(row)) < _LEAST_FAT_G:
        messages.append(
            f"There is hardly any fat in it: {_with_article(style.name)} without fat eats watery and melts fast."
        )
    return messages


def _with_article(name: str) -> str:
    return f"{'an' if name[0] in 'aeiou' else 'a'} {name}"
