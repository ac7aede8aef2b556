"""What the record of a batch sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, WrapValidator

from analysis.schemas import CostOut, Details, FillOut
from analysis.serialize import MixAnalysis
from api.items import Unreadable, read_item
from api.problems import Problem
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


EventKind = Literal[
    "weighed", "ticked", "note", "tasted", "churned", "began", "done", "skipped", "read", "chose", "otherwise",
    "added", "swapped", "gap", "paused", "resumed", "abandoned", "finished", "signed", "released", "overrun",
    "accepted", "declined", "undone",
]  # fmt: skip


class NewEvent(BaseModel):
    """One press.

    key : of the press itself, so that it is kept once however often it is sent
    step, line : what it is about; both left out for the whole batch
    text : an amount as it was typed (weighed, gap, overrun), a reason, a note, a choice, or the point that is signed
    number : what was read, in the unit of the reading
    name : of the reading, or an ingredient that went in (its slug)
    more : the second weight of an overrun, as it was typed
    done : whether it is ticked or done, or is so no more
    sure : said again of a weight that was asked about
    undoes : the press that is taken back
    late : the press that came in after the batch was closed and is accepted or declined
    ago_ms : how long before it was sent it was pressed, by the clock of the device that never jumps
    """

    kind: EventKind
    key: UUID | None = None
    step: Annotated[str, Field(max_length=40, pattern=r"^[a-z0-9.-]*$")] = ""
    line: Annotated[int, Field(ge=0, lt=1000)] | None = None
    text: Annotated[str, Field(max_length=4000)] = ""
    number: Annotated[float, Field(ge=-1_000_000, le=1_000_000)] | None = None
    name: Annotated[str, Field(max_length=60)] = ""
    more: Annotated[str, Field(max_length=60)] = ""
    done: bool = True
    sure: bool = False
    run: Churned | None = None
    undoes: UUID | None = None
    late: UUID | None = None
    device: Annotated[str, Field(max_length=40, pattern=r"^[A-Za-z0-9-]*$")] = ""
    counter: Annotated[int, Field(ge=0, lt=2**53)] = 0
    ago_ms: Annotated[int, Field(ge=0, le=30 * 24 * 3_600_000)] = 0


MOST_EVENTS = 200


class NewEvents(BaseModel):
    """Presses in the order in which they were made; one that makes no sense by itself holds up none of the others."""

    events: Annotated[list[Annotated[NewEvent, WrapValidator(read_item)]], Field(min_length=1, max_length=MOST_EVENTS)]

    @property
    def read(self) -> list[NewEvent | Unreadable]:
        """Return the presses as they were read."""
        return [*self.events]


class Refused(BaseModel):
    """A press that makes no sense here: it is not kept, and the device need not send it again."""

    key: UUID | None
    place: int
    problem: Problem


class EventsKept(BaseModel):
    """What came of presses: how many are kept, and which were refused."""

    kept: int
    refused: list[Refused]


class BatchLine(BaseModel):
    """A line of the sheet: planned, and as made where it was weighed; ``instead`` is what went in in its place."""

    name: str
    stage: str | None
    unit: str
    planned_g: float
    as_made_typed: str | None
    as_made_g: float | None
    instead: str | None
    ticked: bool
    strata: list[Part]


class BatchHead(BaseModel):
    """What is said of a batch wherever it stands; ``closed`` is how it ended."""

    id: int
    number: int
    mix_id: int
    mix_name: str
    revision: int
    begun_at: datetime
    begun_by: str | None
    tasted: str | None
    note: str
    closed: Literal["finished", "abandoned"] | None


class LatePress(BaseModel):
    """A press that came in after its batch was closed: it counts once somebody accepts it."""

    key: str
    what: str
    by: str
    at: datetime


class BatchSummary(BatchHead):
    """A batch in the list; ``fault`` is what is wrong with what was noted of it."""

    verdict: str
    fault: str
    ticked: int
    lines: int


class ChurnedOut(Churned):
    """A run as it was logged, and how fast the machine was in it beside its kind."""

    machine_name: str
    factor: float


class AddedLine(BaseModel):
    """Something that went in beside the lines of the mix."""

    name: str
    grams: float
    why: str


class BatchOut(BatchHead):
    """A batch with its sheet and its two analyses; none as made when nothing went in.

    Details, cost and allergens are those of what went in, by what was known of it when the revision was kept.
    ``became`` is what an abandoned batch became, ``fault`` what is wrong with what was noted of it.
    """

    lines: list[BatchLine]
    added: list[AddedLine]
    became: str
    fault: str
    gap_g: float | None
    """What was said to have boiled off, stayed in the sieve or been spilt."""
    late: list[LatePress]
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
