"""Delivery lists, CSV or XLSX: what came, how much, from whom, and until when. Described in docs/file-formats.md."""

from __future__ import annotations

import csv
import io
import re
import zipfile
import zlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, Final

from jalebi_core.model.errors import IngredientFileError

MOST_BYTES: Final = 1_000_000
MOST_ROWS: Final = 1000
_MOST_LINES: Final = 50_000
"""Empty ones too: a list of a thousand goods that is longer holds something else."""
_MOST_COLUMNS: Final = 60
_MOST_SHARED: Final = MOST_ROWS * _MOST_COLUMNS
"""Texts that cells share, which are all read before the first row is."""
_MOST_UNPACKED: Final = 10_000_000
"""A workbook is an archive; one that unpacks to more than this is not opened."""
_LONGEST_CELL: Final = 200
HEADINGS: Final = {
    "ingredient": ("ingredient", "name", "item", "article", "product", "goods"),
    "amount": ("amount", "quantity", "weight", "net"),
    "unit": ("unit",),
    "supplier": ("supplier", "from"),
    "origin": ("origin", "grown in"),
    "code": ("code", "lot", "lot code", "batch", "batch code"),
    "use_by": ("use by", "use-by", "use_by", "expires", "expiry"),
    "best_before": ("best before", "best-before", "best_before", "bbd"),
    "price": ("price", "cost"),
    "arrived_c": ("°c", "arrived_c", "temperature", "temp"),
    "brix": ("brix", "°brix", "°bx"),
    "state": ("state",),
    "note": ("note", "notes", "remark"),
    "came_on": ("received", "came on", "came_on", "date", "delivered"),
}
"""What each column may be headed."""
_DATES: Final = ("use_by", "best_before", "came_on")
_NUMBERS: Final = {"price": (0.0, 1e6), "arrived_c": (-80.0, 100.0), "brix": (0.0, 95.0)}
_LONGEST: Final = {"supplier": 80, "origin": 80, "code": 60, "state": 40, "note": 200, "amount": 60, "ingredient": 200}
_DAY_FIRST: Final = re.compile(r"^(\d{1,2})\.(\d{1,2})\.(\d{4})$")


@dataclass(frozen=True, slots=True)
class DeliveryLine:
    """A row of a delivery list as it stands there; ``error`` says what of it cannot be read.

    facts : supplier, code, use_by, best_before, price, arrived_c, brix, state and note, as far as they are there
    """

    number: int
    ingredient: str
    amount: str
    came_on: date | None = None
    facts: dict[str, Any] = field(default_factory=dict)
    error: str | None = None

    @property
    def code(self) -> str:
        """The lot code on the pack, empty where none is said."""
        return str(self.facts.get("code", ""))

    @property
    def until(self) -> date | None:
        """The day it must be used by, or was best before."""
        found: date | None = self.facts.get("use_by") or self.facts.get("best_before")
        return found

    @property
    def price(self) -> float | None:
        """Of all of it."""
        found: float | None = self.facts.get("price")
        return found


def read_delivery(data: bytes) -> list[DeliveryLine]:
    """Read a delivery list, CSV or XLSX by its first bytes; raises IngredientFileError where it is none."""
    if len(data) > MOST_BYTES:
        raise IngredientFileError("delivery-too-large", megabytes=MOST_BYTES / 1e6)
    rows = _workbook_rows(data) if data[:2] == b"PK" else _text_rows(data)
    if not rows:
        raise IngredientFileError("file-empty")
    (_, header), *filled = rows
    columns = _columns([str(cell or "") for cell in header])
    return [_line(number, columns, row) for number, row in filled]


Numbered = tuple[int, Sequence[Any]]
"""A row with its number in the file, counted from 1."""


def _filled(rows: Iterable[Sequence[Any]]) -> list[Numbered]:
    """Return the rows in which anything stands; raises IngredientFileError for more of them than are read."""
    found = []
    for number, row in enumerate(rows, start=1):
        if any(_text(cell) for cell in row):
            found.append((number, row))
        if len(found) > MOST_ROWS + 1 or number > _MOST_LINES:
            raise IngredientFileError("too-many-rows", most_rows=MOST_ROWS)
    return found


_NOT_A_WORKBOOK: Final = (
    zipfile.BadZipFile, zlib.error, SyntaxError, LookupError, ValueError, TypeError, AttributeError, EOFError,
    NotImplementedError, RuntimeError, OverflowError, OSError,
)  # fmt: skip
"""What the packages that read a workbook raise of one that is none: of its archive, its XML (a SyntaxError), its
cells, and what is encrypted or packed in a way that nobody reads."""


