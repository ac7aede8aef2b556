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

    @property
    def machine_by_id(self) -> dict[str, Machine]:
        """Return the machines by their names."""
        return {machine.id: machine for machine in self.machines}


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


def late_minutes(problem: Problem, plan: Plan) -> dict[str, int]:
    """Return by how many minutes each due step is late."""
    start = {step.id: step.start for step in plan.steps}
    return {step.id: start[step.id] - step.due for step in problem.steps if step.due is not None}


def washes(plan: Plan) -> int:
    """Return how many washes a plan has."""
    return sum(setup.kind == "wash" for setup in plan.setups)


def elapsed_minutes(problem: Problem, plan: Plan) -> int:
    """Return the sum over due steps of the time since the first step of their product began."""
    start = {step.id: step.start for step in plan.steps}
    first: dict[str, int] = {}
    for step in problem.steps:
        first[step.product] = min(first.get(step.product, problem.horizon), start[step.id])
    return sum(start[step.id] - first[step.product] for step in problem.steps if step.due is not None)
