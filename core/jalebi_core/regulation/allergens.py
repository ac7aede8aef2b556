"""Allergens of the two lists that labels follow, and those that a composition gives away."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.ingredient import Ingredient

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
    return in_order(shown)


def in_order(allergens: Iterable[str]) -> tuple[str, ...]:
    """Return allergens once each, in the order of `ALLERGENS`."""
    shown = {*allergens}
    return tuple(allergen for allergen in ALLERGENS if allergen in shown)


@dataclass(frozen=True, slots=True)
class AllergensTogether:
    """What ingredients together contain, what they may hold beside it, and the names of those that do not state it."""

    contains: tuple[str, ...]
    may_hold: tuple[str, ...]
    not_stated: tuple[str, ...]


def allergens_together(ingredients: Iterable[Ingredient]) -> AllergensTogether:
    """Return the allergens of ingredients together; what one contains, another need not only perhaps hold."""
    together = list(ingredients)
    contains = in_order(allergen for one in together for allergen in one.allergens)
    return AllergensTogether(
        contains,
        in_order(allergen for one in together for allergen in one.may_hold if allergen not in contains),
        tuple(sorted({one.name for one in together if not one.allergens_stated})),
    )


def checked_allergens(value: object, key: str = "allergens") -> tuple[str, ...]:
    """Return allergens that are known; raises CompositionError for anything else."""
    if not isinstance(value, list | tuple) or any(not isinstance(allergen, str) for allergen in value):
        raise CompositionError("allergens-malformed", key=key)
    unknown = [allergen for allergen in value if allergen not in ALLERGENS]
    if unknown:
        raise CompositionError("unknown-allergen", unknown=unknown[0][:40], allergens=tuple(ALLERGENS))
    return tuple(value)
