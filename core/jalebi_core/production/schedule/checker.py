"""Whether a plan obeys all that is asked of it. It shares nothing with the model that makes plans."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise

from jalebi_core.production.schedule.problem import (
    Begun,
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

_Taken = tuple[int, int, int, bool]
"""From, to, how much, and whether that is still to come."""


def faults_of(problem: Problem, plan: Plan) -> list[str]:
    """Return what a plan breaks, a sentence each; none where it obeys everything.

    What has begun is not judged against what else has begun.
    """
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
        if found.machine != option.machine:
            yield f"{step.id} is in another machine than its option says"
        begun = problem.begun.get(step.id)
        if begun is not None:
            yield from _fact(problem, step, begun, found)
            continue
        if not option.least <= found.end - found.start <= option.most:
            yield f"{step.id} lasts {found.end - found.start} min"
        if found.start % problem.grid:
            yield f"{step.id} starts off the grid"
        if not problem.now <= found.start <= found.end <= problem.horizon:
            yield f"{step.id} lies beyond the horizon" if found.end > problem.horizon else f"{step.id} lies in the past"
        if step.due is not None and found.start < step.due:
            yield f"{step.id} starts before it is due"
        if step.earliest is not None and found.start < step.earliest:
            yield f"{step.id} starts too early"
        if step.latest is not None and found.start > step.latest:
            yield f"{step.id} starts too late"
        yield from _attended(step.id, _wanted(option, found), found.people)


def _fact(problem: Problem, step: Step, begun: Begun, found: PlacedStep) -> Iterator[str]:
    """Yield where a step that has begun is not as it was."""
    if (found.start, found.option) != (begun.start, begun.option):
        yield f"{step.id} has begun and is another"
    if begun.end is not None and found.end != begun.end:
        yield f"{step.id} has ended at {begun.end} and is said to at {found.end}"
    if begun.end is None and found.end < problem.now:
        yield f"{step.id} runs and is said to have ended"
    for who, (start, end) in zip(begun.people, _wanted(step.options[begun.option], found), strict=False):
        mine = [piece for piece in found.people if (piece.start, piece.end) == (start, end)]
        if who is None and (len(mine) != 1 or start < problem.now):
            yield f"{step.id} is attended at other times than it needs"
        if who and [piece.who for piece in mine] != [who]:
            yield f"{step.id} was begun by {who}"


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
        if lag.before in problem.begun and lag.after in problem.begun:
            continue
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
            busy.setdefault(piece.who, []).append(piece)
    for who, pieces in busy.items():
        coming = [piece for piece in pieces if piece.start >= problem.now]
        for piece in coming:
            if who not in shifts:
                yield f"nobody is called {who}"
            elif not any(begin <= piece.start and piece.end <= end for begin, end in shifts[who]):
                yield f"{who} is not there from {piece.start} to {piece.end}"
        for piece in coming:
            others = [other for other in pieces if other is not piece]
            if any(other.start < piece.end and piece.start < other.end for other in others):
                yield f"{who} does two things at {piece.start}"


def _machines(problem: Problem, plan: Plan) -> Iterator[str]:
    asked = {step.id: step for step in problem.steps}
    for machine in problem.machines:
        runs = sorted((step for step in plan.steps if step.machine == machine.id), key=lambda run: run.start)
        yield from _stands_still(problem, machine, runs)
        yield from _overlapping(problem, machine, runs)
        last = max((at for at, run in enumerate(runs) if run.id in problem.begun), default=0)
        setups = [setup for setup in plan.setups if setup.machine == machine.id]
        yield from _runs(problem, machine, runs[last:], setups, asked)


def _stands_still(problem: Problem, machine: Machine, runs: Sequence[PlacedStep]) -> Iterator[str]:
    for run in runs:
        for begin, end in machine.off:
            if run.id not in problem.begun and run.start < end and begin < run.end:
                yield f"{machine.id} runs {run.id} while it is off"


def _overlapping(problem: Problem, machine: Machine, runs: Sequence[PlacedStep]) -> Iterator[str]:
    for one, other in pairwise(runs):
        if other.start < one.end and other.id not in problem.begun:
            yield f"{machine.id} runs twice at {other.start}"


def _runs(
    problem: Problem, machine: Machine, runs: Sequence[PlacedStep], setups: Sequence[Setup], asked: dict[str, Step]
) -> Iterator[str]:
    """Yield what is wrong with a machine's runs, from the last that has begun on."""
    names = {run.id for run in runs}
    mine = [setup for setup in setups if setup.step in names]
    washed = {setup.step: setup for setup in mine if setup.kind == "wash"}
    readied = {setup.step: setup for setup in mine if setup.kind == "ready"}
    if len(washed) + len(readied) != len(mine):
        yield f"{machine.id} is set up twice for one run"
    for one, other in pairwise(runs):
        if one.id not in washed and not _continues(machine, asked[one.id], asked[other.id], other.start - one.end):
            yield f"{machine.id} is not washed between {one.id} and {other.id}"
        if one.id in washed and washed[one.id].end > other.start:
            yield f"{machine.id} is washed while it runs {other.id}"
    for run in runs:
        if run.id in washed:
            yield from _wash(problem, machine, run, washed[run.id])
    if runs and runs[-1].id not in washed:
        yield f"{machine.id} is not washed after its last run"
    begun = [*runs[:1]] + [other for one, other in pairwise(runs) if one.id in washed]
    after = {other.id: washed[one.id].end for one, other in pairwise(runs) if one.id in washed}
    for run in begun:
        ready = readied.pop(run.id, None)
        if run.id not in problem.begun:
            yield from _ready(problem, machine, run, ready, after.get(run.id))
    for name in readied:
        yield f"{machine.id} is made ready for {name}, which continues a run"


