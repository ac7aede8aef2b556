"""A step of making a batch, and the bench it is made at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

from jalebi_core.heat.tub import PLACES, Place, Vessel
from jalebi_core.production.machines import Machine
from jalebi_core.production.making.flow import Work
from jalebi_core.production.runs import RunForecast
from jalebi_core.production.scaling import KitchenConstants, Piece
from jalebi_core.wording.message import Message, templates

PARTS: Final = {
    "ready": "Get ready",
    "prepare": "Prepare",
    "weigh": "Weigh",
    "pot": "Pot",
    "cool": "Cool and age",
    "churn": "Churn",
    "pack": "Pack and harden",
}
"""The parts of the work in their order."""


@dataclass(frozen=True, slots=True)
class Weighing:
    """How a line is weighed.

    low_g, high_g : between which nobody notices; step_g : of the scale, the fine one where ``fine``
    bowl_g : what the bowl holds then, with all that went into it before
    pieces : whole ones by count, where it comes in such
    """

    line: int
    target_g: float
    low_g: float
    high_g: float
    step_g: float
    fine: bool
    bowl: str
    bowl_g: float
    pieces: str | None = None


@dataclass(frozen=True, slots=True)
class Reading:
    """A figure that is read and written down at a step: its key, unit, and what it should be."""

    key: str
    unit: str
    target: float | None = None
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, slots=True)
class Stage:
    """How cold a base has to be, so many minutes after its cooling began."""

    t_c: float
    within_min: float


@dataclass(frozen=True, slots=True)
class MakingStep:
    """One step.

    id : stays the same however often the steps of a batch are built
    part : a key of `PARTS`; kind : the section of ``data/making.toml`` that it speaks from
    plan_step : the step of a plan that it belongs to, without its product
    do, mind : sentences; why, cue : one sentence each
    lines : the lines of the mix that go in here
    readings : what is typed here; the first of them is the one that matters
    least_min, most_min : how long it takes or waits
    stages : how fast it has to cool, the warmest first
    critical : the critical point that it settles
    choice : ways between which the cook chooses here, the usual one first
    method : sentences of the recipe that the mix came from
    work : what it does with what is where
    """

    id: str
    part: str
    kind: str
    title: Message
    plan_step: str | None = None
    do: tuple[Message, ...] = ()
    why: Message | None = None
    cue: Message | None = None
    mind: tuple[Message, ...] = ()
    lines: tuple[int, ...] = ()
    weighing: Weighing | None = None
    readings: tuple[Reading, ...] = ()
    least_min: float | None = None
    most_min: float | None = None
    stages: tuple[Stage, ...] = ()
    critical: str | None = None
    choice: tuple[str, ...] = ()
    method: tuple[str, ...] = ()
    work: Work = field(default_factory=Work)


@dataclass(frozen=True, slots=True)
class Preparation:
    """Something of the mix that has to be prepared first: what it is called, and how, in the order of the work."""

    name: str
    kinds: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MakingBench:
    """What a batch is made with.

    machine, run : where it is frozen and the forecast of one run; none for what no machine turns
    cool : ice-bath or fridge; holds_back : cream stays cold and is stirred in off the heat
    hardens_in : where tubs are hardened; tub : what they are packed into
    age_min, keeps_min : minutes of the kitchen's own, None for those by ingredients
    fresh : it is served as it is drawn
    ran_before, left_allergens : what the machine churned last, and what of that guests of this one may not bear
    pieces : lines that come in whole pieces, by number
    method : sentences of its recipe, by stage
    """

    constants: KitchenConstants = field(default_factory=KitchenConstants)
    region: str = "eu"
    freezer_c: float = -18.0
    machine: Machine | None = None
    run: RunForecast | None = None
    runs: int = 1
    cool: str = "ice-bath"
    holds_back: bool = False
    hardens_in: Place = PLACES["still-freezer"]
    tub: Vessel | None = None
    age_min: int | None = None
    keeps_min: int | None = None
    fresh: bool = False
    preparations: tuple[Preparation, ...] = ()
    ran_before: str = ""
    left_allergens: tuple[str, ...] = ()
    pieces: Mapping[int, Piece] = field(default_factory=dict)
    method: Mapping[str | None, tuple[str, ...]] = field(default_factory=dict)


def say(kind: str, part: str, **facts: object) -> Message:
    """Return what is said at a kind of step."""
    return Message(f"making-{kind}-{part}", facts)


def says(kind: str, part: str) -> bool:
    """Tell whether anything is said there."""
    return f"making-{kind}-{part}" in templates()


def own_step(name: str, what: str) -> MakingStep:
    """Return a step that the cook has added: ``name`` is its id, ``what`` is said with a count."""
    return MakingStep(id=name, part="pack", kind="own", title=say("own", "title", name=what), do=(say("own", "do"),))
