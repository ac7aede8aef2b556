"""Ingredients in and out as files: CSV for spreadsheets, JSON for everything. Described in docs/file-formats.md."""

from __future__ import annotations

import csv
import io
import json
import re
import unicodedata
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import islice
from math import isfinite
from typing import Any, Final

from jalebi_core.formats.json_text import load_json
from jalebi_core.model.components import KEYS
from jalebi_core.model.composition import Composition, checked_name
from jalebi_core.model.errors import CompositionError, IngredientFileError, JalebiError
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.label_facts import CALLED_AS_HERE, NUTRIENTS, OnLabel
from jalebi_core.regulation.allergens import checked_allergens
from jalebi_core.shelf.label_facts import read_label_facts

FORMAT: Final = "jalebi.goods"
VERSION: Final = 1
MOST_BYTES: Final = 10_000_000
MOST_ROWS: Final = 20_000
TEXT_COLUMNS: Final = (
    "slug", "name", "kind", "also", "basis", "allergens", "may_hold", "sure", "pieces", "forms", "label_name_eu",
    "label_name_us", "label_class",
)  # fmt: skip
NUMBER_COLUMNS: Final = ("density_kg_l", "price", "pack_g", "energy_kcal", "trim_pct", "pod", "yolk_solids", "nut_fat")
EXTRA_NUMBERS: Final = ("higher_saccharides_molar_mass", "soluble_fibre_molar_mass", "acid_molar_mass")
COLUMNS: Final = (*TEXT_COLUMNS, *NUMBER_COLUMNS, *EXTRA_NUMBERS, *KEYS, *NUTRIENTS)
_OF_FACTS: Final = ("pack_g", "energy_kcal", "trim_pct")
_OF_COMPOSITION: Final = ("density_kg_l", "pod", "yolk_solids", "nut_fat", *EXTRA_NUMBERS)
_SLUG: Final = re.compile(r"^[a-z0-9]+(?:-[a-z0-9]+)*$")
_FORMULA: Final = re.compile(r"(^|[;,|\t]\s*)('*[=+\-@＝＋－＠])")
"""What a spreadsheet runs: such a sign begins a cell, also one that begins behind another country's separator."""
_GUARDED: Final = re.compile(r"(^|[;,|\t]\s*)'('*[=+\-@＝＋－＠])")
_LONGEST_CELL: Final = 2000
_MOST_NAMES: Final = 30
_ROWS_BETWEEN_PROGRESS: Final = 100


@dataclass(frozen=True, slots=True)
class IngredientEntry:
    """One row of a file: ingredients as a kitchen keeps them; allergens None where nobody has stated them."""

    slug: str
    composition: Composition
    kind: str
    also: tuple[str, ...]
    basis: str
    allergens: tuple[str, ...] | None
    may_hold: tuple[str, ...]
    facts: Facts
    price: float | None
    nutrients: Mapping[str, float] | None = None
    on_label: OnLabel = CALLED_AS_HERE


@dataclass(frozen=True, slots=True)
class ReadRow:
    """A row as read: its number in the file, and the entry or the sentence that says why there is none."""

    number: int
    entry: IngredientEntry | None
    error: str | None


def read_ingredients(data: bytes, progress: Callable[[float], None] = lambda _share: None) -> list[ReadRow]:
    """Read a file of ingredients, CSV or JSON by its first character.

    Parameters
    ----------
    progress : is told how much is read, 0 to 1, and may raise to end it

    Raises
    ------
    IngredientFileError : the file as a whole cannot be used; what is wrong with one row is told with the row
    """
    if len(data) > MOST_BYTES:
        raise IngredientFileError("file-too-large", count=len(data) / 1000000.0)
    text = _decoded(data).strip()
    if not text:
        raise IngredientFileError("file-empty")
    found = _from_json(text) if text[0] in "{[" else _from_csv(text)
    if len(found) > MOST_ROWS:
        raise IngredientFileError("too-many-rows", most_rows=MOST_ROWS)
    return list(_without_twins(_read(found, progress)))


