"""What tubs, lots of a batch and traces send and receive."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from stock.schemas import LotShare, SharesOut, Typed

Text = Annotated[str, Field(max_length=120)]


class NewTubs(BaseModel):
    """Tubs that were filled from a batch just now, all of one size."""

    count: Annotated[int, Field(ge=1, le=60)] = 1
    ml: Annotated[float, Field(ge=5, le=50_000)]
    place: Annotated[int, Field(ge=1, lt=2**63)] | None = None
    best_before: date | None = None


class TubEventOut(BaseModel):
    """One thing that happened to a tub."""

    kind: Literal["packed", "moved", "opened", "finished", "sold", "destroyed"]
    place: str
    to: str
    why: str
    at: datetime
    by: str | None


class PackedTub(BaseModel):
    """A tub: its code, how it is said, where it stands and what happened to it."""

    id: int
    code: str
    said: str
    batch_id: int
    mix_name: str
    ml: float
    grams: float
    packed_on: date
    best_before: date | None
    place: str | None
    state: Literal["closed", "opened", "finished", "sold", "destroyed"]
    events: list[TubEventOut]


class NewTubEvent(BaseModel):
    """What happened to a tub: where it was moved, who bought it, why it was destroyed."""

    kind: Literal["moved", "opened", "finished", "sold", "destroyed"]
    place: Annotated[int, Field(ge=1, lt=2**63)] | None = None
    to: Text = ""
    why: Annotated[str, Field(max_length=200)] = ""


class LotUsed(BaseModel):
    """What was taken of a lot."""

    lot: int
    name: str
    code: str
    grams: float


class LotsOfLine(BaseModel):
    """What a line of a batch needs, what was taken for it from which lots, and where the rest is best taken from."""

    line: int
    name: str
    needed_g: float
    used: list[LotUsed]
    gap_g: float
    suggestion: SharesOut


class LotsOfBatch(BaseModel):
    """The lots of a batch, line by line."""

    lines: list[LotsOfLine]


class TakenForLine(BaseModel):
    """Weights of lots for a line of a batch."""

    line: Annotated[int, Field(ge=0, lt=1000)]
    shares: Annotated[list[LotShare], Field(min_length=1, max_length=40)]


class Taken(BaseModel):
    """What was taken of which lots for the lines of a batch."""

    lines: Annotated[list[TakenForLine], Field(max_length=200)]


class PutAside(BaseModel):
    """Base of a batch that is put aside, chilled or frozen, to be churned another day."""

    typed: Typed
    best_before: date | None = None
    frozen: bool = False
    note: Annotated[str, Field(max_length=200)] = ""


class TracedLot(BaseModel):
    """A lot on the way of a trace, and how many g went on from it."""

    id: int
    name: str
    code: str
    supplier: str
    came_on: date
    grams: float


class TracedBatch(BaseModel):
    """A batch on the way of a trace."""

    id: int
    number: int
    mix_name: str
    begun_at: datetime


class TracedTub(BaseModel):
    """A tub that holds some of it: where it is, or who got it."""

    id: int
    code: str
    mix_name: str
    state: str
    place: str | None
    to: str


class BalanceOut(BaseModel):
    """Masses beside each other in g, and whether they agree within what is allowed."""

    in_g: float
    out_g: float
    gap_g: float
    allowed_g: float
    agrees: bool


class LotTrace(BaseModel):
    """Where a lot went: into which other lots, batches and tubs, and whether its masses agree."""

    lots: list[TracedLot]
    batches: list[TracedBatch]
    tubs: list[TracedTub]
    balance: BalanceOut


class Origins(BaseModel):
    """What is in a tub or batch: every lot at any depth, the batches between, and whether the masses agree."""

    lots: list[TracedLot]
    batches: list[TracedBatch]
    unknown: list[str]
    """Lines whose lot nobody has noted."""
    balance: BalanceOut
