"""A plan put together step by step, backwards from each service, as on paper: a first plan to improve.

The last service is placed first; each step goes as late as hands, places and machines allow, and every run is washed
after. It finds a plan for most days but not for all, and one with more washes than there need be.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field, replace
from typing import Final

from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.problem import (
    Machine,
    Option,
    Piece,
    PlacedStep,
    Plan,
    Problem,
    Setup,
    Step,
    Use,
)

_TRIES: Final = 3000
"""For each product; what is not found by then is left to the search."""


def list_schedule(problem: Problem) -> Plan | None:
    """Return a plan that is on time, None where none is found this way; only for a first plan."""
    if problem.replanning is not None:
        return None
    day = _Day(problem)
    due = {step.product: step.due for step in problem.steps if step.due is not None}
    bases = sorted(problem.bases)
    products = [product for product in problem.products if product not in problem.bases]
    for product in [*sorted(products, key=lambda one: -due.get(one, 0)), *bases]:
        day.tries = 0
        if not day.place(_backwards(problem, product)):
            return None
    setups = tuple(_first_was_ready(problem, day.placed, day.setups))
    plan = Plan(tuple(day.placed[step.id] for step in problem.steps), setups)
    return None if faults_of(problem, plan) else plan


def _first_was_ready(problem: Problem, placed: dict[str, PlacedStep], setups: list[Setup]) -> Iterator[Setup]:
    """Return the setups with the first of a machine that was ready already as it is: nobody is needed for that."""
    for setup in setups:
        since = problem.machine_by_id[setup.machine].ready_since
        runs = [run.start for run in placed.values() if run.machine == setup.machine]
        if setup.kind == "ready" and since is not None and setup.end == min(runs):
            yield replace(setup, start=since, people=())
        else:
            yield setup


def _backwards(problem: Problem, product: str) -> list[Step]:
    """Return the steps of a product with every step behind all that follow it."""
    steps = {step.id: step for step in problem.steps if step.product == product}
    follow = {name: {lag.after for lag in problem.lags if lag.before == name and not lag.to_end} for name in steps}
    ordered: list[Step] = []
    while steps:
        free = [name for name in steps if not follow[name] & steps.keys()]
        if not free:
            return [*ordered, *steps.values()]
        ordered.append(steps.pop(free[-1]))
    return ordered


@dataclass(slots=True)
class _Window:
    """Between what a step may start and end."""

    start_from: int
    start_to: int
    end_from: int
    end_to: int


@dataclass(slots=True)
class _Day:
    """What is placed already, and who and what it takes."""

    problem: Problem
    placed: dict[str, PlacedStep] = field(default_factory=dict)
    setups: list[Setup] = field(default_factory=list)
    busy: list[Piece] = field(default_factory=list)
    held: list[tuple[int, int, Use]] = field(default_factory=list)
    tries: int = 0

    def place(self, steps: list[Step]) -> bool:
        """Place steps one after the other; go back where one finds no room."""
        if not steps:
            return True
        step, rest = steps[0], steps[1:]
        for number, option, start, end in self._candidates(step):
            self.tries += 1
            if self.tries > _TRIES:
                return False
            before = (len(self.setups), len(self.busy), len(self.held))
            if self._take(step, number, option, start, end):
                if self.place(rest):
                    return True
                del self.placed[step.id]
            del self.setups[before[0] :], self.busy[before[1] :], self.held[before[2] :]
        return False

    def _candidates(self, step: Step) -> Iterator[tuple[int, Option, int, int]]:
        window, grid = self._window(step), self.problem.grid
        for number, option in enumerate(step.options):
            latest = min(window.start_to, window.end_to - option.least)
            earliest = max(window.start_from, window.end_from - option.most, 0)
            if step.due is not None:
                earliest = latest = step.due
            for start in range(latest // grid * grid, earliest - 1, -grid):
                end = min(window.end_to, start + option.most) if option.most > option.least else start + option.least
                if step.due is None and window.end_to >= self.problem.horizon:
                    end = start + option.least
                if window.end_from <= end <= window.end_to:
                    yield number, option, start, end

    def _window(self, step: Step) -> _Window:
        horizon = self.problem.horizon
        low = max(step.earliest or 0, step.due or 0)
        found = _Window(low, horizon if step.latest is None else step.latest, 0, horizon)
        for lag in self.problem.lags:
            if lag.before == step.id and lag.after in self.placed:
                after = self.placed[lag.after]
                at = after.end if lag.to_end else after.start
                least, most = at - lag.least, 0 if lag.most is None else at - lag.most
                if lag.from_start:
                    found.start_to, found.start_from = min(found.start_to, least), max(found.start_from, most)
                else:
                    found.end_to, found.end_from = min(found.end_to, least), max(found.end_from, most)
            elif lag.after == step.id and lag.to_end and lag.before in self.placed:
                before = self.placed[lag.before]
                found.end_from = max(found.end_from, (before.start if lag.from_start else before.end) + lag.least)
        return found

    def _take(self, step: Step, number: int, option: Option, start: int, end: int) -> bool:
        """Place a step with its hands, places and machine; what was begun of it is undone by who asked."""
        people: list[Piece] = []
        for begin, finish in _attended(option, start, end):
            piece = self._somebody(begin, finish)
            if piece is None:
                return False
            people.append(piece)
        if not self._hold(option.uses, start, end):
            return False
        if option.machine is not None and not self._run(self.problem.machine_by_id[option.machine], step, start, end):
            return False
        self.placed[step.id] = PlacedStep(step.id, start, end, number, option.machine, tuple(people))
        return True

    def _run(self, machine: Machine, step: Step, start: int, end: int) -> bool:
        """Wash the machine after a run and make it ready before, with nothing else in it from then to then."""
        washes = self._soonest(end, end + machine.dirty_max_min, machine.wash_min)
        if washes is None or not self._hold(machine.run_uses, start, end):
            return False
        readies: Setup | None = None
        if machine.ready_min > 0:
            hands = machine.ready_hands_min
            longest = machine.ready_min + 1440 if machine.ready_max_min is None else machine.ready_max_min
            piece = self._latest(start - machine.ready_min, max(start - longest, 0), hands) if hands else None
            begins = piece.start if piece else start - machine.ready_min
            if begins < 0 or (hands and piece is None) or not self._hold(machine.ready_uses, begins, start):
                return False
            readies = Setup("ready", machine.id, step.id, begins, start, (piece,) if piece else ())
        first = readies.start if readies else start
        if any(first < until and since < washes.end for since, until in self._turns(machine)):
            return False
        wash = Setup("wash", machine.id, step.id, washes.start, washes.end, (washes,))
        self.setups += [wash] if readies is None else [wash, readies]
        return True

    def _turns(self, machine: Machine) -> Iterator[tuple[int, int]]:
        """Return from when to when a machine is taken by what is placed already, made ready and washed."""
        for run in self.placed.values():
            if run.machine == machine.id:
                mine = [setup for setup in self.setups if setup.step == run.id]
                yield min(run.start, *(one.start for one in mine)), max(run.end, *(one.end for one in mine))

    def _somebody(self, start: int, end: int) -> Piece | None:
        """Let the first who is free take a piece."""
        for person in self.problem.people:
            there = any(begin <= start and end <= finish for begin, finish in person.shifts)
            if there and not any(one.who == person.id and one.start < end and start < one.end for one in self.busy):
                piece = Piece(person.id, start, end)
                self.busy.append(piece)
                return piece
        return None

    def _soonest(self, start: int, last: int, minutes: int) -> Piece | None:
        for at in range(start, min(last, self.problem.horizon - minutes) + 1, self.problem.grid):
            if (piece := self._somebody(at, at + minutes)) is not None:
                return piece
        return None

    def _latest(self, start: int, first: int, minutes: int) -> Piece | None:
        for at in range(start, first - 1, -self.problem.grid):
            if (piece := self._somebody(at, at + minutes)) is not None:
                return piece
        return None

    def _hold(self, uses: Iterable[Use], start: int, end: int) -> bool:
        """Take places for a while, where there is room in all of them all the time."""
        for use in uses:
            mine = [one for one in self.held if one[2].place == use.place and one[0] < end and start < one[1]]
            for at in (start, *(begin for begin, _, _ in mine if begin > start)):
                there = sum(one.units for begin, until, one in mine if begin <= at < until)
                if there + use.units > self.problem.places.get(use.place, 0):
                    return False
            self.held.append((start, end, use))
        return True


def _attended(option: Option, start: int, end: int) -> list[tuple[int, int]]:
    if option.hands.throughout:
        return [(start, end)] if end > start else []
    first = [(start, start + option.hands.first)] if option.hands.first else []
    return first + ([(end - option.hands.last, end)] if option.hands.last else [])
