"""Solving a balance: one linear programme after the other until the cold stands where it should, then whole grams."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.balance.job_context import pins_of_taste
from jalebi_core.balance.programme import (
    Problem,
    is_whole,
    keeps_locks,
    margins_of,
    problem_of,
    solve,
    tangent_of,
)
from jalebi_core.balance.pulls import BOUND
from jalebi_core.balance.quantities import Quantity
from jalebi_core.balance.request import MISS_COSTS, BalanceRequest, checked
from jalebi_core.balance.watching import Watch, part_of, unwatched
from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import BalanceError

_MOST_ROUNDS: Final = 12
_FIRST_TRUST: Final = 0.3
_LEAST_TRUST: Final = 0.002
_MARGIN_PER_STEP: Final = 75.0
"""Bands are drawn in by so much of what is felt for each share of the mix that the scale tells apart."""

_MUCH_MOVED: Final = 0.25
"""Where the aims cannot be met, no more of the mix than this moves towards them."""

_MUCH_LESS: Final = 0.005
_BADLY_WEIGHED: Final = 20
"""What is less than so many steps of a scale is weighed on the finest one."""

_WHOLE_ROUNDS: Final = 4
_SETTLED_G: Final = 0.1
_SAME_G: Final = 0.02
_CRUMB_SHARE: Final = 0.003
_CRUMB_OF_PINCH: Final = 0.15
"""Changes that are not worth it: of the whole, and of gums, salt and the like of what there is of them."""

_IN_PINCHES: Final = frozenset(("mineral", "acid", "sweetener", "gum", "starch"))
_LEFT_GRAIN_G: Final = 0.1
_GRAIN_G: Final = ((0.0, 0.01), (2.0, 0.1), (20.0, 1.0))
"""What amounts are rounded to, by how much of a line there is: g from which on, and the step."""


@dataclass(frozen=True, slots=True)
class Balanced:
    """A balance: g of each line of the mix, then of each of the ingredients that may come in; values of the aims.

    ``before`` and ``after`` have shape (aims,); ``after`` is that of the rounded amounts. ``modest_for`` is what was
    asked where that cannot be met and this stays modest instead.
    """

    problem: Problem
    grams: FloatArray
    before: FloatArray
    after: FloatArray
    modest_for: BalanceRequest | None = None

    @property
    def asked(self) -> BalanceRequest:
        """The request as it was asked."""
        return self.modest_for or self.problem.request

    @property
    def met(self) -> tuple[bool, ...]:
        """Which aims are met, to half of the last digit that is shown."""
        return tuple(self.problem.met_by(self.after).tolist())

    @property
    def beyond(self) -> tuple[int, ...]:
        """The columns that hold more than taste and dose usually allow, and more than there was."""
        if not self.problem.request.lifted:
            return ()
        usual = problem_of(replace(self.problem.request, lifted=False)).high
        return tuple(np.flatnonzero(self.grams > np.maximum(usual, self.problem.now) + _SETTLED_G).tolist())

    @property
    def also_moved(self) -> tuple[tuple[Quantity, float, float], ...]:
        """What nobody aimed at and moves by more than one step all the same: each with its value before and after."""
        request = self.problem.request
        if not request.loose:
            return ()
        quantities = [request.quantity(aim) for aim in request.firm]
        watched = replace(self.problem, quantities=tuple(quantities))
        values = watched.values(self.grams)
        before = watched.values(self.problem.now)
        return tuple(
            (quantity, float(was), float(now))
            for aim, quantity, was, now in zip(request.firm, quantities, before, values, strict=True)
            if not aim.low - quantity.within <= now <= aim.high + quantity.within
        )

    @property
    def changed(self) -> bool:
        return bool((np.abs(self.grams - self.problem.origin) > _SAME_G).any())


def balance(request: BalanceRequest, watch: Watch = unwatched) -> Balanced:
    """Balance a mix; never worse than it is now. Raises BalanceError for a request that cannot be tried.

    Where the aims cannot be met, the usual most of ingredients gives way if it may, then what nobody aims at; where
    that does not help either, at most a quarter of the mix moves towards them, and what it tastes of stays.
    """
    tries = [checked(request), *_freer(request)]
    parts = len(tries) + 1
    first: Balanced | None = None
    for number, freer in enumerate(tries):
        found = _tried(freer, part_of(watch, number / parts, (number + 1) / parts))
        if all(found.met):
            return found
        first = first or found
    assert first is not None
    with suppress(BalanceError):
        modest = _tried(checked(_modest(request)), part_of(watch, 1 - 1 / parts, 1.0))
        return replace(modest, modest_for=request)
    return first


def _freer(request: BalanceRequest) -> Iterator[BalanceRequest]:
    """Yield the request with ever more let go: the usual most of ingredients, then what nobody aims at."""
    if request.caps_give:
        yield replace(request, lifted=True)
    if request.firm:
        yield replace(request, loose=True)
    if request.caps_give and request.firm:
        yield replace(request, lifted=True, loose=True)


def _modest(request: BalanceRequest) -> BalanceRequest:
    """Return a request in which no more than a quarter of the mix moves, and nothing of what it tastes of."""
    asked = {number for share in request.shares for number in share.lines}
    asked |= {number for ratio in request.ratios for number in ratio}
    spoken = {aim.of for aim in request.aims}
    pins = {
        number: limits
        for number, limits in pins_of_taste(request.mix, *asked).items()
        if request.mix.lines[number].ingredient.slug not in spoken
    }
    return replace(request, most_moved=_MUCH_MOVED, limits={**pins, **request.limits})


def _tried(request: BalanceRequest, watch: Watch) -> Balanced:
    problem = problem_of(request)
    exact = _solved(problem, watch)
    if exact is None and not _is_possible(problem, problem.now):
        raise BalanceError("no-room", whole_g=problem.mass_g)
    return _balanced(problem, exact)


def _balanced(problem: Problem, exact: FloatArray | None) -> Balanced:
    """Return amounts as they are proposed: whole grams, and those of now where nothing better was found."""
    grams = problem.now if exact is None else _rounded(problem, exact)
    if _is_possible(problem, problem.now) and _worth_shown(problem, grams) >= _worth_shown(problem, problem.now) - 1e-9:
        grams = problem.now
    count = problem.aims
    return Balanced(problem, grams, problem.values(problem.now)[:count], problem.values(grams)[:count])


def solved(request: BalanceRequest, watch: Watch = unwatched) -> tuple[Problem, FloatArray] | None:
    """Return the problem and its amounts before rounding; None where nothing is possible."""
    try:
        problem = problem_of(checked(request))
    except BalanceError:
        return None
    grams = _solved(problem, watch)
    return None if grams is None else (problem, grams)


def _worth(problem: Problem, grams: FloatArray) -> float:
    """Return what is to be least: misses, then change and price in the order that is wished."""
    return MISS_COSTS * problem.weighted(problem.misses(grams)) + _change_and_price(problem, grams)


def _worth_shown(problem: Problem, grams: FloatArray) -> float:
    """Return what is to be least as a cook sees it: what is met to its last digit is not missed."""
    return MISS_COSTS * _felt(problem, grams) + _change_and_price(problem, grams)


def _change_and_price(problem: Problem, grams: FloatArray) -> float:
    change = float(np.abs(grams - problem.now).sum()) / problem.mass_g
    return change + problem.price_costs * float(grams @ problem.prices) / problem.mass_g


def _is_possible(problem: Problem, grams: FloatArray) -> bool:
    inside = (grams >= problem.low - 1e-6) & (grams <= problem.high + 1e-6)
    right = abs(grams.sum() - problem.mass_g) < 1e-3 * problem.mass_g
    return bool(inside.all()) and right and is_whole(problem, grams) and keeps_locks(problem, grams)


def _solved(problem: Problem, watch: Watch) -> FloatArray | None:
    """Return the best amounts: parts of steps first, which is quick, then whole ones from there.

    Bands are drawn in so that rounding stays inside; where they cannot be met so, they are tried as they are.
    """
    margins = margins_of(problem, _MARGIN_PER_STEP * problem.request.scale_g / problem.mass_g)
    start = problem.now * problem.mass_g / problem.now.sum()
    parts = _descended(problem, start, margins, _MOST_ROUNDS, part_of(watch, 0.0, 0.5), whole=False)
    if parts is not None and not problem.met_by(problem.values(parts)).all():
        margins = np.zeros_like(margins)
        bare = _descended(problem, parts, margins, _MOST_ROUNDS, watch, whole=False)
        parts = parts if bare is None or _worth(problem, bare) >= _worth(problem, parts) else bare
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
    """Return amounts as a scale shows them, without crumbs that nobody would weigh where they do nothing.

    The biggest line that may move takes up what is left, to half a step.
    """
    tidy = np.where(_crumbs(problem, exact), problem.now, exact)
    candidates = [_in_grains(problem, tidy, 1.0), *(_in_grains(problem, exact, finer) for finer in (1.0, 0.1))]
    misses = [_felt(problem, grams) for grams in candidates]
    least = min(misses)
    return next(grams for grams, missed in zip(candidates, misses, strict=True) if missed <= least + _MUCH_LESS)


def _crumbs(problem: Problem, exact: FloatArray) -> NDArray[np.bool_]:
    """Tell which columns change by so little that it is not worth opening a tin."""
    request = problem.request
    ingredients = [request.mix.lines[number].ingredient for number in problem.numbers] + list(request.may_add)
    dosed = np.array([bool(one.facts.dose_pct) or one.kind in _IN_PINCHES for one in ingredients])
    moved = np.abs(exact - problem.now)
    little = np.where(dosed, moved < _CRUMB_OF_PINCH * problem.now, moved < _CRUMB_SHARE * problem.mass_g)
    back = (problem.now >= problem.low - 1e-9) & (problem.now <= problem.high + 1e-9)
    return np.asarray(little & back & (problem.steps == 0))


def _felt(problem: Problem, grams: FloatArray) -> float:
    """Return how much is missed; aims and bounds that are met to their last digit do not count."""
    values = problem.values(grams)
    misses = problem.missed_by(values)
    firm = np.array([goal.weight >= BOUND for goal in problem.request.goals])
    firm[: problem.aims] = True
    misses[firm & problem.kept_by(values)] = 0.0
    return problem.weighted(misses)


def _in_grains(problem: Problem, exact: FloatArray, finer: float) -> FloatArray:
    sizes = np.maximum(exact, problem.now)
    grains = np.array([max(grain for least, grain in _GRAIN_G if grams >= least) * finer for grams in sizes])
    grains = np.maximum(grains, _scales_for(problem, sizes))
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


def _scales_for(problem: Problem, sizes: FloatArray) -> FloatArray:
    """Return what the scale of each column tells apart, g: the finest one for gums and for what is little."""
    request = problem.request
    ingredients = [request.mix.lines[number].ingredient for number in problem.numbers] + list(request.may_add)
    gum = np.array([one.kind == "gum" for one in ingredients])
    fine = min(request.fine_scale_g, request.scale_g)
    return np.where(gum | (sizes < _BADLY_WEIGHED * request.scale_g), fine, request.scale_g)
