"""What the shelf sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field
from typing_extensions import TypedDict

from jalebi_core.formats.mix_file import MOST_LINES
from jalebi_core.model.composition import FORMS
from jalebi_core.physics.boiling import HOTTEST_C
from jalebi_core.regulation.allergens import ALLERGENS
from kitchens.learnt_marks import LearntMark
from kitchens.prices import VisiblePrice

Slug = Annotated[str, Field(max_length=60)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Grams = Annotated[float, Field(ge=0, le=1_000_000)]
Percent = Annotated[float, Field(ge=0, le=100)]


class Part(TypedDict):
    """Grams of one stratum or component; plain dicts, for each keystroke is answered with hundreds of them."""

    key: str
    grams: float


class NamedPart(Part):
    """Grams of one component, with its name."""

    name: str


Form = Annotated[str, Field(max_length=10, json_schema_extra={"enum": list(FORMS)})]
"""How ingredients lie in a cup, a key of the core's `FORMS`."""

Allergen = Annotated[str, Field(max_length=20, json_schema_extra={"enum": list(ALLERGENS)})]
Allergens = Annotated[list[Allergen], Field(max_length=20)]
"""Names of the core's list."""


class Named(BaseModel):
    """A key and its name."""

    key: str
    name: str


class IngredientOut(BaseModel):
    """An ingredient as lists show it: what it is per 100 g."""

    slug: str
    name: str
    kind: str
    also: list[str]
    own: bool
    allergens: list[Allergen]
    allergens_stated: bool
    may_hold: list[Allergen]
    """Allergens of traces, or such as only the maker can tell."""
    density_kg_l: float | None
    pieces: dict[str, float]
    forms: list[Form]
    """How it may lie in a cup other than usual, keys of the core's `FORMS`."""
    strata: list[Part]
    sweetness_pod: float
    freezing_power_pac: float
    sure: str
    price_per_kg: VisiblePrice
    mistaken_for: list[str]
    """Names of ingredients that are taken for these."""


class TypedMatch(BaseModel):
    """An ingredient that a typed line may mean, and its amount as it is put in: what it weighs, or why not.

    ``typed`` is empty where no amount was typed; a share of the whole mix weighs nothing yet.
    """

    ingredient: IngredientOut
    typed: str
    grams: float | None
    assumed: str | None
    form: Form | None
    error: str | None


class TypedLineOut(BaseModel):
    """A line as typed: its amount, what it is of in the words typed, and what on the shelf that may be, best first."""

    amount: str
    query: str
    matches: list[TypedMatch]


class ConfusableOut(Named):
    """Ingredients that these are taken for, and how to tell them apart."""

    differ: str


class PrepLine(BaseModel):
    """A line of a preparation as typed, and what the server read of it; what is steeped is taken out again."""

    ingredient: Slug
    typed: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(min_length=1, max_length=20)] = "g"
    grams: Grams | None = None
    form: Form | None = None
    steeped: bool = False


class PrepStep(BaseModel):
    """A step of a preparation; the core's `preparation.Step` says what each field means."""

    kind: Literal["reduce", "cook", "steep", "macerate", "strain", "trim", "sour", "invert", "brix"]
    share_pct: Percent | None = None
    measured_g: Grams | None = None
    pot_g: Grams | None = None
    pressed: bool = True
    made_up: Literal["", "liquid", "water"] = ""
    keep: Literal["both", "syrup", "fruit"] = "both"
    brix: Annotated[float, Field(ge=0, le=95)] | None = None
    to_c: Annotated[float, Field(ge=100, le=HOTTEST_C)] | None = None


class Preparation(BaseModel):
    """What goes into a preparation and what is done to it."""

    name: Name
    lines: Annotated[list[PrepLine], Field(max_length=MOST_LINES)]
    steps: Annotated[list[PrepStep], Field(max_length=30)] = []
    keeps_days: Annotated[int, Field(ge=0, le=10_000)] | None = None


class Difference(BaseModel):
    """What an ingredient says here and what the shelf that ships says of it."""

    what: str
    here: str
    shelf: str


class IngredientDetail(IngredientOut):
    """All that is known of an ingredient."""

    basis: str
    sure_said: str
    components: list[NamedPart]
    energy_kcal: float
    brix: float
    facts: dict[str, Any]
    confused_with: list[ConfusableOut]
    made_from: Preparation | None
    price: VisiblePrice
    us_allergens: list[Allergen]
    suits: list[str]
    shelf_says: list[Difference]
    """What the shelf that ships says otherwise, where somebody changed the row."""
    pack_read_by: str | None
    """Who has read on the pack what it may hold; none while nobody has since that was last said otherwise."""
    offered: bool
    """Whether the shelf was corrected since, and nobody has decided yet."""
    version: int
    used_in: int
    learnt: list[LearntMark]