_Row = tuple[int, Callable[[], "IngredientEntry"]]
"""The number of a row in the file, and how it is read."""


def _read(found: Sequence[_Row], progress: Callable[[float], None]) -> Iterator[ReadRow]:
    for done, (number, read) in enumerate(found):
        if done % _ROWS_BETWEEN_PROGRESS == 0:
            progress(done / len(found))
        yield _read_row(number, read)


def _decoded(data: bytes) -> str:
    marked = data[:2] in (b"\xff\xfe", b"\xfe\xff")
    encodings = ["utf-16"] if marked else ["utf-8-sig", "cp1252"]
    for encoding in encodings:
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise IngredientFileError("file-not-text")


def _without_twins(rows: Iterable[ReadRow]) -> Iterator[ReadRow]:
    slugs: dict[str, int] = {}
    names: dict[str, int] = {}
    for row in rows:
        if row.entry is None:
            yield row
            continue
        name = row.entry.composition.name.casefold()
        first = slugs.get(row.entry.slug) or names.get(name)
        if first:
            yield ReadRow(row.number, None, f"“{row.entry.composition.name}” stands in row {first} already.")
            continue
        slugs[row.entry.slug] = names[name] = row.number
        yield row


def _from_csv(text: str) -> list[_Row]:
    first = text[: text.find("\n") + 1 or None]
    delimiter = max(",;\t", key=first.count)
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    try:
        header = [cell.strip().casefold() for cell in next(reader)]
        _check_header(header)
        filled = ((number, cells) for number, cells in enumerate(reader, start=2) if any(map(str.strip, cells)))
        # One row more than there may be is enough to be refused for: the rest is not looked at.
        return [(number, partial(_from_cells, header, cells)) for number, cells in islice(filled, MOST_ROWS + 1)]
    except csv.Error as error:
        raise IngredientFileError("file-not-csv", reason=str(error)) from None


def _check_header(header: list[str]) -> None:
    if "name" not in header or not set(header) & set(KEYS):
        raise IngredientFileError("no-columns")
    unknown = [column for column in header if column and column not in COLUMNS]
    if unknown:
        raise IngredientFileError("unknown-column", unknown=unknown[0][:40])
    twice = sorted({column for column in header if column and header.count(column) > 1})
    if twice:
        raise IngredientFileError("column-twice", twice=twice[0])


def _read_row(number: int, read: Callable[[], IngredientEntry]) -> ReadRow:
    try:
        return ReadRow(number, read(), None)
    except JalebiError as error:
        message = str(error)
        return ReadRow(number, None, message[:1].upper() + message[1:])


def _from_cells(header: list[str], cells: list[str]) -> IngredientEntry:
    if len(cells) > len(header):
        raise CompositionError("row-length", cells=len(cells), headings=len(header))
    row = {column: cell.strip() for column, cell in zip(header, cells, strict=False) if column and cell.strip()}
    text = {column: _text_cell(column, row[column]) for column in TEXT_COLUMNS if column in row}
    numbers = {
        column: _number_cell(column, row[column])
        for column in (*NUMBER_COLUMNS, *EXTRA_NUMBERS, *KEYS, *NUTRIENTS)
        if column in row
    }
    composition: dict[str, Any] = {
        "name": text.get("name"),
        "per_100g": {key: numbers[key] for key in KEYS if numbers.get(key)},
        **{key: numbers[key] for key in _OF_COMPOSITION if key in numbers},
    }
    composition |= {
        key: dict(_piece(key, part) for part in _listed(text[key])) for key in ("pieces", "forms") if key in text
    }
    facts: dict[str, Any] = {key: numbers[key] for key in _OF_FACTS if key in numbers}
    return _entry(
        {
            **{key: text.get(key) for key in ("slug", "kind", "basis")},
            "also": _listed(text.get("also", "")),
            "allergens": _listed(text["allergens"].removeprefix("none")) if "allergens" in text else None,
            "may_hold": _listed(text.get("may_hold", "")),
            "facts": facts | ({"sure": text["sure"]} if "sure" in text else {}),
            "price": numbers.get("price"),
            "nutrients": {key: numbers[key] for key in NUTRIENTS if key in numbers} or None,
            "on_label": _on_label(text),
            "composition": composition,
        }
    )


