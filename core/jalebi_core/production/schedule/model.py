"""A problem as a constraint programme.

Times are divided by their greatest common divisor. A machine's runs are a circuit with two arcs from run to run, one
washed and one continuing; hands are pieces that one person of those who are there takes.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import chain
from math import gcd
from typing import Any

from jalebi_core.production.schedule.problem import Lag, Machine, Option, Piece, PlacedStep, Plan, Problem, Setup, Step


@dataclass(frozen=True, slots=True)
class Bend:
    """One thing that a plan may bend, as little as it can: a service, an end of a shift, or the room of a place.

    kind : serve_later, longer_shift or more_room
    of : the due step, the person or the place; shift and end say which end of which shift
    most : minutes or units
    """

    kind: str
    of: str
    most: int
    shift: int = 0
    end: str = "end"


class Model:
    """The variables and constraints of a problem, in steps of its unit."""

    def __init__(self, problem: Problem, bend: Bend | None = None) -> None:
        from ortools.sat.python import cp_model

        self.problem, self.cp = problem, cp_model.CpModel()
        self.unit = _unit(problem)
        self.horizon = problem.horizon // self.unit
        self.start: dict[str, Any] = {}
        self.end: dict[str, Any] = {}
        self.chosen: dict[str, list[Any]] = {}
        self.busy: dict[str, list[Any]] = {person.id: [] for person in problem.people}
        self.pieces: dict[tuple[str, int], list[tuple[Any, Any, list[tuple[str, Any]], Any]]] = {}
        self.taken: dict[str, list[tuple[Any, int]]] = {place: [] for place in problem.places}
        self.setups: list[tuple[str, str, str, Any, Any, Any]] = []
        self.wash_literals: list[Any] = []
        self.on_time = self.cp.new_bool_var("on time")
        self.bend = bend
        whole = bend is not None and bend.kind == "more_room"
        most = 0 if bend is None else bend.most if whole else bend.most // self.unit
        self.bent = self.cp.new_int_var(0, most, "bent")
        for step in problem.steps:
            self._step(step)
        for lag in problem.lags:
            self._lag(lag)
        for machine in problem.machines:
            self._machine(machine)
        for intervals in self.busy.values():
            self.cp.add_no_overlap(intervals)
        for place, capacity in problem.places.items():
            if self.taken[place]:
                held, units = zip(*self.taken[place], strict=True)
                more = self.bent if bend and (bend.kind, bend.of) == ("more_room", place) else 0
                self.cp.add_cumulative(list(held), list(units), capacity + more)
        self._objectives()

    def unit_of(self, expression: Any) -> int:
        """Return how many minutes a step of an objective is; a wash counts as one."""
        if expression is self.bent:
            return 1 if self.bend and self.bend.kind == "more_room" else self.unit
        return 1 if expression is self.washes else self.unit

    def value_of(self, expression: Any, values: dict[int, int]) -> int:
        """Return what an objective comes to in the last solution."""
        parts = self._parts[id(expression)]
        return sum(weight * (values[variable.index] if variable is not None else 1) for variable, weight in parts)

    def _objectives(self) -> None:
        due = [step for step in self.problem.steps if step.due is not None]
        first: dict[str, Any] = {}
        for product in {step.product for step in due}:
            earliest = self.cp.new_int_var(0, self.horizon, f"first {product}")
            starts = [self.start[step.id] for step in self.problem.steps if step.product == product]
            self.cp.add_min_equality(earliest, starts)
            first[product] = earliest
        late = [(self.start[step.id], 1) for step in due]
        offset = -sum((step.due or 0) // self.unit for step in due)
        self.lateness = sum(variable for variable, _ in late) + offset
        self.washes = sum(self.wash_literals) if self.wash_literals else self.cp.new_constant(0) + 0
        self.elapsed = sum(self.start[step.id] - first[step.product] for step in due)
        self._parts = {
            id(self.lateness): [*late, (None, offset)],
            id(self.washes): [(literal, 1) for literal in self.wash_literals],
            id(self.elapsed): [part for step in due for part in ((self.start[step.id], 1), (first[step.product], -1))],
        }
        for step in due:
            later = self.bent if self.bend and (self.bend.kind, self.bend.of) == ("serve_later", step.id) else 0
            limit = (step.due or 0) // self.unit + later
            self.cp.add(self.start[step.id] <= limit).only_enforce_if(self.on_time)

    def _step(self, step: Step) -> None:
        unit, grid = self.unit, self.problem.grid // self.unit
        low = max(0, step.due or 0, step.earliest or 0)
        high = self.problem.horizon if step.latest is None else min(step.latest, self.problem.horizon)
        ticks = self.cp.new_int_var(-(-low // self.problem.grid), max(high // self.problem.grid, 0), f"{step.id} tick")
        start = self.cp.new_int_var(0, self.horizon, f"{step.id} start")
        self.cp.add(start == ticks * grid)
        end = self.cp.new_int_var(0, self.horizon, f"{step.id} end")
        self.start[step.id], self.end[step.id] = start, end
        literals = [self.cp.new_bool_var(f"{step.id} {number}") for number in range(len(step.options))]
        self.chosen[step.id] = literals
        self.cp.add_exactly_one(literals)
        for number, (option, literal) in enumerate(zip(step.options, literals, strict=True)):
            size = self.cp.new_int_var(option.least // unit, min(option.most // unit, self.horizon), "")
            interval = self.cp.new_optional_interval_var(start, size, end, literal, "")
            uses = [*option.uses]
            if option.machine is not None:
                uses += self.problem.machine_by_id[option.machine].run_uses
            for use in uses:
                self.taken[use.place].append((interval, use.units))
            self._hands(step.id, number, option, literal)

    def _hands(self, name: str, number: int, option: Option, literal: Any) -> None:
        start, end, unit = self.start[name], self.end[name], self.unit
        found = self.pieces.setdefault((name, number), [])
        if option.hands.throughout:
            if option.most > 0:
                found.append(self._piece(start, end, literal))
            return
        if option.hands.first:
            found.append(self._piece(start, start + option.hands.first // unit, literal))
        if option.hands.last:
            found.append(self._piece(end - option.hands.last // unit, end, literal))

    def _piece(self, start: Any, end: Any, literal: Any) -> tuple[Any, Any, list[tuple[str, Any]], Any]:
        """One person of those who are there is busy for a while; returns who may be."""
        takers: list[tuple[str, Any]] = []
        for person in self.problem.people:
            for number, (begin, finish) in enumerate(person.shifts):
                earlier, later = self._longer(person.id, number)
                takes = self.cp.new_bool_var("")
                size = self.cp.new_int_var(0, self.horizon, "")
                self.busy[person.id].append(self.cp.new_optional_interval_var(start, size, end, takes, ""))
                self.cp.add(start >= -(-begin // self.unit) - earlier).only_enforce_if(takes)
                self.cp.add(end <= finish // self.unit + later).only_enforce_if(takes)
                takers.append((person.id, takes))
        self.cp.add(sum(takes for _, takes in takers) == 1).only_enforce_if(literal)
        self.cp.add(sum(takes for _, takes in takers) == 0).only_enforce_if(literal.negated())
        return start, end, takers, literal

    def _longer(self, who: str, shift: int) -> tuple[Any, Any]:
        """Return by how much a shift may begin earlier and end later."""
        bend = self.bend
        if bend is None or (bend.kind, bend.of, bend.shift) != ("longer_shift", who, shift):
            return 0, 0
        return (self.bent, 0) if bend.end == "start" else (0, self.bent)

    def _lag(self, lag: Lag) -> None:
        after = (self.end if lag.to_end else self.start)[lag.after]
        before = (self.start if lag.from_start else self.end)[lag.before]
        self.cp.add(after - before >= -(-lag.least // self.unit))
        if lag.most is not None:
            self.cp.add(after - before <= lag.most // self.unit)

    def _machine(self, machine: Machine) -> None:
        runs = [
            (step, self.chosen[step.id][number])
            for step in self.problem.steps
            for number, option in enumerate(step.options)
            if option.machine == machine.id
        ]
        if not runs:
            return
        unit = self.unit
        used = self.cp.new_bool_var(f"{machine.id} used")
        arcs: list[tuple[int, int, Any]] = [(0, 0, used.negated())]
        for _, literal in runs:
            self.cp.add_implication(literal, used)
        for at, (step, literal) in enumerate(runs, start=1):
            arcs.append((at, at, literal.negated()))
            first, last = self.cp.new_bool_var(""), self.cp.new_bool_var("")
            arcs += [(0, at, first), (at, 0, last)]
            washed = [last]
            readied: list[tuple[Any, Any]] = []
            wash_start = self.cp.new_int_var(0, self.horizon, "")
            wash_end = wash_start + machine.wash_min // unit
            for to, (other, _) in enumerate(runs, start=1):
                if to == at:
                    continue
                by_wash = self.cp.new_bool_var("")
                arcs.append((at, to, by_wash))
                washed.append(by_wash)
                self.cp.add(self.start[other.id] >= wash_end).only_enforce_if(by_wash)
                readied.append((to, by_wash))
                if not machine.wash_always and step.carries <= other.carries:
                    goes_on = self.cp.new_bool_var("")
                    arcs.append((at, to, goes_on))
                    gap = self.start[other.id] - self.end[step.id]
                    self.cp.add(gap >= 0).only_enforce_if(goes_on)
                    self.cp.add(gap <= machine.dirty_max_min // unit).only_enforce_if(goes_on)
            wash = self.cp.new_bool_var(f"wash after {step.id}")
            self.cp.add(sum(washed) == wash)
            self._wash(machine, step, wash, wash_start, wash_end)
            self._first_ready(machine, step, first)
            for to, by_wash in readied:
                self._ready(machine, runs[to - 1][0], by_wash, wash_end)
        self.cp.add_circuit(arcs)

    def _wash(self, machine: Machine, step: Step, wash: Any, start: Any, end: Any) -> None:
        self.wash_literals.append(wash)
        self.cp.add(start >= self.end[step.id]).only_enforce_if(wash)
        self.cp.add(start <= self.end[step.id] + machine.dirty_max_min // self.unit).only_enforce_if(wash)
        self.cp.add(end <= self.horizon).only_enforce_if(wash)
        piece = self._piece(start, end, wash)
        self.setups.append(("wash", machine.id, step.id, start, end, [piece]))

    def _first_ready(self, machine: Machine, step: Step, first: Any) -> None:
        if machine.ready_since is None:
            self._ready(machine, step, first, 0)
            return
        since = machine.ready_since
        ready = -(-(since + machine.ready_min) // self.unit)
        self.cp.add(self.start[step.id] >= ready).only_enforce_if(first)
        begin = max(since, 0) // self.unit
        self._hold(machine, begin, self.start[step.id], first)
        if machine.ready_min > 0:
            self.setups.append(("ready", machine.id, step.id, since, self.start[step.id], [(None, None, [], first)]))

    def _ready(self, machine: Machine, step: Step, literal: Any, after: Any) -> None:
        if machine.ready_min == 0:
            return
        start = self.cp.new_int_var(0, self.horizon, "")
        end = self.start[step.id]
        self.cp.add(start >= after).only_enforce_if(literal)
        self.cp.add(end - start >= -(-machine.ready_min // self.unit)).only_enforce_if(literal)
        self._hold(machine, start, end, literal)
        hands = (
            [self._piece(start, start + machine.ready_hands_min // self.unit, literal)]
            if machine.ready_hands_min
            else []
        )
        self.setups.append(("ready", machine.id, step.id, start, end, hands or [(None, None, [], literal)]))

    def _hold(self, machine: Machine, start: Any, end: Any, literal: Any) -> None:
        for use in machine.ready_uses:
            size = self.cp.new_int_var(0, self.horizon, "")
            self.taken[use.place].append((self.cp.new_optional_interval_var(start, size, end, literal, ""), use.units))

    def plan(self, solver: Any) -> Plan:
        """Return the plan of a solution."""
        return Plan(
            tuple(self._placed(step, solver) for step in self.problem.steps),
            tuple(
                Setup(
                    kind,
                    machine,
                    step,
                    self._minutes(start, solver),
                    self._minutes(end, solver),
                    self._who(pieces, solver),
                )
                for kind, machine, step, start, end, pieces in self.setups
                if solver.boolean_value(pieces[0][3])
            ),
        )

    def _placed(self, step: Step, solver: Any) -> PlacedStep:
        option = next(at for at, literal in enumerate(self.chosen[step.id]) if solver.boolean_value(literal))
        return PlacedStep(
            step.id,
            self._minutes(self.start[step.id], solver),
            self._minutes(self.end[step.id], solver),
            option,
            step.options[option].machine,
            self._who(self.pieces[step.id, option], solver),
        )

    def _who(self, pieces: Iterable[Any], solver: Any) -> tuple[Piece, ...]:
        return tuple(
            Piece(who, self._minutes(start, solver), self._minutes(end, solver))
            for start, end, takers, _ in pieces
            for who, takes in takers
            if solver.boolean_value(takes)
        )

    def _minutes(self, at: Any, solver: Any) -> int:
        return at if isinstance(at, int) and at < 0 else int(solver.value(at)) * self.unit


def _unit(problem: Problem) -> int:
    """Return the greatest common divisor of all times."""
    options = [option for step in problem.steps for option in step.options]
    minutes = chain(
        (problem.grid, problem.horizon),
        (one for option in options for one in (option.least, option.most, option.hands.first, option.hands.last)),
        (one for lag in problem.lags for one in (lag.least, lag.most or 0)),
        (one for person in problem.people for shift in person.shifts for one in shift),
        (
            one
            for machine in problem.machines
            for one in (
                machine.wash_min,
                machine.dirty_max_min,
                machine.ready_min,
                machine.ready_hands_min,
                machine.ready_since or 0,
            )
        ),
        (one for step in problem.steps for one in (step.due or 0, step.earliest or 0, step.latest or 0)),
    )
    return gcd(*minutes) or 1
