"""Delivery lists: what a spreadsheet or an export says, and what cannot be read of it."""

from __future__ import annotations

import io
import zipfile
from datetime import date, datetime

import openpyxl
import pytest

from jalebi_core.formats.delivery_file import MOST_ROWS, read_delivery
from jalebi_core.model.errors import IngredientFileError


def workbook(*rows: list[object]) -> bytes:
    book = openpyxl.Workbook()
    for row in rows:
        book.worksheets[0].append(row)
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


def test_headings_are_read_in_any_order_and_case() -> None:
    line = read_delivery("LOT; Item ;Quantity;Use by;°C;Price\nA 7;Cream;2 l;3.12.2026;3,5;9,40 €\n".encode())[0]
    assert (line.ingredient, line.amount, line.code, line.price) == ("Cream", "2 l", "A 7", 9.4)
    assert (line.until, line.facts["arrived_c"], line.error) == (date(2026, 12, 3), 3.5, None)


def test_a_workbook_brings_numbers_and_days_as_they_are() -> None:
    day = datetime(2026, 12, 3)
    line = read_delivery(workbook(["name", "amount", "unit", "lot", "best before"], ["Sugar", 10, "kg", 4711, day]))[0]
    assert (line.amount, line.code, line.until) == ("10 kg", "4711", date(2026, 12, 3))


def test_empty_rows_are_passed_over_and_rows_keep_their_numbers() -> None:
    lines = read_delivery(b"ingredient,amount\n\nsugar,1 kg\n,,\nsalt,1 kg\n")
    assert [(line.number, line.ingredient) for line in lines] == [(3, "sugar"), (5, "salt")]


@pytest.mark.parametrize(
    ("row", "says"),
    [
        ("sugar,1 kg,tomorrow,,", "write a day like 2026-12-03"),
        ("sugar,1 kg,31.2.2026,,", "write a day like"),
        ("sugar,1 kg,,free,", "which is not a number"),
        ("sugar,1 kg,,-3,", "it lies from 0"),
        ("sugar,1 kg,,nan,", "it lies from 0"),
        ("sugar,1 kg,,,500", "it lies from -80 to 100"),
        (f"sugar,{'9' * 61},,,", "too long"),
    ],
)
def test_what_cannot_be_read_of_a_row_is_said_with_it(row: str, says: str) -> None:
    line = read_delivery(f"ingredient,amount,use by,price,°C\n{row}\n".encode())[0]
    assert line.error is not None
    assert says in line.error


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"what,how much\nsugar,1 kg\n",
        b"ingredient,amount,quantity\nsugar,1 kg,2\n",
        b"PK\x03\x04broken",
        b"ingredient\x00amount",
        b"ingredient,amount\n" + b"sugar,1 kg\n" * (MOST_ROWS + 1),
        b"x" * 1_000_001,
    ],
)
def test_what_is_no_list_is_refused_whole(data: bytes) -> None:
    with pytest.raises(IngredientFileError):
        read_delivery(data)


def test_an_archive_that_unpacks_to_too_much_or_holds_no_workbook_is_not_opened() -> None:
    for name, content in (("xl/workbook.xml", b"0" * 70_000_000), ("readme.txt", b"nothing")):
        held = io.BytesIO()
        with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(name, content)
        with pytest.raises(IngredientFileError):
            read_delivery(held.getvalue())


@pytest.mark.parametrize("damage", ["cut", "swapped tags", "flipped bytes", "no sheet", "empty parts"])
def test_a_workbook_that_is_damaged_anywhere_is_refused_by_name(damage: str) -> None:
    whole = workbook(["name", "amount"], ["Sugar", 10])
    held = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(whole)) as archive, zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as broken:
        for part in archive.namelist():
            content = archive.read(part)
            if damage == "cut":
                content = content[: len(content) // 2]
            elif damage == "swapped tags":
                content = content.replace(b"</", b"<")
            elif damage == "empty parts":
                content = b""
            if damage != "no sheet" or "sheet" not in part:
                broken.writestr(part, content)
    data = held.getvalue()
    if damage == "flipped bytes":
        data = b"PK" + bytes(255 - byte if at % 7 == 0 else byte for at, byte in enumerate(data[2:]))
    with pytest.raises(IngredientFileError):
        read_delivery(data)


def test_blank_lines_count_for_nothing_and_nothing_is_cut_off() -> None:
    rows = "\n\n".join(f"Sugar {number};1 kg" for number in range(700))
    lines = read_delivery(f"name;amount\n\n{rows}\n".encode())
    assert [line.ingredient for line in (lines[0], lines[-1])] == ["Sugar 0", "Sugar 699"]
    assert len(lines) == 700
    assert lines[1].number == 5


def test_one_row_too_many_is_refused_in_both_kinds_of_file() -> None:
    rows = [["Sugar", "1 kg"]] * MOST_ROWS
    text = "name;amount\n" + "\n\n".join(";".join(row) for row in rows)
    assert len(read_delivery(text.encode())) == len(read_delivery(workbook(["name", "amount"], *rows))) == MOST_ROWS
    for data in ((text + "\nSugar;1 kg").encode(), workbook(["name", "amount"], *rows, ["Sugar", "1 kg"])):
        with pytest.raises(IngredientFileError, match="more than 1000 rows"):
            read_delivery(data)
    with pytest.raises(IngredientFileError, match="more than 1000 rows"):
        read_delivery(b"name;amount\n" + 60_000 * b"\n" + b"Sugar;1 kg")


def test_a_small_workbook_of_a_million_texts_is_refused_before_they_are_read() -> None:
    held = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(workbook(["name", "amount"], ["Sugar", "1 kg"]))) as archive,
        zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as swollen,
    ):
        for part in archive.namelist():
            swollen.writestr(part, archive.read(part))
        swollen.writestr("xl/sharedStrings.xml", b"<sst>" + 500_000 * b"<si><t>a</t></si>" + b"</sst>")
    assert len(held.getvalue()) < 100_000
    with pytest.raises(IngredientFileError, match="more than 1000 rows"):
        read_delivery(held.getvalue())
