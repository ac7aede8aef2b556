"""Allergens of the two lists that labels follow, and those that a composition gives away."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Final

from jalebi_core.model.composition import Composition

ALLERGENS: Final = (
    "milk", "egg", "wheat", "gluten", "nuts", "peanuts", "sesame", "soy", "sulphites",
    "fish", "crustaceans", "molluscs", "celery", "mustard", "lupin",
)  # fmt: skip
"""The fourteen of Regulation (EU) 1169/2011, annex II, wheat told apart from the other grains with gluten."""

US_NINE: Final = ("milk", "egg", "wheat", "nuts", "peanuts", "sesame", "soy", "fish", "crustaceans")
"""The nine of US law (FALCPA 2004, FASTER Act 2021)."""

_BY_COMPONENT: Final = {
    "milk": ("milk_fat", "milk_protein", "lactose", "milk_salts"),
    "egg": ("egg_fat", "egg_protein"),
}
_IMPLIED: Final = {"wheat": "gluten"}


def allergens_of(ingredient: Composition, stated: Iterable[str]) -> tuple[str, ...]:
    """Return the stated allergens and those that the composition gives away, in the order of `ALLERGENS`."""
    shown = {
        allergen for allergen, keys in _BY_COMPONENT.items() if any(ingredient.per_100g.get(key, 0) > 0 for key in keys)
    }
    shown |= {*stated}
    shown |= {implied for allergen, implied in _IMPLIED.items() if allergen in shown}
    return tuple(allergen for allergen in ALLERGENS if allergen in shown)
