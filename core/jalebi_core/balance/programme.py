"""The mixed-integer linear programme of one balance, nonlinear aims made linear where it stands; solved by HiGHS.

Columns, in this order: g of each line and of each ingredient that may come in, less and more than now, misses of each
aim, steps of the lines that come in steps, and whether each ingredient comes in.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import inf
from typing import Final

import numpy as np
from numpy.typing import ArrayLike, NDArray

from jalebi_core.balance.ceilings import STRONG_PCT, hard_most_pct, usual_most_pct
from jalebi_core.balance.highs import LinearProgramme, least_costs
from jalebi_core.balance.quantities import Quantity
from jalebi_core.balance.request import MISS_COSTS, BalanceRequest, Limits
from jalebi_core.model.components import FloatArray
from jalebi_core.model.styles import MIX_IN_STAGES

_PRICE_COSTS: Final = {False: 1e-4, True: 10.0}


@dataclass(frozen=True, slots=True)
class Problem:
    """A balance as arrays: lines and ingredients that may come in as columns.

    now : g; ``rows`` shape (columns, WIDTH); ``low`` and ``high`` g; ``steps`` g, 0 where there is none
    """

    request: BalanceRequest
    quantities: tuple[Quantity, ...]
    now: FloatArray
    rows: FloatArray
    low: FloatArray
    high: FloatArray
    steps: FloatArray
    numbers: tuple[int, ...]

    @property
    def mass_g(self) -> float:
        return self.request.whole_g

    @property
    def origin(self) -> FloatArray:
        """What was there when the question was asked, g, shape (columns,)."""
        mix = self.request.origin or self.request.mix
        return np.array([mix.lines[number].grams for number in self.numbers] + [0.0] * len(self.request.may_add))

    @property
    def price_costs(self) -> float:
        return _PRICE_COSTS[self.request.cost_first]

    @property
    def prices(self) -> FloatArray:
        """Prices per kg as far as they are known, shape (columns,); unknown ones are taken as nothing."""
        lines = [self.request.mix.lines[number].ingredient for number in self.numbers]
        return np.array([ingredient.used_price_per_kg or 0.0 for ingredient in (*lines, *self.request.may_add)])

    @property
    def lines(self) -> int:
        return len(self.numbers)

    def values(self, grams: FloatArray) -> FloatArray:
        """Return the value of each aim and pull, shape (goals,), of amounts of shape (columns,)."""
        row = grams @ self.rows / grams.sum()
        return np.array([_value(quantity, row, grams) for quantity in self.quantities])

    def misses(self, grams: FloatArray) -> FloatArray:
        """Return by how much each aim and pull is missed, in its own scale, shape (goals,)."""
        return self.missed_by(self.values(grams))

    @property
    def aims(self) -> int:
        """How many of the goals are aims."""
        return len(self.request.aims)

    def met_by(self, values: FloatArray) -> NDArray[np.bool_]:
        """Tell which aims values meet, to half of the last digit that is shown, shape (aims,)."""
        return self.kept_by(values[: self.aims])

    def kept_by(self, values: FloatArray) -> NDArray[np.bool_]:
        """Tell which of the first goals values keep to, to half of the last digit that is shown, shape of values."""
        scale, within = (
            np.array([getattr(one, key) for one in self.quantities[: len(values)]]) for key in ("scale", "within")
        )
        return np.asarray(self.missed_by(values) * scale <= within + 1e-9)

    def missed_by(self, values: FloatArray) -> FloatArray:
        goals = self.request.goals[: len(values)]
        low, high = np.array([aim.low for aim in goals]), np.array([aim.high for aim in goals])
        scale = np.array([quantity.scale for quantity in self.quantities[: len(values)]])
        misses: FloatArray = np.maximum(np.maximum(low - values, values - high), 0.0) / scale
        return misses

    def weighted(self, misses: FloatArray) -> float:
        """Return what is to be as little as possible before all else."""
        return float(misses @ np.array([aim.weight for aim in self.request.goals[: len(misses)]]))


def _value(quantity: Quantity, row: FloatArray, grams: FloatArray) -> float:
    if quantity.per_line is not None:
        return float(quantity.per_line @ grams / grams.sum())
    assert quantity.value is not None
    return float(quantity.value(row))


def problem_of(request: BalanceRequest) -> Problem:
    """Return the arrays of a request that has been checked."""
    numbers = tuple(number for number, line in enumerate(request.mix.lines) if line.stage not in MIX_IN_STAGES)
    lines = [request.mix.lines[number] for number in numbers]
    limits = [request.limits.get(number, Limits()) for number in numbers] + [Limits()] * len(request.may_add)
    rows = [line.ingredient.row for line in lines] + [ingredient.row for ingredient in request.may_add]
    now = np.array([line.grams for line in lines] + [0.0] * len(request.may_add))
    return Problem(
        request,
        tuple(request.quantity(aim) for aim in request.goals),
        now,
        np.array(rows),
        np.array([one.low_g for one in limits]),
        np.minimum([one.high_g for one in limits], _most(request)),
        np.array([one.step_g or 0.0 for one in limits]),
        numbers,
    )


def _most(request: BalanceRequest) -> FloatArray:
    """Return the most of each column, g, never less than there is now: what is usual, or all that is ever right."""
    whole, mix = request.whole_g, request.origin or request.mix
    lines = [(line.ingredient, 100 * line.grams / mix.mass_g) for line in request.mix.base]
    coming = [(ingredient, 0.0) for ingredient in request.may_add]
    hard = [hard_most_pct(ingredient, mix, now_pct) for ingredient, now_pct in (*lines, *coming)]
    usual = [100.0 if request.lifted else usual_most_pct(ingredient) for ingredient, _ in lines]
    usual += [usual_most_pct(ingredient, STRONG_PCT) for ingredient in request.may_add]
    now_g = [line.grams for line in request.mix.base] + [0.0] * len(coming)
    return np.maximum(np.minimum(hard, usual) * whole / 100, now_g)


def is_whole(problem: Problem, grams: FloatArray) -> bool:
    """Tell whether amounts keep to their steps and to the number of ingredients that may come in."""
    stepped = problem.steps > 0
    counted = grams[stepped] / problem.steps[stepped]
    coming = int((grams[problem.lines :] > 1e-6).sum())
    return bool((np.abs(counted - np.round(counted)) < 1e-6).all()) and coming <= problem.request.max_new


def keeps_locks(problem: Problem, grams: FloatArray) -> bool:
    """Tell whether amounts keep the sums and ratios that are wished."""
    columns = {number: at for at, number in enumerate(problem.numbers)}
    for share in problem.request.shares:
        pct = 100 * sum(grams[columns[number]] for number in share.lines) / grams.sum()
        if not share.low_pct - 1e-3 <= pct <= share.high_pct + 1e-3:
            return False
    for one, other in problem.request.ratios:
        first, second = columns[one], columns[other]
        if abs(grams[first] * problem.now[second] - grams[second] * problem.now[first]) > 1e-3 * problem.mass_g:
            return False
    return True


@dataclass(frozen=True, slots=True)
class Tangent:
    """Aims as linear functions around amounts: value + slopes · (grams − at), shape (aims,) and (aims, columns)."""

    value: FloatArray
    slopes: FloatArray
    at: FloatArray


def tangent_of(problem: Problem, at: FloatArray) -> Tangent:
    """Make all aims linear around amounts; those that are linear anyway are exact everywhere of that mass."""
    mass, values = at.sum(), problem.values(at)
    row = at @ problem.rows / mass
    step = 1e-3 * mass
    nudged = (at @ problem.rows + step * problem.rows) / (mass + step)
    slopes = []
    for quantity, value in zip(problem.quantities, values, strict=True):
        if quantity.per_line is not None:
            slopes.append((quantity.per_line - value) / mass)
        elif quantity.linear:
            assert quantity.value is not None
            slopes.append((quantity.value(problem.rows) - quantity.value(row)) / mass)
        else:
            assert quantity.value is not None
            slopes.append((quantity.value(nudged) - value) / step)
    return Tangent(values, np.array(slopes), at)


def solve(problem: Problem, tangent: Tangent, trust_g: float, margins: FloatArray, *, whole: bool) -> FloatArray | None:
    """Return the amounts that the linear programme prefers, shape (columns,); None where nothing is possible.

    trust_g : how far a line may move from where the tangent was taken
    margins : by how much each band is drawn in, so that rounding stays inside it
    whole : whether steps are whole and ingredients come in or not; without it they may be parts, which is quick
    """
    layout = _Layout.of(problem)
    matrix, low, high = _constraints(problem, tangent, margins, layout)
    counted = np.zeros(layout.width, dtype=bool)
    counted[layout.steps] = counted[layout.comes] = whole
    lower, upper = _bounds(problem, tangent, trust_g, layout)
    found = least_costs(LinearProgramme(_costs(problem, layout), matrix, low, high, lower, upper, counted))
    return None if found is None else np.clip(found[layout.grams], problem.low, problem.high)


@dataclass(frozen=True, slots=True)
class _Layout:
    """Where the columns of each kind stand."""

    grams: slice
    less: slice
    more: slice
    misses: slice
    steps: slice
    comes: slice
    stepped: NDArray[np.intp]
    width: int

    @classmethod
    def of(cls, problem: Problem) -> _Layout:
        columns, aims = len(problem.now), len(problem.quantities)
        stepped = np.flatnonzero(problem.steps > 0)
        new = columns - problem.lines
        binaries = new if new > problem.request.max_new else 0
        slices, end = [], 0
        for size in (columns, columns, columns, aims, len(stepped), binaries):
            slices.append(slice(end, end + size))
            end += size
        grams, less, more, misses, steps, comes = slices
        return cls(grams, less, more, misses, steps, comes, stepped, end)


def _costs(problem: Problem, layout: _Layout) -> FloatArray:
    costs = np.zeros(layout.width)
    mass = problem.mass_g
    costs[layout.less] = costs[layout.more] = 1 / mass
    weights = np.array([aim.weight for aim in problem.request.goals])
    costs[layout.misses] = MISS_COSTS * weights / np.array([quantity.scale for quantity in problem.quantities])
    costs[layout.grams] = problem.price_costs * problem.prices / mass
    return costs


def _bounds(problem: Problem, tangent: Tangent, trust_g: float, layout: _Layout) -> tuple[FloatArray, FloatArray]:
    lower, upper = np.zeros(layout.width), np.full(layout.width, inf)
    lower[layout.grams] = np.maximum(problem.low, tangent.at - trust_g)
    upper[layout.grams] = np.maximum(np.minimum(problem.high, tangent.at + trust_g), lower[layout.grams])
    upper[layout.comes] = 1.0
    return lower, upper


def _constraints(
    problem: Problem, tangent: Tangent, margins: FloatArray, layout: _Layout
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return the rows of the programme with their least and most."""
    columns, rows = len(problem.now), _Rows(layout.width)
    one_each = np.eye(columns)
    rows.add([problem.mass_g], [problem.mass_g], (layout.grams, np.ones((1, columns))))
    moved = (layout.grams, one_each), (layout.less, one_each), (layout.more, -one_each)
    rows.add(problem.now, problem.now, *moved)
    _add_aims(rows, problem, tangent, margins, layout)
    _add_locks(rows, problem, layout)
    if problem.request.most_moved is not None:
        most = problem.request.most_moved * problem.mass_g + abs(problem.mass_g - problem.now.sum())
        rows.add([-inf], [most], (layout.less, np.ones((1, columns))))
        rows.add([-inf], [most], (layout.more, np.ones((1, columns))))
    if len(layout.stepped):
        steps = -np.diag(problem.steps[layout.stepped])
        none = np.zeros(len(layout.stepped))
        rows.add(none, none, (layout.grams, one_each[layout.stepped]), (layout.steps, steps))
    new = layout.comes.stop - layout.comes.start
    if new:
        most = -np.diag(problem.high[problem.lines :])
        rows.add([-inf] * new, [0.0] * new, (layout.grams, one_each[problem.lines :]), (layout.comes, most))
        rows.add([-inf], [float(problem.request.max_new)], (layout.comes, np.ones((1, new))))
    return rows.arrays()


