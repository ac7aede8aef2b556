"""One grammar of amounts: what is typed into a field weighs what the same words weigh anywhere."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.quantities.amounts import GRAMS_PER_UNIT, UNIT_SPELLINGS, read_amount, to_grams
from jalebi_core.shelf.catalogue import find
from jalebi_core.shelf.ingredient_search import search_index
from jalebi_core.shelf.typed_lines import TypedLineReading, TypedMatch, read_typed_line
from jalebi_core.wording.notation import GRAMS_PER_OUNCE

SUGAR = find("sugar").measures
NUMBERS = {
    "2": 2.0, "1,5": 1.5, "0.75": 0.75, ".5": 0.5, "1/2": 0.5, "1 1/2": 1.5, "½": 0.5, "1½": 1.5, "1 ½": 1.5,
    "⅓": 1 / 3, "2-3": 2.5, "2 - 3": 2.5, "2–3": 2.5, "2 to 3": 2.5, "1 000": 1000.0,
}  # fmt: skip


def reading(text: str) -> TypedLineReading:
    return read_typed_line(text, search_index())


def first(text: str) -> TypedMatch:
    return reading(text).matches[0]


@pytest.mark.parametrize(
    ("text", "slug", "grams"),
    [
        ("2 ounces butter", "butter", 2 * GRAMS_PER_UNIT["oz"]),
        ("1 kilo strawberries", "strawberry-puree", 1000),
        ("2 to 3 tbsp honey", "honey", 2.5 * 15 * 1.43),
        ("3 pinches salt", "salt", 3 * 0.31 * 1.2),
        ("juice of 1 lemon", "lemon-juice", 45),
        ("4 yolks", "egg-yolk", 68),
        ("a pinch of salt", "salt", 0.31 * 1.2),
        ("half a cup of sugar", "sugar", 125 * 0.85),
        ("2 tins condensed milk", "condensed-milk", 794),
        ("1 (397 g) tin condensed milk", "condensed-milk", 397),
        ("2 x 400 g tins coconut milk", "coconut-milk", 800),
        ("two eggs", "whole-egg", 100),
        ("24 honey", "honey", 24),
        ("24 g honey", "honey", 24),
        ("sugar 120 g", "sugar", 120),
        ("1.5kg sugar", "sugar", 1500),
    ],
)
def test_lines_as_cooks_type_them(text: str, slug: str, grams: float) -> None:
    found = first(text)
    assert (found.slug, found.error) == (slug, None)
    assert found.grams == pytest.approx(grams, rel=0.02)


@given(st.sampled_from(sorted(NUMBERS)), st.sampled_from(sorted(UNIT_SPELLINGS)), st.sampled_from(["", "of "]))
def test_every_spelling_of_every_unit_weighs_what_the_unit_weighs(number: str, spelling: str, of: str) -> None:
    found = first(f"{number} {spelling} {of}table sugar")
    assert (found.slug, found.error) == ("sugar", None)
    assert found.grams == pytest.approx(to_grams(NUMBERS[number], spelling, SUGAR).grams)


@given(st.sampled_from(sorted(NUMBERS)), st.sampled_from(sorted(UNIT_SPELLINGS)))
def test_what_is_put_in_is_read_back_as_the_same_amount(number: str, spelling: str) -> None:
    found = first(f"{number} {spelling} table sugar")
    assert found.grams == read_amount(found.typed, "g", SUGAR).grams


def test_an_amount_may_come_alone_a_name_may_be_unfinished_and_a_share_waits_for_the_whole() -> None:
    assert (reading("24 g").query, reading("24 g").matches) == ("", ())
    assert first("½ cup cre").slug.startswith("cre")
    assert (first("0.3 % guar").typed, first("0.3 % guar").grams) == ("0.3 %", None)
    assert (first("whole milk").typed, first("whole milk").grams) == ("", None)


@given(st.text(max_size=100))
def test_whatever_is_typed_is_an_answer(text: str) -> None:
    found = reading(text)
    assert all(match.error is None or match.grams is None for match in found.matches)


def test_a_bare_number_is_in_the_unit_that_the_kitchen_weighs_in() -> None:
    honey = read_typed_line("2 honey", search_index(), "oz").matches[0]
    assert (honey.slug, honey.typed) == ("honey", "2")
    assert honey.grams == pytest.approx(2 * GRAMS_PER_OUNCE)
    assert read_typed_line("2 g honey", search_index(), "oz").matches[0].grams == 2
