"""Restrictions: who cannot or will not eat what, and which ingredients offend.

What is not known never passes: an ingredient suits only where nothing speaks against it and all is stated.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.components import INDEX, selection
from jalebi_core.model.components import SUGARS as WITHOUT_LACTOSE
from jalebi_core.model.composition import components_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient

WITHOUT: Final = "without:"
"""A restriction ``without:SLUG`` keeps one ingredient out, such as a gum that somebody does not bear."""

_MOST_ALCOHOL_PCT: Final = 0.5
_SUGARY_PCT: Final = 20.0
_SUGARS: Final = WITHOUT_LACTOSE + selection("lactose") - selection("allulose")
"""What counts for low sugar: lactose is a sugar on every label, allulose has hardly any energy."""
_MOST_LACTOSE_PCT: Final = 0.1
"""The most that food sold as free of lactose holds in most countries that have a rule, g per 100 g."""
_TELLS_ITS_LACTOSE: Final = frozenset({"dairy", "preparation"})
"""Kinds whose composition counts all the milk in them; of a bought biscuit it does not."""
_CHECK: Final = "check the label"

Offence = Callable[[Ingredient], str | None]
"""Returns why an ingredient offends, as the end of a sentence that begins with its name; None where it does not."""


@dataclass(frozen=True, slots=True)
class Restriction:
    """A restriction and what offends it; most can be judged only where all allergens are stated."""

    name: str
    offence: Offence
    needs_stated_allergens: bool = True


def _first(*offences: Offence) -> Offence:
    """Return an offence that is the first of several that is one."""
    return lambda ingredient: next(filter(None, (offence(ingredient) for offence in offences)), None)


def _allergen(*allergens: str) -> Offence:
    def offence(ingredient: Ingredient) -> str | None:
        has = [allergen for allergen in allergens if allergen in ingredient.allergens]
        may = [allergen for allergen in allergens if allergen in ingredient.may_hold]
        if has:
            return f"contains {' and '.join(has)}"
        return f"may hold {' or '.join(may)}: {_CHECK}" if may else None

    return offence


_ORIGINS: Final = {
    "slaughtered": "comes from slaughtered animals",
    "bees": "comes from bees",
    "rennet": f"may be set with animal rennet: {_CHECK}",
    "ask": f"may come from animals: {_CHECK}",
}


def _animal(*origins: str) -> Offence:
    return lambda ingredient: _ORIGINS[ingredient.facts.animal] if ingredient.facts.animal in origins else None


def _lactose(ingredient: Ingredient) -> str | None:
    grams = float(components_of(ingredient.row)[INDEX["lactose"]])
    if grams > _MOST_LACTOSE_PCT:
        return f"holds {grams:.1f} % lactose"
    if "milk" in ingredient.may_hold:
        return f"may hold milk: {_CHECK}"
    if "milk" in ingredient.allergens and ingredient.kind not in _TELLS_ITS_LACTOSE:
        return f"contains milk, how much lactose is not known: {_CHECK}"
    return None


def _alcohol(ingredient: Ingredient) -> str | None:
    ethanol = float(ingredient.row[INDEX["ethanol"]])
    return f"is {ethanol:.0f} % alcohol by weight" if ethanol > _MOST_ALCOHOL_PCT else None


def _sugary(ingredient: Ingredient) -> str | None:
    grams = float(components_of(ingredient.row) @ _SUGARS)
    return f"is {grams:.0f} % sugars" if grams > _SUGARY_PCT else None


_MEAT_AND_FISH: Final = _first(_animal("slaughtered", "ask"), _allergen("fish", "crustaceans", "molluscs"))

RESTRICTIONS: Final = {
    "dairy-free": Restriction("dairy-free", _allergen("milk")),
    "lactose-free": Restriction("lactose-free", _lactose),
    "vegan": Restriction("vegan", _first(_allergen("milk", "egg"), _animal("bees", "rennet"), _MEAT_AND_FISH)),
    "vegetarian": Restriction("vegetarian", _first(_MEAT_AND_FISH, _animal("rennet"))),
    "egg-free": Restriction("egg-free", _allergen("egg")),
    "nut-free": Restriction("nut-free", _allergen("nuts", "peanuts")),
    "peanut-free": Restriction("peanut-free", _allergen("peanuts")),
    "sesame-free": Restriction("sesame-free", _allergen("sesame")),
    "soy-free": Restriction("soy-free", _allergen("soy")),
    "gluten-free": Restriction("gluten-free", _allergen("gluten", "wheat")),
    "sulphite-free": Restriction("sulphite-free", _allergen("sulphites")),
    "alcohol-free": Restriction("alcohol-free", _alcohol, needs_stated_allergens=False),
    "low-sugar": Restriction("low sugar", _sugary, needs_stated_allergens=False),
    "no-gelatin": Restriction("no animal gelatin", _animal("slaughtered", "ask")),
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
        return _unwanted(ingredient, key.removeprefix(WITHOUT))
    restriction = RESTRICTIONS[key]
    found = restriction.offence(ingredient)
    if found is None and restriction.needs_stated_allergens and not ingredient.allergens_stated:
        return "does not state its allergens"
    return found


def suits(ingredient: Ingredient) -> list[str]:
    """Return the keys of the restrictions that an ingredient offends in nothing."""
    return [key for key in RESTRICTIONS if offence(ingredient, key) is None]


def _unwanted(ingredient: Ingredient, slug: str) -> str | None:
    if ingredient.slug == slug:
        return "is not wanted"
    if slug in ingredient.made_of:
        return "is made with what is not wanted"
    if ingredient.facts.sure == "undisclosed":
        return f"does not say what is in it: {_CHECK}"
    return None
