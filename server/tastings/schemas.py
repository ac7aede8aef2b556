"""What taste and learning send and receive."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

Name = Annotated[str, Field(min_length=1, max_length=60)]
Celsius = Annotated[float, Field(ge=-60, le=60)]
RowId = Annotated[int, Field(ge=1, lt=2**63)]


class NewCard(BaseModel):
    """What one taster says of a batch: marks by attribute, a word for firmness, liking from 1 to 9.

    ``out_min`` is how long the tub had been out, ``mends`` the card whose place this one takes.
    """

    key: UUID | None = None
    taster: Name
    place: RowId | None = None
    out_min: Annotated[float, Field(ge=0, le=600)] | None = None
    t_c: Celsius | None = None
    eaten_with: Annotated[str, Field(max_length=60)] = ""
    firmness: Annotated[str, Field(max_length=20)] | None = None
    liking: Annotated[float, Field(ge=1, le=9)] | None = None
    marks: dict[Annotated[str, Field(max_length=40)], Annotated[int, Field(ge=-2, le=3)]] = {}
    words: Annotated[str, Field(max_length=1000)] = ""
    mends: RowId | None = None


class Drip(BaseModel):
    """What had dripped by a minute, g in all."""

    minute: Annotated[float, Field(ge=0, le=600)]
    grams: Annotated[float, Field(ge=0, le=10_000)]


class NewMeltTest(BaseModel):
    """A ball on a mesh, in a room, and what dripped."""

    key: UUID | None = None
    ball_g: Annotated[float, Field(gt=0, le=10_000)]
    room_c: Celsius
    drips: Annotated[list[Drip], Field(min_length=1, max_length=200)]


class NewReading(BaseModel):
    """What a thermometer showed in a freezer, the kitchen's own where none is named, or in ice water."""

    key: UUID | None = None
    where: Literal["tub", "air", "ice-water"]
    place: RowId | None = None
    t_c: Celsius


class NewPieceWeighing(BaseModel):
    """Some pieces of an ingredient, weighed together."""

    key: UUID | None = None
    ingredient: Annotated[str, Field(max_length=60)]
    piece: Annotated[str, Field(max_length=40)]
    pieces: Annotated[float, Field(gt=0, le=10_000)]
    grams: Annotated[float, Field(gt=0, le=1_000_000)]


class NewDose(BaseModel):
    """A dose that was tasted: g in a kg, of a colour drops, marked from −2, too faint, to 2, too strong."""

    key: UUID | None = None
    ingredient: Annotated[str, Field(max_length=60)]
    form: Literal["fresh", "extract", "spirit", "steeped", "colour"]
    dose: Annotated[float, Field(gt=0, le=1000)]
    mark: Annotated[int, Field(ge=-2, le=2)]
    lot: Annotated[str, Field(max_length=120)] = ""
    steep_h: Annotated[float, Field(ge=0, le=400)] | None = None
    steep_c: Annotated[float, Field(ge=-5, le=110)] | None = None
    overrun_pct: Annotated[float, Field(ge=0, le=300)] | None = None


class DoseOut(BaseModel):
    """A dose as it was tasted."""

    id: int
    at: datetime
    dose: float
    mark: int
    lot: str
    steep_h: float | None
    steep_c: float | None


class LotDose(BaseModel):
    """The dose that is right of one lot."""

    lot: str
    right: float


class OwnLadderOut(BaseModel):
    """What this kitchen wants of a flavour in a form: the dose that is right, its ladder beside the usual one."""

    slug: str
    name: str
    form: str
    right: float
    weakest: float
    strongest: float
    usual: list[float] | None
    said: str
    mind: str
    lots: list[LotDose]
    tasted: list[DoseOut]


class OwnLadders(BaseModel):
    """All ladders of the kitchen's own."""

    ladders: list[OwnLadderOut]


class NewChoice(BaseModel):
    """What of the log is not to count, or not to be used: an entry, or a parameter with what it is about."""

    kind: Literal["leave-out", "put-back", "forget", "remember", "pin", "unpin"]
    entry: Annotated[str, Field(max_length=40)] = ""
    parameter: Annotated[str, Field(max_length=40)] = ""
    of: Annotated[str, Field(max_length=120)] = ""


class Track(BaseModel):
    """What the mix as made was expected to be: a value on the track of “How it eats”, with its usual band and word."""

    value: float
    band: list[float]
    scale: list[float]
    word: str


class CardAttribute(BaseModel):
    """Something that the card asks: the ends of its track, what is said of too little and of too much, and its marks.

    ``expected`` is there only once the taster has said his own word.
    """

    key: str
    name: str
    kind: Literal["wanted", "fault"]
    cue: str
    ends: list[str] | None
    off: list[str] | None
    least: int
    most: int
    quick: bool
    expected: Track | None


