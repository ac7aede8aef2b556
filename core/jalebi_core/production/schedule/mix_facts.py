"""What of a mix decides how it is planned: what it holds, and by which way it is made."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.production.making.layout import making_way

_CARRIED: Final = {
    "milk": "milk",
    "egg": "egg",
    "nuts": "nuts",
    "peanuts": "nuts",
    "gluten": "gluten",
    "sesame": "sesame",
}
_ALCOHOL_PCT: Final = 0.5
_DARK_PCT: Final = 1.0
_GELATIN: Final = "gelatin"


@dataclass(frozen=True, slots=True)
class MixFacts:
    """What a mix holds that a machine is washed for or that makes it age longer, and how it is made.

    way : cook, scald, syrup, blend or whip, the same that its steps are made by
    """

    has: frozenset[str]
    way: str
    mix_in: bool


def facts_of(mix: Mix) -> MixFacts:
    """Return how a mix is planned."""
    lines = [line for line in mix.lines if line.grams > 0]
    has = {_CARRIED[one] for line in lines for one in line.ingredient.allergens if one in _CARRIED}
    has |= {one for line in lines for one in line.ingredient.allergens if one not in _CARRIED}
    has |= {"gums" for line in lines if line.ingredient.kind == "gum"}
    has |= {"gelatin" for line in lines if _GELATIN in (line.ingredient.slug, *line.ingredient.made_of)}
    row = mix.row()
    if row[INDEX["ethanol"]] >= _ALCOHOL_PCT:
        has.add("alcohol")
    if row[INDEX["cocoa_solids"]] >= _DARK_PCT:
        has.add("dark")
    mixed_in = any(line.stage in MIX_IN_STAGES for line in mix.lines) or any(line.stage == "churn" for line in lines)
    return MixFacts(frozenset(has), making_way(mix), mixed_in)
