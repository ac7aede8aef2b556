"""Balance on random problems: how long it takes, and whether a general optimiser finds anything better."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import replace
from typing import Final

import numpy as np

from jalebi_core.advice.additions import MOST_SHARE_PCT
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.balance.programme import Problem, problem_of
from jalebi_core.balance.reasons import Unmet, reasons_for
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.balance.robustness import balance_robustly
from jalebi_core.balance.solving import balance, solved
from jalebi_core.model.components import FloatArray
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import ingredients
from launch.places import ROOT

from .balance_proof import judged_requests
from .figure import Figure, p95

_MIX: Final = "server/demo/data/toasted-barley-ice-cream.json"
_PROBLEMS: Final = 200
_COMPARED: Final = 12
"""Problems that SLSQP solves too: its twenty starts take seconds each."""

_STARTS: Final = 20
_LINES: Final = (
    "whole-milk", "cream-36", "skim-milk-powder", "sugar", "dextrose", "glucose-syrup-de42", "egg-yolk", "honey",
    "buttermilk", "yogurt", "condensed-milk", "mascarpone", "maltodextrin-de18", "fructose", "water", "cream-20",
    "raspberry-puree", "hazelnut-paste", "whole-milk-powder", "trehalose",
)  # fmt: skip
_NEW: Final = ("inulin", "invert-sugar", "allulose", "lactose-powder", "glycerol")
_OF: Final = ("fat", "msnf", "total_solids", "sweetness", "protein", "sugars", "scoop_c", "frozen_pct")


def random_request(seed: int, *, whole: bool = False) -> BalanceRequest:
    """Return a feasible problem of 20 lines, 8 aims and 5 new ingredients: aims around another random mix."""
    random = np.random.default_rng(seed)
    mix, other = _random_mix(random), _random_mix(random)
    while not np.isfinite(analyse_mix(other).scoop_c):
        other = _random_mix(random)
    limits = {0: Limits(0, 600, 25), 6: Limits(0, 170, 17)} if whole else {}
    request = BalanceRequest(
        mix, tuple(Aim(of) for of in _OF), limits, may_add=tuple(ingredients()[slug] for slug in _NEW), max_new=5
    )
    wanted = problem_of(replace(request, mix=other)).values(problem_of(replace(request, mix=other)).now)
    aims = tuple(Aim(of, value - 0.4, value + 0.4) for of, value in zip(_OF, wanted.tolist(), strict=True))
    return replace(request, aims=aims)


def _random_mix(random: np.random.Generator) -> Mix:
    grams = random.dirichlet(np.full(len(_LINES), 1.2)) * 1000
    most = np.array([MOST_SHARE_PCT.get(slug, 40.0) * 10 for slug in _LINES])
    grams = np.minimum(grams, 0.9 * most)
    grams *= 1000 / grams.sum()
    put = tuple(Line(ingredients()[slug], float(g)) for slug, g in zip(_LINES, grams, strict=True))
    return Mix("random", put, None, 30.0)


def figures() -> list[Figure]:
    """Measure Balance beside SLSQP from scipy with random starts, all on the same problems."""
    balance(random_request(0))
    problems = [random_request(seed) for seed in range(_PROBLEMS)]
    seconds = [_seconds(balance, request) for request in problems]
    usual = [_seconds(balance, request) for request in judged_requests()]
    worse = sum(is_worse_than_general(request, seed) for seed, request in enumerate(problems[:_COMPARED]))
    whole = [_seconds(balance, random_request(seed, whole=True)) for seed in range(40)]
    explained = sum(is_explained(seed) for seed in range(_PROBLEMS))
    return [
        Figure("balance of a judged mix", 1000 * float(np.median(usual)), 40.0, "ms"),
        Figure("the same, p95", 1000 * p95(usual), 120.0, "ms"),
        Figure("the first balance in a fresh process", first_balance(), 0.5, "s"),
        Figure("balance of 20 lines, 8 aims, 5 candidates", 1000 * float(np.median(seconds)), 60.0, "ms"),
        Figure("the same, p95", 1000 * p95(seconds), 150.0, "ms"),
        Figure("with steps and whole pieces, p95", 1000 * p95(whole), 1000.0, "ms"),
        Figure(f"of {_COMPARED}, worse than the best of {_STARTS} SLSQP starts", float(worse), 0.0, ""),
        Figure(f"of {_PROBLEMS} infeasible, explained by what works", float(explained), _PROBLEMS, "", at_least=True),
        Figure("a balance that is sure in nine of ten", _seconds(balance_robustly, problems[1]), 3.0, "s"),
    ]


def first_balance() -> float:
    """Return the seconds that the command says its balance took, in a process of its own."""
    asked = [sys.executable, "-m", "launch.balance", _MIX, "--job", "softer", "--json"]
    done = subprocess.run(asked, cwd=ROOT, check=True, capture_output=True, text=True)
    return float(json.loads(done.stdout)["seconds"])


def _seconds(work: Callable[[BalanceRequest], object], request: BalanceRequest) -> float:
    began = time.perf_counter()
    work(request)
    return time.perf_counter() - began


def is_worse_than_general(request: BalanceRequest, seed: int) -> bool:
    """Tell whether SLSQP from any of its starts misses the aims by less than the exact balance does."""
    found = solved(request)
    assert found is not None
    problem, grams = found
    return problem.weighted(problem.misses(grams)) > _best_of_general(problem, seed) + 1e-3


def _best_of_general(problem: Problem, seed: int) -> float:
    from scipy.optimize import Bounds, LinearConstraint, minimize

    random = np.random.default_rng(seed)

    def squares(grams: FloatArray) -> float:
        misses = problem.misses(np.maximum(grams, 0.0) + 1e-9)
        return float(misses @ misses)

    whole = LinearConstraint(np.ones(len(problem.now)), problem.mass_g, problem.mass_g)
    bounds = Bounds(problem.low, problem.high)
    best = np.inf
    for _ in range(_STARTS):
        start = random.dirichlet(np.ones(len(problem.now))) * problem.mass_g
        start = np.clip(start, problem.low, problem.high)
        result = minimize(squares, start, method="SLSQP", bounds=bounds, constraints=whole, options={"maxiter": 60})
        grams = np.clip(result.x, problem.low, problem.high)
        if abs(grams.sum() - problem.mass_g) < 0.01 * problem.mass_g:
            best = min(best, problem.weighted(problem.misses(grams)))
        if best < 1e-6:
            break
    return best


def is_explained(seed: int) -> bool:
    """Make a feasible problem infeasible with a pin and an aim, and try what is offered for each unmet aim."""
    random = np.random.default_rng(seed)
    request = random_request(seed)
    aims = (Aim("fat", float(random.uniform(20, 40))), *request.aims[1:3])
    pinned = replace(request, aims=aims, limits={1: Limits.pinned(request.mix.lines[1].grams)})
    unmet = reasons_for(balance(pinned), {})
    return all(one.because and (len(one.would_help) > 1 or _would_do(pinned, one)) for one in unmet)


def _would_do(request: BalanceRequest, unmet: Unmet) -> bool:
    """Tell whether an aim is met with the nearest value in its place: the last thing that is offered."""
    aim, nearest = unmet.aim, unmet.nearest
    widened = replace(aim, low=min(aim.low, nearest), high=max(aim.high, nearest))
    found = balance(replace(request, aims=tuple(widened if one is aim else one for one in request.aims)))
    return found.met[request.aims.index(aim)]