class CardOut(BaseModel):
    """A card as it was kept; ``age_h`` is how old the batch was."""

    id: int
    taster: str
    at: datetime
    age_h: float
    freezer: str
    out_min: float | None
    t_c: float | None
    eaten_with: str
    firmness: str | None
    liking: float | None
    marks: dict[str, int]
    words: str
    mended: bool
    left_out: bool


class MeltTestOut(BaseModel):
    """A melt test read: when it began to drip, % of the ball a minute, in words, and the usual line beside it."""

    id: int
    at: datetime
    ball_g: float
    room_c: float
    drips: list[Drip]
    onset_min: float | None
    rate: float | None
    said: str


class SymptomOut(BaseModel):
    """A symptom in words; ``tasted`` where a card says it."""

    key: str
    said: str
    tasted: bool


class BandOut(BaseModel):
    """What Balance is asked for."""

    of: str
    min: float
    max: float
    at_c: float | None


class NextChangeOut(BaseModel):
    """The one change for the next batch: why, what it comes to in g, and the aim behind it; none where it is air."""

    attribute: str
    said: str
    grams: str
    aim: BandOut | None
    values: list[float]


class SinceGood(BaseModel):
    """What was changed since the batch of this mix that was liked best."""

    batch: int
    number: int
    liking: float
    said: str


class FreezerChoice(BaseModel):
    """A freezer that a tub may come out of; no number for the kitchen's own."""

    id: int | None
    name: str


class TasteOut(BaseModel):
    """A batch to be tasted: the card, the cards that were kept, what they say, and what comes next."""

    batch: int
    number: int
    mix: int
    mix_name: str
    revision: int
    begun_at: datetime
    age_h: float
    attributes: list[CardAttribute]
    firmness_words: list[str]
    freezers: list[FreezerChoice]
    cards: list[CardOut]
    symptoms: list[SymptomOut]
    melt_tests: list[MeltTestOut]
    usual_melt: list[float]
    overrun_pct: float | None
    photos: list[int]
    next_change: NextChangeOut | None
    last_change: str | None
    since_good: SinceGood | None


class DiagnosisQuestion(BaseModel):
    """Symptoms, and what is known beside what was noted of the batch."""

    symptoms: Annotated[list[Annotated[str, Field(max_length=40)]], Field(min_length=1, max_length=8)]
    known: Annotated[
        dict[Annotated[str, Field(max_length=40)], Annotated[float, Field(ge=-1000, le=100_000)]], Field(max_length=40)
    ] = {}


class EvidenceOut(BaseModel):
    """A quantity that speaks for a cause or against it."""

    said: str
    speaks_for: bool


class SuspectOut(BaseModel):
    """A cause with its share, what speaks for and against it, and how it is told."""

    key: str
    name: str
    share: float
    likely: str
    evidence: list[EvidenceOut]
    test: str


class DiagnosisOut(BaseModel):
    """Why a batch is as it is: the first causes, what is asked first, and the change, or the test before it."""

    said: str
    suspects: list[SuspectOut]
    ask: str | None
    question: str | None
    test_first: bool
    test: str
    change: str
    again: str | None


class ToTaste(BaseModel):
    """A batch that waits to be tasted, or that was: how old it is, and which card is due."""

    batch: int
    number: int
    mix: int
    mix_name: str
    begun_at: datetime
    age_h: float
    cards: int
    liking: float | None
    due: Literal["hour", "day", "week"] | None


class TasteList(BaseModel):
    """Batches to taste, those that are due first."""

    items: list[ToTaste]


class CardsOfMix(BaseModel):
    """One batch of a mix with the means of its cards."""

    batch: int
    number: int
    revision: int
    begun_at: datetime
    cards: int
    liking: float | None
    marks: dict[str, float]


class MixCards(BaseModel):
    """All cards of a mix over time, and the symptoms that come again."""

    mix: int
    name: str
    batches: list[CardsOfMix]
    again: list[str]


class LearntEntry(BaseModel):
    """Something in the log that a parameter may rest on."""

    id: str
    at: datetime
    said: str
    left_out: bool


class ParameterOut(BaseModel):
    """A figure that was learnt: what it was, what it is, on how much it rests, and whether it is used."""

    key: str
    of: str | None
    name: str
    unit: str
    value: float
    low: float
    high: float
    was: float
    was_low: float
    was_high: float
    n: int
    needed: int
    identified: bool
    in_use: bool
    pinned: bool
    forgotten: bool
    strays: list[str]
    said: str


class LearntOut(BaseModel):
    """All that the kitchen has learnt, and the log that it rests on, the newest first."""

    parameters: list[ParameterOut]
    entries: list[LearntEntry]
