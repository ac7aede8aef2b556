"""Balance on the judged problems beside general optimisers: whether differential evolution or SLSQP finds better."""

from __future__ import annotations

import sys
from importlib import import_module
from typing import Final

import numpy as np

from jalebi_core.balance.programme import Problem
from jalebi_core.balance.request import MISS_COSTS, BalanceRequest
from jalebi_core.balance.solving import solved
from jalebi_core.model.components import FloatArray
from launch.places import ROOT

from .figure import Figure

STARTS: Final = 20
NO_WORSE: Final = 1e-3
"""A thousandth of what is felt as one."""

_GENERATIONS: Final = 150


def figures() -> list[Figure]:
    """Compare on all judged problems."""
    requests = judged_requests()
    worse = sum(shortfall(request, seed) > NO_WORSE for seed, request in enumerate(requests))
    title = f"of {len(requests)} judged balances, worse than DE or {STARTS} SLSQP starts"
    return [Figure(title, float(worse), 0.0, "")]


def judged_requests() -> list[BalanceRequest]:
    """Return the requests of the balances that are judged in the core's tests."""
    tests = str(ROOT / "core" / "tests")
    sys.path.insert(0, tests)
    try:
        judged = import_module("test_judged_balances")
        return [judged.asked(data) for data in judged.JUDGED]
    finally:
        sys.path.remove(tests)


def objective(problem: Problem, grams: FloatArray) -> float:
    """Return what a balance makes as little as it can, in the scale of what is felt: misses, change and price."""
    change = float(np.abs(grams - problem.now).sum()) / problem.mass_g
    price = problem.price_costs * float(grams @ problem.prices) / problem.mass_g
    return problem.weighted(problem.misses(grams)) + (change + price) / MISS_COSTS


def shortfall(request: BalanceRequest, seed: int) -> float:
    """Return by how much the best of the general optimisers is better than the exact balance; negative if worse."""
    found = solved(request)
    assert found is not None
    problem, grams = found
    return objective(problem, grams) - min(_by_evolution(problem, seed), _by_slsqp(problem, seed))


def _whole(problem: Problem, grams: FloatArray) -> FloatArray:
    """Bring amounts to the mass of the mix within their limits, what may come in no more often than it may."""
    grams = np.clip(grams, problem.low, problem.high)
    coming = np.argsort(-grams[problem.lines :])[problem.request.max_new :] + problem.lines
    grams[coming] = 0.0
    for _ in range(20):
        left = problem.mass_g - grams.sum()
        room = (problem.high - grams if left > 0 else grams - problem.low) * (problem.high > problem.low)
        room[coming] = 0.0
        if abs(left) < 1e-9 or room.sum() <= 0:
            break
        grams = np.clip(grams + left * room / room.sum(), problem.low, problem.high)
    return grams


def _value(problem: Problem, grams: FloatArray) -> float:
    """Return the objective of possible amounts, and much where the mass or a lock cannot be kept."""
    kept = _whole(problem, grams.copy())
    off = abs(float(kept.sum()) - problem.mass_g) / problem.mass_g
    for share in problem.request.shares:
        at = [problem.numbers.index(number) for number in share.lines]
        pct = 100 * float(kept[at].sum()) / problem.mass_g
        off += max(share.low_pct - pct, pct - share.high_pct, 0.0)
    return objective(problem, kept) + 1e3 * off


def _by_evolution(problem: Problem, seed: int) -> float:
    from scipy.optimize import Bounds, differential_evolution

    moving = problem.high > problem.low + 1e-9
    if not moving.any():
        return np.inf

    def value(part: FloatArray) -> float:
        grams = problem.low.copy()
        grams[moving] = part
        return _value(problem, grams)

    high = np.minimum(problem.high[moving], problem.mass_g)
    bounds = Bounds(problem.low[moving], high)
    begin = np.clip(problem.now[moving], problem.low[moving], high)
    found = differential_evolution(value, bounds, maxiter=_GENERATIONS, popsize=8, seed=seed, tol=1e-10, x0=begin)
    return float(found.fun)


def _by_slsqp(problem: Problem, seed: int) -> float:
    from scipy.optimize import Bounds, LinearConstraint, minimize

    random = np.random.default_rng(seed)
    high = np.minimum(problem.high, problem.mass_g)
    whole = LinearConstraint(np.ones(len(problem.now)), problem.mass_g, problem.mass_g)
    bounds = Bounds(problem.low, high)

    def smooth(grams: FloatArray) -> float:
        return objective(problem, np.maximum(grams, 0.0) + 1e-9)

    best = np.inf
    for start in range(STARTS):
        at = problem.now if start == 0 else random.dirichlet(np.ones(len(problem.now))) * problem.mass_g
        at = np.clip(at, problem.low, high)
        found = minimize(smooth, at, method="SLSQP", bounds=bounds, constraints=whole, options={"maxiter": 100})
        best = min(best, _value(problem, found.x))
    return float(best)
