"""How much later a step may start while order and assignment stay, later ones follow, and no service is later.

Every rule that a plan obeys bounds one time by another; what is left of each bound is the slack along it. The least sum
of slacks from what stands fast to a step is what the step may slip.
"""

from __future__ import annotations

import heapq
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Final

from jalebi_core.production.schedule.problem import Option, Piece, PlacedStep, Plan, Problem, Setup, Step, Use

_FIXED: Final = "·"
"""What stands fast: the horizon, shifts, services, and all that begins before the step that slips."""


@dataclass(frozen=True, slots=True)
class Slip:
    """How many minutes later a step may start, and what holds it then.

    by : service, shift, machine, hands, place, wait, time or horizon; of : whose or which; at : the hour that it holds
    """

    step: str
    minutes: int
    by: str
    of: str
    delays: dict[str, int]


@dataclass(frozen=True, slots=True)
class _Bound:
    """A time that may be later than another by no more than ``slack`` beyond now."""

    later: str
    than: str
    slack: int
    by: str
    of: str


def slips(problem: Problem, plan: Plan) -> dict[str, Slip]:
    """Return how much later each step that has not begun may start."""
    bounds = list(_Bounds(problem, plan).all())
    starts = {step.id: step.start for step in plan.steps}
    setups = {_setup_name(setup): setup.start for setup in plan.setups}
    coming = [step for step in plan.steps if step.id not in problem.begun]
    return {step.id: _slip(problem, step, {**starts, **setups}, bounds) for step in coming}


def _slip(problem: Problem, step: PlacedStep, starts: dict[str, int], bounds: list[_Bound]) -> Slip:
    fixed = {_FIXED, *(f"{name}>" for name, start in starts.items() if start < step.start)}
    onwards: dict[str, list[_Bound]] = {}
    for bound in bounds:
        onwards.setdefault(_FIXED if bound.than in fixed else bound.than, []).append(bound)
    reached: dict[str, int] = {}
    cause: dict[str, _Bound] = {}
    queue: list[tuple[int, int, str, _Bound | None]] = [(0, 0, _FIXED, None)]
    count = 0
    while queue:
        delay, _, node, via = heapq.heappop(queue)
        if node in reached:
            continue
        reached[node] = delay
        if via is not None:
            cause[node] = cause.get(via.than, via) if via.than not in fixed else via
        for bound in onwards.get(node, ()):
            if bound.later not in reached and bound.later not in fixed:
                count += 1
                heapq.heappush(queue, (delay + bound.slack, count, bound.later, bound))
    name = f"{step.id}>"
    minutes = reached.get(name, problem.horizon - step.start) // problem.grid * problem.grid
    first = cause.get(name)
    return Slip(
        step.id,
        minutes,
        first.by if first else "horizon",
        first.of if first else "",
        {node: min(delay, minutes) for node, delay in reached.items()},
    )


