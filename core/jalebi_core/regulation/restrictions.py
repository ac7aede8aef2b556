"""Restrictions: who cannot or will not eat what, and which ingredients offend."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import sugars
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient

WITHOUT: Final = "without:"
"""A restriction ``without:SLUG`` keeps one ingredient out, such as a gum that somebody does not bear."""

_MOST_ALCOHOL_PCT: Final = 0.5
_SUGARY_PCT: Final = 20.0


@dataclass(frozen=True, slots=True)
class Restriction:
    """A restriction; ``offence`` returns why ingredients offend, None where they do not."""

    name: str
    offence: Callable[[Ingredient], str | None]
    needs_stated_allergens: bool = False


def _allergen(*allergens: str) -> Callable[[Ingredient], str | None]:
    def offence(ingredient: Ingredient) -> str | None:
        has = [allergen for allergen in allergens if allergen in ingredient.allergens]
        return f"contains {' and '.join(has)}" if has else None

    return offence


def _vegan(ingredient: Ingredient) -> str | None:
    return _allergen("milk", "egg", "fish", "crustaceans", "molluscs")(ingredient) or _animal(
        ingredient, "slaughtered", "bees"
    )


def _animal(ingredient: Ingredient, *origins: str) -> str | None:
    reasons = {"slaughtered": "comes from slaughtered animals", "bees": "comes from bees"}
    return reasons[ingredient.facts.animal] if ingredient.facts.animal in origins else None


def _alcohol(ingredient: Ingredient) -> str | None:
    ethanol = float(ingredient.row[INDEX["ethanol"]])
    return f"is {ethanol:.0f} % alcohol by weight" if ethanol > _MOST_ALCOHOL_PCT else None


def _sugary(ingredient: Ingredient) -> str | None:
    grams = float(sugars(ingredient.row))
    return f"is {grams:.0f} % sugars" if grams > _SUGARY_PCT else None


RESTRICTIONS: Final = {
    "dairy-free": Restriction("dairy-free", _allergen("milk"), True),
    "vegan": Restriction("vegan", _vegan, True),
    "egg-free": Restriction("egg-free", _allergen("egg"), True),
    "nut-free": Restriction("nut-free", _allergen("nuts", "peanuts"), True),
    "gluten-free": Restriction("gluten-free", _allergen("gluten", "wheat"), True),
    "alcohol-free": Restriction("alcohol-free", _alcohol),
    "low-sugar": Restriction("low sugar", _sugary),
    "no-gelatin": Restriction("no animal gelatin", lambda ingredient: _animal(ingredient, "slaughtered")),
}
"""Restrictions by key. An extract of 35 % counts as alcohol; low sugar keeps out what is more than a fifth sugars."""


def checked_restriction(key: object) -> str:
    """Return a restriction's key, or ``without:SLUG``; raises MixError for anything else."""
    if (
        isinstance(key, str)
        and key.isprintable()
        and (key in RESTRICTIONS or (key.startswith(WITHOUT) and 0 < len(key) - len(WITHOUT) <= 60))
    ):
        return key
    raise MixError("unknown-restriction", key=str(key)[:40], restrictions=tuple(RESTRICTIONS), without=WITHOUT)


def offence(ingredient: Ingredient, key: str) -> str | None:
    """Return why ingredients offend a restriction, as the end of a sentence that begins with their name, or None."""
    if key.startswith(WITHOUT):
        return "is not wanted" if ingredient.slug == key.removeprefix(WITHOUT) else None
    restriction = RESTRICTIONS[key]
    found = restriction.offence(ingredient)
    if found is None and restriction.needs_stated_allergens and not ingredient.allergens_stated:
        return "does not state its allergens"
    return found
