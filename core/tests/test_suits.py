"""No ingredient that a word reaches suits whom it should not, and an unknown never passes."""

from __future__ import annotations

import pytest

from jalebi_core.model.ingredient import Ingredient
from jalebi_core.regulation.allergens import ALLERGENS, US_NINE, allergens_together
from jalebi_core.regulation.restrictions import RESTRICTIONS, offence, suits
from jalebi_core.shelf.catalogue import ingredients
from jalebi_core.shelf.ingredient_search import search_index

OF_ALLERGEN = {
    "milk": "dairy-free", "egg": "egg-free", "wheat": "gluten-free", "gluten": "gluten-free", "nuts": "nut-free",
    "peanuts": "peanut-free", "sesame": "sesame-free", "soy": "soy-free", "sulphites": "sulphite-free",
}  # fmt: skip


def reached(words: str) -> list[Ingredient]:
    """Return what somebody who types these words is shown first: all that comes close to the best."""
    found = search_index().names.ranked(words)
    return [ingredients()[match.slug] for match in found if match.score >= 0.84]


@pytest.mark.parametrize(
    ("words", "never"),
    [
        ("cookie", "dairy-free vegan egg-free gluten-free nut-free lactose-free"),
        ("cookies", "dairy-free vegan egg-free gluten-free"),
        ("biscuits", "dairy-free vegan egg-free gluten-free nut-free"),
        ("malted milk", "dairy-free vegan gluten-free lactose-free"),
        ("toffee", "dairy-free vegan"),
        ("oat", "gluten-free"),
        ("oats", "gluten-free"),
        ("oat fibre", "gluten-free"),
        ("marzipan", "nut-free vegan egg-free"),
        ("praline", "nut-free dairy-free soy-free vegan"),
        ("cream liqueur", "dairy-free vegan alcohol-free egg-free"),
        ("amaretto", "nut-free alcohol-free"),
        ("chocolate chips", "dairy-free vegan soy-free nut-free"),
        ("dark chocolate", "dairy-free vegan nut-free soy-free"),
        ("thickened cream", "dairy-free vegan vegetarian no-gelatin"),
        ("rice syrup", "gluten-free"),
        ("puffed rice", "gluten-free"),
        ("crisped rice", "gluten-free"),
        ("cornflakes", "gluten-free"),
        ("sponge cake", "dairy-free egg-free gluten-free vegan"),
        ("marshmallow", "vegan vegetarian no-gelatin egg-free"),
        ("gelatine", "vegan vegetarian no-gelatin"),
        ("white wine", "vegan vegetarian sulphite-free alcohol-free dairy-free egg-free"),
        ("beer", "gluten-free vegan"),
        ("E 471", "vegan vegetarian no-gelatin"),
        ("stabiliser blend", "dairy-free vegan vegetarian egg-free gluten-free soy-free nut-free no-gelatin"),
        ("vegan butter", "dairy-free nut-free soy-free"),
        ("lactose powder", "low-sugar lactose-free dairy-free"),
    ],
)
def test_no_row_that_a_word_reaches_suits_what_it_should_not(words: str, never: str) -> None:
    found = reached(words)
    assert found, words
    for key in never.split():
        assert offence(found[0], key), (found[0].slug, key)


def test_what_an_ingredient_has_or_may_have_never_passes() -> None:
    for slug, ingredient in ingredients().items():
        for allergen, key in OF_ALLERGEN.items():
            if allergen in (*ingredient.allergens, *ingredient.may_hold):
                assert offence(ingredient, key), (slug, key)
        if not ingredient.allergens_stated:
            needing = [key for key, restriction in RESTRICTIONS.items() if restriction.needs_stated_allergens]
            assert not set(suits(ingredient)) & set(needing), slug
        assert not set(ingredient.allergens) & set(ingredient.may_hold), slug
        if ingredient.may_hold:
            said = [offence(ingredient, OF_ALLERGEN[one]) for one in ingredient.may_hold if one in OF_ALLERGEN]
            assert all("check the label" in str(one) or "contains" in str(one) for one in said), slug


def test_vegan_is_vegetarian_and_free_of_milk_egg_and_gelatin() -> None:
    for slug, ingredient in ingredients().items():
        if "vegan" in suits(ingredient):
            assert {"vegetarian", "dairy-free", "egg-free", "no-gelatin"} <= set(suits(ingredient)), slug


def test_together_what_one_contains_is_no_perhaps() -> None:
    shelf = ingredients()
    held = allergens_together([shelf["dark-chocolate-70"], shelf["whole-milk"], shelf["stabiliser-blend"]])
    assert held.contains == ("milk", "soy")
    assert held.may_hold == ("egg", "gluten", "nuts")
    assert held.not_stated == ("Stabiliser blend, undisclosed",)
    assert set(US_NINE) <= set(ALLERGENS)
