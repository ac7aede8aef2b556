"""Files of ingredients: out and in again, and what is wrong with a row."""

from __future__ import annotations

import csv
import io
import json
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.ingredient_file import IngredientEntry, read_ingredients, slug_of, write_csv, write_json
from jalebi_core.model.errors import IngredientFileError
from jalebi_core.model.ingredient import FACTS
from jalebi_core.shelf.catalogue import catalogue

ENTRIES = [
    IngredientEntry(
        one.slug, one.composition, one.kind, item.also, item.basis, one.allergens, one.may_hold, one.facts, 2.35
    )
    for item in catalogue().values()
    for one in [item.ingredient]
]


def entries(data: str | bytes) -> list[IngredientEntry]:
    rows = read_ingredients(data.encode() if isinstance(data, str) else data)
    assert [row.error for row in rows if row.error] == []
    return [row.entry for row in rows if row.entry]


def errors(data: str | bytes) -> list[tuple[int, str]]:
    rows = read_ingredients(data.encode() if isinstance(data, str) else data)
    return [(row.number, row.error) for row in rows if row.error]


def test_the_whole_shelf_goes_out_and_comes_back_the_same() -> None:
    by_json = entries(write_json(ENTRIES))
    assert [(e.slug, e.composition.as_dict(), e.facts, e.allergens, e.also, e.price) for e in by_json] == [
        (e.slug, e.composition.as_dict(), e.facts, e.allergens, e.also, e.price) for e in ENTRIES
    ]
    for before, after in zip(ENTRIES, entries(write_csv(ENTRIES)), strict=True):
        assert after.composition.as_dict() == before.composition.as_dict()
        assert (after.slug, after.also, after.allergens, after.price) == (
            before.slug, before.also, before.allergens, before.price,
        )  # fmt: skip


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "cp1252", "utf-16"])
def test_spreadsheets_of_any_make_are_read(encoding: str) -> None:
    text = "name;water;sucrose;price\r\nSirop d’érable épais;33,5;66,5;7,20\r\n"
    (entry,) = entries(text.encode(encoding))
    assert entry.composition.name == "Sirop d’érable épais"
    assert entry.composition.per_100g == {"water": 33.5, "sucrose": 66.5}
    assert entry.slug == "sirop-d-erable-epais"
    assert entry.price == 7.2
    assert entry.allergens is None


def test_every_wrong_row_is_told_by_its_number_and_the_good_ones_stay() -> None:
    message = errors(
        "name,water,sucrose,allergens\n"
        "Good,50,50,none\n"
        "Open,50,10,\n"
        "=1+1,50,50,\n"
        "Formula,=25*2,50,\n"
        "Word,much,50,\n"
        "good,50,50,\n"
        "Ore,50,50,granite\n"
        "Long,50,50,milk,7\n"
        "Neg,-5,105,\n"
        '"",50,50,\n'
    )
    assert [number for number, _ in message] == [3, 4, 5, 6, 7, 8, 9, 10, 11]
    for (_, sentence), part in zip(
        message,
        ["does not close", "formula", "formula", "not a number", "row 2", "granite", "5 cells", "negative", "name"],
        strict=True,
    ):
        assert part in sentence


@pytest.mark.parametrize(
    ("data", "message"),
    [
        (b"", "empty"),
        (b"\xef\xbb\xbf", "empty"),
        (b"\x00\x01\x02", "not text"),
        (b"Datum;Betrag;Saldo\n1;2;3\n", "does not name the columns"),
        (b"name,water,colour\nx,100,red\n", "no column"),
        (b"name,water,water\nx,50,50\n", "twice"),
        (b'{"format": "jalebi.mix"}', "not a file of ingredients"),
        (b'{"format": "jalebi.goods", "version": 1}', "no list"),
        (b"[1,", "cannot be read as JSON"),
        (b"x" * 10_000_001, "10 MB"),
    ],
)
def test_a_file_that_cannot_be_used_is_told_as_a_whole(data: bytes, message: str) -> None:
    with pytest.raises(IngredientFileError, match=message):
        read_ingredients(data)


def test_json_rows_that_are_no_goods_are_told() -> None:
    ingredient = [1, {"composition": {}}, {"slug": "A b", "composition": {"name": "x", "per_100g": {"water": 100}}}]
    message = errors(json.dumps({"format": "jalebi.goods", "version": 1, "goods": ingredient}))
    assert [number for number, _ in message] == [1, 2, 3]


def test_names_that_a_spreadsheet_would_run_are_guarded() -> None:
    entry = ENTRIES[0]
    risky = IngredientEntry(
        "minus", type(entry.composition)("-5 °C syrup", {"water": 100}), "own", ("+1", "@x"), "=sum", None, (),
        entry.facts, None,
    )  # fmt: skip
    text = write_csv([risky])
    assert "'-5 °C syrup" in text
    (again,) = entries(text)
    assert (again.composition.name, again.basis) == ("-5 °C syrup", "=sum")


def test_slugs_are_made_of_names() -> None:
    assert slug_of("Crème brûlée 2 %") == "creme-brulee-2"
    assert slug_of("抹茶").startswith("own-")
    assert slug_of("抹茶") != slug_of("焙茶")


@given(st.binary(max_size=400))
def test_no_bytes_break_the_reader(data: bytes) -> None:
    with suppress(IngredientFileError):
        read_ingredients(data)


@given(st.lists(st.text(max_size=30), min_size=3, max_size=3))
def test_no_cells_break_a_row(cells: list[str]) -> None:
    output = io.StringIO()
    csv.writer(output).writerows([["name", "water", "sucrose"], cells])
    with suppress(IngredientFileError):
        for row in read_ingredients(output.getvalue().encode("utf-8", "replace")):
            assert (row.entry is None) != (row.error is None)


JSON = st.recursive(
    st.none() | st.booleans() | st.floats() | st.just(10**400) | st.text(max_size=9),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=9), inner, max_size=3),
    max_leaves=6,
)
FIELDS = ("slug", "kind", "also", "basis", "allergens", "facts", "price")


@given(st.fixed_dictionaries({}, optional=dict.fromkeys(FIELDS, JSON)))
def test_no_field_of_json_goods_breaks_a_row(fields: dict[str, object]) -> None:
    ingredient = {"composition": {"name": "Ice", "per_100g": {"water": 100}}, **fields}
    data = json.dumps({"format": "jalebi.goods", "version": 1, "goods": [ingredient]}).encode()
    (row,) = read_ingredients(data)
    assert (row.entry is None) != (row.error is None)


@given(st.fixed_dictionaries({}, optional=dict.fromkeys(sorted(FACTS), JSON)))
def test_no_facts_of_json_goods_break_a_row(facts: dict[str, object]) -> None:
    ingredient = {"composition": {"name": "Ice", "per_100g": {"water": 100}}, "facts": facts}
    (row,) = read_ingredients(json.dumps({"format": "jalebi.goods", "version": 1, "goods": [ingredient]}).encode())
    assert (row.entry is None) != (row.error is None)