def _workbook_rows(data: bytes) -> list[Numbered]:
    import openpyxl  # heavy, and only wanted here
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if sum(one.file_size for one in archive.infolist()) > _MOST_UNPACKED:
                raise IngredientFileError("delivery-too-large", megabytes=MOST_BYTES / 1e6)
            if sum(archive.read(part).count(b"<si") for part in archive.namelist()) > _MOST_SHARED:
                raise IngredientFileError("too-many-rows", most_rows=MOST_ROWS)
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        return _filled(sheet.iter_rows(values_only=True, max_col=_MOST_COLUMNS))
    except (*_NOT_A_WORKBOOK, InvalidFileException):
        raise IngredientFileError("delivery-not-a-workbook") from None


def _text_rows(data: bytes) -> list[Numbered]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", errors="replace")
    if "\x00" in text:
        raise IngredientFileError("file-not-text")
    first = text[: text.find("\n") + 1 or None]
    delimiter = max(",;\t", key=first.count)
    try:
        return _filled(csv.reader(io.StringIO(text), delimiter=delimiter))
    except csv.Error as error:
        raise IngredientFileError("file-not-csv", reason=str(error)) from None


def _columns(header: Sequence[str]) -> dict[str, int]:
    known = {heading: key for key, headings in HEADINGS.items() for heading in headings}
    found: dict[str, int] = {}
    for at, cell in enumerate(header):
        key = known.get(" ".join(cell.casefold().split()))
        if key is not None and key in found:
            raise IngredientFileError("column-twice", twice=cell[:40])
        if key is not None:
            found[key] = at
    if not {"ingredient", "amount"} <= found.keys():
        raise IngredientFileError("delivery-no-columns")
    return found


def _line(number: int, columns: dict[str, int], row: Sequence[Any]) -> DeliveryLine:
    cells = {key: row[at] for key, at in columns.items() if at < len(row)}
    facts: dict[str, Any] = {}
    errors = []
    for key, cell in cells.items():
        try:
            value = _value(key, cell)
        except ValueError as error:
            errors.append(str(error))
            continue
        if value is not None:
            facts[key] = value
    amount = " ".join(part for part in (facts.pop("amount", ""), facts.pop("unit", "")) if part)
    name, came_on = facts.pop("ingredient", ""), facts.pop("came_on", None)
    return DeliveryLine(number, name, amount, came_on, facts, " ".join(errors) or None)


def _value(key: str, cell: Any) -> Any:
    """Return what a cell says, None where it is empty; raises ValueError with a sentence for the user."""
    text = _text(cell)
    if not text:
        return None
    if key in _DATES:
        return _day(key, cell, text)
    if key in _NUMBERS:
        return _number(key, text)
    if len(text) > _LONGEST.get(key, _LONGEST_CELL) or not text.isprintable():
        raise ValueError(f"{key} is too long or holds hidden characters.")
    return text


def _text(cell: Any) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float) and cell.is_integer():
        cell = int(cell)
    return " ".join(str(cell).split())


def _day(key: str, cell: Any, text: str) -> date:
    if isinstance(cell, datetime):
        return cell.date()
    if isinstance(cell, date):
        return cell
    named = key.replace("_", " ")
    match = _DAY_FIRST.match(text)
    try:
        return date(int(match[3]), int(match[2]), int(match[1])) if match else date.fromisoformat(text)
    except ValueError:
        raise ValueError(f"{named} is “{text[:20]}”; write a day like 2026-12-03 or 3.12.2026.") from None


def _number(key: str, text: str) -> float:
    least, most = _NUMBERS[key]
    named = {"arrived_c": "the temperature", "brix": "°Brix"}.get(key, f"the {key}")
    plain = re.sub(r"^(?:[€£$]|EUR|GBP|USD)\s*|\s*(?:[€£$]|EUR|GBP|USD|°C|°Bx)$", "", text).replace(" ", "")
    try:
        value = float(plain.replace(",", ".") if plain.count(",") == 1 and "." not in plain else plain)
    except ValueError:
        raise ValueError(f"{named} is “{text[:20]}”, which is not a number.") from None
    if not least <= value <= most:
        raise ValueError(f"{named} is {text[:20]}; it lies from {least:g} to {most:g}.")
    return value