def _on_label(text: Mapping[Any, str]) -> dict[str, Any] | None:
    names = {region: text[f"label_name_{region}"] for region in ("eu", "us") if f"label_name_{region}" in text}
    stated = {"name": names, "class": text.get("label_class")}
    return {key: value for key, value in stated.items() if value} or None


def _text_cell(column: str, cell: str) -> str:
    if cell.startswith(("=", "＝")):
        raise CompositionError("cell-formula", column=column, cell=cell[:20])
    if len(cell) > _LONGEST_CELL:
        raise CompositionError("cell-too-long", column=column, count=len(cell))
    return _GUARDED.sub(r"\1\2", cell)


def _number_cell(column: str, cell: str) -> float:
    if cell.startswith("="):
        raise CompositionError("cell-formula", column=column, cell=cell[:20])
    plain = cell.replace("\u202f", "").replace("\u00a0", "").replace(" ", "")
    if re.fullmatch(r"-?[0-9]+,[0-9]+", plain):
        plain = plain.replace(",", ".")
    try:
        value = float(plain)
    except ValueError:
        raise CompositionError("cell-not-a-number", column=column, cell=cell[:20]) from None
    if not isfinite(value):
        raise CompositionError("cell-not-a-number", column=column, cell=cell[:20])
    return value


def _listed(text: str) -> list[str]:
    return [part.strip() for part in text.split(";") if part.strip()]


def _piece(column: str, text: str) -> tuple[str, float]:
    name, _, grams = text.partition("=")
    return name.strip(), _number_cell(column, grams)


def _from_json(text: str) -> list[_Row]:
    try:
        data = load_json(text)
    except (ValueError, RecursionError):
        raise IngredientFileError("file-not-json") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT or data.get("version") != VERSION:
        raise IngredientFileError("not-an-ingredient-file", format=FORMAT, version=VERSION)
    entries = data.get("goods")
    if not isinstance(entries, list):
        raise IngredientFileError("no-ingredient-list")
    return [(number, partial(_entry, entry)) for number, entry in enumerate(entries, start=1)]


def _entry(data: object) -> IngredientEntry:
    if not isinstance(data, dict) or not isinstance(data.get("composition"), dict):
        raise CompositionError("row-without-composition")
    composition = Composition.from_dict(data["composition"])
    slug = data.get("slug") or slug_of(composition.name)
    if not isinstance(slug, str) or len(slug) > 60 or not _SLUG.match(slug):
        raise CompositionError("slug-malformed", slug=str(slug)[:40])
    facts = data.get("facts") or {}
    if not isinstance(facts, dict):
        raise CompositionError("facts-malformed")
    nutrients, on_label = read_label_facts(composition, data.get("nutrients"), data.get("on_label"))
    return IngredientEntry(
        slug,
        composition,
        _short(data.get("kind") or "own", "kind", 30),
        _also(data.get("also")),
        _short(data.get("basis") or "not stated", "basis", 500),
        None if data.get("allergens") is None else checked_allergens(data["allergens"]),
        checked_allergens(data.get("may_hold") or [], "may_hold"),
        Facts.from_dict(facts),
        checked_price(data.get("price")),
        nutrients,
        on_label,
    )


def _short(value: object, what: str, most: int) -> str:
    if not isinstance(value, str) or len(value) > most or not value.isprintable():
        raise CompositionError("text-too-long", what=what, most=most)
    return value


def _also(value: object) -> tuple[str, ...]:
    if value is None:
        return ()
    if not isinstance(value, list) or len(value) > _MOST_NAMES:
        raise CompositionError("other-names-malformed", most_names=_MOST_NAMES)
    return tuple(checked_name(other, "another name") for other in value)


