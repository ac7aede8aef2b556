"""Plans proved best: no lateness first, then the fewest washes, then the freshest, one level after the other."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Final

from jalebi_core.production.schedule.model import Bend, Model
from jalebi_core.production.schedule.problem import Plan, Problem

LEVELS: Final = ("late_min", "washes", "elapsed_min")
_WORKERS: Final = 2
_SEED: Final = 20260502


@dataclass(frozen=True, slots=True)
class Level:
    """A level of what is best: its value, the best bound that is known, and whether the two are proved to agree."""

    name: str
    value: int | None
    bound: int | None
    proved: bool


@dataclass(frozen=True, slots=True)
class Solved:
    """What came of planning: ``status`` optimal, feasible, impossible or unknown; no plan where there is none."""

    status: str
    plan: Plan | None
    levels: tuple[Level, ...]
    seconds: float


def solve(problem: Problem, tell: Callable[[Plan], None] = lambda _plan: None) -> Solved:
    """Return the best plan that is found in the time limit, and how far it is proved.

    Parameters
    ----------
    tell : is shown each better plan as it is found, and may raise to end it
    """
    model = Model(problem)
    began = time.monotonic()
    deadline = began + problem.time_limit_s
    search = _Search(model, deadline, tell)
    on_time = search.run(late=0, minimise=model.washes)
    refuted = on_time.infeasible
    if on_time.plan is None:
        late = search.run(late=None, minimise=model.lateness)
        if late.plan is None:
            status = "impossible" if late.infeasible else "unknown"
            return Solved(status, None, _no_levels(), time.monotonic() - began)
        levels = [Level("late_min", late.value, late.bound, late.proved)]
        search.fix(model.lateness, late.value)
        more = search.run(late=None, minimise=model.washes)
        more = more if more.plan else late
        levels.append(search.level("washes", model.washes, more))
    else:
        more = on_time
        levels = [Level("late_min", 0, 0, True), search.level("washes", model.washes, on_time)]
    search.fix(model.washes, levels[1].value)
    last = search.run(late=0 if on_time.plan else None, minimise=model.elapsed)
    last = last if last.plan else more
    levels.append(search.level("elapsed_min", model.elapsed, last))
    plan = last.plan
    on_time_status = "optimal" if all(level.proved for level in levels) else "feasible"
    status = on_time_status if on_time.plan else "impossible" if refuted else "unknown"
    return Solved(status, plan, tuple(levels), time.monotonic() - began)


@dataclass(frozen=True, slots=True)
class Bent:
    """How little a bend must be, in minutes or units, with a plan that proves it; or that no amount of it helps."""

    amount: int = 0
    plan: Plan | None = None
    refuted: bool = False


def least_bend(problem: Problem, bend: Bend | None, seconds: float) -> Bent:
    """Return how little one bend must be for everything to be on time; neither plan nor refuted where time ran out.

    Without a bend the problem itself has been changed, and the amount is 0.
    """
    model = Model(problem, bend)
    search = _Search(model, time.monotonic() + seconds, lambda _plan: None)
    found = search.run(late=0, minimise=model.bent if bend else None)
    if found.plan is None:
        return Bent(refuted=found.infeasible)
    if bend is None:
        return Bent(plan=found.plan)
    return Bent(found.value or 0, found.plan) if found.proved else Bent()


def _no_levels() -> tuple[Level, ...]:
    return tuple(Level(name, None, None, False) for name in LEVELS)


@dataclass(frozen=True, slots=True)
class _Found:
    plan: Plan | None
    value: int | None
    bound: int | None
    proved: bool
    infeasible: bool


class _Search:
    """Solves one level after the other, each beginning from the best plan of the one before."""

    def __init__(self, model: Model, deadline: float, tell: Callable[[Plan], None]) -> None:
        self.model, self.deadline, self.tell = model, deadline, tell
        self.values: dict[int, int] = {}

    def fix(self, expression: Any, value: int | None) -> None:
        """Hold a level at what it has reached."""
        if value is not None:
            self.model.cp.add(expression <= value // self.model.unit_of(expression))

    def level(self, name: str, expression: Any, found: _Found) -> Level:
        unit = self.model.unit_of(expression)
        value = None if found.plan is None else self.model.value_of(expression, self.values) * unit
        mine = found.value == value and found.bound is not None
        return Level(name, value, found.bound if mine else None, found.proved and mine)

    def run(self, late: int | None, minimise: Any) -> _Found:
        from ortools.sat.python import cp_model

        cp = self.model.cp
        cp.clear_assumptions()
        if late == 0:
            cp.add_assumption(self.model.on_time)
        elif late is None:
            cp.add_assumption(self.model.on_time.negated())
        cp.clear_hints()  # type: ignore[no-untyped-call] # of the library
        for index, value in self.values.items():
            cp.add_hint(cp.get_int_var_from_proto_index(index), value)
        if minimise is not None:
            cp.minimize(minimise)
        left = self.deadline - time.monotonic()
        if left <= 0.02:
            return _Found(None, None, None, False, False)
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = _WORKERS
        solver.parameters.random_seed = _SEED
        solver.parameters.max_time_in_seconds = left
        status = solver.solve(cp)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return _Found(None, None, None, False, status == cp_model.INFEASIBLE)
        self.values = {index: int(value) for index, value in enumerate(solver.response_proto.solution)}
        plan = self.model.plan(solver)
        self.tell(plan)
        if minimise is None:
            return _Found(plan, None, None, False, False)
        unit = self.model.unit_of(minimise)
        value, bound = round(solver.objective_value) * unit, round(solver.best_objective_bound) * unit
        return _Found(plan, value, bound, status == cp_model.OPTIMAL, False)
