"""What a preparation states on a label: its parts one by one, and nutrients as far as they follow from its parts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.components import INDEX, FloatArray, mask, selection
from jalebi_core.model.composition import components_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.label_facts import NUTRIENTS, LabelPart, OnLabel
from jalebi_core.regulation.ingredient_list import label_name
from jalebi_core.regulation.nutrition import stated

_WATER: Final = INDEX["water"]
_DRY: Final = 1.0 - selection("water", "ethanol")
_TURNED: Final = mask(family="sugar")
"""Sugars turn into each other; together they stay."""
_OF_COMPONENTS: Final = ("protein_g", "fibre_g")
_ALIKE: Final = 1e-3
_LEAST_G: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Used:
    """An ingredient that went into a preparation; what is ``steeped`` is taken out again."""

    ingredient: Ingredient
    grams: float
    steeped: bool = False


def preparation_nutrients(
    used: Sequence[Used], before: FloatArray, after: FloatArray, yield_g: float
) -> dict[str, float]:
    """Return nutrients per 100 g of a preparation, without those that do not follow.

    They follow where nothing but water and alcohol leaves, or where the dry parts leave all alike, such as what stays
    in the leaves. After straining or macerating nobody can say what has gone. What was steeped gives none of its own.

    Parameters
    ----------
    used : what went in
    before, after : contents in g, shape (WIDTH,), before the first step and after the last
    yield_g : what it weighs in the end
    """
    stays = _share_that_stays(components_of(before), components_of(after))
    if stays is None:
        return {}
    found = {}
    for key in NUTRIENTS:
        if key in _OF_COMPONENTS and all(key not in (one.ingredient.nutrients or {}) for one in used):
            continue
        values = [(stated(one.ingredient, key), one.grams) for one in used if not one.steeped and one.grams > 0]
        if all(value is not None for value, _ in values):
            found[key] = stays * sum(grams * (value or 0.0) for value, grams in values) / yield_g
    return found


def preparation_on_label(name: str, used: Sequence[Used], before: FloatArray, after: FloatArray) -> OnLabel:
    """Return how a preparation stands on a label: its parts one by one, by g put in for 100 g of it.

    Parts that are preparations themselves bring theirs; water that boiled off is left out.
    """
    after_g = float(components_of(after).sum())
    gone_g = max(float(before[_WATER] - after[_WATER]), 0.0)
    parts: list[LabelPart] = []
    words: dict[str, str] = {}
    for one in used:
        grams = max(one.grams - gone_g, 0.0) if _is_water(one.ingredient) else one.grams
        parts += _parts_of(one.ingredient, 100 * grams / after_g)
        words |= one.ingredient.on_label.allergen_words
    parts.sort(key=lambda part: -part.pct)
    return OnLabel(
        dict.fromkeys(("eu", "us"), name),
        parts=tuple(part for part in parts if part.pct > 0),
        spread=True,
        allergen_words=words,
    )


def _share_that_stays(before: FloatArray, after: FloatArray) -> float | None:
    """Return which share of the dry parts is left, None where they have not all gone alike."""
    single = np.flatnonzero((_DRY - _TURNED > 0) & (before > _LEAST_G))
    shares = [float(after[at] / before[at]) for at in single]
    if float(before @ _TURNED) > _LEAST_G and not shares:
        shares = [float(after @ _TURNED) / float(before @ _TURNED)]
    if not shares:
        return 1.0
    return None if max(shares) - min(shares) > _ALIKE else min(max(shares), 1.0)


def _is_water(one: Ingredient) -> bool:
    return float(components_of(one.row)[_WATER]) >= 99.99


def _parts_of(one: Ingredient, pct: float) -> list[LabelPart]:
    facts = one.on_label
    if facts.spread and facts.parts:
        return [
            LabelPart(part.name, pct * part.pct / 100, part.additive_class, part.allergens, part.names)
            for part in facts.parts
        ]
    name, us = label_name(one, "eu"), label_name(one, "us")
    inside = f" ({', '.join(part.name for part in facts.parts)})" if facts.parts else ""
    names = {"us": us + inside} if us != name else {}
    return [LabelPart(name + inside, pct, facts.additive_class, one.allergens, names)]
