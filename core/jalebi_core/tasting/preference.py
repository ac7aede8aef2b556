"""Which of two is liked better, and how strong each of several is that were compared in pairs."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from scipy.special import bdtrc, expit

from jalebi_core.model.components import FloatArray
from jalebi_core.tasting.discrimination import clopper_pearson

CLEAR_LEAD: Final = 1.645
"""So many standard deviations ahead of the second is the best one different: 5 % from one side."""

_ROUNDS: Final = 50
_SETTLED: Final = 1e-12


@dataclass(frozen=True, slots=True)
class Preference:
    """Votes of two, one a taster: how often luck parts them as far or farther, and the first one's share with 90 %."""

    n: int
    picked: tuple[int, int]
    p: float
    share: float | None
    low: float
    high: float
    smallest_p: float


def votes_of(picks: Iterable[tuple[str, str]]) -> list[str]:
    """Return the vote of each taster: what he picked more often; who is undecided drops out."""
    by_taster: dict[str, Counter[str]] = {}
    for taster, pick in picks:
        by_taster.setdefault(taster, Counter())[pick] += 1
    found = []
    for counts in by_taster.values():
        (first, most), *others = counts.most_common()
        if not others or others[0][1] < most:
            found.append(first)
    return found


def prefer(votes: Sequence[str], first: str) -> Preference:
    """Return what votes of two say."""
    n, ones = len(votes), sum(vote == first for vote in votes)
    low, high = clopper_pearson(ones, n) if n else (0.0, 1.0)
    return Preference(
        n, (ones, n - ones), _two_sided(max(ones, n - ones), n), ones / n if n else None, low, high, _two_sided(n, n)
    )


def _two_sided(more: int, n: int) -> float:
    return min(1.0, 2 * float(bdtrc(more - 1, n, 0.5))) if n else 1.0


@dataclass(frozen=True, slots=True)
class Strengths:
    """Of several, how strong each is, on the scale of the log of odds around 0, with its standard deviation.

    lead : by how many standard deviations the best leads the second
    """

    strengths: FloatArray
    sd: FloatArray
    best: int
    lead: float


def strengths_of(wins: FloatArray) -> Strengths:
    """Return the strengths by Bradley and Terry, the most probable under a normal prior of 1.

    Parameters
    ----------
    wins : how often each (row) was picked before each (column), shape (k, k)

    With the prior they are finite also where one wins all.
    """
    count = len(wins)
    met = wins + wins.T
    strengths = np.zeros(count)
    hessian = np.eye(count)
    for _ in range(_ROUNDS):
        beats = expit(strengths[:, None] - strengths[None, :])
        gradient = (wins - met * beats).sum(axis=1) - strengths
        weight = met * beats * (1 - beats)
        hessian = np.eye(count) + np.diag(weight.sum(axis=1)) - weight
        step = np.linalg.solve(hessian, gradient)
        strengths = strengths + step
        if np.abs(step).max() < _SETTLED:
            break
    covariance = np.linalg.inv(hessian)
    best, second = (int(at) for at in np.argsort(-strengths, kind="stable")[:2])
    apart = covariance[best, best] + covariance[second, second] - 2 * covariance[best, second]
    lead = float(strengths[best] - strengths[second]) / float(apart) ** 0.5
    return Strengths(strengths, np.sqrt(np.diag(covariance)), best, lead)


def unanimous(wins: FloatArray) -> FloatArray:
    """Return the same comparisons, won by whoever was the stronger: no result of so many could be clearer."""
    ranks = np.argsort(np.argsort(-strengths_of(wins).strengths, kind="stable"), kind="stable")
    met = wins + wins.T
    return np.where(ranks[:, None] < ranks[None, :], met, 0.0)
