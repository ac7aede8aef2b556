"""What the batch sheet sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from bench.analysis import MixAnalysis
from shelf.schemas import Part


class NewEntry(BaseModel):
    """One thing to record: ``text`` for weighed, note and tasted, ``done`` for ticked."""

    kind: Literal["weighed", "ticked", "note", "tasted"]
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


class BatchOut(BatchHead):
    """A batch with its sheet and its two analyses; none as made when nothing went in."""

    lines: list[BatchLine]
    planned: MixAnalysis
    as_made: MixAnalysis | None
