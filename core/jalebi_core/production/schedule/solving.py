"""Plans proved best: no lateness first, then the fewest washes, then the freshest, one level after the other."""

from __future__ import annotations

import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Final

from jalebi_core.production.schedule.list_schedule import list_schedule
from jalebi_core.production.schedule.model import Bend, Model
from jalebi_core.production.schedule.model import Level as Aim
from jalebi_core.production.schedule.problem import (
    PlacedStep,
    Plan,
    Problem,
    elapsed_minutes,
    moved_minutes,
    reassigned,
    washes,
)
from jalebi_core.production.schedule.readying import made_ready_late
from jalebi_core.production.schedule.runs import model_of

_VALUE: Final = {
    "washes": lambda _problem, plan: washes(plan),
    "elapsed_min": elapsed_minutes,
    "moved_min": moved_minutes,
    "reassigned": reassigned,
}
_WORKERS: Final = 2
_SEED: Final = 20260502
_SEARCHES: Final = ("objective_lb_search_max_lp", "quick_restart")
"""One pushes the bound up, the other finds plans: on random kitchens of 8 mixes all levels were proved within 8 s in 17
of 20, by the library's own choice for two workers in a third. The first plan is found sooner by that choice."""
_SHARE_ON_TIME: Final = 0.7
"""How much of the time goes into the first search for a plan that is on time; the rest is for the least late."""


Tell = Callable[[Plan], None]


def _silent(_plan: Plan) -> None:
    """Nobody wants to see the plans on the way."""


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


def solve(problem: Problem, tell: Tell = _silent) -> Solved:
    """Return the best plan that is found in the time limit, and how far it is proved.

    Parameters
    ----------
    tell : is shown each better plan as it is found
    """
    began = time.monotonic()
    model = model_of(problem)
    search = _Search(model, began + problem.time_limit_s, tell)
    first = model.levels[0]
    found = search.run(on_time=True, aim=first, share=_SHARE_ON_TIME)
    is_on_time, refuted = found.plan is not None, found.infeasible
    if is_on_time:
        levels = [Level("late_min", 0, 0, True)]
    else:
        late = search.run(on_time=False, aim=model.lateness)
        if late.plan is None:
            status = "impossible" if late.infeasible else "unknown"
            none = (model.lateness, *model.levels)
            return Solved(status, None, tuple(Level(aim.name, None, None, False) for aim in none), _since(began))
        levels = [Level("late_min", late.value, late.bound, late.proved)]
        search.fix(model.lateness, late.value)
        found = search.run(on_time=False, aim=first)
    levels.append(search.level(first, found))
    for reached, aim in pairwise(model.levels):
        search.fix(reached, levels[-1].value)
        levels.append(search.level(aim, search.run(on_time=is_on_time, aim=aim)))
    proved = all(level.proved for level in levels)
    status = ("optimal" if proved else "feasible") if is_on_time else "impossible" if refuted else "unknown"
    best = None if search.best is None else made_ready_late(problem, search.best)
    return Solved(status, best, tuple(levels), _since(began))


def _since(began: float) -> float:
    return time.monotonic() - began


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
    model = model_of(problem, bend)
    search = _Search(model, time.monotonic() + seconds, _silent)
    found = search.run(on_time=True, aim=model.bent if bend else None)
    if found.plan is None:
        return Bent(refuted=found.infeasible)
    if bend is None:
        return Bent(plan=found.plan)
    return Bent(found.value or 0, found.plan) if found.proved else Bent()


@dataclass(frozen=True, slots=True)
class _Found:
    plan: Plan | None = None
    value: int | None = None
    bound: int | None = None
    proved: bool = False
    infeasible: bool = False


class _Search:
    """Solves one level after the other, each beginning from the best plan of the one before."""

    def __init__(self, model: Model, deadline: float, tell: Tell) -> None:
        self.model, self.deadline, self.tell = model, deadline, tell
        self.best: Plan | None = None
        self._values: dict[int, int] = model.hints(_first_guess(model.problem))

    def fix(self, aim: Aim, value: int | None) -> None:
        """Hold a level at what it has reached."""
        if value is not None:
            self.model.cp.add(aim.expression <= value // aim.unit)

    def level(self, aim: Aim, found: _Found) -> Level:
        """Return what a level has come to in the best plan so far, which a search that ran out of time leaves."""
        value = None if self.best is None else _VALUE[aim.name](self.model.problem, self.best)
        return Level(aim.name, value, found.bound, found.proved)

    def run(self, on_time: bool, aim: Aim | None, share: float = 1.0) -> _Found:
        """Search for a better plan until it is proved best or the time is up."""
        from ortools.sat.python import cp_model

        cp = self.model.cp
        cp.clear_assumptions()
        cp.add_assumption(self.model.on_time if on_time else self.model.on_time.negated())
        cp.clear_hints()  # type: ignore[no-untyped-call] # of the library
        for index, value in self._values.items():
            cp.add_hint(cp.get_int_var_from_proto_index(index), value)
        if aim is not None:
            cp.minimize(aim.expression)
        left = (self.deadline - time.monotonic()) * share
        if left <= 0.02:
            return _Found()
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = _WORKERS
        solver.parameters.random_seed = _SEED
        solver.parameters.max_time_in_seconds = left
        if self.best is not None:
            solver.parameters.subsolvers.extend(_SEARCHES)
        status = solver.solve(cp, _teller(self.model, self.tell))
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return _Found(infeasible=status == cp_model.INFEASIBLE)
        self._values = {index: int(value) for index, value in enumerate(solver.response_proto.solution)}
        self.best = self.model.plan(solver)
        if aim is None:
            return _Found(self.best)
        value, bound = round(solver.objective_value) * aim.unit, round(solver.best_objective_bound) * aim.unit
        return _Found(self.best, value, bound, status == cp_model.OPTIMAL)


def _first_guess(problem: Problem) -> Mapping[str, PlacedStep]:
    """Return a plan to begin from: the one before, or one put together by hand where that is easy."""
    if problem.replanning is not None:
        return problem.replanning.previous
    by_hand = list_schedule(problem)
    return {} if by_hand is None else {step.id: step for step in by_hand.steps}


def _teller(model: Model, tell: Tell) -> Any:
    """Return what shows each better plan while the search goes on."""
    from ortools.sat.python import cp_model

    class Teller(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            tell(model.plan(self))

    return Teller()
