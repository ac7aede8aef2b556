"""Additions: the common ingredients that may come into a mix, and how much of each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from jalebi_core.advice.roles import role_of
from jalebi_core.assessment.gums import HOT_STAGES
from jalebi_core.model.components import INDEX
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.allergens import allergens_of
from jalebi_core.regulation.restrictions import offence

_LEAST_LACTOSE_PCT: Final = 0.1
_MOSTLY_PCT: Final = 50.0

MOST_SHARE_PCT: Final = {
    "water": 30.0,
    "whole-milk": 50.0,
    "cream-36": 40.0,
    "skim-milk-powder": 8.0,
    "sugar": 20.0,
    "dextrose": 10.0,
    "glucose-syrup-de42": 10.0,
    "inulin": 3.0,
    "locust-bean-gum": 0.25,
    "guar-gum": 0.25,
    "glycerol": 2.5,
    "neutral-spirit-40": 3.0,
}
"""Common ingredients that are tried, and the most of each in a mix, in %; working conventions of taste."""


def ingredients_to_try(
    mix: Mix,
    shelf: Mapping[str, Ingredient],
    restrictions: Sequence[str],
    wanted: Iterable[str] = tuple(MOST_SHARE_PCT),
) -> list[str]:
    """Return the wanted ingredients that offend no restriction and bring neither an allergen nor alcohol anew.

    Where none are named they are the common ones.
    """
    guests = Guests.of(mix, restrictions)
    return [slug for slug in wanted if slug in shelf and guests.welcome(shelf[slug])]


@dataclass(frozen=True, slots=True)
class Guests:
    """What those who eat a mix bear: no offence to a restriction, and no allergen, alcohol, lactose or sugar anew."""

    restrictions: tuple[str, ...]
    allergens: frozenset[str]
    alcohol: bool
    lactose: bool
    sugar: bool

    @classmethod
    def of(cls, mix: Mix, restrictions: Sequence[str]) -> Guests:
        """Return the guests of a mix, who have what is in it and keep to restrictions."""
        has = {allergen for line in mix.lines for allergen in allergens_of(line.ingredient.composition, ())}
        alcohol = any(line.ingredient.row[INDEX["ethanol"]] > 0 for line in mix.lines)
        lactose = "milk" not in has or any(_lactose(line.ingredient) for line in mix.lines)
        sugar = any(_is_sugar(line.ingredient) for line in mix.lines)
        sugar = sugar or not any(_is_in_place_of_sugar(line.ingredient) for line in mix.lines)
        return cls(tuple(restrictions), frozenset(has), alcohol, lactose, sugar)

    def welcome(self, ingredient: Ingredient) -> bool:
        """Tell whether ingredients may come in."""
        if not self.allergens.issuperset(ingredient.allergens):
            return False
        if ingredient.row[INDEX["ethanol"]] > 0 and not self.alcohol:
            return False
        if _lactose(ingredient) and not self.lactose:
            return False
        if _is_sugar(ingredient) and not self.sugar:
            return False
        return not any(offence(ingredient, key) for key in self.restrictions)


def stage_for(mix: Mix, ingredient: Ingredient, otherwise: str | None) -> str | None:
    """Return the stage at which ingredients come into a mix: gums dry into the heat, sugars with the sugar.

    ``otherwise`` is the stage of what gives way to them.
    """
    if ingredient.kind == "gum":
        return "dry" if any(line.stage in HOT_STAGES for line in mix.base) else otherwise
    if ingredient.kind == "spirit":
        return "cold" if otherwise else None
    sugars = {line.stage for line in mix.base if role_of(line.ingredient) == "sugar"}
    return sugars.pop() if ingredient.kind == "sugar" and len(sugars) == 1 else otherwise


def restrictions_in(mix: Mix, restrictions: Sequence[str]) -> tuple[str, ...]:
    """Return the restrictions that hold for a mix: those that are named, and what its style forbids."""
    of_style = {"low-sugar": ("low-sugar",), "dairy-free": ("dairy-free",)}.get(mix.style or "", ())
    return tuple(dict.fromkeys((*restrictions, *of_style)))


def _is_sugar(ingredient: Ingredient) -> bool:
    return ingredient.kind == "sugar" and not _is_in_place_of_sugar(ingredient)


def _is_in_place_of_sugar(ingredient: Ingredient) -> bool:
    return ingredient.kind in ("polyol", "sweetener") or bool(ingredient.row[INDEX["allulose"]] > _MOSTLY_PCT)


def _lactose(ingredient: Ingredient) -> bool:
    return float(ingredient.row[INDEX["lactose"]]) > _LEAST_LACTOSE_PCT