class NutritionLabel(BaseModel):
    """A nutrition label in g; per 100 g, or per serving where ``serving_g`` is given."""

    fat: Grams = 0
    carbohydrate: Grams = 0
    sugars: Grams = 0
    polyols: Grams = 0
    fibre: Grams = 0
    protein: Grams = 0
    salt: Grams = 0
    alcohol_vol: Percent = 0
    water: Grams | None = None
    energy_kcal: Annotated[float, Field(ge=0, le=100_000)] | None = None
    serving_g: Annotated[float, Field(gt=0, le=100_000)] | None = None


class LabelText(BaseModel):
    """A nutrition label as text."""

    text: Annotated[str, Field(max_length=4000)]


class LabelFigures(BaseModel):
    """The figures that a label's text names; what it does not name is missing."""

    figures: dict[str, float]


class Custom(BaseModel):
    """What every own ingredient states beside its composition.

    ``animal`` is what of it comes from animals other than milk and egg; where nothing is said it has to be asked.
    """

    name: Name
    also: Annotated[list[Name], Field(max_length=20)] = []
    allergens: Allergens | None = None
    may_hold: Allergens = []
    animal: Literal["none", "slaughtered", "ask", "rennet", "bees"] | None = None
    sold: Literal["raw", "pasteurised"] | None = None
    density_kg_l: Annotated[float, Field(ge=0.02, le=3)] | None = None
    price: Annotated[float, Field(ge=0, le=1e6)] | None = None
    pack_g: Annotated[float, Field(gt=0, le=1e6)] | None = None


class FromLabel(Custom):
    """An own ingredient from its nutrition label and what it is like."""

    way: Literal["label"]
    label: NutritionLabel
    like: Slug | None = None


class FromBrix(Custom):
    """An own ingredient: a fruit of the shelf at a refractometer's reading."""

    way: Literal["brix"]
    of: Slug
    brix: Annotated[float, Field(ge=0, le=95)]


class FromBlend(Custom):
    """A commercial blend of undisclosed make-up, dosed as its label says."""

    way: Literal["blend"]
    dose_low_pct: Percent
    dose_high_pct: Percent
    of: Literal["gums", "gums and emulsifiers"] = "gums"


CustomWay = Annotated[FromLabel | FromBrix | FromBlend, Field(discriminator="way")]


class Preview(BaseModel):
    """What an own ingredient or preparation would be."""

    strata: list[Part]
    components: list[NamedPart]
    sweetness_pod: float
    freezing_power_pac: float
    energy_kcal: float
    brix: float
    allergens: list[Allergen]
    may_hold: list[Allergen]
    doubts: list[str]


class FlowOut(BaseModel):
    """A mass and what it is of, g by stratum; nothing of a stratum that is not there."""

    grams: float
    strata: list[Part]


class PreparationPreview(Preview):
    """What a preparation would be, with what happens on the way."""

    yield_g: float
    put_in_g: float
    messages: list[str]
    cautions: list[str]
    assumed: list[str]
    cost: VisiblePrice
    keeps_days: int
    lines: list[FlowOut]
    """What each line brings."""
    flow: list[FlowOut]
    """What is in the pot: as it went in, and after each step."""


class IngredientChange(BaseModel):
    """A change to an ingredient; what is left out stays."""

    name: Name | None = None
    also: Annotated[list[Name], Field(max_length=20)] | None = None
    allergens: Allergens | None = None
    may_hold: Allergens | None = None
    density_kg_l: Annotated[float, Field(ge=0.02, le=3)] | None = None
    pieces: Annotated[dict[str, Annotated[float, Field(gt=0, le=1e6)]], Field(max_length=10)] | None = None
    price: Annotated[float, Field(ge=0, le=1e6)] | None = None
    pack_g: Annotated[float, Field(gt=0, le=1e6)] | None = None
    supplier: Annotated[str, Field(max_length=80)] = ""
    """Who asks the price."""
    strength_g_kg: tuple[float, float] | None = None
    why: Annotated[str, Field(max_length=200)] = ""


class Decision(BaseModel):
    """Whether what the shelf that ships says is taken; else the row is kept as it is here."""

    take: bool


class OfferOut(BaseModel):
    """An ingredient that somebody changed here and the shelf corrected since."""

    slug: str
    name: str
    differences: list[Difference]


class VersionOut(BaseModel):
    """An earlier state of an ingredient."""

    number: int
    name: str
    why: str
    changed_at: datetime
    components: list[NamedPart]


class RowChange(BaseModel):
    """What importing one row of a file would do."""

    row: int
    name: str
    what: Literal["new", "changed", "same", "wrong"]
    fields: list[str]
    error: str | None


class ImportPreview(BaseModel):
    """What importing a file would do or has done; rows that stay the same are only counted."""

    new: int
    changed: int
    same: int
    wrong: int
    rows: list[RowChange]
    done: bool
