"""Grams as cups, spoons and pieces: the nearest amount that a cook without a scale would measure."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from math import floor
from typing import Final

from jalebi_core.model.measures import Measures
from jalebi_core.quantities.amounts import ML_PER_SPOON, ML_PER_UNIT, Spoons

_PARTS: Final[Mapping[str, Mapping[float, str]]] = {
    "cup": {0.0: "", 0.25: "¼", 1 / 3: "⅓", 0.5: "½", 2 / 3: "⅔", 0.75: "¾"},
    "tbsp": {0.0: "", 0.5: "½"},
    "tsp": {0.0: "", 0.125: "⅛", 0.25: "¼", 0.5: "½", 0.75: "¾"},
    "pinch": {0.0: ""},
    "piece": {0.0: "", 0.25: "¼", 0.5: "½", 0.75: "¾"},
}
"""The parts of one that there are spoons for, or that a piece is cut into."""

_LADDER: Final = ("cup", "tbsp", "tsp", "pinch")
"""Biggest first; what one leaves over is measured with the next."""

_LEAST: Final = {"cup": 0.25, "tbsp": 1.0, "tsp": 0.125, "pinch": 0.5}
"""From how much on a measure is used."""

_CLOSE: Final = 0.05
_UNCHANGED: Final = ("tbsp", "tsp")


def household_measure(grams: float, measures: Measures, spoons: Spoons = "metric") -> str | None:
    """Return an amount as a cook would measure it, None where it is known by weight only or is too little.

    Pieces come first where they fit to 5 %. Else it is the biggest measure that there is enough for; what that leaves
    over, if more than 5 %, is told in the next smaller one.

    >>> measured(120.0, Measures(density_kg_l=1.0))
    '½ cup'
    """
    return _measured(grams, measures.density_kg_l, tuple(measures.pieces.items()), spoons)


@lru_cache(maxsize=4096)
def _measured(
    grams: float, density_kg_l: float | None, pieces: tuple[tuple[str, float], ...], spoons: Spoons
) -> str | None:
    for name, piece_g in pieces:
        count = _nearest(grams / piece_g, "piece")
        if count > 0 and abs(count * piece_g - grams) <= _CLOSE * grams:
            return _counted(count, "piece", name)
    if density_kg_l is None:
        return None
    return _by_volume(grams / density_kg_l, {**ML_PER_UNIT, **ML_PER_SPOON[spoons]})


def plural(name: str) -> str:
    """Return what several of a piece or measure are called, as `read_amount` reads it back."""
    if name in _UNCHANGED:
        return name
    if name.endswith("f"):
        return f"{name[:-1]}ves"
    return f"{name}es" if name.endswith(("ch", "sh", "s", "x")) else f"{name}s"


def _by_volume(millilitres: float, sizes: Mapping[str, float]) -> str | None:
    for at, unit in enumerate(_LADDER):
        count = millilitres / sizes[unit]
        if count < _LEAST[unit]:
            continue
        nearest = _nearest(count, unit)
        smaller = _LADDER[at + 1] if at + 1 < len(_LADDER) else None
        if smaller is None or abs(nearest - count) <= _CLOSE * count:
            return _counted(max(nearest, min(_LEAST[unit], 1.0)), unit, unit)
        below = _largest_below(count, unit)
        rest = _nearest((count - below) * sizes[unit] / sizes[smaller], smaller)
        if rest == 0:
            return _counted(below, unit, unit)
        over = _counted(rest, smaller, smaller)
        return f"{_counted(below, unit, unit)} + {over}" if below > 0 else over
    return None


def _nearest(count: float, kind: str) -> float:
    whole = floor(count)
    return min((whole + part for part in (*_PARTS[kind], 1.0)), key=lambda value: abs(value - count))


def _largest_below(count: float, kind: str) -> float:
    whole = floor(count)
    return max(whole + part for part in _PARTS[kind] if whole + part <= count)


def _counted(count: float, kind: str, name: str) -> str:
    whole = floor(count + 1e-9)
    part = _PARTS[kind][min(_PARTS[kind], key=lambda fraction: abs(whole + fraction - count))]
    written = f"{whole or ''}{part}" if part else f"{whole}"
    return f"{written} {name if count <= 1 else plural(name)}"
