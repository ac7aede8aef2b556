"""What the batch sheet sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from analysis.schemas import CostOut, Details, FillOut
from analysis.serialize import MixAnalysis
from ingredients.schemas import Part


class Churned(BaseModel):
    """A run of a batch in a machine: from how warm, how long the bowl was frozen, and how many minutes it took.

    ``grams`` went in, all that was made where none are said.
    """

    machine: Annotated[int, Field(ge=1, lt=2**63)]
    minutes: Annotated[float, Field(gt=0, le=600)]
    grams: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    start_c: Annotated[float, Field(ge=-5, le=100)] = 4
    prefreeze_h: Annotated[float, Field(ge=0, le=1000)] = 24


class NewEntry(BaseModel):
    """One thing to record: ``text`` for weighed, note and tasted, ``done`` for ticked, ``run`` for churned."""

    kind: Literal["weighed", "ticked", "note", "tasted", "churned"]
    run: Churned | None = None
    line: Annotated[int, Field(ge=0)] | None = None
    text: Annotated[str, Field(max_length=4000)] = ""
    done: bool = True


class BatchLine(BaseModel):
    """A line of the sheet: planned, and as made where it was weighed."""

    name: str
    stage: str | None
    unit: str
    planned_g: float
    as_made_typed: str | None
    as_made_g: float | None
    ticked: bool
    strata: list[Part]


class BatchHead(BaseModel):
    """What is said of a batch wherever it stands."""

    id: int
    number: int
    mix_id: int
    mix_name: str
    revision: int
    begun_at: datetime
    begun_by: str | None
    tasted: str | None
    note: str


class BatchSummary(BatchHead):
    """A batch in the list."""

    verdict: str
    ticked: int
    lines: int


class ChurnedOut(Churned):
    """A run as it was logged, and how fast the machine was in it beside its kind."""

    machine_name: str
    factor: float


class BatchOut(BatchHead):
    """A batch with its sheet and its two analyses; none as made when nothing went in.

    Details, cost and allergens are those of what went in, by what was known of it when the revision was kept.
    """

    lines: list[BatchLine]
    planned: MixAnalysis
    as_made: MixAnalysis | None
    details: Details | None
    cost: CostOut | None
    allergens: list[str]
    may_hold: list[str]
    allergens_not_stated: list[str]
    churned: ChurnedOut | None


class BatchOfMix(BaseModel):
    """A batch of a mix, and the number of the revision that it is one of."""

    id: int
    number: int
    revision: int
    begun_at: datetime


class LastBatch(BatchOfMix):
    """The last batch of a mix, and how it filled the machine that the mix is meant for now."""

    fill: FillOut | None
