"""What lots and their movements send and receive."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from ingredients.schemas import Slug
from kitchens.prices import VisiblePrice

Typed = Annotated[str, Field(min_length=1, max_length=60)]
Text = Annotated[str, Field(max_length=200)]
Money = Annotated[float, Field(ge=0, le=1e6)]
LotId = Annotated[int, Field(ge=1, lt=2**63)]


class LotFacts(BaseModel):
    """What can be known of a lot beside what it is and how much."""

    supplier: Annotated[str, Field(max_length=80)] = ""
    origin: Annotated[str, Field(max_length=80)] = ""
    code: Annotated[str, Field(max_length=60)] = ""
    use_by: date | None = None
    best_before: date | None = None
    price: Money | None = None
    arrived_c: Annotated[float, Field(ge=-80, le=100)] | None = None
    brix: Annotated[float, Field(ge=0, le=95)] | None = None
    state: Annotated[str, Field(max_length=40)] = ""
    note: Text = ""


class LotShare(BaseModel):
    """What is taken of a lot."""

    lot: LotId
    grams: Annotated[float, Field(gt=0, le=1_000_000)]


class NewLot(LotFacts):
    """What came into the house, or was made here of other lots."""

    ingredient: Slug
    typed: Typed
    came_on: date | None = None
    made_of: Annotated[list[LotShare], Field(max_length=200)] = []


class LotChange(BaseModel):
    """What is known of a lot now; what is left out stays."""

    supplier: Annotated[str, Field(max_length=80)] | None = None
    origin: Annotated[str, Field(max_length=80)] | None = None
    code: Annotated[str, Field(max_length=60)] | None = None
    use_by: date | None = None
    best_before: date | None = None
    opened_on: date | None = None
    thawed: bool | None = None
    """Taken out of the freezer just now; false where that was pressed by mistake."""
    brix: Annotated[float, Field(ge=0, le=95)] | None = None
    state: Annotated[str, Field(max_length=40)] | None = None
    note: Text | None = None


class LotOut(BaseModel):
    """A lot in the house."""

    id: int
    supplier: str
    origin: str
    code: str
    use_by: date | None
    best_before: date | None
    price: VisiblePrice
    arrived_c: float | None
    brix: float | None
    state: str
    note: str
    ingredient: str | None
    batch: int | None
    """Number of the batch that made it."""
    name: str
    typed: str
    grams: float
    came_on: date
    opened_on: date | None
    thawed_at: datetime | None
    good_until: date | None
    days_left: int | None
    blocked: bool
    asks: bool
    version: int


class MovementOut(BaseModel):
    """What happened to a lot; ``grams`` are what it has more of."""

    id: int
    kind: Literal["received", "used", "wasted", "counted", "returned", "disposed"]
    grams: float
    counted_g: float | None
    batch: int | None
    into: str | None
    corrects: int | None
    why: str
    at: datetime
    by: str | None


class LotDetail(LotOut):
    """A lot with all that happened to it, oldest first."""

    movements: list[MovementOut]


class NewMovement(BaseModel):
    """What happened to a lot just now; ``typed`` is what there is where it was counted, else what went."""

    kind: Literal["wasted", "counted", "returned", "disposed"]
    typed: Typed
    why: Text = ""


class Correction(BaseModel):
    """What a movement should have said, and why it did not."""

    typed: Typed
    why: Annotated[str, Field(min_length=1, max_length=200)]


class SuggestedShare(BaseModel):
    """What to take of a lot, and whether somebody must look at it first."""

    lot: int
    grams: float
    ask: bool
    code: str
    good_until: date | None
    opened: bool
    on_hand_g: float


class SharesOut(BaseModel):
    """A weight split over lots, first expired first, and what none of them can give."""

    shares: list[SuggestedShare]
    short_g: float


class DeliveryRow(BaseModel):
    """A row of a delivery list: what it would bring in, or why it cannot be read."""

    row: int
    text: str
    ingredient: str | None
    name: str | None
    grams: float | None
    code: str
    until: date | None
    price: VisiblePrice
    error: str | None


class DeliveryOut(BaseModel):
    """What a delivery list would bring in, or has brought in."""

    rows: list[DeliveryRow]
    wrong: int
    done: bool
