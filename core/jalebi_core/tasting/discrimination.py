"""Discrimination with few tasters: exact chance, how big a difference is, and how many tastings would show it.

A test asks for the odd or the stronger cup. Somebody who notices nothing is right by luck, `LUCK`; how often somebody
is right who does notice follows from d′, the distance of the two in units of what one tasting blurs (Thurstone).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from math import log, pi, sqrt
from typing import Final, Literal

import numpy as np
from scipy.special import bdtrc, betaincinv, ndtr

from jalebi_core.model.components import FloatArray

State = Literal["different", "no such difference", "go on"]

LUCK: Final[dict[str, float]] = {"triangle": 1 / 3, "duo-trio": 0.5, "tetrad": 1 / 3, "2-afc": 0.5, "3-afc": 1 / 3}
"""The share of right answers by luck alone, by kind."""

MOST_TASTINGS: Final = 400
"""So far is searched for the tastings that are needed."""

LEVEL: Final = 0.90
"""Of the intervals: their lower end leaves nothing exactly when p is below 0.05."""

_FARTHEST: Final = 40.0
_HALVINGS: Final = 60
_SAME: Final = 1e-12


def _grid(low: float) -> tuple[FloatArray, FloatArray]:
    """Return points and their weights under the normal density, by Gauss and Legendre in ten pieces."""
    nodes, weights = np.polynomial.legendre.leggauss(24)
    edges = np.linspace(low, 9.0, 11)
    half = (edges[1:] - edges[:-1])[:, None] / 2
    points = ((edges[1:] + edges[:-1])[:, None] / 2 + half * nodes).ravel()
    return points, (half * weights).ravel() * np.exp(-(points**2) / 2) / sqrt(2 * pi)


_Z, _UNDER_Z = _grid(-9.0)
_POSITIVE, _UNDER_POSITIVE = _grid(0.0)


def _two_afc(d: float) -> float:
    return float(ndtr(d / sqrt(2)))


def _duo_trio(d: float) -> float:
    near, far = float(ndtr(d / sqrt(2))), float(ndtr(d / sqrt(6)))
    return 1 - near - far + 2 * near * far


def _triangle(d: float) -> float:
    spread, moved = _POSITIVE * sqrt(3), d * sqrt(2 / 3)
    return 2 * float(_UNDER_POSITIVE @ (ndtr(moved - spread) + ndtr(-moved - spread)))


def _three_afc(d: float) -> float:
    return float(_UNDER_Z @ ndtr(_Z + d) ** 2)


def _tetrad(d: float) -> float:
    less = ndtr(_Z - d)
    return 1 - 2 * float(_UNDER_Z @ (2 * ndtr(_Z) * less - less**2))


_SHARE_RIGHT: Final[dict[str, Callable[[float], float]]] = {
    "triangle": _triangle, "duo-trio": _duo_trio, "tetrad": _tetrad, "2-afc": _two_afc, "3-afc": _three_afc,
}  # fmt: skip


def share_right(kind: str, d: float) -> float:
    """Return how often somebody is right for whom the two lie d′ apart, 0 to 1."""
    return _SHARE_RIGHT[kind](d)


def d_prime(kind: str, share: float) -> float | None:
    """Return d′ of a share of right answers: 0 at or below luck, None where all are right."""
    if share <= LUCK[kind]:
        return 0.0
    if share >= 1:
        return None
    low, high = 0.0, _FARTHEST
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if share_right(kind, middle) < share else (low, middle)
    return (low + high) / 2


def chance(kind: str, tastings: int, right: int) -> float:
    """Return how often luck alone gives as many right answers or more: P(X ≥ x | n, g)."""
    return 1.0 if right <= 0 else float(bdtrc(right - 1, tastings, LUCK[kind]))


def clopper_pearson(count: int, of: int, level: float = LEVEL) -> tuple[float, float]:
    """Return the exact interval of a share."""
    tail = (1 - level) / 2
    low = 0.0 if count == 0 else float(betaincinv(count, of - count + 1, tail))
    high = 1.0 if count == of else float(betaincinv(count + 1, of - count, 1 - tail))
    return low, high


def right_needed(kind: str, tastings: int, alpha: float) -> int | None:
    """Return the fewest right answers that luck gives no more often than alpha; None where all right is not enough."""
    return next((right for right in range(tastings + 1) if chance(kind, tastings, right) <= alpha * (1 + _SAME)), None)


@dataclass(frozen=True, slots=True)
class Needed:
    """The fewest tastings that show a difference, and how many of them must be right; None beyond what is searched."""

    tastings: int | None
    right: int | None


@cache
def tastings_needed(kind: str, share: float, alpha: float, power: float) -> Needed:
    """Return the least n whose exact test at alpha is passed with that power by people right in so great a share."""
    counts = np.arange(MOST_TASTINGS + 1)
    for tastings in range(1, MOST_TASTINGS + 1):
        tails = np.concatenate(([1.0], bdtrc(counts[:tastings], tastings, LUCK[kind])))
        right = int(np.argmax(tails <= alpha * (1 + _SAME)))
        if tails[right] <= alpha * (1 + _SAME) and float(bdtrc(right - 1, tastings, share)) >= power:
            return Needed(tastings, right)
    return Needed(None, None)


@dataclass(frozen=True, slots=True)
class Sequential:
    """Wald's sequential test of luck against the share right at the d′ that matters; it may be read after every cup."""

    llr: float
    upper: float
    lower: float

    @property
    def state(self) -> State:
        if self.llr >= self.upper:
            return "different"
        return "no such difference" if self.llr <= self.lower else "go on"


def sequential(kind: str, tastings: int, right: int, matters: float, alpha: float, power: float) -> Sequential:
    """Return where the log of the likelihoods' ratio stands between its two limits."""
    luck, share = LUCK[kind], share_right(kind, matters)
    llr = right * log(share / luck) + (tastings - right) * log((1 - share) / (1 - luck))
    return Sequential(llr, log(power / alpha), log((1 - power) / (1 - alpha)))


@dataclass(frozen=True, slots=True)
class Discrimination:
    """What so many right answers say.

    p : how often luck does as well; smallest_p : the least that so many tastings could give
    pc : the share right
    d_prime, d_low, d_high : None where nothing bounds it from above
    """

    n: int
    correct: int
    p: float
    pc: float
    d_prime: float | None
    d_low: float
    d_high: float | None
    smallest_p: float


def discriminate(kind: str, tastings: int, right: int) -> Discrimination:
    """Return the exact test of so many right answers."""
    low, high = clopper_pearson(right, tastings)
    return Discrimination(
        n=tastings,
        correct=right,
        p=chance(kind, tastings, right),
        pc=right / tastings,
        d_prime=d_prime(kind, right / tastings),
        d_low=d_prime(kind, low) or 0.0,
        d_high=d_prime(kind, high),
        smallest_p=chance(kind, tastings, tastings),
    )
