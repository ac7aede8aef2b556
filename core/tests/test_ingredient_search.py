"""Names: what people call ingredients leads to the ingredient."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.shelf.catalogue import CatalogueEntry, catalogue
from jalebi_core.shelf.ingredient_search import IngredientIndex, search_index, words_of

SMALL = IngredientIndex(
    {
        "cream-36": ("Cream 36 %", "heavy cream"),
        "coconut-cream": ("Coconut cream 22 %",),
        "strawberry": ("Strawberry puree", "strawberries"),
        "creme": ("Crème fraîche 30 %",),
        "peach": ("Peach puree", "peaches"),
    }
)


def slugs(phrase: str, *, typing: bool = False) -> list[str]:
    return [match.slug for match in SMALL.ranked(phrase, typing=typing)]


@pytest.mark.parametrize("item", catalogue().values(), ids=lambda item: item.ingredient.slug)
def test_all_that_goods_are_called_leads_to_them(item: CatalogueEntry) -> None:
    ranked = search_index().names.ranked(item.ingredient.name, 1)
    assert ranked[0].slug == item.ingredient.slug
    for name in item.also:
        assert item.ingredient.slug in [match.slug for match in search_index().names.ranked(name, 5)], name


@pytest.mark.parametrize(
    ("phrase", "first"),
    [
        ("heavy cream", "cream-36"),
        ("HEAVY   CREAM", "cream-36"),
        ("creme fraiche", "creme"),
        ("fresh ripe strawberries, hulled", "strawberry"),
        ("peaches", "peach"),
        ("strawbery", "strawberry"),
        ("cream 22", "coconut-cream"),
    ],
)
def test_case_accents_plurals_slips_and_how_it_is_cut_do_not_matter(phrase: str, first: str) -> None:
    assert slugs(phrase)[0] == first


def test_the_last_word_may_be_unfinished_while_typing_and_only_then() -> None:
    assert slugs("straw", typing=True) == ["strawberry"]
    assert slugs("coconut cr", typing=True)[0] == "coconut-cream"
    assert slugs("straw") == []


@pytest.mark.parametrize("phrase", ["", "   ", "%", "…", "日本", "the of and"])
def test_a_phrase_that_says_nothing_finds_nothing(phrase: str) -> None:
    assert slugs(phrase) == []


@given(st.text(max_size=400))
def test_no_phrase_breaks_the_index_and_scores_stay_between_0_and_1(phrase: str) -> None:
    ranked = search_index().names.ranked(phrase, 8, typing=True)
    assert len(ranked) <= 8
    assert all(0 < match.score <= 1 for match in ranked)
    assert [match.score for match in ranked] == sorted((match.score for match in ranked), reverse=True)


@given(st.text(max_size=60))
def test_words_are_compared_in_one_form(text: str) -> None:
    assert words_of(text) == words_of(text.upper().lower())
    assert all(word == word.lower() and word.isascii() for word in words_of(text))


def test_an_empty_index_answers_nothing() -> None:
    assert IngredientIndex({}).ranked("cream") == []
