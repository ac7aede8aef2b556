"""What the station Make sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, RootModel

from batches.schemas import BatchHead, EventsKept, LatePress


class WeighingOut(BaseModel):
    """How a line is weighed: what it should be, between what nobody notices, on which scale, into what."""

    line: int
    target_g: float
    low_g: float
    high_g: float
    step_g: float
    fine: bool
    bowl: str
    bowl_g: float
    pieces: str | None


class ReadingOut(BaseModel):
    """A figure that is written down at a step, what it is called, and what it should be."""

    key: str
    name: str
    unit: str
    target: float | None
    low: float | None
    high: float | None


class MakingStepOut(BaseModel):
    """A step in words; ``planned_from`` and ``planned_to`` are local times of its plan."""

    id: str
    part: str
    kind: str
    title: str
    plan_step: str | None
    do: list[str]
    why: str | None
    cue: str | None
    mind: list[str]
    lines: list[int]
    weighing: WeighingOut | None
    readings: list[ReadingOut]
    least_min: float | None
    most_min: float | None
    critical: str | None
    choice: list[str]
    method: list[str]
    planned_from: datetime | None
    planned_to: datetime | None


class StepNoted(BaseModel):
    """What was noted of a step, by whom, and what another device said of the same."""

    began_at: datetime | None
    done_at: datetime | None
    by: str
    skipped: str | None
    chosen: str | None
    readings: dict[str, float | None]
    also: list[str]


class LineNoted(BaseModel):
    """What was noted of a line: what it weighs, what that does, what went in instead, and who else weighed it."""

    typed: str | None
    grams: float | None
    ticked: bool
    instead: str | None
    said: str
    also: list[str]


class CriticalOut(BaseModel):
    """A critical point: its limit, what was noted, whether that is met, and who signed or released it."""

    key: str
    name: str
    state: Literal["met", "open", "missed"]
    limit: str
    noted: str
    by: str
    at: datetime | None
    signed_by: str
    released: str


class LastPress(BaseModel):
    """The last press of a device, which its undo takes back."""

    key: str
    kind: str
    step: str
    line: int | None


class GapOut(BaseModel):
    """What is missing of the base after the pot, and what is said for each cause; ``to`` is what was pressed."""

    gap_g: float
    said: dict[str, str]
    to: str | None


class MakingState(BaseModel):
    """What the events of a batch come to; ``now`` is the server's clock."""

    events: int
    now: datetime
    steps: dict[str, StepNoted]
    lines: list[LineNoted]
    added: list[str]
    otherwise: list[str]
    gap: GapOut | None
    paused: str | None
    closed: str | None
    overrun_pct: float | None
    quantities: dict[str, float]
    critical: list[CriticalOut]
    credit: float | None
    """What the temperatures read in the pot are worth as pasteurisation, 1 is done; None for fewer than two of them."""
    verdict: str
    fault: str
    """What is wrong with what was noted, where no mix comes of it."""
    effect: str
    late: list[LatePress]
    last: dict[str, LastPress]


class PartOut(BaseModel):
    """A part of the work."""

    key: str
    name: str


class PlanOfBatch(BaseModel):
    """The plan that a batch belongs to."""

    id: int
    name: str


class MachineChoice(BaseModel):
    """A machine that could churn it."""

    id: int
    name: str


class MakingOut(BatchHead):
    """A batch as it is made: its steps in order, and what was noted of them."""

    mass_g: float
    machine: int | None
    machine_name: str
    machines: list[MachineChoice]
    runs: int
    parts: list[PartOut]
    steps: list[MakingStepOut]
    line_names: list[str]
    line_strata: list[str]
    cautions: list[str]
    faults: list[str]
    """Steps that need an eye: what a checker found wrong with them as they were built."""
    plan: PlanOfBatch | None
    mix_changed: bool
    state: MakingState


class EventsTaken(EventsKept):
    """What came of presses, and what the batch comes to with them."""

    state: MakingState


class WatchOut(BaseModel):
    """What an instrument logs of a step, curves of (minute, °C): measured, as planned, and ahead; and what to do.

    ``speed`` is that of its clock; ``low`` and ``high`` what is wanted; ``said`` what to do now.
    """

    step: str
    instrument: str
    ended: bool
    speed: float
    quiet: str
    """That nothing was logged for a while; empty while points come as they should."""
    points: list[list[float]]
    planned: list[list[float]]
    ahead: list[list[float]]
    low: float | None
    high: float | None
    frozen_pct: float | None
    left_min: float | None
    credit: float | None
    said: str
    beside: str
    alarm: str


class OtherMachine(BaseModel):
    """Another machine of the kitchen, and how the same would go in it."""

    id: int
    name: str
    runs: int
    drawn: bool
    said: str


class RescueOut(BaseModel):
    """What to do now when something goes wrong, in order, and when it is thrown away; ``here`` at this part of work."""

    key: str
    name: str
    here: bool
    now: list[str]
    throw: str
    others: list[OtherMachine]


class StandInAct(BaseModel):
    """What a hand does at the simulated instruments of a step; ``grams`` of what is poured."""

    act: Literal[
        "pour", "take-off", "heat", "off", "ice-bath", "fridge", "start", "start-weak", "stop", "freezer",
        "freezer-dies", "drop-out", "die", "wake",
    ]  # fmt: skip
    grams: Annotated[float, Field(ge=-20_000, le=20_000)] = 0


class AtWork(BaseModel):
    """A batch that is being made: how far it is, and what comes next."""

    id: int
    number: int
    mix_name: str
    begun_at: datetime
    begun_by: str | None
    noted: int
    paused: str | None


class AllAtWork(RootModel[list[AtWork]]):
    """The batches that are being made."""


class BatchOfPlan(BaseModel):
    """Which product of a plan a batch is begun for."""

    product: Annotated[str, Field(min_length=1, max_length=40)]


class BegunBatch(BaseModel):
    """A batch that was begun for a product of a plan."""

    product: str
    batch: int
    number: int


class BegunBatches(RootModel[list[BegunBatch]]):
    """The batches of a plan."""


class PhotoOut(BaseModel):
    """A photo of a batch."""

    id: int
    width: int
    height: int
    step: str
    at: datetime
    by: str | None


class Photos(RootModel[list[PhotoOut]]):
    """The photos of a batch."""