def _continues(machine: Machine, one: Step, other: Step, gap: int) -> bool:
    return not machine.wash_always and gap <= machine.dirty_max_min and one.carries <= other.carries


def _wash(problem: Problem, machine: Machine, run: PlacedStep, wash: Setup) -> Iterator[str]:
    if problem.replanning and wash in problem.replanning.setups:
        return
    if wash.end - wash.start != machine.wash_min:
        yield f"the wash after {run.id} takes {wash.end - wash.start} min"
    overdue = run.id in problem.begun and run.end + machine.dirty_max_min < problem.now
    if wash.start < run.end or (wash.start - run.end > machine.dirty_max_min and not overdue):
        yield f"{machine.id} stands dirty for {wash.start - run.end} min after {run.id}"
    if wash.start < problem.now:
        yield f"{machine.id} is washed in the past"
    yield from _attended(f"the wash after {run.id}", [(wash.start, wash.end)], wash.people)


def _ready(
    problem: Problem, machine: Machine, run: PlacedStep, ready: Setup | None, after: int | None
) -> Iterator[str]:
    if machine.ready_min == 0 and ready is None:
        return
    replanning = problem.replanning
    waiting = [
        one.start
        for one in (replanning.setups if replanning else ())
        if one.kind == "ready" and one.machine == machine.id and one.step not in problem.begun
    ]
    if ready is not None and ready.start in waiting:
        if ready.end != run.start or ready.end - ready.start < machine.ready_min:
            yield f"{machine.id} is not ready for {run.id}"
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
    if machine.ready_max_min is not None and ready.end - ready.start > machine.ready_max_min:
        yield f"{machine.id} stands ready for {ready.end - ready.start} min before {run.id}"
    if ready.end != run.start or ready.end - ready.start < machine.ready_min:
        yield f"{machine.id} is made ready from {ready.start} to {ready.end} for {run.id} at {run.start}"
    if ready.start < max(problem.now, 0 if after is None else after):
        yield f"{machine.id} is made ready for {run.id} before it is washed"
    hands = [(ready.start, ready.start + machine.ready_hands_min)] if machine.ready_hands_min else []
    yield from _attended(f"making {machine.id} ready for {run.id}", hands, ready.people)


def _places(problem: Problem, plan: Plan) -> Iterator[str]:
    busy: dict[str, list[_Taken]] = {}

    def take(uses: Iterable[Use], start: int, end: int, coming: bool) -> None:
        for use in uses:
            busy.setdefault(use.place, []).append((start, end, use.units, coming))

    asked, machines = {step.id: step for step in problem.steps}, problem.machine_by_id
    for placed in plan.steps:
        coming = placed.id not in problem.begun
        take(asked[placed.id].options[placed.option].uses, placed.start, placed.end, coming)
        if placed.machine is not None:
            take(machines[placed.machine].run_uses, placed.start, placed.end, coming)
    for setup in plan.setups:
        if setup.kind == "ready":
            take(machines[setup.machine].ready_uses, max(setup.start, 0), setup.end, setup.start >= problem.now)
    for place, spans in busy.items():
        for at in sorted({max(start, problem.now) for start, _, _, _ in spans}):
            held = [(units, coming) for start, end, units, coming in spans if start <= at < end]
            units = sum(amount for amount, _ in held)
            if units > problem.places.get(place, 0) and any(coming for _, coming in held):
                yield f"{place} holds {units} of {problem.places.get(place, 0)} at {at}"
                break
