"""Solving a balance: one linear programme after the other until the cold stands where it should, then whole grams."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Final

import numpy as np

from jalebi_core.balance.programme import (
    MISS_COSTS,
    Problem,
    is_whole,
    keeps_locks,
    margins_of,
    problem_of,
    solve,
    tangent_of,
)
from jalebi_core.balance.request import BalanceRequest, checked
from jalebi_core.balance.watching import Watch, part_of, unwatched
from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import BalanceError

_MOST_ROUNDS: Final = 12
_FIRST_TRUST: Final = 0.3
_LEAST_TRUST: Final = 0.002
_MARGIN: Final = 0.03
_MARGIN_STEPS: Final = 2500.0
"""Bands are drawn in by this much of what is felt, and by more where the scale's step is coarse beside the mix."""

_MET: Final = 0.005
"""A miss this small of what is felt as one counts as met."""

_WHOLE_ROUNDS: Final = 4
_SETTLED_G: Final = 0.1
_SAME_G: Final = 0.02
_LEFT_GRAIN_G: Final = 0.1
_GRAIN_G: Final = ((0.0, 0.01), (2.0, 0.1), (50.0, 1.0))
"""What amounts are rounded to, by how much of a line there is: g from which on, and the step."""


@dataclass(frozen=True, slots=True)
class Balanced:
    """A balance: g of each line of the mix, then of each of the ingredients that may come in; values of the aims.

    ``before`` and ``after`` have shape (aims,); ``after`` is that of the rounded amounts.
    """

    problem: Problem
    grams: FloatArray
    before: FloatArray
    after: FloatArray

    @property
    def met(self) -> tuple[bool, ...]:
        return tuple(is_met(miss) for miss in self.problem.missed_by(self.after))

    @property
    def changed(self) -> bool:
        return bool((np.abs(self.grams - self.problem.origin) > _SAME_G).any())


def balance(request: BalanceRequest, watch: Watch = unwatched) -> Balanced:
    """Balance a mix; never worse than it is now. Raises BalanceError for a request that cannot be tried."""
    problem = problem_of(checked(request))
    exact = _solved(problem, watch)
    if exact is None and not _is_possible(problem, problem.now):
        raise BalanceError("no-room", whole_g=problem.mass_g)
    return _balanced(problem, exact)


def _balanced(problem: Problem, exact: FloatArray | None) -> Balanced:
    """Return amounts as they are proposed: whole grams, and those of now where nothing better was found."""
    grams = problem.now if exact is None else _rounded(problem, exact)
    if _worth(problem, grams) >= _worth(problem, problem.now) - 1e-9 and _is_possible(problem, problem.now):
        grams = problem.now
    return Balanced(problem, grams, problem.values(problem.now), problem.values(grams))


def solved(request: BalanceRequest, watch: Watch = unwatched) -> tuple[Problem, FloatArray] | None:
    """Return the problem and its amounts before rounding; None where nothing is possible."""
    try:
        problem = problem_of(checked(request))
    except BalanceError:
        return None
    grams = _solved(problem, watch)
    return None if grams is None else (problem, grams)


def is_met(miss: float) -> bool:
    """Tell whether a miss, in the scale of its aim, counts as none."""
    return bool(miss <= _MET)


def _worth(problem: Problem, grams: FloatArray) -> float:
    """Return what is to be least: misses, then change and price in the order that is wished."""
    change = float(np.abs(grams - problem.now).sum()) / problem.mass_g
    price = float(grams @ problem.prices) / problem.mass_g
    return MISS_COSTS * problem.weighted(problem.misses(grams)) + change + problem.price_costs * price


def _is_possible(problem: Problem, grams: FloatArray) -> bool:
    inside = (grams >= problem.low - 1e-6) & (grams <= problem.high + 1e-6)
    right = abs(grams.sum() - problem.mass_g) < 1e-3 * problem.mass_g
    return bool(inside.all()) and right and is_whole(problem, grams) and keeps_locks(problem, grams)


def _solved(problem: Problem, watch: Watch) -> FloatArray | None:
    """Return the best amounts: parts of steps first, which is quick, then whole ones from there."""
    coarse = max(1.0, _MARGIN_STEPS * problem.request.scale_g / problem.mass_g)
    margins = margins_of(problem.request.aims, problem.quantities, _MARGIN * coarse)
    start = problem.now * problem.mass_g / problem.now.sum()
    parts = _descended(problem, start, margins, _MOST_ROUNDS, part_of(watch, 0.0, 0.5), whole=False)
    if parts is None or is_whole(problem, parts):
        return parts
    return _descended(problem, parts, margins, _WHOLE_ROUNDS, part_of(watch, 0.5, 1.0), whole=True)


def _descended(
    problem: Problem, start: FloatArray, margins: FloatArray, rounds: int, watch: Watch, *, whole: bool
) -> FloatArray | None:
    """Solve, make the aims of the cold linear there, and solve again, each time trusting them less far."""
    watch(0.0, None)
    if all(quantity.linear for quantity in problem.quantities):
        return solve(problem, tangent_of(problem, start), np.inf, margins, whole=whole)
    best, at, trust = None, start, np.inf
    for number in range(rounds):
        watch(number / rounds, None if best is None or not whole else partial(_balanced, problem, best))
        tried = solve(problem, tangent_of(problem, at), trust, margins, whole=whole)
        if tried is None:
            return best
        if best is not None and _worth(problem, tried) >= _worth(problem, best) - 1e-9:
            trust = min(trust, _FIRST_TRUST * problem.mass_g) / 4
            at = best
        else:
            moved = float(np.abs(tried - at).max())
            best = at = tried
            if moved < _SETTLED_G:
                break
        if trust < _LEAST_TRUST * problem.mass_g:
            break
    return best


def _rounded(problem: Problem, exact: FloatArray) -> FloatArray:
    """Return amounts as a scale shows them; the biggest line that may move takes up what is left, to half a step."""
    candidates = [_in_grains(problem, exact, finer) for finer in (1.0, 0.1)]
    misses = [problem.weighted(problem.misses(grams)) for grams in candidates]
    least = min(misses)
    return next(grams for grams, missed in zip(candidates, misses, strict=True) if missed <= least + _MET)


def _in_grains(problem: Problem, exact: FloatArray, finer: float) -> FloatArray:
    sizes = np.maximum(exact, problem.now)
    grains = np.array([max(grain for least, grain in _GRAIN_G if grams >= least) * finer for grams in sizes])
    grains = np.maximum(grains, problem.request.scale_g)
    same = (np.abs(exact - problem.now) < _SAME_G) | (problem.steps > 0)
    grams = np.where(same, np.where(problem.steps > 0, exact, problem.now), np.round(exact / grains) * grains)
    grams = np.clip(grams, problem.low, problem.high)
    left = problem.mass_g - grams.sum()
    room = (problem.steps == 0) & (grams + left >= problem.low) & (grams + left <= problem.high)
    moving = room & ~same if (room & ~same).any() else room
    if moving.any():
        grain = max(_LEFT_GRAIN_G, problem.request.scale_g)
        grams[int(np.argmax(np.where(moving, grams, -1.0)))] += round(left / grain) * grain
    return np.asarray(np.round(grams, 3), dtype=np.float64)
