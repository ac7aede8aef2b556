"""A problem as a constraint programme.

Times are divided by their greatest common divisor. Hands are pieces that one person of those who are there takes. What
has begun when a plan is made anew stands fast, and is not judged against what else has begun.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import chain
from math import gcd
from typing import Any

from jalebi_core.production.schedule.problem import (
    Begun,
    Lag,
    Option,
    Piece,
    PlacedStep,
    Plan,
    Problem,
    Setup,
    Step,
    Use,
)


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


@dataclass(frozen=True, slots=True)
class Attended:
    """A piece of work in the programme: from, to, who may take it by a literal each, and whether it is wanted."""

    start: Any
    end: Any
    takers: tuple[tuple[str, Any], ...]
    wanted: Any


@dataclass(frozen=True, slots=True)
class Level:
    """What is made least, and how many minutes, washes or steps one of it is."""

    name: str
    expression: Any
    unit: int


class Model:
    """The variables and constraints of a problem, in steps of its unit."""

    def __init__(self, problem: Problem, bend: Bend | None = None) -> None:
        from ortools.sat.python import cp_model

        self.problem, self.cp = problem, cp_model.CpModel()
        self.unit = _unit(problem)
        self.horizon, self.now = problem.horizon // self.unit, -(-problem.now // self.unit)
        self.start: dict[str, Any] = {}
        self.end: dict[str, Any] = {}
        self.chosen: dict[str, list[Any]] = {}
        self.pieces: dict[tuple[str, int], list[Attended]] = {}
        self.setups: list[tuple[str, str, str, Any, Any, list[Attended], Any]] = []
        self.wash_literals: list[Any] = []
        self.running: dict[str, list[Any]] = {machine.id: [] for machine in problem.machines}
        self._busy: dict[str, list[Any]] = {person.id: [] for person in problem.people}
        self._busy_before: dict[str, list[Any]] = {person.id: [] for person in problem.people}
        self._taken: dict[str, list[tuple[Any, int]]] = {place: [] for place in problem.places}
        self._taken_before: dict[str, list[tuple[Any, int]]] = {place: [] for place in problem.places}
        self.on_time = self.cp.new_bool_var("on time")
        self._bend = bend
        whole = bend is not None and bend.kind == "more_room"
        most = 0 if bend is None else bend.most if whole else bend.most // self.unit
        self.bent = Level("bent", self.cp.new_int_var(0, most, "bent"), 1 if whole else self.unit)
        for step in problem.steps:
            begun = problem.begun.get(step.id)
            if begun is None:
                self._step(step)
            else:
                self._begun_step(step, begun)
        for lag in problem.lags:
            if not (lag.before in problem.begun and lag.after in problem.begun):
                self._lag(lag)
        self._begun_setups()

    def close(self) -> None:
        """Let nobody and no place be taken twice, and say what is made least, once everything has been added."""
        self._people()
        self._places()
        self._objectives()

    def attend(self, start: Any, end: Any, wanted: Any) -> Attended:
        """Add a piece of work that one person of those who are there takes, if it is wanted."""
        takers: list[tuple[str, Any]] = []
        for person in self.problem.people:
            for number, (begin, finish) in enumerate(person.shifts):
                earlier, later = self._longer(person.id, number)
                takes = self.cp.new_bool_var("")
                size = self.cp.new_int_var(0, self.horizon, "")
                self._busy[person.id].append(self.cp.new_optional_interval_var(start, size, end, takes, ""))
                self.cp.add(start >= -(-begin // self.unit) - earlier).only_enforce_if(takes)
                self.cp.add(end <= finish // self.unit + later).only_enforce_if(takes)
                takers.append((person.id, takes))
        self.cp.add(sum(takes for _, takes in takers) == 1).only_enforce_if(wanted)
        self.cp.add(sum(takes for _, takes in takers) == 0).only_enforce_if(wanted.negated())
        return Attended(start, end, tuple(takers), wanted)

    def hold(self, uses: Iterable[Use], start: Any, end: Any, wanted: Any) -> None:
        """Take places for a while, if it is wanted."""
        for use in uses:
            size = self.cp.new_int_var(0, self.horizon, "")
            self._taken[use.place].append((self.cp.new_optional_interval_var(start, size, end, wanted, ""), use.units))

    def _objectives(self) -> None:
        due = [step for step in self.problem.steps if step.due is not None]
        first: dict[str, Any] = {}
        for product in {step.product for step in due}:
            first[product] = self.cp.new_int_var(-self.horizon, self.horizon, f"first {product}")
            mine = {product, *self.problem.bases_of(product)}
            starts = [self.start[step.id] for step in self.problem.steps if step.product in mine]
            self.cp.add_min_equality(first[product], starts)
        late = [self._late(step) for step in due]
        self.lateness = Level("late_min", _sum(late), self.unit)
        if self.problem.replanning is None:
            elapsed = _sum([self.start[step.id] - first[step.product] for step in due])
            washes = _sum(self.wash_literals)
            self.levels = (Level("washes", washes, 1), Level("elapsed_min", elapsed, self.unit))
        else:
            moved, reassigned = _sum(list(self._moves())), _sum(list(self._reassigned()))
            self.levels = (Level("moved_min", moved, self.unit), Level("reassigned", reassigned, 1))
        for step, minutes in zip(due, late, strict=True):
            bend = self._bend
            later = self.bent.expression if bend and (bend.kind, bend.of) == ("serve_later", step.id) else 0
            self.cp.add(minutes <= later).only_enforce_if(self.on_time)

    def hints(self, previous: Mapping[str, PlacedStep]) -> dict[int, int]:
        """Return where another plan has its steps, and who does them, as values to begin the search from."""
        found: dict[int, int] = {}
        for step in self.problem.steps:
            before = previous.get(step.id)
            if before is None or step.id in self.problem.begun or not 0 <= before.option < len(step.options):
                continue
            found |= {
                self.start[step.id].index: before.start // self.unit,
                self.end[step.id].index: before.end // self.unit,
            }
            for number, literal in enumerate(self.chosen[step.id]):
                found[literal.index] = int(number == before.option)
            who = [piece.who for piece in sorted(before.people, key=lambda piece: piece.start)]
            for name, piece in zip(who, self.pieces[step.id, before.option], strict=False):
                found |= {takes.index: int(taker == name) for taker, takes in piece.takers}
        return found

    def _late(self, step: Step) -> Any:
        late = self.cp.new_int_var(0, self.horizon, f"{step.id} late")
        self.cp.add(late >= self.start[step.id] - (step.due or 0) // self.unit)
        return late

    def _moves(self) -> Iterator[Any]:
        previous = self.problem.replanning.previous if self.problem.replanning else {}
        for step in self.problem.steps:
            if step.id in previous and step.id not in self.problem.begun:
                moved = self.cp.new_int_var(0, self.horizon, f"{step.id} moved")
                before = previous[step.id].start // self.unit
                self.cp.add_abs_equality(moved, self.start[step.id] - before)
                yield moved

    def _reassigned(self) -> Iterator[Any]:
        previous = self.problem.replanning.previous if self.problem.replanning else {}
        for step in self.problem.steps:
            before = previous.get(step.id)
            if before is None:
                continue
            changed = self.cp.new_bool_var(f"{step.id} reassigned")
            option = before.option
            if not 0 <= option < len(step.options):
                continue
            kept = self.chosen[step.id][option]
            self.cp.add_implication(kept.negated(), changed)
            who = [piece.who for piece in sorted(before.people, key=lambda piece: piece.start)]
            begun = self.problem.begun.get(step.id)
            known = begun.people if begun else (None,) * len(who)
            for one, fixed, piece in zip(who, known, self.pieces[step.id, option], strict=False):
                if fixed is None:
                    same = [takes for name, takes in piece.takers if name == one]
                    self.cp.add_bool_or([*same, changed, kept.negated()])
            yield changed

    def _step(self, step: Step) -> None:
        unit, grid = self.unit, self.problem.grid // self.unit
        low = max(self.problem.now, step.due or 0, step.earliest or 0)
        high = self.problem.horizon if step.latest is None else min(step.latest, self.problem.horizon)
        first, last = -(-low // self.problem.grid), high // self.problem.grid
        if first > last:
            self.cp.add_bool_or([])
            first = last = 0
        ticks = self.cp.new_int_var(first, last, f"{step.id} tick")
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
            if option.machine is not None:
                self.running[option.machine].append(interval)
            for use in self._uses(option):
                self._taken[use.place].append((interval, use.units))
            spans = self._spans(option, start, end)
            self.pieces[step.id, number] = [self.attend(begin, finish, literal) for begin, finish in spans]

    def _uses(self, option: Option) -> tuple[Use, ...]:
        run = self.problem.machine_by_id[option.machine].run_uses if option.machine is not None else ()
        return (*option.uses, *run)

    def _spans(self, option: Option, start: Any, end: Any) -> list[tuple[Any, Any]]:
        """Return from when to when somebody attends."""
        if option.hands.throughout:
            return [(start, end)] if option.most > 0 else []
        first, last = option.hands.first // self.unit, option.hands.last // self.unit
        return [*([(start, start + first)] if first else []), *([(end - last, end)] if last else [])]

    def _begun_step(self, step: Step, begun: Begun) -> None:
        """A step that has begun: it may still end later than it did before, and part of its hands may be to come."""
        option, unit = step.options[begun.option], self.unit
        start = self.cp.new_constant(begun.start // unit)
        if begun.end is not None:
            end = self.cp.new_constant(begun.end // unit)
        else:
            least, most = (-(-(begun.start + one) // unit) for one in (option.least, option.most))
            latest = max(min(most, self.horizon), self.now)
            end = self.cp.new_int_var(min(max(least, self.now), latest), latest, f"{step.id} end")
        self.start[step.id], self.end[step.id] = start, end
        literals = [self.cp.new_bool_var(f"{step.id} {number}") for number in range(len(step.options))]
        self.chosen[step.id] = literals
        for number, literal in enumerate(literals):
            self.cp.add(literal == (number == begun.option))
            self.pieces[step.id, number] = []
        if begun.end is None or begun.end > self.problem.now:
            for use in self._uses(option):
                self._taken_before[use.place].append((self._while(end), use.units))
        wanted = literals[begun.option]
        spans = self._spans(option, start, end)
        people = (*begun.people, *(None,) * len(spans))
        for who, (begin, finish) in zip(people, spans, strict=False):
            if who is None:
                self.cp.add(begin >= self.now)
                piece = self.attend(begin, finish, wanted)
            else:
                piece = Attended(begin, finish, ((who, wanted),), wanted)
                self._attends(who, finish)
            self.pieces[step.id, begun.option].append(piece)

    def _attends(self, who: str, end: Any) -> None:
        """Somebody is busy with what they have begun, from now until its end."""
        if who in self._busy_before:
            self._busy_before[who].append(self._while(end))

    def _while(self, end: Any) -> Any:
        until = self.cp.new_int_var(self.now, max(self.horizon, self.now), "")
        self.cp.add_max_equality(until, [end, self.now])
        size = self.cp.new_int_var(0, self.horizon, "")
        return self.cp.new_interval_var(self.now, size, until, "")

    def _begun_setups(self) -> None:
        for setup in self.problem.replanning.setups if self.problem.replanning else ():
            for piece in setup.people:
                if piece.end > self.problem.now:
                    self._attends(piece.who, -(-piece.end // self.unit))

    def _people(self) -> None:
        for who, intervals in self._busy.items():
            self.cp.add_no_overlap(intervals)
            for before in self._busy_before[who]:
                self.cp.add_no_overlap([before, *intervals])

    def _places(self) -> None:
        for place, capacity in self.problem.places.items():
            before, coming = self._taken_before[place], self._taken[place]
            if sum(units for _, units in before) > capacity:
                before = [(interval, capacity) for interval, _ in before[:1]]
                before += [(interval, 0) for interval, _ in self._taken_before[place][1:]]
            if coming:
                held, units = zip(*(*before, *coming), strict=True)
                bend = self._bend
                more = self.bent.expression if bend and (bend.kind, bend.of) == ("more_room", place) else 0
                self.cp.add_cumulative(list(held), list(units), capacity + more)

    def _longer(self, who: str, shift: int) -> tuple[Any, Any]:
        """Return by how much a shift may begin earlier and end later."""
        bend = self._bend
        if bend is None or (bend.kind, bend.of, bend.shift) != ("longer_shift", who, shift):
            return 0, 0
        return (self.bent.expression, 0) if bend.end == "start" else (0, self.bent.expression)

    def _lag(self, lag: Lag) -> None:
        after = (self.end if lag.to_end else self.start)[lag.after]
        before = (self.start if lag.from_start else self.end)[lag.before]
        self.cp.add(after - before >= -(-lag.least // self.unit))
        if lag.most is not None:
            self.cp.add(after - before <= lag.most // self.unit)

    def plan(self, solver: Any) -> Plan:
        """Return the plan of a solution."""
        placed = (self._placed(step, solver) for step in self.problem.steps)
        coming = (
            Setup(kind, machine, step, self._minutes(start, solver), self._minutes(end, solver), self._who(by, solver))
            for kind, machine, step, start, end, by, wanted in self.setups
            if solver.boolean_value(wanted)
        )
        return Plan(tuple(placed), (*self._setups_before(), *coming))

    def _setups_before(self) -> Iterator[Setup]:
        """Return what was washed and made ready for runs that have begun; what waits for a run comes with that run."""
        for setup in self.problem.replanning.setups if self.problem.replanning else ():
            if setup.kind == "wash" or setup.step in self.problem.begun:
                yield setup

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

    def _who(self, pieces: Iterable[Attended], solver: Any) -> tuple[Piece, ...]:
        return tuple(
            Piece(who, self._minutes(piece.start, solver), self._minutes(piece.end, solver))
            for piece in pieces
            for who, takes in piece.takers
            if solver.boolean_value(takes)
        )

    def _minutes(self, at: Any, solver: Any) -> int:
        return (at if isinstance(at, int) else int(solver.value(at))) * self.unit


def _sum(parts: list[Any]) -> Any:
    """Return a sum that is an expression also where there is nothing to add up."""
    from ortools.sat.python import cp_model

    return cp_model.LinearExpr.sum(parts) if parts else cp_model.LinearExpr.constant(0)


def _unit(problem: Problem) -> int:
    """Return the greatest common divisor of all times."""
    options = [option for step in problem.steps for option in step.options]
    minutes = chain(
        (problem.grid, problem.horizon, problem.now),
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
                machine.ready_max_min or 0,
                *chain.from_iterable(machine.off),
            )
        ),
        (one for step in problem.steps for one in (step.due or 0, step.earliest or 0, step.latest or 0)),
        _minutes_before(problem),
    )
    return gcd(*minutes) or 1


def _minutes_before(problem: Problem) -> Iterator[int]:
    if problem.replanning is None:
        return
    for begun in problem.replanning.begun.values():
        yield from (begun.start, begun.end or 0)
    for setup in problem.replanning.setups:
        yield from (setup.start, setup.end)
        yield from (one for piece in setup.people for one in (piece.start, piece.end))
    yield from (step.start for step in problem.replanning.previous.values())