def checked_price(price: object) -> float | None:
    """Return the price of a pack, None where none is given; raises CompositionError when it cannot be."""
    if price is None:
        return None
    if isinstance(price, bool) or not isinstance(price, int | float) or not 0 <= price <= 1e6:
        raise CompositionError("price-impossible", price=str(price)[:40])
    return round(float(price), 4)


def slug_of(name: str) -> str:
    """Return a slug for a name, “Crème brûlée 2 %” as creme-brulee-2; a number where it has no Latin letter."""
    plain = unicodedata.normalize("NFKD", name.casefold())
    letters = "".join(char for char in plain if not unicodedata.combining(char))
    return "-".join(re.findall(r"[a-z0-9]+", letters))[:60].strip("-") or f"own-{zlib.crc32(name.encode()):08x}"


def write_json(entries: Iterable[IngredientEntry]) -> str:
    """Return a file of ingredients as JSON."""
    return json.dumps(
        {"format": FORMAT, "version": VERSION, "goods": [entry_data(entry) for entry in entries]},
        ensure_ascii=False,
        indent=1,
    )


def entry_data(entry: IngredientEntry) -> dict[str, Any]:
    """Return ingredients as plain data, as they stand in the JSON file."""
    return {
        "slug": entry.slug,
        "kind": entry.kind,
        "also": list(entry.also),
        "basis": entry.basis,
        "allergens": None if entry.allergens is None else list(entry.allergens),
        "may_hold": list(entry.may_hold),
        "facts": entry.facts.as_dict(),
        "price": entry.price,
        "composition": entry.composition.as_dict(),
        **({} if entry.nutrients is None else {"nutrients": dict(entry.nutrients)}),
        **({"on_label": on_label} if (on_label := entry.on_label.as_data()) else {}),
    }


def write_csv(entries: Iterable[IngredientEntry]) -> str:
    """Return a file of ingredients as CSV with a BOM, so that spreadsheets read its accents."""
    output = io.StringIO()
    writer = csv.DictWriter(output, COLUMNS, lineterminator="\r\n")
    writer.writeheader()
    writer.writerows(_cells(entry) for entry in entries)
    return "\ufeff" + output.getvalue()


def _cells(entry: IngredientEntry) -> Mapping[str, object]:
    composition, facts = entry.composition, entry.facts
    listed = {
        "also": "; ".join(entry.also),
        "allergens": None if entry.allergens is None else "; ".join(entry.allergens) or "none",
        "may_hold": "; ".join(entry.may_hold),
        "pieces": "; ".join(f"{piece}={grams:g}" for piece, grams in (composition.pieces or {}).items()),
        "forms": "; ".join(f"{form}={density:g}" for form, density in (composition.forms or {}).items()),
    }
    text = {"slug": entry.slug, "name": composition.name, "kind": entry.kind, "basis": entry.basis, "sure": facts.sure}
    return {
        **{
            key: _guarded(value)
            for key, value in {**text, **listed, **_on_label_cells(entry.on_label)}.items()
            if value
        },
        **{key: getattr(facts, key) for key in _OF_FACTS},
        **{key: getattr(composition, key) for key in _OF_COMPOSITION},
        "price": entry.price,
        **{key: grams for key, grams in composition.per_100g.items() if grams},
        **(entry.nutrients or {}),
    }


def _on_label_cells(on_label: OnLabel) -> dict[str, str]:
    """Return the cells of what has no parts; those have no room in a table."""
    if on_label.parts:
        return {}
    names = {f"label_name_{region}": name for region, name in on_label.names.items() if region in ("eu", "us")}
    return {**names, "label_class": on_label.additive_class or ""}


def _guarded(text: str) -> str:
    """Keep a spreadsheet from taking a text, or a part of one, for a formula; reading takes the signs away again."""
    return _FORMULA.sub(r"\1'\2", text)
