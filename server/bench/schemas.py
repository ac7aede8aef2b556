"""What the Bench sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from jalebi_core.amounts import MOST_GRAMS
from jalebi_core.constants import COLDEST_ICE_C
from jalebi_core.mix_file import MOST_LINES, MOST_OVERRUN_PCT
from shelf.schemas import Part

from .analysis import MixAnalysis

Name = Annotated[str, Field(min_length=1, max_length=200)]
Overrun = Annotated[float, Field(ge=0, le=MOST_OVERRUN_PCT)]


Limit = Annotated[float, Field(ge=0, le=MOST_GRAMS)]
Pair = Annotated[list[float], Field(max_length=2)]
"""A least and a most."""


class DraftLine(BaseModel):
    """A line as typed; ``grams`` is what it last weighed, kept while something unreadable stands there.

    Balance leaves a ``pinned`` line as it is, another between ``least_g`` and ``most_g``, in steps of ``step_g`` or in
    pieces of the name that ``whole`` gives.
    """

    ingredient: Annotated[str, Field(max_length=60)]
    typed: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(min_length=1, max_length=20)] = "g"
    grams: Annotated[float, Field(ge=0)] | None = None
    stage: Annotated[str, Field(max_length=20)] | None = None
    pinned: bool = False
    least_g: Limit | None = None
    most_g: Limit | None = None
    step_g: Annotated[float, Field(gt=0, le=MOST_GRAMS)] | None = None
    whole: Annotated[str, Field(max_length=40)] | None = None
    note: Annotated[str, Field(max_length=200)] = ""


Restrictions = Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=20)]


class Draft(BaseModel):
    """A mix being worked on."""

    restrictions: Restrictions = []

    style: Annotated[str, Field(max_length=40)] | None = None
    overrun_pct: Overrun | None = None
    aims: Annotated[dict[Annotated[str, Field(max_length=40)], Pair], Field(max_length=40)] = {}
    machine: int | None = None
    lines: Annotated[list[DraftLine], Field(max_length=MOST_LINES)]


class DraftToAnalyse(Draft):
    """A draft and the freezer it is judged for; the kitchen's own where none is given."""

    freezer_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None


class Dose(BaseModel):
    """How much of the mix something is, in %, and the usual dose."""

    pct: float
    low_pct: float
    high_pct: float


class LineAnalysis(BaseModel):
    """What one line weighs and brings, or the sentence that says why it cannot be read.

    ``shares`` are its % of the mix's mass, freezing power and of what outcomes come from, by the core's `SHARES`;
    ``offends`` says which restriction it does not keep, as the end of a sentence that begins with its name;
    ``dose`` is its share of the mix beside the usual one; ``mind`` is what goes wrong at its stage; ``measure`` is
    the amount in cups, spoons or pieces.
    """

    name: str
    offends: str | None
    dose: Dose | None
    mind: str | None
    grams: float | None
    measure: str | None
    strata: list[Part]
    shares: dict[str, float]
    assumed: str | None
    error: str | None


class BesideOut(BaseModel):
    """One mix-in or layer: which line it is, and how it is in the cold."""

    line: int
    share_pct: float
    said: str
    advice: str


class ProductOut(BaseModel):
    """The whole tub: the mix with its air and what stands beside it."""

    mass_g: float
    volume_l: float
    energy_kcal: float


class Cost(BaseModel):
    """What goes in costs, in the kitchen's currency, as far as it has prices."""

    total: float
    per_litre: float | None
    unpriced: list[str]


class FillOut(BaseModel):
    """How a mix fills its machine, by run, in L and in % of the bowl."""

    runs: int
    in_l: float
    out_l: float
    in_pct: float
    out_pct: float
    word: str
    said: str
    air_said: str | None


class DraftAnalysis(BaseModel):
    """The analysis of a draft; none while no line weighs anything."""

    beside: list[BesideOut]
    product: ProductOut | None
    cost: Cost | None
    fill: FillOut | None

    analysis: MixAnalysis | None
    lines: list[LineAnalysis]
    allergens: list[str]
    allergens_not_stated: list[str]
    undisclosed: list[str]
    """Names of goods whose maker does not say what is in them."""


class NewMix(BaseModel):
    """A new mix: from nothing, the copy of another, or the first draft of a style in a school and batch size."""

    name: Name
    style: Annotated[str, Field(max_length=40)] | None = None
    copy_of: int | None = None
    school: Annotated[str, Field(max_length=40)] | None = None
    batch_g: Annotated[float, Field(gt=0)] | None = None


class DraftToSave(Draft):
    """A draft with the version it was made from."""

    name: Name
    version: int
    based_on: int | None = None


class MethodStep(BaseModel):
    """A sentence of a method and the stage it belongs to."""

    stage: Annotated[str, Field(max_length=20)] | None = None
    text: Annotated[str, Field(max_length=2000)]


class LastMade(BaseModel):
    """The last batch of a mix: which, when, and how it filled the machine that the mix is meant for now."""

    batch: int
    number: int
    begun_at: datetime
    fill: FillOut | None


class MixOut(DraftToSave):
    """A mix with its lines, what the recipe it came from said, and when it was made."""

    last_made: LastMade | None

    method: list[MethodStep]
    servings: int | None
    makes: str

    id: int
    changed_at: datetime


class Saved(BaseModel):
    """The version that a save has made."""

    version: int
    changed_at: datetime


class NewRevision(BaseModel):
    """The name of a point worth keeping, and what there is to say of it."""

    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""


class BatchOf(BaseModel):
    """A batch that was made of a revision."""

    id: int
    number: int
    begun_at: datetime


class RevisionOut(BaseModel):
    """A revision of a mix, the number of the one it goes on from, and the batches made of it."""

    id: int
    number: int
    name: str
    note: str
    parent: int | None
    kept_at: datetime
    batches: list[BatchOf] = []


