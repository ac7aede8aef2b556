"""What plans and the workplace of a kitchen send and receive."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, Field, WithJsonSchema

from kitchens.learnt_marks import LearntMark

Name = Annotated[str, Field(min_length=1, max_length=100)]
StepId = Annotated[str, Field(min_length=1, max_length=120)]
Minutes = Annotated[int, Field(ge=0, le=20_160)]
MinuteOfDay = Annotated[int, Field(ge=0, le=1440)]
Days = Annotated[list[Annotated[int, Field(ge=0, le=6)]], Field(max_length=7)]
MOST_SERVICES = 40
_YEARS = range(2000, 2100)
_PATTERN = r"^20[0-9]{2}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])T([01][0-9]|2[0-3]):[0-5][0-9](:[0-5][0-9])?$"


def _in_reach(at: datetime) -> datetime:
    """Return a local time as it was said, without an offset; a plan for another century is a slip of the finger."""
    if at.year not in _YEARS:
        raise ValueError("a year of this century is wanted")
    return at.replace(tzinfo=None, microsecond=0)


LocalTime = Annotated[datetime, AfterValidator(_in_reach), WithJsonSchema({"type": "string", "pattern": _PATTERN})]
"""A time as the clock on the wall shows it, without an offset."""


class WeeklyHours(BaseModel):
    """Hours that come back on days of the week, Monday 0; past midnight where they end earlier than they start."""

    days: Days
    start: MinuteOfDay
    end: MinuteOfDay


class WorkerIn(BaseModel):
    """Somebody who works here, and when."""

    name: Name
    hours: Annotated[list[WeeklyHours], Field(max_length=20)]


class MachineAtWork(BaseModel):
    """How a machine is made ready and washed; ``churn_min`` only where the forecast is not to be used.

    ``in_freezer_since`` is when a bowl was last put into the freezer; ``loud`` ones stand still in quiet hours.
    """

    machine: Annotated[int, Field(ge=1, lt=2**63)]
    churn_min: Annotated[int, Field(ge=1, le=600)] | None = None
    wash_min: Annotated[int, Field(ge=1, le=240)]
    dirty_max_min: Minutes
    wash_always: bool
    ready_min: Annotated[int, Field(ge=0, le=4320)]
    ready_hands_min: Annotated[int, Field(ge=0, le=240)]
    in_freezer_since: LocalTime | None = None
    loud: bool = False


class BaseDays(BaseModel):
    """How many days a base may stand in the fridge here, and who answers for it."""

    days: Annotated[float, Field(gt=0, le=7)]
    signed_by: Name


class WorkplaceIn(BaseModel):
    """What a kitchen's plans reckon with; places that are 0 are not there."""

    people: Annotated[list[WorkerIn], Field(max_length=20)]
    open: Annotated[list[WeeklyHours], Field(max_length=20)] = []
    """When the kitchen is open; none where it never closes."""
    quiet: Annotated[list[WeeklyHours], Field(max_length=20)] = []
    burners: Annotated[int, Field(ge=0, le=40)] = 2
    ice_baths: Annotated[int, Field(ge=0, le=20)] = 1
    buckets: Annotated[int, Field(ge=0, le=20)] = 0
    motors: Annotated[int, Field(ge=0, le=20)] = 1
    fridge_l: Annotated[float, Field(ge=0, le=10_000)] = 30
    freezer_l: Annotated[float, Field(ge=0, le=10_000)] = 25
    blast_l: Annotated[float, Field(ge=0, le=10_000)] = 0
    machines: Annotated[list[MachineAtWork], Field(max_length=40)] = []
    minutes: Annotated[dict[Annotated[str, Field(max_length=20)], Minutes], Field(max_length=20)] = {}
    """Usual minutes of steps by their kind, in the place of those worked back from the grams."""
    spare_min: Annotated[int, Field(ge=0, le=600)] = 30
    base_days: BaseDays | None = None


class WorkplaceOut(WorkplaceIn):
    """A kitchen's workplace, and what its machines are called."""

    version: int
    machine_names: dict[int, str]


class ServiceIn(BaseModel):
    """What is served: so much of a mix at an hour, fresh from the machine or scooped; ``at`` is a local time.

    ``lot`` is a base in the house that it is churned from; ``base`` a name that mixes made from one base share.
    """

    mix: Annotated[int, Field(ge=1, lt=2**63)]
    by: Literal["mass", "litres", "portions", "guests", "tubs"]
    amount: Annotated[str, Field(min_length=1, max_length=60)]
    at: LocalTime
    fresh: bool = False
    lot: Annotated[int, Field(ge=1, lt=2**63)] | None = None
    base: Annotated[str, Field(max_length=60)] = ""


class ServiceOut(ServiceIn):
    """A service of a plan: its id, and what its mix is called."""

    id: Annotated[str, Field(max_length=20)]
    name: str


class NewPlan(BaseModel):
    """A new plan: its name, and the zone that its times are in."""

    name: Name
    zone: Annotated[str, Field(max_length=60)] = ""


