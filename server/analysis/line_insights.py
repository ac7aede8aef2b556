"""Insights into one line of a draft: what could stand in for it, and what the wrong ingredient would do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import isfinite

from analysis.kitchen_drafts import read_in_kitchen, restrictions_of
from analysis.schemas import ConfusionOut, EffectOut, LineInsights, LineQuestion, SwapLine, SwapOut
from ingredients.shelf_cache import shown_ingredients
from jalebi_core.advice.comparison import Effect
from jalebi_core.advice.swaps import confusions_for, swaps_for
from jalebi_core.formats.draft import offence_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.regulation.allergens import ALLERGENS
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, notation_of

_MOST_SWAPS = 6
_MOST_CONFUSIONS = 4


def line_insights(kitchen: Kitchen, question: LineQuestion) -> LineInsights:
    """Answer for one line; raises MixError where there is no such line."""
    if question.line >= len(question.lines):
        raise MixError("draft-line-missing", question.line + 1, count=len(question.lines))
    shelf, read = shown_ingredients(kitchen), read_in_kitchen(kitchen, question)
    restrictions = restrictions_of(kitchen, question)
    offends = offence_of(read.lines[question.line].ingredient, restrictions)
    if read.mix is None or question.line not in read.numbers:
        return LineInsights(offends=offends, swaps=[], confusions=[])
    at, slug = read.numbers.index(question.line), question.lines[question.line].ingredient
    return LineInsights(
        offends=offends,
        swaps=[
            SwapOut(
                lines=[SwapLine(ingredient=by, name=shelf[by].name, grams=grams) for by, grams in swap.lines],
                brings=_new_allergens(read.ingredients, shelf, [by for by, _ in swap.lines]),
                equal=swap.equal,
                taste=swap.taste,
                effect=serialize_effect(swap.effect, kitchen),
            )
            for swap in swaps_for(read.mix, at, slug, shelf, restrictions)[:_MOST_SWAPS]
        ],
        confusions=[
            ConfusionOut(
                name=shelf[found.other].name, differ=found.differ, effect=serialize_effect(found.effect, kitchen)
            )
            for found in confusions_for(read.mix, at, slug, shelf)[:_MOST_CONFUSIONS]
        ],
    )


def serialize_effect(effect: Effect, kitchen: Kitchen) -> EffectOut:
    """Return what a change does as screens show it."""
    figures = {key: getattr(effect, key) for key in EffectOut.model_fields if key not in ("scoop_c", "message", "felt")}
    return EffectOut(
        **figures,
        scoop_c=effect.scoop_c if isfinite(effect.scoop_c) else None,
        message=words(effect.message, notation_of(kitchen)),
        felt=effect.message.code == "felt",
    )


def _new_allergens(here: Sequence[Ingredient], shelf: Mapping[str, Ingredient], coming: Sequence[str]) -> list[str]:
    """Return the allergens that ingredients would bring into a mix that does not have them yet."""
    has = {allergen for ingredient in here for allergen in ingredient.allergens}
    brought = {allergen for slug in coming for allergen in shelf[slug].allergens}
    return [allergen for allergen in ALLERGENS if allergen in brought - has]