class LineChangeOut(BaseModel):
    """An ingredient that weighs something else now; 0 where it was not there or is gone."""

    name: str
    before_g: float
    after_g: float


class DifferenceOut(BaseModel):
    """What changed from one state of a mix to another."""

    changes: list[LineChangeOut]
    said: str


class RevisionDetail(RevisionOut, DifferenceOut, Draft):
    """A revision with its lines as they were, and what has changed since: in the mix, or up to another revision."""


class RecipeText(BaseModel):
    """A pasted recipe: text, a page, or its schema.org data."""

    text: Annotated[str, Field(max_length=900_000)]


class Choice(BaseModel):
    """Goods that a line may mean, and how well their name fits, 0 to 1."""

    ingredient: str
    name: str
    score: float


class RecipeLineOut(BaseModel):
    """A line of a pasted recipe as understood; ``doubts`` are sentences, none where it needs no second look."""

    raw: str
    name: str
    note: str
    choices: list[Choice]
    typed: str
    grams: float | None
    assumed: str | None
    stage: str | None
    reduced_to: float | None
    doubts: list[str]


class RecipeOut(BaseModel):
    """A pasted recipe as understood."""

    name: str
    servings: int | None
    makes: str | None
    lines: list[RecipeLineOut]
    method: list[MethodStep]


class RecipeLineIn(BaseModel):
    """A line of a recipe as it goes into a mix; with ``reduced_to`` it becomes a preparation first."""

    ingredient: Annotated[str, Field(max_length=60)]
    typed: Annotated[str, Field(max_length=60)]
    stage: Annotated[str, Field(max_length=20)] | None = None
    reduced_to: Annotated[float, Field(gt=0, lt=1)] | None = None


class MixFromRecipe(BaseModel):
    """A mix to be made of a pasted recipe."""

    name: Name
    style: Annotated[str, Field(max_length=40)] | None = None
    lines: Annotated[list[RecipeLineIn], Field(min_length=1, max_length=MOST_LINES)]
    method: Annotated[list[MethodStep], Field(max_length=400)] = []
    servings: Annotated[int, Field(ge=1, le=10_000)] | None = None
    makes: Annotated[str, Field(max_length=40)] = ""


class LineQuestion(Draft):
    """A draft and one of its lines, counted from 0."""

    line: Annotated[int, Field(ge=0, lt=MOST_LINES)]


class EffectOut(BaseModel):
    """What a change does to the mix; ``said`` sums it up."""

    fat: float
    total_solids: float
    protein: float
    lactose_in_water: float
    sweetness_pod: float
    scoop_c: float | None
    said: str


class SwapLine(BaseModel):
    """A line that takes the place of another."""

    ingredient: str
    name: str
    grams: float


class SwapOut(BaseModel):
    """A swap: what takes the place of the line, at equal what, how it tastes, what it does, which allergens are new."""

    lines: list[SwapLine]
    brings: list[str]
    equal: str
    taste: str
    effect: EffectOut


class ConfusionOut(BaseModel):
    """Goods taken by mistake, how to tell them apart, and what the mistake would do to this mix."""

    name: str
    differ: str
    effect: EffectOut


class LineLook(BaseModel):
    """What there is to know of a line in its mix."""

    offends: str | None
    swaps: list[SwapOut]
    confusions: list[ConfusionOut]


class LeverOut(BaseModel):
    """An exchange: g of one line, counted from 0, for other goods; what the outcome is then, and what else it does."""

    line: int
    line_name: str
    ingredient: str
    name: str
    stage: str | None
    grams: float
    value: float
    word: str
    cures: bool
    effect: EffectOut


class HelpOut(BaseModel):
    """What helps one outcome that is out of its band.

    ``levers`` are to choose from; ``together`` cures it one after the other where no single one does, and ``otherwise``
    says what would where they do not either.
    """

    key: str
    cured: bool
    levers: list[LeverOut]
    together: list[LeverOut]
    otherwise: str


class SlackOut(BaseModel):
    """How far a line, counted from 0, may be weighed wrong before a word changes, and which."""

    line: int
    short_g: float | None
    short: str
    over_g: float | None
    over: str


class FigureOut(BaseModel):
    """A figure with its band, and where it comes from; ``aim`` says whether a band may be set for it."""

    key: str
    name: str
    value: float
    unit: str
    digits: int
    said: str
    scale: Pair
    band: Pair | None
    usual: Pair | None
    aim: bool
    formula: str
    source: str
    rule: str


class ServingSumOut(BaseModel):
    """Freezing power per kg as one custom counts it, and the temperature of service that it reads off."""

    counted: str
    per_kg: float
    serve_c: float | None
    said: str


class ComparisonOut(BaseModel):
    """The comparison line by sucrose equivalents, as far as its table goes."""

    t_c: list[float]
    frozen_pct: list[float]
    said: str


class GumOut(BaseModel):
    """A gum, starch or emulsifier of the draft; ``line`` counts from 0."""

    line: int
    name: str
    grams: float
    dose_pct: float
    in_water_pct: float
    usual_pct: Pair
    word: str
    works: bool | None
    weighable: bool
    said: list[str]


class NameOut(BaseModel):
    """A protected name in a region: whether the mix may bear it, and the figure that decides."""

    region: str
    name: str
    fits: bool
    because: str


class Closer(BaseModel):
    """The figures behind how a draft eats, what other schools say of it, its gums, and what it may be called."""

    figures: list[FigureOut]
    sums: list[ServingSumOut]
    comparison: ComparisonOut
    gums: list[GumOut]
    gum_total_pct: float
    gum_in_water_pct: float
    gum_pairs: list[str]
    names: list[NameOut]
