"""Restrictions: who cannot or will not eat what, and which goods offend."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from .components import INDEX
from .composition import sugars
from .errors import MixError
from .goods import Goods

WITHOUT: Final = "without:"
"""A restriction ``without:SLUG`` keeps one ingredient out, such as a gum that somebody does not bear."""

_MOST_ALCOHOL_PCT: Final = 0.5
_SUGARY_PCT: Final = 20.0


@dataclass(frozen=True, slots=True)
class Restriction:
    """A restriction; ``offence`` returns why goods offend, None where they do not."""

    name: str
    offence: Callable[[Goods], str | None]
    needs_stated_allergens: bool = False


def _allergen(*allergens: str) -> Callable[[Goods], str | None]:
    def offence(goods: Goods) -> str | None:
        has = [allergen for allergen in allergens if allergen in goods.allergens]
        return f"has {' and '.join(has)}" if has else None

    return offence


def _vegan(goods: Goods) -> str | None:
    return _allergen("milk", "egg", "fish", "crustaceans", "molluscs")(goods) or _animal(goods, "slaughtered", "bees")


def _animal(goods: Goods, *origins: str) -> str | None:
    said = {"slaughtered": "comes from slaughtered animals", "bees": "comes from bees"}
    return said[goods.facts.animal] if goods.facts.animal in origins else None


def _alcohol(goods: Goods) -> str | None:
    ethanol = float(goods.composition.row[INDEX["ethanol"]])
    return f"is {ethanol:.0f} % alcohol by weight" if ethanol > _MOST_ALCOHOL_PCT else None


def _sugary(goods: Goods) -> str | None:
    grams = float(sugars(goods.composition.row))
    return f"is {grams:.0f} % sugars" if grams > _SUGARY_PCT else None


RESTRICTIONS: Final = {
    "dairy-free": Restriction("dairy-free", _allergen("milk"), True),
    "vegan": Restriction("vegan", _vegan, True),
    "egg-free": Restriction("egg-free", _allergen("egg"), True),
    "nut-free": Restriction("nut-free", _allergen("nuts", "peanuts"), True),
    "gluten-free": Restriction("gluten-free", _allergen("gluten", "wheat"), True),
    "alcohol-free": Restriction("alcohol-free", _alcohol),
    "low-sugar": Restriction("low sugar", _sugary),
    "no-gelatin": Restriction("no animal gelatin", lambda goods: _animal(goods, "slaughtered")),
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
    raise MixError(f"“{str(key)[:40]}” is not a restriction. Use {', '.join(RESTRICTIONS)} or {WITHOUT}INGREDIENT.")


def offence(goods: Goods, key: str) -> str | None:
    """Return why goods offend a restriction, as the end of a sentence that begins with their name, or None."""
    if key.startswith(WITHOUT):
        return "is not wanted" if goods.slug == key.removeprefix(WITHOUT) else None
    restriction = RESTRICTIONS[key]
    found = restriction.offence(goods)
    if found is None and restriction.needs_stated_allergens and not goods.allergens_stated:
        return "does not state its allergens"
    return found
