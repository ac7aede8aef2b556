"""Ranks: whether several differ at all (Friedman), and whether they rise in the order they stand in (Page)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from itertools import permutations
from typing import Final

import numpy as np
from scipy.special import chdtrc

from jalebi_core.model.components import FloatArray

_COUNTED_OUT: Final = {2: 12, 3: 12, 4: 12, 5: 6}
"""Up to so many tasters Friedman's chance is counted out, by how many were ranked; beyond, χ² is near enough."""

_SAME: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Ranking:
    """What rankings say of variants in a given order.

    rank_sums : shape (k,)
    chi2, p_any : Friedman's statistic, and how often luck gives as much
    page_l, p_rise, p : Page's L, how often luck gives as much or more, and that from either side
    smallest_p : the least that so many rankings could give
    exact : whether nobody's ranks were tied
    """

    n: int
    rank_sums: FloatArray
    chi2: float
    p_any: float
    page_l: float
    p_rise: float
    p: float
    smallest_p: float
    exact: bool


def mean_ranks(orders: Sequence[tuple[str, Sequence[str]]], keys: Sequence[str]) -> FloatArray:
    """Return each taster's ranks of the variants by their mean rank, ties shared, shape (tasters, k).

    Parameters
    ----------
    orders : of each ranking the taster, and the variants from least to most
    """
    by_taster: dict[str, list[list[float]]] = {}
    for taster, order in orders:
        place: Mapping[str, int] = {key: at for at, key in enumerate(order, start=1)}
        by_taster.setdefault(taster, []).append([float(place[key]) for key in keys])
    return np.array([_ranks(np.mean(own, axis=0)) for own in by_taster.values()])


def _ranks(values: FloatArray) -> FloatArray:
    below = (values[None, :] < values[:, None] - _SAME).sum(axis=1)
    equal = (np.abs(values[None, :] - values[:, None]) <= _SAME).sum(axis=1)
    return np.asarray(below + (equal + 1) / 2, dtype=np.float64)


def rank(ranks: FloatArray) -> Ranking:
    """Return Friedman's and Page's tests of ranks, shape (tasters, k)."""
    n, k = ranks.shape
    sums = ranks.sum(axis=0)
    exact = bool((np.sort(ranks, axis=1) == np.arange(1, k + 1)).all())
    chi2 = _chi2(ranks)
    counted_out = exact and n <= _COUNTED_OUT.get(k, 0)
    page_l = float(np.arange(1, k + 1) @ sums)
    p_rise, p_fall = _page(ranks, page_l)
    alone = _page_parts(tuple(range(2, 2 * k + 1, 2)))
    return Ranking(
        n=n,
        rank_sums=sums,
        chi2=chi2,
        p_any=_friedman(n, k, float((sums**2).sum())) if counted_out else float(chdtrc(k - 1, chi2)),
        page_l=page_l,
        p_rise=p_rise,
        p=min(1.0, 2 * min(p_rise, p_fall)),
        smallest_p=min(1.0, 2 * float(alone[-1]) ** n),
        exact=exact,
    )


def _chi2(ranks: FloatArray) -> float:
    """Return Friedman's statistic, corrected for ties; 0 where everybody tied all."""
    n, k = ranks.shape
    spread = float((ranks**2).sum()) - n * k * (k + 1) ** 2 / 4
    if spread < _SAME:
        return 0.0
    apart = float((ranks.sum(axis=0) ** 2).sum()) - n**2 * k * (k + 1) ** 2 / 4
    return float(max(0.0, (k - 1) * apart / spread))


@cache
def _squares(n: int, k: int) -> tuple[FloatArray, FloatArray]:
    """Return the sums of squared rank sums of n rankings by luck, and how often each comes, in rising order."""
    orders = np.array(list(permutations(range(1, k + 1))))
    sums, counts = np.arange(1, k + 1)[None, :], np.array([1.0])
    places = (n * k + 1) ** np.arange(k)
    for _ in range(n - 1):
        reached = np.sort((sums[:, None, :] + orders[None, :, :]).reshape(-1, k), axis=1)
        _, first, at = np.unique(reached @ places, return_index=True, return_inverse=True)
        counts = np.bincount(at, weights=np.repeat(counts, len(orders)))
        counts, sums = counts / counts.sum(), reached[first]
    squares = (sums**2).sum(axis=1).astype(np.float64)
    order = np.argsort(squares, kind="stable")
    return squares[order], counts[order]


def _friedman(n: int, k: int, squares: float) -> float:
    values, shares = _squares(n, k)
    return float(shares[values >= squares - _SAME].sum())


def _page(ranks: FloatArray, page_l: float) -> tuple[float, float]:
    """Return how often luck gives so great an L or a greater, and so small a one or a smaller."""
    shares = np.array([1.0])
    least = 0
    for own in np.rint(2 * ranks).astype(int):
        part = _page_parts(tuple(sorted(own.tolist())))
        shares = np.convolve(shares, part)
        least += _least(tuple(sorted(own.tolist())))
    at = round(2 * page_l) - least
    return min(1.0, float(shares[at:].sum())), min(1.0, float(shares[: at + 1].sum()))


def _least(doubled: tuple[int, ...]) -> int:
    return sum(place * value for place, value in enumerate(reversed(doubled), start=1))


@cache
def _page_parts(doubled: tuple[int, ...]) -> FloatArray:
    """Return how often each Σ j·2r_j comes when one taster's ranks fall by luck, from the least one on.

    Counted place by place over which ranks are used up already.
    """
    k = len(doubled)
    least = _least(doubled)
    most = sum(place * value for place, value in enumerate(doubled, start=1))
    counts = np.zeros((1 << k, most + 1))
    counts[0, 0] = 1.0
    for used in range(1 << k):
        place = used.bit_count() + 1
        for at in range(k):
            if not used >> at & 1:
                by = place * doubled[at]
                counts[used | 1 << at, by:] += counts[used, : most + 1 - by]
    full: FloatArray = counts[-1, least:]
    return np.asarray(full / full.sum())
