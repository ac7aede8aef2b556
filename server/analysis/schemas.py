"""What analysing a draft is asked with and answers."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from analysis.serialize import MixAnalysis
from ingredients.schemas import Form, Part
from jalebi_core.formats.mix_file import MOST_LINES, MOST_OVERRUN_PCT
from jalebi_core.model.constants import COLDEST_ICE_C
from jalebi_core.quantities.amounts import MOST_GRAMS
from kitchens.prices import VisiblePrice

Name = Annotated[str, Field(min_length=1, max_length=200)]


Overrun = Annotated[float, Field(ge=0, le=MOST_OVERRUN_PCT)]


Limit = Annotated[float, Field(ge=0, le=MOST_GRAMS)]


Pair = Annotated[list[float], Field(max_length=2)]
"""A least and a most."""


class DraftLine(BaseModel):
    """A line as typed; ``grams`` is what it last weighed, kept while something unreadable stands there.

    Balance leaves a ``pinned`` line as it is, another between ``least_g`` and ``most_g``, in steps of ``step_g`` or in
    pieces of the name that ``whole`` gives; ``form`` is how it lies in a cup.
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
    form: Form | None = None


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

    ``contributions`` are its % of mass, freezing power and what outcomes come from, by the core's `CONTRIBUTIONS`;
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
    contributions: dict[str, float]
    assumed: str | None
    error: str | None


class MixInOut(BaseModel):
    """One mix-in or layer: which line it is, and how it is in the cold."""

    line: int
    share_pct: float
    message: str
    advice: str


class ProductOut(BaseModel):
    """The whole tub: the mix with its air and what stands beside it."""

    mass_g: float
    volume_l: float
    energy_kcal: float


class CostOut(BaseModel):
    """What goes in costs, in the kitchen's currency, trimmings and losses paid for.

    ``ingredients`` and ``per_litre`` are none while something has no price; ``at_least`` is the sum of what has one.
    """

    ingredients: VisiblePrice
    at_least: VisiblePrice
    per_litre: VisiblePrice
    litres: float
    not_priced: list[str]


class FillOut(BaseModel):
    """How a mix fills its machine, by run, in L and in % of the bowl."""

    runs: int
    in_l: float
    out_l: float
    in_pct: float
    out_pct: float
    word: str
    message: str
    air_message: str | None


class CautionOut(BaseModel):
    """What guests must be told of a mix: in a list, as a sentence, on a label where one must, and by which rule."""

    key: str
    short: str
    said: str
    label: str | None
    places: list[str]
    source: str


class DraftAnalysis(BaseModel):
    """The analysis of a draft; none while no line weighs anything."""

    mix_ins: list[MixInOut]
    product: ProductOut | None
    cost: CostOut | None
    fill: FillOut | None

    analysis: MixAnalysis | None
    lines: list[LineAnalysis]
    allergens: list[str]
    may_hold: list[str]
    guest_cautions: list[CautionOut]
    allergens_not_stated: list[str]
    undisclosed: list[str]
    """Names of ingredients whose maker does not say what is in them."""


class LineQuestion(Draft):
    """A draft and one of its lines, counted from 0."""

    line: Annotated[int, Field(ge=0, lt=MOST_LINES)]


class EffectOut(BaseModel):
    """What a change does to the mix; ``message`` sums it up, and ``felt`` is whether there is anything to notice."""

    fat: float
    total_solids: float
    protein: float
    lactose_in_water: float
    sweetness_pod: float
    scoop_c: float | None
    message: str
    felt: bool


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
    """Ingredients taken by mistake, how to tell them apart, and what the mistake would do to this mix."""

    name: str
    differ: str
    effect: EffectOut


class LineInsights(BaseModel):
    """What there is to know of a line in its mix."""

    offends: str | None
    swaps: list[SwapOut]
    confusions: list[ConfusionOut]


class NewAmountOut(BaseModel):
    """What a line of the draft, counted from 0, weighs then; a line of its own where ``line`` is missing."""

    line: int | None
    ingredient: str
    stage: str | None
    grams: float


class AdjustmentOut(BaseModel):
    """What a cook may try: the lines that change, the air where it does, and what that comes to in words.

    Without either it is about another place in the freezer, or about time.
    """

    lines: list[NewAmountOut]
    overrun_pct: float | None
    said: str


class HelpOut(BaseModel):
    """What helps against one outcome that is out of its band, the best first, or why there is nothing."""

    key: str
    found: list[AdjustmentOut]
    none: str


class ToleranceOut(BaseModel):
    """How far a line, counted from 0, may be off beside all others, and from where on by itself what is noticed."""

    line: int
    close_g: float
    noticed_g: float | None
    what: str


class FigureOut(BaseModel):
    """A figure with its band, and where it comes from; ``aim`` says whether a band may be set for it."""

    key: str
    name: str
    value: float
    unit: str
    digits: int
    note: str
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
    message: str


class ComparisonOut(BaseModel):
    """The comparison line by sucrose equivalents, as far as its table goes."""

    t_c: list[float]
    frozen_pct: list[float]
    message: str


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
    advice: list[str]


class NameOut(BaseModel):
    """A protected name in a region: whether the mix may bear it, and the figure that decides."""

    region: str
    name: str
    fits: bool
    because: str


class Details(BaseModel):
    """The figures behind how a draft eats, what other schools say of it, its gums, and what it may be called."""

    figures: list[FigureOut]
    sums: list[ServingSumOut]
    comparison: ComparisonOut
    gums: list[GumOut]
    gum_total_pct: float
    gum_in_water_pct: float
    gum_pairs: list[str]
    names: list[NameOut]