def _add_aims(rows: _Rows, problem: Problem, tangent: Tangent, margins: FloatArray, layout: _Layout) -> None:
    rest = tangent.value - tangent.slopes @ tangent.at
    miss = np.eye(len(problem.quantities))
    low = np.array([aim.low for aim in problem.request.goals]) + margins - rest
    high = np.array([aim.high for aim in problem.request.goals]) - margins - rest
    unbounded = np.full(len(low), inf)
    rows.add(low, unbounded, (layout.grams, tangent.slopes), (layout.misses, miss))
    rows.add(-unbounded, high, (layout.grams, tangent.slopes), (layout.misses, -miss))


def _add_locks(rows: _Rows, problem: Problem, layout: _Layout) -> None:
    columns = {number: at for at, number in enumerate(problem.numbers)}
    for share in problem.request.shares:
        chosen = np.zeros((1, len(problem.now)))
        chosen[0, [columns[number] for number in share.lines]] = 1.0
        whole = problem.mass_g / 100
        rows.add([share.low_pct * whole], [share.high_pct * whole], (layout.grams, chosen))
    for one, other in problem.request.ratios:
        kept = np.zeros((1, len(problem.now)))
        kept[0, columns[one]], kept[0, columns[other]] = problem.now[columns[other]], -problem.now[columns[one]]
        rows.add([0.0], [0.0], (layout.grams, kept))


class _Rows:
    """Rows of a programme as they are gathered."""

    def __init__(self, width: int) -> None:
        self._width = width
        self._blocks: list[FloatArray] = []
        self._low: list[FloatArray] = []
        self._high: list[FloatArray] = []

    def add(self, low: ArrayLike, high: ArrayLike, *parts: tuple[slice, FloatArray]) -> None:
        """Add rows: their least and most, and what stands in which columns."""
        block = np.zeros((len(parts[0][1]), self._width))
        for where, values in parts:
            block[:, where] = values
        self._blocks.append(block)
        self._low.append(np.asarray(low, dtype=np.float64))
        self._high.append(np.asarray(high, dtype=np.float64))

    def arrays(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        return np.concatenate(self._blocks), np.concatenate(self._low), np.concatenate(self._high)


def margins_of(problem: Problem, share: float) -> FloatArray:
    """Return by how much bands are drawn in: a share of what is felt, at most a fifth of the band; pulls not at all."""
    felt = share * np.array([quantity.scale for quantity in problem.quantities])
    width = np.array([aim.high - aim.low for aim in problem.request.goals])
    margins = np.minimum(felt, width / 5)
    margins[problem.aims :] = 0.0
    return margins
