"""What a change does to a mix: the same figures before and after, and a sentence of them."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite, isnan
from typing import Final

from .analysis import Analysis, analyse_mix
from .components import INDEX, mask
from .composition import components_of
from .mix import Mix


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


def effect_of(before: Mix, after: Mix) -> Effect:
    """Compare two mixes."""
    one, other = analyse_mix(before), analyse_mix(after)
    was, now = _figures(one), _figures(other)
    moved = {key: now[key] - was[key] for key in was}
    return Effect(**moved, mass_g=after.mass_g - before.mass_g, said=_said(was, now))


def _figures(found: Analysis) -> dict[str, float]:
    parts = components_of(found.row)
    water = float(parts[INDEX["water"]])
    return {
        "fat": float(found.fat),
        "total_solids": float(found.total_solids),
        "protein": float(parts @ _PROTEIN),
        "lactose_in_water": 100 * float(parts[INDEX["lactose"]]) / water if water > 0 else 0.0,
        "sweetness_pod": float(found.sweetness_pod),
        "scoop_c": float(found.scoop_c),
    }


_PROTEIN: Final = mask(family="protein")
_WORDS: Final = {
    "fat": "fat",
    "total_solids": "solids",
    "protein": "protein",
    "lactose_in_water": "lactose in its water, which makes sand",
    "sweetness_pod": "sweetness",
}
_LEAST_FELT: Final = {"fat": 0.3, "total_solids": 0.3, "protein": 0.4, "lactose_in_water": 0.8, "sweetness_pod": 0.3}
_LEAST_FELT_C: Final = 0.3
"""Below these a taster would not notice; working conventions."""


def _said(was: dict[str, float], now: dict[str, float]) -> str:
    parts = [
        f"{abs(now[key] - was[key]):.1f} {'more' if now[key] > was[key] else 'less'} {word}"
        for key, word in _WORDS.items()
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
