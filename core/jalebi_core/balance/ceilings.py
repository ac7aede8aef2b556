"""The most of ingredients that a balance puts into a mix: what is usual, and what no aim is worth passing."""

from __future__ import annotations

from typing import Final

from jalebi_core.advice.additions import MOST_SHARE_PCT
from jalebi_core.advice.roles import role_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES

STRONG_PCT: Final = 25.0
"""Ingredients that a mix holds no more of than this are limited by it; milk, cream and water are not."""

_MOST_OF_KIND: Final = {"fibre": 3.0, "polyol": 10.0, "mineral": 0.5}
_MOST_OF_ROLE: Final = {"glycerol": 2.5, "yolk": 12.0}
"""The most of such ingredients in a mix, in %; working conventions of taste and of how they are borne."""

_BASES: Final = frozenset(("fruit", "dairy", "plant"))
"""Kinds of flavouring that a mix may consist of."""

_CUSTARD_YOLK_PCT: Final = 16.0
_MOST_FIBRE_PCT: Final = 4.0
_GUM_TIMES: Final = 1.3
_MOST_SPIRIT_PCT: Final = 5.0
_STRONGER: Final = 1.25
"""How much more of spirit or cocoa than there is a mix takes that is built on it."""

_LADDERED: Final = frozenset(("flavour", "infusion", "mineral"))


def usual_most_pct(ingredient: Ingredient, otherwise: float = 100.0) -> float:
    """Return the most of ingredients in a mix by taste and dose, in %; ``otherwise`` where there is none."""
    if ingredient.facts.dose_pct:
        return ingredient.facts.dose_pct[1]
    role = role_of(ingredient)
    if role in _MOST_OF_ROLE:
        return _MOST_OF_ROLE[role]
    if ingredient.kind in _MOST_OF_KIND:
        return _MOST_OF_KIND[ingredient.kind]
    if ingredient.facts.strength_g_kg and ingredient.kind not in _BASES:
        return ingredient.facts.strength_g_kg[1] / 10
    most = MOST_SHARE_PCT.get(ingredient.slug, otherwise)
    return most if most <= STRONG_PCT else otherwise


def hard_most_pct(ingredient: Ingredient, mix: Mix, now_pct: float) -> float:
    """Return the most of ingredients that a balance of a mix comes to whatever it aims at, in %; never less than now.

    Parameters
    ----------
    now_pct : what there is of it
    """
    return max(now_pct, _hard(ingredient, mix, now_pct))


def _hard(ingredient: Ingredient, mix: Mix, now_pct: float) -> float:
    ladder = ingredient.facts.strength_g_kg
    if ingredient.facts.dose_pct and ingredient.kind in ("gum", "starch"):
        return _GUM_TIMES * ingredient.facts.dose_pct[1]
    if role_of(ingredient) == "yolk":
        return _CUSTARD_YOLK_PCT if mix.style == "frozen-custard" else _MOST_OF_ROLE["yolk"]
    if ingredient.kind == "fibre":
        return _MOST_FIBRE_PCT
    if ingredient.kind in ("spirit", "cocoa"):
        return max(ladder[1] / 10 if ladder else _MOST_SPIRIT_PCT, _STRONGER * now_pct)
    if ingredient.kind == "water" and is_dairy(mix):
        return 0.0
    if ingredient.kind in _LADDERED:
        return ladder[1] / 10 if ladder else usual_most_pct(ingredient)
    return 100.0


def is_dairy(mix: Mix) -> bool:
    """Tell whether a mix is built on milk and cream rather than on water."""
    base = [line for line in mix.lines if line.stage not in MIX_IN_STAGES]
    milky = sum(line.grams for line in base if line.ingredient.kind == "dairy")
    return milky > sum(line.grams for line in base if line.ingredient.kind in ("water", "fruit"))
