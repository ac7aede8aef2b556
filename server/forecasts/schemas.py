"""What forecasts of cold and heat are asked with and answer."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from analysis.schemas import Draft
from kitchens.learnt_marks import LearntMark
from kitchens.vessels import Shape

Celsius = Annotated[float, Field(ge=-40, le=110)]
Room = Annotated[float, Field(ge=-10, le=50)]
Grams = Annotated[float, Field(ge=0, le=1_000_000)]
Key = Annotated[str, Field(max_length=20)]


class Ice(BaseModel):
    """Ice at 0 °C, salt and water that are put together."""

    ice_g: Grams
    salt_g: Grams = 0
    water_g: Grams = 0
    water_c: Annotated[float, Field(ge=0, le=100)] = 10


class RunQuestion(Draft):
    """A draft, and how a run of it in a machine begins.

    ``freezer_c`` is the freezer that a canister was in for ``prefreeze_h``, the kitchen's own where it is left out;
    ``gel_frozen_pct`` takes its place where some of its cold is used up already.
    """

    start_c: Celsius = 4
    room_c: Room = 20
    freezer_c: Annotated[float, Field(ge=-40, le=20)] | None = None
    prefreeze_h: Annotated[float, Field(ge=0, le=1000)] = 24
    gel_frozen_pct: Annotated[float, Field(ge=0, le=100)] | None = None
    runs: Annotated[int, Field(ge=1, le=20)] | None = None
    programme: Annotated[str, Field(max_length=40)] | None = None
    ice: Ice | None = None


class RemedyOut(BaseModel):
    """A change that would let a run be drawn: what is changed to what, and the run then, in words."""

    kind: Literal["colder-base", "freeze-longer", "more-ice", "smaller", "runs"]
    to: float
    said: str
    then: str
    salt_g: float | None


class MachineRun(BaseModel):
    """A draft in one machine: how many runs of how many g, and what comes of them.

    ``minutes`` of one run; it stalls after them where it is not ``drawn``. ``left_pct`` is what is left of a canister's
    cold; ``scoops`` come of all runs, after losses.
    """

    machine: int
    name: str
    runs: int
    mass_g: float
    drawn: bool
    minutes: float
    t_c: float
    frozen_pct: float
    begins_pct: float | None
    left_pct: float | None
    air_pct: float
    litres: float
    scoops: int
    said: str


class RunMoment(BaseModel):
    """A run at one minute: °C of the mix and of the wall, and how much of its water is ice."""

    minute: float
    t_c: float
    wall_c: float
    frozen_pct: float


class RunOut(MachineRun):
    """The same of the machine that a draft is meant for, with how sure that is, what to mind and what would help.

    ``why`` says what the forecast rests on.
    """

    earliest_min: float | None
    latest_min: float | None
    tuned: str
    mind: list[str]
    remedies: list[RemedyOut]
    ice_g: float | None
    salt_g: float | None
    why: str
    seen: list[RunMoment]
    learnt: list[LearntMark]


class Stay(BaseModel):
    """A stay of a tub in a place: one of the usual kinds, at another temperature where that is said."""

    kind: Key
    air_c: Annotated[float, Field(ge=-60, le=50)] | None = None
    minutes: Annotated[float, Field(gt=0, le=43_200)]


class TubQuestion(Draft):
    """A draft in a tub that stays in one place after the other.

    ``wall_c`` is how warm a wall is at first whose mass counts; ``emptying_min`` how long the mix stands in the open
    bowl, in a kitchen of 25 °C, before it gets into the cold; ``ice`` is what a stay in brine has around it, what
    hardens the filling where it is left out.
    """

    vessel: Shape
    start_c: Celsius = -5
    wall_c: Room | None = None
    emptying_min: Annotated[float, Field(ge=0, le=240)] = 0
    ice: Ice | None = None
    stays: Annotated[list[Stay], Field(min_length=1, max_length=6)]


class StayOut(BaseModel):
    """A stay: from which minute to which, and what is said of it."""

    name: str
    air_c: float
    from_min: float
    to_min: float
    said: str


class TubOut(BaseModel):
    """A tub over time: lists by minute, the stays, what to mind, and from when to when it scoops out of the cold.

    ``scoops_coldest_c`` and ``scoops_warmest_c`` are those at which this mix scoops.

    ``melted_pct`` is the most of its ice that had melted before it froze again, with what that does.
    """

    minutes: list[float]
    core_c: list[float]
    rim_c: list[float]
    core_word: list[str]
    rim_word: list[str]
    mean_firmness: list[float]
    scoops_coldest_c: float | None
    scoops_warmest_c: float | None
    stays: list[StayOut]
    scoops_from: float | None
    scoops_to: float | None
    mind: list[str]
    melted_pct: float
    melted_said: str


class BathQuestion(BaseModel):
    """Ice and salt around something that gives off heat, watched for hours."""

    ice: Ice
    heat_kj: Annotated[float, Field(ge=0, le=1_000_000)] = 0
    hours: Annotated[float, Field(gt=0, le=48)] = 2
    leak_w_k: Annotated[float, Field(ge=0, le=1000)] = 1.5
    room_c: Room = 20


class BathMoment(BaseModel):
    """A bath at one minute."""

    minute: float
    t_c: float
    ice_left_g: float
    salt_left_g: float
    brine_pct: float


class BathOut(BaseModel):
    """A bath over time, what it takes up until its last ice melts, and how long it stays colder than it needs to be."""

    moments: list[BathMoment]
    takes_kj: float
    ends_at_c: float
    lasts_min: float | None
    said: str
    mind: list[str]


class LoadQuestion(Draft):
    """How much ice and salt cool a mass of a draft, to be churned or to harden in the bucket."""

    mass_g: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    start_c: Celsius = 4
    to_c: Annotated[float, Field(ge=-20, le=20)] | None = None
    bath_c: Annotated[float, Field(ge=-21.1, le=0)] = -12
    harden: bool = False


class LoadOut(BaseModel):
    """Ice and salt for a draft, in layers of ice and salt from the bottom up."""

    heat_kj: float
    ice_g: float
    salt_g: float
    layers: int
    said: str


class PotQuestion(Draft):
    """A pot of a draft that is cooled, the whole of it or with a part held back cold.

    ``record`` is what a thermometer showed before, a text of lines of minute and temperature in the kitchen's unit.
    """

    mass_g: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    start_c: Annotated[float, Field(ge=-5, le=110)] = 85
    diameter_mm: Annotated[float, Field(ge=20, le=3000)] = 220
    stirred: bool = True
    cold_g: Grams = 0
    cold_c: Annotated[float, Field(ge=-5, le=100)] = 4
    ice: Ice | None = None
    record: Annotated[str, Field(max_length=8000)] = ""


class PotWay(BaseModel):
    """One way to cool a pot: minutes to 57, 21 and 5 °C, None for never; ``safe`` where both clocks are kept."""

    kind: str
    name: str
    to_57_min: float | None
    to_21_min: float | None
    to_5_min: float | None
    safe: bool
    said: str
    mind: list[str]


class CreditOut(BaseModel):
    """What a record is worth as pasteurisation by the pairs of a region; 1 is done."""

    region: str
    name: str
    worth: float


class PotOut(BaseModel):
    """A pot in each of the ways to cool it, the quickest safe one first, and the credit of its record."""

    start_c: float
    mass_g: float
    ways: list[PotWay]
    credit: list[CreditOut]
    credit_said: str


class ReductionQuestion(Draft):
    """A draft that is boiled down to a mass, a temperature or a depth; one of the three."""

    mass_g: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    to_g: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    to_c: Annotated[float, Field(ge=80, le=200)] | None = None
    to_depth_mm: Annotated[float, Field(ge=0.1, le=3000)] | None = None
    start_c: Annotated[float, Field(ge=0, le=110)] = 20
    watts: Annotated[float, Field(ge=10, le=1_000_000)] = 2000
    hob: Literal["gas", "electric", "induction", "microwave"] = "gas"
    diameter_mm: Annotated[float, Field(ge=20, le=3000)] | None = 220
    tare_g: Grams = 0


class ReductionOut(BaseModel):
    """How long a reduction takes, what the scale reads with the pot, and where to watch it."""

    minutes: float
    boil_after_min: float
    watch_from_min: float
    to_g: float
    pot_reads_g: float
    depth_from_mm: float | None
    depth_to_mm: float | None
    end_solids_pct: float
    said: str
    mind: list[str]
