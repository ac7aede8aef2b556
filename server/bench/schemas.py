"""What the Bench sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from jalebi_core.constants import COLDEST_ICE_C
from jalebi_core.mix_file import MOST_LINES, MOST_OVERRUN_PCT
from shelf.api import Part

from .analysis import MixAnalysis

Name = Annotated[str, Field(min_length=1, max_length=200)]
Overrun = Annotated[float, Field(ge=0, le=MOST_OVERRUN_PCT)]


class DraftLine(BaseModel):
    """A line as typed; ``grams`` is what it last weighed, kept while something unreadable stands there."""

    ingredient: Annotated[str, Field(max_length=60)]
    typed: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(min_length=1, max_length=20)] = "g"
    grams: Annotated[float, Field(ge=0)] | None = None
    stage: Annotated[str, Field(max_length=20)] | None = None


class Draft(BaseModel):
    """A mix being worked on."""

    style: Annotated[str, Field(max_length=40)] | None = None
    overrun_pct: Overrun | None = None
    lines: Annotated[list[DraftLine], Field(max_length=MOST_LINES)]


class DraftToAnalyse(Draft):
    """A draft and the freezer it is judged for; the kitchen's own where none is given."""

    freezer_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None


class LineAnalysis(BaseModel):
    """What one line weighs and brings, or the sentence that says why it cannot be read."""

    grams: float | None
    strata: list[Part]
    assumed: str | None
    error: str | None


class DraftAnalysis(BaseModel):
    """The analysis of a draft; none while no line weighs anything."""

    analysis: MixAnalysis | None
    lines: list[LineAnalysis]
    allergens: list[str]
    allergens_not_stated: list[str]


class NewMix(BaseModel):
    """A new mix: from nothing, or the copy of another."""

    name: Name
    style: Annotated[str, Field(max_length=40)] | None = None
    copy_of: int | None = None


class DraftToSave(Draft):
    """A draft with the version it was made from."""

    name: Name
    version: int


class MixOut(DraftToSave):
    """A mix with its lines."""

    id: int
    changed_at: datetime


class Saved(BaseModel):
    """The version that a save has made."""

    version: int
    changed_at: datetime


class MixSummary(BaseModel):
    """A mix in the list, with how it comes out."""

    id: int
    name: str
    style: str | None
    changed_at: datetime
    mass_g: float
    scoop_c: float | None
    verdict: str
    word: str | None
    strata: list[Part]


class NewRevision(BaseModel):
    """The name of a point worth keeping."""

    name: Name


class RevisionOut(BaseModel):
    """A revision of a mix."""

    id: int
    number: int
    name: str
    kept_at: datetime
