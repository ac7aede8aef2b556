"""What a change does to a mix: the same figures before and after, and a sentence of them."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite, isnan

from .analysis import Analysis, analyse_mix
from .mix import Mix


@dataclass(frozen=True, slots=True)
class Effect:
    """Differences after − before: g per 100 g, sweetness in g sucrose equivalents, °C; NaN where there is none."""

    fat: float
    total_solids: float
    sweetness_pod: float
    scoop_c: float
    mass_g: float
    said: str

    @property
    def size(self) -> float:
        """How far the mix moves, in steps that a taster would notice; working convention, used to rank only."""
        cold = 5.0 if isnan(self.scoop_c) else abs(self.scoop_c)
        return abs(self.fat) / 2 + abs(self.total_solids) / 2 + abs(self.sweetness_pod) / 1.5 + cold


def effect_of(before: Mix, after: Mix) -> Effect:
    """Compare two mixes."""
    one, other = analyse_mix(before), analyse_mix(after)
    moved = {key: float(getattr(other, key) - getattr(one, key)) for key in _MOVED}
    return Effect(**moved, mass_g=after.mass_g - before.mass_g, said=_said(one, other, moved))


_MOVED = ("fat", "total_solids", "sweetness_pod", "scoop_c")
_WORDS = {"fat": "fat", "total_solids": "solids", "sweetness_pod": "sweetness"}
_LEAST_SAID = 0.3


def _said(one: Analysis, other: Analysis, moved: dict[str, float]) -> str:
    parts = [
        f"{abs(moved[key]):.1f} {'more' if moved[key] > 0 else 'less'} {word}"
        for key, word in _WORDS.items()
        if abs(moved[key]) >= _LEAST_SAID
    ]
    was, now = float(one.scoop_c), float(other.scoop_c)
    if isfinite(was) and not isfinite(now):
        parts.append("it no longer sets to a scoop")
    elif isfinite(now) and not isfinite(was):
        parts.append(f"it scoops at {now:.1f} °C".replace("-", "−"))
    elif isfinite(now) and abs(now - was) >= _LEAST_SAID:
        parts.append(f"scoops at {now:.1f} instead of {was:.1f} °C".replace("-", "−"))
    return ", ".join(parts) if parts else "nothing that you would notice"
