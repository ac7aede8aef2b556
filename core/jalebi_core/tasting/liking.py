"""Liking from 1 to 9: what tasters' own differences show, and what being too much or too little costs."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import lcm
from typing import Final, Literal

import numpy as np
from scipy.special import stdtrit

from jalebi_core.model.components import FloatArray
from jalebi_core.tasting.discrimination import LEVEL

Side = Literal["too little", "too much"]

_SIDES: Final[tuple[tuple[int, Side], ...]] = ((-1, "too little"), (1, "too much"))
_HINT_SHARE: Final = 0.20
_HINT_COUNT: Final = 2
_SAME: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Liked:
    """How well one taster liked one variant, 1 to 9, and the marks he gave, −2 to 2, by attribute."""

    taster: str
    variant: str
    liking: float
    marks: Mapping[str, int]


@dataclass(frozen=True, slots=True)
class Pair:
    """Two variants by the mean of each taster's own difference, b − a.

    low, high : with 90 %, None for a single taster
    p : how often luck turns the signs so far; p_holm : as one of several pairs; smallest_p : the least there could be
    """

    a: str
    b: str
    n: int
    difference: float
    low: float | None
    high: float | None
    p: float
    p_holm: float
    smallest_p: float


@dataclass(frozen=True, slots=True)
class Penalty:
    """What too much or too little of an attribute costs a variant in liking.

    n, share : how many said so
    drop : the mean liking of those who found it just right less theirs, None where nobody did; weight : drop · share
    """

    variant: str
    attribute: str
    side: Side
    n: int
    share: float
    drop: float | None
    weight: float | None

    @property
    def is_hint(self) -> bool:
        """Whether so few said it that it is a hint and no more."""
        return self.n < _HINT_COUNT or self.share < _HINT_SHARE


def means_of(liked: Sequence[Liked], variants: Sequence[str]) -> dict[str, float]:
    """Return the mean liking of each variant that was tasted."""
    by_variant = {key: [one.liking for one in liked if one.variant == key] for key in variants}
    return {key: float(np.mean(values)) for key, values in by_variant.items() if values}


def pairs_of(liked: Sequence[Liked], variants: Sequence[str]) -> list[Pair]:
    """Return all pairs of variants that somebody tasted both of, Holm's correction over them."""
    found = [pair for a, b in combinations(variants, 2) if (pair := _pair(liked, a, b)) is not None]
    corrected, most = {}, 0.0
    for at, pair in enumerate(sorted(found, key=lambda one: one.p)):
        most = max(most, min(1.0, (len(found) - at) * pair.p))
        corrected[pair.a, pair.b] = most
    return [
        Pair(one.a, one.b, one.n, one.difference, one.low, one.high, one.p, corrected[one.a, one.b], one.smallest_p)
        for one in found
    ]


def _pair(liked: Sequence[Liked], a: str, b: str) -> Pair | None:
    own: dict[str, dict[str, list[float]]] = {}
    for one in liked:
        own.setdefault(one.taster, {}).setdefault(one.variant, []).append(one.liking)
    both = [marks for marks in own.values() if a in marks and b in marks]
    if not both:
        return None
    differences = np.array([np.mean(marks[b]) - np.mean(marks[a]) for marks in both])
    parts = lcm(*(len(marks[key]) for marks in both for key in (a, b)))
    mean, n = float(differences.mean()), len(differences)
    low = high = None
    if n > 1:
        half = float(stdtrit(n - 1, (1 + LEVEL) / 2) * differences.std(ddof=1) / n**0.5)
        low, high = mean - half, mean + half
    return Pair(a, b, n, mean, low, high, sign_flip_chance(differences * parts), 1.0, min(1.0, 2 * 0.5**n))


def sign_flip_chance(differences: FloatArray) -> float:
    """Return how often the sum is as far from 0 when each sign falls by luck; differences are whole numbers, (n,)."""
    sizes = np.rint(np.abs(differences)).astype(int)
    whole = int(sizes.sum())
    shares = np.zeros(2 * whole + 1)
    shares[whole] = 1.0
    for size in sizes.tolist():
        shares = (np.roll(shares, size) + np.roll(shares, -size)) / 2
    sums = np.arange(-whole, whole + 1)
    return min(1.0, float(shares[np.abs(sums) >= abs(round(float(differences.sum()))) - _SAME].sum()))


def penalties_of(liked: Sequence[Liked], variants: Sequence[str]) -> list[Penalty]:
    """Return what marks cost, by attribute as met, by variant, too little before too much."""
    return [
        penalty
        for attribute in _met(name for one in liked for name in one.marks)
        for variant in variants
        for penalty in _penalties(
            [one for one in liked if one.variant == variant and attribute in one.marks], variant, attribute
        )
    ]


def _penalties(marked: Sequence[Liked], variant: str, attribute: str) -> Iterable[Penalty]:
    right = [one.liking for one in marked if one.marks[attribute] == 0]
    for sign, side in _SIDES:
        off = [one.liking for one in marked if one.marks[attribute] * sign > 0]
        if off:
            share = len(off) / len(marked)
            drop = float(np.mean(right) - np.mean(off)) if right else None
            yield Penalty(variant, attribute, side, len(off), share, drop, None if drop is None else drop * share)


def _met(names: Iterable[str]) -> list[str]:
    return list(dict.fromkeys(names))
