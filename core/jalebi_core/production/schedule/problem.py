"""What a plan is made for: people, places, machines, and the steps of the products with the waits between them.

Times are whole minutes from the origin.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

ALL_HANDS: Final = "all"
NO_HANDS: Final = "none"


@dataclass(frozen=True, slots=True)
class Use:
    """What is taken of a place: decilitres of a fridge or freezer, pieces of burners, ice baths and motors."""

    place: str
    units: int


@dataclass(frozen=True, slots=True)
class Hands:
    """Who attends: one person throughout, or for the first and the last minutes."""

    throughout: bool = False
    first: int = 0
    last: int = 0


@dataclass(frozen=True, slots=True)
class Option:
    """One way of doing a step: from least to most minutes, with hands and places, in a machine or in none."""

    least: int
    most: int
    hands: Hands = Hands()
    uses: tuple[Use, ...] = ()
    machine: str | None = None


@dataclass(frozen=True, slots=True)
class Step:
    """A step of a product; ``carries`` is what a run leaves in its machine; a ``due`` step never starts before that."""

    id: str
    product: str
    kind: str
    options: tuple[Option, ...]
    carries: frozenset[str] = frozenset()
    earliest: int | None = None
    latest: int | None = None
    due: int | None = None


@dataclass(frozen=True, slots=True)
class Lag:
    """A wait between two steps, at least and at most; None where nothing holds it back. A safety wait is never bent."""

    before: str
    after: str
    least: int
    most: int | None
    why: str
    safety: bool = False
    from_start: bool = False
    to_end: bool = False


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody and the shifts they are there for."""

    id: str
    shifts: tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True)
class Machine:
    """A machine or a canister's bowl: how long it churns and is washed, how it is made ready, and what it takes then.

    dirty_max_min : the longest it may stand dirty; also the longest gap between runs that continue
    ready_since : it is ready from then, None where it has to be made ready
    off : from when to when it may not run: it is out, or too loud then
    ready_max_min : how long it stays ready: ice melts, a compressor is not left running; None for as long as one likes
    """

    id: str
    churn_min: int
    wash_min: int
    dirty_max_min: int
    wash_always: bool
    ready_min: int
    ready_hands_min: int
    ready_uses: tuple[Use, ...] = ()
    ready_since: int | None = None
    run_uses: tuple[Use, ...] = ()
    off: tuple[tuple[int, int], ...] = ()
    ready_max_min: int | None = None


@dataclass(frozen=True, slots=True)
class Piece:
    """A while that somebody is busy with a step."""

    who: str
    start: int
    end: int


@dataclass(frozen=True, slots=True)
class PlacedStep:
    """A step in a plan: when, which of its options, and who attends."""

    id: str
    start: int
    end: int
    option: int
    machine: str | None
    people: tuple[Piece, ...]


@dataclass(frozen=True, slots=True)
class Setup:
    """A wash after a run, or a machine being made ready before one; ``step`` is that run."""

    kind: str
    machine: str
    step: str
    start: int
    end: int
    people: tuple[Piece, ...]


@dataclass(frozen=True, slots=True)
class Plan:
    """Every step placed, with what is washed and made ready between."""

    steps: tuple[PlacedStep, ...]
    setups: tuple[Setup, ...]


@dataclass(frozen=True, slots=True)
class Begun:
    """A step that has begun when a plan is made anew: a fact.

    end : None while it runs, with an end that is still free
    people : who attends each of its pieces in their order, None for a piece that is still to come
    """

    start: int
    end: int | None
    option: int
    people: tuple[str | None, ...] = ()


@dataclass(frozen=True, slots=True)
class Replanning:
    """What holds when a plan is made anew: the hour, what has begun, and the plan that is to be moved least."""

    now: int
    begun: Mapping[str, Begun]
    setups: tuple[Setup, ...]
    previous: Mapping[str, PlacedStep]

    def washed(self, run: str) -> Setup | None:
        """Return the wash after a run where it has begun."""
        return next((one for one in self.setups if one.kind == "wash" and one.step == run), None)

    def readied(self, machine: str) -> Setup | None:
        """Return since when a machine is being made ready for a run that has not begun; None where it is not."""
        waiting = [
            one for one in self.setups if one.kind == "ready" and one.machine == machine and one.step not in self.begun
        ]
        return max(waiting, key=lambda one: one.start, default=None)


@dataclass(frozen=True, slots=True)
class Problem:
    """All that is asked of a plan."""

    horizon: int
    grid: int
    people: tuple[Person, ...]
    places: Mapping[str, int]
    machines: tuple[Machine, ...]
    steps: tuple[Step, ...]
    lags: tuple[Lag, ...]
    products: Mapping[str, str] = field(default_factory=dict)
    time_limit_s: float = 8.0
    replanning: Replanning | None = None
    bases: Mapping[str, frozenset[str]] = field(default_factory=dict)
    """Which products share a base, by the base."""

    def bases_of(self, product: str) -> list[str]:
        """Return the bases that a product is made from."""
        return [base for base, products in self.bases.items() if product in products]

    @property
    def now(self) -> int:
        """Return the minute before which nothing new may start."""
        return self.replanning.now if self.replanning else 0

    @property
    def begun(self) -> Mapping[str, Begun]:
        """Return what has begun already."""
        return self.replanning.begun if self.replanning else {}

    @property
    def machine_by_id(self) -> dict[str, Machine]:
        """Return the machines by their names."""
        return {machine.id: machine for machine in self.machines}


def late_minutes(problem: Problem, plan: Plan) -> dict[str, int]:
    """Return by how many minutes each due step is late."""
    start = {step.id: step.start for step in plan.steps}
    return {step.id: max(start[step.id] - step.due, 0) for step in problem.steps if step.due is not None}


def washes(plan: Plan) -> int:
    """Return how many washes a plan has."""
    return sum(setup.kind == "wash" for setup in plan.setups)


def elapsed_minutes(problem: Problem, plan: Plan) -> int:
    """Return the sum over due steps of the time since the first step of their product began."""
    start = {step.id: step.start for step in plan.steps}
    first: dict[str, int] = {}
    for step in problem.steps:
        first[step.product] = min(first.get(step.product, problem.horizon), start[step.id])
    return sum(
        start[step.id] - min(first[one] for one in (step.product, *problem.bases_of(step.product)))
        for step in problem.steps
        if step.due is not None
    )


def moved_minutes(problem: Problem, plan: Plan) -> int:
    """Return by how many minutes the steps that have not begun lie elsewhere than before, all together."""
    previous = problem.replanning.previous if problem.replanning else {}
    coming = [step for step in plan.steps if step.id in previous and step.id not in problem.begun]
    return sum(abs(step.start - previous[step.id].start) for step in coming)


def reassigned(problem: Problem, plan: Plan) -> int:
    """Return how many steps are done in another way than before, or by somebody else in what is still to come."""
    previous = problem.replanning.previous if problem.replanning else {}
    return sum(step.id in previous and _differs(problem, previous[step.id], step) for step in plan.steps)


def _differs(problem: Problem, before: PlacedStep, after: PlacedStep) -> bool:
    if before.option != after.option:
        return True
    pieces = zip(_in_order(before.people), _in_order(after.people), strict=False)
    begun = problem.begun.get(after.id)
    kept = begun.people if begun else (None,) * len(after.people)
    return any(who is None and one.who != other.who for who, (one, other) in zip(kept, pieces, strict=False))


def _in_order(pieces: tuple[Piece, ...]) -> list[Piece]:
    return sorted(pieces, key=lambda piece: piece.start)
