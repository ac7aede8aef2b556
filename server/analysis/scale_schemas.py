"""What another size is asked for and comes to, and the cook's table."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from analysis.schemas import DraftToAnalyse, FillOut
from jalebi_core.formats.mix_file import MOST_LINES


class Cell(BaseModel):
    """A column of the cook's table."""

    key: str
    name: str
    unit: str


class TableRow(BaseModel):
    """A line of the cook's table; ``line`` is that of the draft, none for the sum."""

    line: int | None
    name: str
    cells: list[float]


class TableOut(BaseModel):
    """The cook's table of a draft: what every line brings, and the sum of it."""

    columns: list[Cell]
    rows: list[TableRow]
    total: TableRow


class ScaleQuestion(DraftToAnalyse):
    """A draft and the size it is to have.

    ``by`` is what ``amount`` counts: g, litres in the tub, portions of ``each_ml``, guests of ``per_guest`` such
    portions, g of ``line`` (counted from 0) as typed, or full runs of the machine.
    """

    by: Literal["mass", "litres", "portions", "guests", "line", "runs"]
    amount: Annotated[str, Field(max_length=60)]
    each_ml: float | None = None
    per_guest: Annotated[float, Field(gt=0, le=100)] = 1
    line: Annotated[int, Field(ge=0, lt=MOST_LINES)] | None = None


class ScaledLine(BaseModel):
    """A line of a scaled draft, by its number, as it would be typed."""

    line: int
    name: str
    typed: str
    unit: str
    before_g: float
    after_g: float


class DeviationOut(BaseModel):
    """A figure before and after scaling."""

    name: str
    unit: str
    before: float
    after: float


class WholeSizeOut(BaseModel):
    """A size near the one asked for at which pieces come out whole by themselves."""

    mass_g: float
    message: str


class ScaleOut(BaseModel):
    """A draft in another size, without changing anything.

    ``made_up`` says what whole pieces and the scales' steps alone would do, ``effect`` what is left of that with the
    rest moved; ``mind`` what to look out for; ``litres`` and ``portions`` are what lands in the tub after losses.
    """

    times: float
    mass_g: float
    litres: float
    portions: int
    lines: list[ScaledLine]
    whole: list[str]
    made_up: str
    effect: str
    deviations: list[DeviationOut]
    nearest: list[WholeSizeOut]
    fill: FillOut | None
    mind: list[str]
