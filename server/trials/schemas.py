"""What trials send and receive."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, Field, WrapValidator

from api.items import read_item
from ingredients.schemas import Part
from jalebi_core.tasting.serving import MOST_TASTERS

RowId = Annotated[int, Field(ge=1, lt=2**63)]
Kind = Literal["triangle", "duo-trio", "tetrad", "2-afc", "3-afc", "preference", "pairs", "ranking", "liking"]
VariantKey = Annotated[str, Field(min_length=1, max_length=4)]
Taster = Annotated[str, Field(min_length=1, max_length=60)]
Step = Annotated[float, Field(ge=-100_000, le=1_000_000)]
Number = Annotated[int, Field(ge=0, le=200)]


MOST_REPLICATES = 6
_MOST_PAIRS = 15
MOST_SERVINGS = MOST_TASTERS * MOST_REPLICATES * _MOST_PAIRS
"""Of the largest test that can be begun: all pairs of six variants."""
MOST_ANSWERS = 60
"""Of one request; a page that has more sends them one after the other."""


class FactorIn(BaseModel):
    """What a ladder varies, as the trial file has it: a line in g, a line's share as other goods, or an aim."""

    line: Number | None = None
    grams: Annotated[list[Step], Field(max_length=6)] | None = None
    take_up: Number | None = None
    by: Annotated[str, Field(max_length=60)] | None = None
    share_pct: Annotated[list[Step], Field(max_length=6)] | None = None
    aim: Annotated[str, Field(max_length=60)] | None = None
    values: Annotated[list[Step], Field(max_length=6)] | None = None
    moving: Annotated[list[Number], Field(max_length=60)] = []
    hold: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=8)] = []


class SideIn(BaseModel):
    """A mix as it is, or one of its revisions, to stand beside others."""

    mix: RowId
    revision: Annotated[int, Field(ge=1, le=100_000)] | None = None


class NewTrial(BaseModel):
    """A trial: a ladder of one mix, or two to six mixes or revisions side by side.

    All at ``serve_c``, or at none each at its own scooping temperature.
    """

    name: Annotated[str, Field(min_length=1, max_length=120)]
    mix: RowId | None = None
    factors: Annotated[list[FactorIn], Field(max_length=2)] = []
    sides: Annotated[list[SideIn], Field(max_length=6)] = []
    serve_c: Annotated[float, Field(ge=-40, le=0)] | None = -14.0
    spare_pct: Annotated[float, Field(ge=0, le=100)] = 5.0


class NewTest(BaseModel):
    """A test of some variants by some tasters, each served as often as there are replicates."""

    kind: Kind
    attribute: Annotated[str, Field(max_length=40)] = ""
    variants: Annotated[list[VariantKey], Field(min_length=2, max_length=6)]
    tasters: Annotated[list[Taster], Field(min_length=1, max_length=400)]
    replicates: Annotated[int, Field(ge=1, le=MOST_REPLICATES)] = 1


class SaidIn(BaseModel):
    """What a taster says of one serving, in the codes on its cups."""

    key: UUID | None = None
    serving: Annotated[int, Field(ge=0, lt=MOST_SERVINGS)]
    picked: Annotated[list[Annotated[str, Field(max_length=4)]], Field(max_length=12)] = []
    liking: Annotated[
        dict[Annotated[str, Field(max_length=4)], Annotated[float, Field(ge=1, le=9)]], Field(max_length=12)
    ] = {}
    marks: Annotated[
        dict[
            Annotated[str, Field(max_length=4)],
            Annotated[
                dict[Annotated[str, Field(max_length=40)], Annotated[int, Field(ge=-2, le=2)]], Field(max_length=12)
            ],
        ],
        Field(max_length=12),
    ] = {}


class TrialDecision(BaseModel):
    """The variant that goes into the mix, or two that it is put between."""

    keys: Annotated[list[VariantKey], Field(min_length=1, max_length=2)]


class TastedFigure(BaseModel):
    """A figure of a variant that somebody tastes."""

    key: str
    value: float


class VariantOut(BaseModel):
    """A variant as it is drawn: its tub, what alone differs, and how it is."""

    key: str
    name: str
    mix: int | None
    mass_g: float
    strata: list[Part]
    ice_pct: float
    scoop_c: float | None
    word: str
    firmness: float
    figures: list[TastedFigure]


