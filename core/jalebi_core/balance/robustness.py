"""Spread: how sure a balance is when ingredients differ from their figures, and a balance that allows for it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.assessment.uncertainty import spread_of
from jalebi_core.balance.programme import Problem
from jalebi_core.balance.request import Aim, BalanceRequest
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.balance.watching import Watch, part_of, unwatched
from jalebi_core.model.components import INDEX, KEYS, FloatArray

VARIANTS: Final = 1000
SURE: Final = 0.9
_DRAWN_FOR: Final = 0.95
"""A little more, so that rounding stays sure."""

_MOST_ROUNDS: Final = 3
_SEED: Final = 20_09
_WATER: Final = INDEX["water"]


@dataclass(frozen=True, slots=True)
class RobustBalance:
    """A balance, and for each aim the share of variants in which it is met, shape (aims,)."""

    balanced: Balanced
    chances: FloatArray


def chances_of(found: Balanced) -> FloatArray:
    """Return for each aim in how many of a thousand variants of the ingredients it is met, shape (aims,)."""
    values = _values(found.problem, found.grams)
    aims = found.problem.request.aims
    low, high = np.array([aim.low for aim in aims]), np.array([aim.high for aim in aims])
    chances: FloatArray = ((values >= low) & (values <= high)).mean(axis=0)
    return chances


def balance_robustly(request: BalanceRequest, watch: Watch = unwatched) -> RobustBalance:
    """Balance so that every aim is met in nine of ten variants as far as its band is wide enough.

    Bands are drawn in by how far the variants scatter, and the balance is worked out again.
    """
    rounds = _MOST_ROUNDS + 1
    found = balance(request, part_of(watch, 0.0, 1 / rounds))
    best = RobustBalance(found, chances_of(found))
    for number in range(1, rounds):
        watch(number / rounds, partial(_balanced_of, best))
        if best.chances.min() >= SURE:
            break
        drawn = replace(request, aims=_drawn_in(request, best.balanced))
        again = balance(drawn, part_of(watch, number / rounds, (number + 1) / rounds))
        tried = replace(again, problem=best.balanced.problem)
        tried = replace(tried, after=tried.problem.values(tried.grams)[: tried.problem.aims])
        chances = chances_of(tried)
        if chances.min() <= best.chances.min():
            break
        best = RobustBalance(tried, chances)
    return best


def _balanced_of(found: RobustBalance) -> Balanced:
    return found.balanced


def _drawn_in(request: BalanceRequest, found: Balanced) -> tuple[Aim, ...]:
    """Return aims whose bands leave room for nine tenths of the scatter; the middle of a band that is too narrow."""
    values = _values(found.problem, found.grams)
    below = np.median(values, axis=0) - np.quantile(values, 1 - _DRAWN_FOR, axis=0)
    above = np.quantile(values, _DRAWN_FOR, axis=0) - np.median(values, axis=0)
    drawn = []
    for aim, down, up in zip(request.aims, below, above, strict=True):
        low = aim.low + down if isfinite(aim.low) else aim.low
        high = aim.high - up if isfinite(aim.high) else aim.high
        if low > high:
            low = high = (aim.low * up + aim.high * down) / (up + down)
        drawn.append(replace(aim, low=low, high=high))
    return tuple(drawn)


def _values(problem: Problem, grams: FloatArray) -> FloatArray:
    """Return the aims' values in all variants, shape (VARIANTS, aims)."""
    ingredient = [problem.request.mix.lines[number].ingredient for number in problem.numbers] + list(
        problem.request.may_add
    )
    spread = np.array([spread_of(one) for one in ingredient])
    factors = 1 + spread * np.random.default_rng(_SEED).standard_normal((VARIANTS, len(ingredient)))
    solids = problem.rows.copy()
    solids[:, _WATER] = 0.0
    water = np.maximum(100 - factors[..., None] * solids[:, : len(KEYS)].sum(axis=1)[None, :, None], 0.0)[..., 0]
    mixed = np.einsum("vc,cw->vw", factors * grams, solids)
    mixed[:, _WATER] += (water * grams).sum(axis=1)
    mixed = mixed * (100 / mixed[:, : len(KEYS)].sum(axis=1))[:, None]
    columns = []
    for quantity in problem.quantities[: problem.aims]:
        if quantity.per_line is not None:
            columns.append(np.full(VARIANTS, float(quantity.per_line @ grams / grams.sum())))
        else:
            assert quantity.value is not None
            columns.append(quantity.value(mixed))
    return np.stack(columns, axis=-1)
