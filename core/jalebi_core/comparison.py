"""What a change does to a mix: the same figures before and after, and a sentence of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite, isnan
from typing import Final

import numpy as np

from .analysis import Analysis, analyse
from .components import FloatArray
from .composition import protein
from .mix import Mix
from .outcomes import per_100g_water


@dataclass(frozen=True, slots=True)
class Effect:
    """Differences after − before; NaN where there is none.

    g per 100 g of mix, sweetness in g sucrose equivalents, lactose in g per 100 g of water, °C.
    """

    fat: float
    total_solids: float
    protein: float
    lactose_in_water: float
    sweetness_pod: float
    scoop_c: float
    mass_g: float
    said: str

    @property
    def size(self) -> float:
        """How far the mix moves, in steps that a taster would notice; working convention, used to rank only."""
        cold = 5.0 if isnan(self.scoop_c) else abs(self.scoop_c)
        body = abs(self.fat) / 2 + abs(self.total_solids) / 2 + abs(self.protein) + abs(self.lactose_in_water) / 2
        return body + abs(self.sweetness_pod) / 1.5 + cold


def effects_of(before: Mix, after: Sequence[Mix]) -> list[Effect]:
    """Compare a mix with others, all worked out at once."""
    mixes = (before, *after)
    mass_g = np.array([mix.mass_g for mix in mixes])
    overrun_pct = np.array([mix.overrun_used_pct for mix in mixes])
    found = analyse(np.array([mix.row() for mix in mixes]), mass_g, overrun_pct, _NO_CURVE)
    figures = _figures(found)
    each = [{key: float(values[at]) for key, values in figures.items()} for at in range(len(mixes))]
    return [
        Effect(
            **{key: now[key] - each[0][key] for key in now},
            mass_g=float(mass_g[at] - mass_g[0]),
            said=_said(each[0], now),
        )
        for at, now in enumerate(each[1:], start=1)
    ]


_NO_CURVE: Final = np.array([])


def _figures(found: Analysis) -> dict[str, FloatArray]:
    return {
        "fat": found.fat,
        "total_solids": found.total_solids,
        "protein": protein(found.row),
        "lactose_in_water": per_100g_water(found.row, "lactose"),
        "sweetness_pod": found.sweetness_pod,
        "scoop_c": found.scoop_c,
    }


_WORDS: Final = {
    "fat": ("more fat", "less fat"),
    "total_solids": ("more solids", "less solids"),
    "protein": ("more protein", "less protein"),
    "lactose_in_water": ("more lactose in its water, so sandier", "less lactose in its water, so less sandy"),
    "sweetness_pod": ("more sweetness", "less sweetness"),
}
_LEAST_FELT: Final = {"fat": 0.3, "total_solids": 0.3, "protein": 0.4, "lactose_in_water": 0.8, "sweetness_pod": 0.3}
_LEAST_FELT_C: Final = 0.3
"""Below these a taster would not notice; working conventions."""


def _said(was: dict[str, float], now: dict[str, float]) -> str:
    parts = [
        f"{abs(now[key] - was[key]):.1f} {more if now[key] > was[key] else less}"
        for key, (more, less) in _WORDS.items()
        if abs(now[key] - was[key]) >= _LEAST_FELT[key]
    ]
    before, after = was["scoop_c"], now["scoop_c"]
    if isfinite(before) and not isfinite(after):
        parts.append("it no longer sets to a scoop")
    elif isfinite(after) and not isfinite(before):
        parts.append(f"it scoops at {after:.1f} °C".replace("-", "−"))
    elif isfinite(after) and abs(after - before) >= _LEAST_FELT_C:
        parts.append(f"scoops at {after:.1f} instead of {before:.1f} °C".replace("-", "−"))
    return ", ".join(parts) if parts else "nothing that you would notice"
