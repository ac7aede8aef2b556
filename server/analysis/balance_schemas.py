"""What Balance is asked and what it proposes."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from analysis.schemas import DraftLine, DraftToAnalyse
from jalebi_core.formats.mix_file import MOST_LINES

LineNumber = Annotated[int, Field(ge=0, lt=MOST_LINES)]
Grams = Annotated[float, Field(ge=0, le=1_000_000)]


class AimIn(BaseModel):
    """A target: a band for one quantity, one end of which may be open."""

    of: Annotated[str, Field(max_length=60)]
    min: float | None = None
    max: float | None = None
    weight: Annotated[float, Field(gt=0, le=1000)] = 1.0
    at_c: float | None = None


class LimitIn(BaseModel):
    """Limits of one line of the draft, counted from 0."""

    line: LineNumber
    pin: bool = False
    min_g: Grams | None = None
    max_g: Grams | None = None
    step_g: Annotated[float, Field(gt=0, le=1_000_000)] | None = None


class ShareIn(BaseModel):
    """Lines of the draft, counted from 0, whose sum stays between two shares of the mix in %."""

    lines: Annotated[list[LineNumber], Field(min_length=1, max_length=MOST_LINES)]
    min_pct: Annotated[float, Field(ge=0, le=100)] = 0.0
    max_pct: Annotated[float, Field(ge=0, le=100)] = 100.0


class RatioIn(BaseModel):
    """Two lines of the draft, counted from 0, that keep the ratio they have."""

    line: LineNumber
    to: LineNumber


class LikeDraft(BaseModel):
    """The mix that is to eat the same: that with which the first of several presses of a job began."""

    lines: Annotated[list[DraftLine], Field(max_length=MOST_LINES)]
    overrun_pct: Annotated[float, Field(ge=0, le=300)] | None = None


class BalanceQuestion(DraftToAnalyse):
    """A draft with targets, or with a job that brings its own; ``sure`` asks for nine in ten of its variants.

    ``line``, ``ingredient`` and ``grams`` are what a job is about where it needs them; with ``alone`` the targets are
    reached while the rest of the mix eats as it does; ``like`` is the mix that a job holds it to.
    """

    job: Annotated[str, Field(max_length=40)] | None = None
    line: LineNumber | None = None
    ingredient: Annotated[str, Field(max_length=60)] | None = None
    grams: Grams | None = None
    targets: list[AimIn] = Field(default_factory=list, max_length=40)
    limits: list[LimitIn] = Field(default_factory=list, max_length=MOST_LINES)
    shares: list[ShareIn] = Field(default_factory=list, max_length=10)
    ratios: list[RatioIn] = Field(default_factory=list, max_length=10)
    like: LikeDraft | None = None
    max_new: Annotated[int, Field(ge=0, le=10)] = 2
    sure: bool = False
    alone: bool = False


class ProposedLine(BaseModel):
    """A line before and after; ``line`` is that of the draft, none for what comes in; ``was`` its name before."""

    line: int | None
    was: str
    ingredient: str
    name: str
    stage: str | None
    before_g: float
    after_g: float


class TargetOut(BaseModel):
    """A target before and after; ``chance`` of being met where that was asked, 0 to 1."""

    of: str
    name: str
    unit: str
    min: float | None
    max: float | None
    before: float
    after: float
    met: bool
    chance: float | None


class UnmetOut(BaseModel):
    """A target that is not met: the nearest value, why, and what would do it."""

    of: str
    name: str
    nearest: float
    because: str
    would_help: list[str]


class WordChange(BaseModel):
    """An outcome whose word changes."""

    key: str
    name: str
    before: str
    after: str
    good: bool


class Proposal(BaseModel):
    """What Balance proposes; nothing is changed by it."""

    message: str
    changed: bool
    lines: list[ProposedLine]
    targets: list[TargetOut]
    unmet: list[UnmetOut]
    words: list[WordChange]
    seconds: float