class _Bounds:
    """All bounds of a plan: a step's start is named ``id>``, its end ``id<``."""

    def __init__(self, problem: Problem, plan: Plan) -> None:
        self.problem, self.plan = problem, plan
        self.asked = {step.id: step for step in problem.steps}
        self.placed = {step.id: step for step in plan.steps}
        self.at: dict[str, int] = {_FIXED: 0}
        for step in plan.steps:
            self.at |= {f"{step.id}>": step.start, f"{step.id}<": step.end}
        for setup in plan.setups:
            name = _setup_name(setup)
            self.at |= {f"{name}>": setup.start, f"{name}<": setup.end}

    def all(self) -> Iterator[_Bound]:
        yield from self._steps()
        yield from self._waits()
        yield from self._people()
        yield from self._machines()
        yield from self._places()

    def _bound(self, later: str, than: str, most: int, by: str, of: str = "") -> _Bound:
        """Bound one time by another plus ``most``."""
        return _Bound(later, than, max(self.at[than] + most - self.at[later], 0), by, of)

    def _steps(self) -> Iterator[_Bound]:
        for placed in self.plan.steps:
            step = self.asked[placed.id]
            start, end = f"{step.id}>", f"{step.id}<"
            option = step.options[placed.option]
            yield self._bound(end, start, option.most, "time", step.id)
            yield self._bound(start, end, -option.least, "time", step.id)
            yield self._bound(end, _FIXED, self.problem.horizon, "horizon")
            begun = self.problem.begun.get(step.id)
            if begun is not None and begun.end is not None:
                yield self._bound(end, _FIXED, placed.end, "time", step.id)
            if step.latest is not None and begun is None:
                yield self._bound(start, _FIXED, step.latest, "pin", step.id)
            if step.due is not None:
                yield self._bound(start, _FIXED, placed.start, "service", step.product)

    def _waits(self) -> Iterator[_Bound]:
        for lag in self.problem.lags:
            after = f"{lag.after}{'<' if lag.to_end else '>'}"
            before = f"{lag.before}{'>' if lag.from_start else '<'}"
            yield self._bound(before, after, -lag.least, "wait", lag.after)
            if lag.most is not None:
                yield self._bound(after, before, lag.most, "wait", lag.before)

    def _people(self) -> Iterator[_Bound]:
        """A piece is its step's start or end with an offset; who has taken it keeps it, in the same order."""
        shifts = {person.id: person.shifts for person in self.problem.people}
        work: dict[str, list[tuple[int, int, str, str]]] = {}
        for name, start, end, pieces in self._attended():
            for piece in pieces:
                first, last = (f"{name}>", f"{name}>") if piece.start == start else (f"{name}<", f"{name}<")
                last = f"{name}<" if piece.end == end else last
                work.setdefault(piece.who, []).append((piece.start, piece.end, first, last))
        for who, mine in work.items():
            for begin, finish, _, last in mine:
                ends = [end for start, end in shifts.get(who, ()) if start <= begin and finish <= end]
                if ends:
                    yield self._bound(last, _FIXED, max(ends) - finish + self.at[last], "shift", who)
            for (_, finish, _, last), (begin, _, first, _) in pairwise(sorted(mine)):
                if finish <= begin:
                    yield _Bound(last, first, begin - finish, "hands", who)

    def _attended(self) -> Iterator[tuple[str, int, int, tuple[Piece, ...]]]:
        for step in self.plan.steps:
            yield step.id, step.start, step.end, step.people
        for setup in self.plan.setups:
            yield _setup_name(setup), setup.start, setup.end, setup.people

    def _machines(self) -> Iterator[_Bound]:
        for machine in self.problem.machines:
            runs = sorted((step for step in self.plan.steps if step.machine == machine.id), key=lambda run: run.start)
            setups = {(one.kind, one.step): one for one in self.plan.setups if one.machine == machine.id}
            for run in runs:
                washed, readied = setups.get(("wash", run.id)), setups.get(("ready", run.id))
                if washed is not None:
                    wash = _setup_name(washed)
                    yield self._bound(f"{wash}<", f"{wash}>", machine.wash_min, "time", machine.id)
                    yield self._bound(f"{wash}>", f"{wash}<", -machine.wash_min, "time", machine.id)
                    yield self._bound(f"{wash}>", f"{run.id}<", machine.dirty_max_min, "machine", machine.id)
                    yield self._bound(f"{run.id}<", f"{wash}>", 0, "machine", machine.id)
                    yield self._bound(f"{wash}<", _FIXED, self.problem.horizon, "horizon")
                if readied is not None:
                    ready = _setup_name(readied)
                    yield self._bound(f"{ready}>", f"{run.id}>", -machine.ready_min, "machine", machine.id)
                    yield self._bound(f"{ready}<", f"{run.id}>", 0, "machine", machine.id)
                    if machine.ready_max_min is not None:
                        yield self._bound(f"{run.id}>", f"{ready}>", machine.ready_max_min, "machine", machine.id)
                    yield self._bound(f"{run.id}>", f"{ready}<", 0, "machine", machine.id)
                for begin, _end in machine.off:
                    if run.end <= begin:
                        yield self._bound(f"{run.id}<", _FIXED, begin, "machine", machine.id)
            for one, other in pairwise(runs):
                washed, readied = setups.get(("wash", one.id)), setups.get(("ready", other.id))
                if washed is None:
                    yield self._bound(f"{other.id}>", f"{one.id}<", machine.dirty_max_min, "machine", machine.id)
                    yield self._bound(f"{one.id}<", f"{other.id}>", 0, "machine", machine.id)
                else:
                    after = f"{_setup_name(readied)}>" if readied else f"{other.id}>"
                    yield self._bound(f"{_setup_name(washed)}<", after, 0, "machine", machine.id)

    def _places(self) -> Iterator[_Bound]:
        """Keep the order of what could not be in a place together with all the rest that it ever holds."""
        held: dict[str, list[tuple[int, str, str, int]]] = {}

        def take(uses: tuple[Use, ...], name: str) -> None:
            for use in uses:
                held.setdefault(use.place, []).append((self.at[f"{name}>"], f"{name}>", f"{name}<", use.units))

        machines = self.problem.machine_by_id
        for step in self.plan.steps:
            take(_option(self.asked[step.id], step).uses, step.id)
            if step.machine is not None:
                take(machines[step.machine].run_uses, step.id)
        for setup in self.plan.setups:
            if setup.kind == "ready":
                take(machines[setup.machine].ready_uses, _setup_name(setup))
        for place, spans in held.items():
            if sum(units for *_, units in spans) <= self.problem.places.get(place, 0):
                continue
            for _, _, ended, _ in spans:
                for _, begun, _, _ in spans:
                    if self.at[ended] <= self.at[begun]:
                        yield self._bound(ended, begun, 0, "place", place)


def _option(step: Step, placed: PlacedStep) -> Option:
    return step.options[placed.option]


def _setup_name(setup: Setup) -> str:
    return f"{setup.kind} {setup.step}"
