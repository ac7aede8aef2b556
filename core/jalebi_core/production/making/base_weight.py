"""The base weighed after the pot: what the gap is put down to, and what that does to the mix."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final, Literal

from jalebi_core.advice.comparison import effects_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import find
from jalebi_core.wording.message import Message

GapTo = Literal["water", "sieve", "spill"]
_WITHIN_SHARE: Final = 0.01
_MOST_SHARE: Final = 0.5


@dataclass(frozen=True, slots=True)
class BaseGap:
    """What is missing of a base after the pot, g, and what is said of it for each cause."""

    gap_g: float
    said: dict[str, Message]


def base_gap(mix: Mix, went_in_g: float, weighed_g: float) -> BaseGap:
    """Return what a base that weighs so much means; raises MixError for a weight that no pot leaves.

    Parameters
    ----------
    went_in_g : of the mix, what is in the base so far
    """
    gap = went_in_g - weighed_g
    if gap < -_WITHIN_SHARE * went_in_g:
        raise MixError("base-heavier", weighed_g=weighed_g, went_in_g=went_in_g)
    if gap > _MOST_SHARE * went_in_g:
        raise MixError("base-too-light", weighed_g=weighed_g, went_in_g=went_in_g)
    if abs(gap) <= _WITHIN_SHARE * went_in_g:
        return BaseGap(gap, {"none": Message("base-as-planned", {"gap_g": abs(gap)})})
    effect = effects_of(mix, [without_water(mix, gap)])[0].message
    return BaseGap(
        gap,
        {
            "water": Message("base-lost-water", {"gap_g": gap, "effect": effect}),
            "sieve": Message("base-in-sieve", {"gap_g": gap}),
            "spill": Message("base-spilt", {"gap_g": gap}),
        },
    )


def without_water(mix: Mix, grams: float) -> Mix:
    """Return a mix that has lost so much water; where more has come in, the grams are below 0."""
    water: Ingredient = find("water")
    return replace(mix, lines=(*mix.lines, Line(water, -grams, "pot")))