class DifferingLine(BaseModel):
    """A line that is not the same in all variants: g by variant."""

    name: str
    grams: dict[str, float]


class FeltOut(BaseModel):
    """How one variant differs from another in a word, in steps of noticing, and how many people tell."""

    figure: str
    word: str
    steps: float
    told_by: str


class BetweenOut(BaseModel):
    """How a variant differs from the one before it, and what of it people tell."""

    a: str
    b: str
    felt: list[FeltOut]


class AddOut(BaseModel):
    """What is weighed into a portion."""

    name: str
    grams: float


class PortionOut(BaseModel):
    """What one variant takes of the base, and what is weighed into it."""

    key: str
    base_g: float
    add: list[AddOut]
    total_g: float


class SplitOut(BaseModel):
    """One base for all variants, the stage at which they part, and their portions."""

    at: str | None
    base_g: float
    base: list[AddOut]
    portions: list[PortionOut]


class ProposalOut(BaseModel):
    """The test to begin with: its kind, what it asks, how many tastings it takes, and why, in words."""

    kind: str
    attribute: str
    tastings: int | None
    said: str


class ServingOut(BaseModel):
    """A set of cups for a taster, by their codes, from left to right."""

    number: int
    taster: str
    round: int
    cups: list[str]
    answered: bool


class CupsHold(BaseModel):
    """What is in the cups of a test, for those who may not eat all of it."""

    allergens: list[str]
    may_hold: list[str]
    not_stated: list[str]
    cautions: list[str]


class TestOut(BaseModel):
    """A test: what it asks, its servings by code; codes by variant and what was found only once it is closed."""

    id: int
    kind: str
    attribute: str
    question: str
    variants: list[str]
    tasters: list[str]
    linked: list[str]
    """The tasters who have a link to a page of their own."""
    servings: list[ServingOut]
    answered: int
    tastings: int | None
    warnings: list[str]
    cups_hold: CupsHold
    closed_at: datetime | None
    codes: dict[str, list[str]]
    analysis: dict[str, Any] | None
    said: str
    settle: str


class TrialHead(BaseModel):
    """A trial as lists show it."""

    id: int
    name: str
    mix: int | None
    mix_name: str
    variants: list[str]
    begun_at: datetime
    tests: int
    open_tests: int
    decided: str


class TrialOut(BaseModel):
    """A trial: its variants side by side with only what differs, how to make them, and its tests."""

    id: int | None
    name: str
    mix: int | None
    mix_name: str
    changes: list[str]
    held: list[str]
    serve_c: float | None
    variants: list[VariantOut]
    lines: list[DifferingLine]
    between: list[BetweenOut]
    split: SplitOut
    proposal: ProposalOut | None
    tests: list[TestOut]
    decided: str
    begun_at: datetime | None


class LinkIn(BaseModel):
    """For whom a link is."""

    taster: Taster


class LinkOut(BaseModel):
    """The path of the page of one guest; it is shown once."""

    path: str


class MadeMixes(BaseModel):
    """The mixes that hold the variants, to be planned and made."""

    mixes: dict[str, int]


class DecidedOut(BaseModel):
    """The mix that the winner went into, and the revision that kept what was there before."""

    mix: int
    before: int
    trial: TrialOut


class GuestCup(BaseModel):
    """A cup by its code; the open one needs none."""

    code: str
    open: bool


class GuestServing(BaseModel):
    """A set of cups that is not answered yet."""

    number: int
    cups: list[GuestCup]


class GuestPage(CupsHold):
    """What a guest sees: allergens first, then the question and the own cups by code."""

    kitchen: str
    kind: str
    question: str
    taster: str
    servings: list[GuestServing]
    marks: list[str]


class GuestAnswers(BaseModel):
    """Answers that a guest's page has gathered, in their order; each is kept once by its key."""

    answers: Annotated[list[Annotated[SaidIn, WrapValidator(read_item)]], Field(min_length=1, max_length=MOST_ANSWERS)]


class GuestKept(BaseModel):
    """How many of them are kept now, and what was refused, in words."""

    kept: int
    refused: list[str]