class TypedService(BaseModel):
    """A service as it is typed: “2 L quince sorbet by 19:30, fresh”."""

    text: Annotated[str, Field(min_length=1, max_length=200)]


class PlanChange(BaseModel):
    """A change to a plan; what is left out stays. A pin of None is taken out."""

    name: Name | None = None
    services: Annotated[list[ServiceOut], Field(max_length=MOST_SERVICES)] | None = None
    pins: Annotated[dict[StepId, LocalTime | None], Field(max_length=100)] | None = None
    state: Literal["started"] | None = None


class Mishap(BaseModel):
    """What is otherwise than planned: somebody is gone, a machine is out, a bowl was not in the freezer."""

    kind: Literal["gone", "out", "not-in"]
    of: Name


class Happened(BaseModel):
    """What happened to a step: it began or ended now, or takes so many minutes longer than planned."""

    kind: Literal["began", "ended", "longer"]
    step: StepId
    minutes: Annotated[int, Field(ge=-600, le=600)] = 0


class Remedied(BaseModel):
    """One of the changes that an answer offers, as it stands there."""

    change: dict[str, Any]


class CopiedTo(BaseModel):
    """The day to which a plan's first service is moved; the others keep their distance to it."""

    day: Annotated[str, Field(max_length=10)]


class PiecePlanned(BaseModel):
    """A while that somebody is busy."""

    who: str
    start: int
    end: int


class StepPlanned(BaseModel):
    """A step of a plan, in minutes from the plan's origin.

    ``slip`` is by how many minutes it may start later, ``held_by`` what holds it then; ``waits`` are those before it.
    """

    id: str
    product: str
    kind: str
    title: str
    start: int
    end: int
    option: int
    machine: str | None
    people: list[PiecePlanned]
    uses: dict[str, int]
    slip: int
    held_by: str
    waits: list[str]
    safety: bool
    pinned: bool
    begun: bool


class SetupPlanned(BaseModel):
    """A wash after a run, or a machine being made ready before one."""

    kind: str
    machine: str
    step: str
    start: int
    end: int
    people: list[PiecePlanned]
    uses: dict[str, int]


class TaskPlanned(BaseModel):
    """Something that one person does; ``latest`` is the last minute at which it may begin."""

    id: str
    who: str
    start: int
    end: int
    title: str
    step: str
    product: str
    latest: int | None


class HelpPlanned(BaseModel):
    """A change that alone makes everything on time."""

    change: dict[str, Any]
    said: str


class DuePlanned(BaseModel):
    """A service: when it is due, and by how many minutes it is late."""

    step: str
    product: str
    due: int
    late: int


class ClockChange(BaseModel):
    """A minute at which the clock is put on by so many minutes, or back."""

    minute: int
    by: int


class Presence(BaseModel):
    """A while that somebody is there."""

    start: int
    end: int


class PlanAnswer(BaseModel):
    """What was found for a plan: the verdict first, then every step; minutes count from ``origin``, a local time.

    ``clock_changes`` are minutes at which the clock is put on by so many minutes, or back.
    """

    origin: LocalTime
    horizon: int
    now: int | None
    clock_changes: list[ClockChange]
    status: str
    verdict: str
    beside: str
    products: dict[str, str]
    people: dict[str, list[Presence]]
    machines: list[str]
    places: dict[str, int]
    steps: list[StepPlanned]
    setups: list[SetupPlanned]
    tasks: list[TaskPlanned]
    services: list[DuePlanned]
    would_help: list[HelpPlanned]
    refuted: list[str]
    seconds: float


class PlanSummary(BaseModel):
    """A plan among others."""

    id: int
    name: str
    state: str
    changed_at: datetime
    first: LocalTime | None
    count: int


class PlanOut(PlanSummary):
    """A plan whole; ``stale`` says that it was changed since its answer."""

    version: int
    zone: str
    services: list[ServiceOut]
    pins: dict[str, LocalTime]
    mishaps: list[str]
    from_file: bool
    answer: PlanAnswer | None
    previous: PlanAnswer | None
    stale: bool
    learnt: list[LearntMark]


class Needed(BaseModel):
    """An ingredient that plans need: how much, how much is in the house, and how much is short."""

    slug: str
    name: str
    needed_g: float
    there_g: float
    short_g: float


class WeighedFor(BaseModel):
    """What is weighed for a service, line by line."""

    service: str
    name: str
    lines: list[str]


class Preparing(BaseModel):
    """Mise en place: what goes into the freezer, ice and salt, what is made ahead, weighed, and short."""

    freezer: list[str]
    ice: list[str]
    made: list[str]
    weighed: list[WeighedFor]
    needed: list[Needed]


class ReadyMix(BaseModel):
    """When a mix can be ready at the earliest, made alone; ``at`` is None where it cannot within two days."""

    mix: int
    name: str
    at: LocalTime | None
    why: str


class ReadyBy(BaseModel):
    """What can be ready by an hour, all of the kitchen's mixes, the soonest first."""

    mixes: list[ReadyMix]
