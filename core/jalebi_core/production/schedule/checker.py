"""Whether a plan obeys all that is asked of it. It shares nothing with the model that makes plans."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise

from jalebi_core.production.schedule.problem import (
    Lag,
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

_Busy = tuple[int, int, int]
"""From, to, and how much."""


def faults_of(problem: Problem, plan: Plan) -> list[str]:
    """Return what a plan breaks, a sentence each; none where it obeys everything."""
    if {step.id for step in plan.steps} != {step.id for step in problem.steps}:
        return ["the plan has other steps than were asked for"]
    return [
        *_steps(problem, plan),
        *_waits(problem, plan),
        *_people(problem, plan),
        *_machines(problem, plan),
        *_places(problem, plan),
    ]


def _steps(problem: Problem, plan: Plan) -> Iterator[str]:
    placed = {step.id: step for step in plan.steps}
    for step in problem.steps:
        found = placed[step.id]
        option = step.options[found.option]
        if not option.least <= found.end - found.start <= option.most:
            yield f"{step.id} lasts {found.end - found.start} min"
        if found.start % problem.grid:
            yield f"{step.id} starts off the grid"
        if not 0 <= found.start <= found.end <= problem.horizon:
            yield f"{step.id} lies beyond the horizon"
        if found.machine != option.machine:
            yield f"{step.id} is in another machine than its option says"
        if step.due is not None and found.start < step.due:
            yield f"{step.id} starts before it is due"
        if step.earliest is not None and found.start < step.earliest:
            yield f"{step.id} starts too early"
        if step.latest is not None and found.start > step.latest:
            yield f"{step.id} starts too late"
        yield from _attended(step.id, _wanted(option, found), found.people)


def _wanted(option: Option, found: PlacedStep) -> list[tuple[int, int]]:
    if option.hands.throughout:
        return [(found.start, found.end)]
    first, last = option.hands.first, option.hands.last
    spans = [(found.start, found.start + first)] if first else []
    return spans + ([(found.end - last, found.end)] if last else [])


def _attended(name: str, wanted: Sequence[tuple[int, int]], people: Sequence[Piece]) -> Iterator[str]:
    if sorted((piece.start, piece.end) for piece in people) != sorted(wanted):
        yield f"{name} is attended at other times than it needs"


def _waits(problem: Problem, plan: Plan) -> Iterator[str]:
    placed = {step.id: step for step in plan.steps}
    for lag in problem.lags:
        wait = _at(placed[lag.after], lag.to_end) - _at(placed[lag.before], not lag.from_start)
        if wait < lag.least or (lag.most is not None and wait > lag.most):
            yield f"{lag.after} waits {wait} min for {lag.before}: {_said(lag)}"


def _at(step: PlacedStep, end: bool) -> int:
    return step.end if end else step.start


def _said(lag: Lag) -> str:
    return f"{lag.least} to {'any' if lag.most is None else lag.most} ({lag.why})"


def _people(problem: Problem, plan: Plan) -> Iterator[str]:
    shifts = {person.id: person.shifts for person in problem.people}
    busy: dict[str, list[Piece]] = {}
    for attending in (*(step.people for step in plan.steps), *(setup.people for setup in plan.setups)):
        for piece in attending:
            if piece.who not in shifts:
                yield f"nobody is called {piece.who}"
                continue
            if not any(begin <= piece.start and piece.end <= end for begin, end in shifts[piece.who]):
                yield f"{piece.who} is not there from {piece.start} to {piece.end}"
            busy.setdefault(piece.who, []).append(piece)
    for who, pieces in busy.items():
        for one, other in pairwise(sorted(pieces, key=lambda piece: (piece.start, piece.end))):
            if other.start < one.end:
                yield f"{who} does two things at {other.start}"


def _machines(problem: Problem, plan: Plan) -> Iterator[str]:
    asked = {step.id: step for step in problem.steps}
    for machine in problem.machines:
        runs = sorted((step for step in plan.steps if step.machine == machine.id), key=lambda run: run.start)
        setups = [setup for setup in plan.setups if setup.machine == machine.id]
        yield from _runs(machine, runs, setups, asked)


def _runs(
    machine: Machine, runs: Sequence[PlacedStep], setups: Sequence[Setup], asked: dict[str, Step]
) -> Iterator[str]:
    washed = {setup.step: setup for setup in setups if setup.kind == "wash"}
    readied = {setup.step: setup for setup in setups if setup.kind == "ready"}
    if len(washed) + len(readied) != len(setups):
        yield f"{machine.id} is set up twice for one run"
    for one, other in pairwise(runs):
        if other.start < one.end:
            yield f"{machine.id} runs twice at {other.start}"
        if one.id not in washed and not _continues(machine, asked[one.id], asked[other.id], other.start - one.end):
            yield f"{machine.id} is not washed between {one.id} and {other.id}"
    for run in runs:
        if run.id in washed:
            yield from _wash(machine, run, washed[run.id])
    if runs and runs[-1].id not in washed:
        yield f"{machine.id} is not washed after its last run"
    begun = [*runs[:1]] + [other for one, other in pairwise(runs) if one.id in washed]
    after = {other.id: washed[one.id].end for one, other in pairwise(runs) if one.id in washed}
    for run in begun:
        yield from _ready(machine, run, readied.pop(run.id, None), after.get(run.id))
    for name in readied:
        yield f"{machine.id} is made ready for {name}, which continues a run"
    for one, other in pairwise(runs):
        if one.id in washed and washed[one.id].end > other.start:
            yield f"{machine.id} is washed while it runs {other.id}"


def _continues(machine: Machine, one: Step, other: Step, gap: int) -> bool:
    return not machine.wash_always and gap <= machine.dirty_max_min and one.carries <= other.carries


def _wash(machine: Machine, run: PlacedStep, wash: Setup) -> Iterator[str]:
    if wash.end - wash.start != machine.wash_min:
        yield f"the wash after {run.id} takes {wash.end - wash.start} min"
    if not 0 <= wash.start - run.end <= machine.dirty_max_min:
        yield f"{machine.id} stands dirty for {wash.start - run.end} min after {run.id}"
    yield from _attended(f"the wash after {run.id}", [(wash.start, wash.end)], wash.people)


def _ready(machine: Machine, run: PlacedStep, ready: Setup | None, after: int | None) -> Iterator[str]:
    if machine.ready_min == 0 and ready is None:
        return
    if after is None and machine.ready_since is not None:
        if ready is not None and ready.people:
            yield f"{machine.id} was ready: nobody is needed before {run.id}"
        if run.start - machine.ready_since < machine.ready_min:
            yield f"{machine.id} is not ready for {run.id}"
        return
    if ready is None:
        yield f"{machine.id} is not made ready for {run.id}"
        return
    if ready.end != run.start or ready.end - ready.start < machine.ready_min:
        yield f"{machine.id} is made ready from {ready.start} to {ready.end} for {run.id} at {run.start}"
    if ready.start < (0 if after is None else after):
        yield f"{machine.id} is made ready for {run.id} before it is washed"
    hands = [(ready.start, ready.start + machine.ready_hands_min)] if machine.ready_hands_min else []
    yield from _attended(f"making {machine.id} ready for {run.id}", hands, ready.people)


def _places(problem: Problem, plan: Plan) -> Iterator[str]:
    busy: dict[str, list[_Busy]] = {}

    def take(uses: Iterable[Use], start: int, end: int) -> None:
        for use in uses:
            busy.setdefault(use.place, []).append((start, end, use.units))

    asked, machines = {step.id: step for step in problem.steps}, problem.machine_by_id
    for placed in plan.steps:
        take(asked[placed.id].options[placed.option].uses, placed.start, placed.end)
        if placed.machine is not None:
            take(machines[placed.machine].run_uses, placed.start, placed.end)
    for setup in plan.setups:
        if setup.kind == "ready":
            take(machines[setup.machine].ready_uses, max(setup.start, 0), setup.end)
    for place, spans in busy.items():
        for at in sorted({start for start, _, _ in spans}):
            units = sum(amount for start, end, amount in spans if start <= at < end)
            if units > problem.places.get(place, 0):
                yield f"{place} holds {units} of {problem.places.get(place, 0)} at {at}"
                break
