"""Allergens that a composition gives away, whatever is stated of an ingredient."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from .composition import Ingredient

ALLERGENS: Final = ("milk", "egg", "gluten", "nuts", "peanuts", "sesame", "soy", "sulphites")
"""Those of the EU list that the shelf that ships knows; labels may name more."""

_BY_COMPONENT: Final = {
    "milk": ("milk_fat", "milk_protein", "lactose", "milk_salts"),
    "egg": ("egg_fat", "egg_protein"),
}


def allergens_of(ingredient: Ingredient, stated: Iterable[str]) -> tuple[str, ...]:
    """Return the stated allergens and those that the composition gives away, in the order of `ALLERGENS`."""
    shown = {
        allergen for allergen, keys in _BY_COMPONENT.items() if any(ingredient.per_100g.get(key, 0) > 0 for key in keys)
    }
    return tuple(allergen for allergen in ALLERGENS if allergen in {*stated, *shown})
