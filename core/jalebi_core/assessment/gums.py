"""Gums, starches and emulsifiers in a mix: dose, water, heat, pairs, and whether they can be weighed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES, NOT_HEATED
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

TOTAL_PCT: Final = (0.1, 0.5)
"""Usual sum of gums, g pure hydrocolloid per 100 g of mix."""

_READINGS: Final = 20
_READINGS_OF_STARCH: Final = 10
"""A mass is weighed to 5 % where it is twenty times what the scale can tell apart; starch need not be so exact."""

SUGAR_PER_GUM: Final = 5
_PRE_BLENDS: Final = (10, 20, 50, 100)
_DOSE_TOLERANCE: Final = 0.005
_STARCH_AS_GUM: Final = 0.1
"""Boiled starch holds water a tenth as well as gum, g for g, as their usual doses stand; working convention."""

HOT_STAGES: Final = frozenset(("pot", "yolks"))
_MOST_KEPT_G: Final = 1000.0
"""The most sugar that anybody blends with a gum to keep."""
_DRY_KINDS: Final = frozenset(("sugar", "polyol", "fibre"))
_DRY_SUGAR_WATER_PCT: Final = 12.0
_WATER: Final = INDEX["water"]
_HYDROCOLLOIDS: Final = INDEX["hydrocolloids"]
_STARCH: Final = INDEX["starch"]


@dataclass(frozen=True, slots=True)
class Gum:
    """One gum, starch or emulsifier of a mix.

    number : its line, counted from 0
    dose_pct, in_water_pct : g as sold per 100 g of mix and per 100 g of its water, all lines of it together
    usual_pct : the usual dose per 100 g of mix
    word : under, within or over
    works : whether its stage lets it take up water; None where no stage is chosen
    weighable : whether the scale weighs it to 5 %
    advice : what is said of it
    """

    number: int
    name: str
    grams: float
    dose_pct: float
    in_water_pct: float
    usual_pct: tuple[float, float]
    word: str
    works: bool | None
    weighable: bool
    advice: tuple[Message, ...]


@dataclass(frozen=True, slots=True)
class Gums:
    """All gums of a mix: pure hydrocolloid per 100 g of mix and of water, each gum, and what pairs do."""

    total_pct: float
    total_in_water_pct: float
    gums: tuple[Gum, ...]
    pairs: tuple[str, ...]


@cache
def _pairs() -> tuple[tuple[str, str, str], ...]:
    return tuple((pair["of"][0], pair["of"][1], pair["message"]) for pair in read_toml("gum_pairs.toml")["pair"])


def gums_of(mix: Mix, scale_g: float) -> Gums:
    """Look at the gums of a mix; ``scale_g`` is what the kitchen's finest scale can tell apart.

    Only ingredients with a usual dose are looked at; a composition written into a mix file has none.
    """
    row = mix.row()
    water_pct, total = float(row[_WATER]), float(row[_HYDROCOLLOIDS])
    known = [(at, line, line.ingredient) for at, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES]
    dosed = [(at, line, ingredient) for at, line, ingredient in known if ingredient.facts.dose_pct]
    grams: dict[str, float] = {}
    for _, line, ingredient in dosed:
        grams[ingredient.slug] = grams.get(ingredient.slug, 0.0) + line.grams
    powders = [(line, ingredient) for _, line, ingredient in dosed if _is_gum(ingredient)]
    together = _together(mix, dosed)
    sugar_g = _dry_sugar_g(mix)
    enough = sugar_g >= SUGAR_PER_GUM * sum(line.grams for line, _ in powders)
    found = tuple(
        _gum(at, line, ingredient, grams[ingredient.slug], mix, water_pct, scale_g, together, sugar_g, enough)
        for at, line, ingredient in dosed
    )
    return Gums(total, _of_water(total, water_pct), found, _pair_messages([ingredient for _, _, ingredient in dosed]))


def _gum(
    at: int,
    line: Line,
    ingredient: Ingredient,
    grams: float,
    mix: Mix,
    water_pct: float,
    scale_g: float,
    together: tuple[float, float],
    sugar_g: float,
    sugar_enough: bool,
) -> Gum:
    assert ingredient.facts.dose_pct
    low, high = ingredient.facts.dose_pct
    dose = 100 * grams / mix.mass_g
    of_low, of_high = together if _is_gum(ingredient) else (dose / low, dose / high)
    word = "under" if of_low < 1 - _DOSE_TOLERANCE else "over" if of_high > 1 + _DOSE_TOLERANCE else "within"
    works = _works(line, ingredient, mix)
    weighable = line.grams >= (_READINGS_OF_STARCH if ingredient.kind == "starch" else _READINGS) * scale_g
    told = [text for text in (_heat_message(ingredient, works),) if text]
    messages = [
        _dose_message(word, dose, (low, high), alone=of_low == dose / low),
        *(Message("said", {"text": text}) for text in told),
        _blending_message(line, ingredient, sugar_enough),
        None if weighable else _pre_blend(line.grams, scale_g, sugar_g),
    ]
    in_water = _of_water(dose, water_pct)
    kept = tuple(message for message in messages if message)
    return Gum(at, ingredient.name, grams, dose, in_water, (low, high), word, works, weighable, kept)


def _of_water(pct: float, water_pct: float) -> float:
    return 100 * pct / water_pct if water_pct > 0 else 0.0


def _is_gum(ingredient: Ingredient) -> bool:
    return float(ingredient.row[_HYDROCOLLOIDS]) > 50


def _dry_sugar_g(mix: Mix) -> float:
    dry = (line for line in mix.base if line.ingredient.kind in _DRY_KINDS)
    return sum(line.grams for line in dry if float(line.ingredient.row[_WATER]) < _DRY_SUGAR_WATER_PCT)


def working_gum_shares(mix: Mix) -> FloatArray:
    """Return the g of gum in 100 g of each line of the mix that hold water at its stage, shape (lines,).

    What stays too cold to swell holds nothing; where no stage is chosen it is taken to work.
    """
    return np.array([working_gum_share(line, mix) for line in mix.base])


def working_gum_pct(mix: Mix) -> float:
    """Return the g of gum per 100 g of mix that hold water, starch among them."""
    return float(working_gum_shares(mix) @ [line.grams for line in mix.base]) / mix.mass_g


def working_gum_share(line: Line, mix: Mix) -> float:
    """Return the g of gum in 100 g of one line that hold water at its stage in a mix."""
    row, kind = line.ingredient.row, line.ingredient.kind
    share = float(row[_HYDROCOLLOIDS]) + (_STARCH_AS_GUM * float(row[_STARCH]) if kind == "starch" else 0.0)
    return share if share > 0 and _works(line, line.ingredient, mix) is not False else 0.0


def _works(line: Line, ingredient: Ingredient, mix: Mix) -> bool | None:
    needs = ingredient.facts.hydrates
    if needs is None or needs.cold:
        return True
    if line.stage in NOT_HEATED:
        return False
    if line.stage in HOT_STAGES:
        return True
    stages = {other.stage for other in mix.base}
    return bool(stages & HOT_STAGES) if line.stage == "dry" else None


def _together(mix: Mix, dosed: Sequence[tuple[int, Line, Ingredient]]) -> tuple[float, float]:
    """Return the sum of what each gum is of its least usual dose, and of its most: 1 is a whole dose among them."""
    doses = [
        (100 * line.grams / mix.mass_g, ingredient.facts.dose_pct)
        for _, line, ingredient in dosed
        if _is_gum(ingredient)
    ]
    shares = [(dose / usual[0], dose / usual[1]) for dose, usual in doses if usual]
    return sum(share for share, _ in shares), sum(share for _, share in shares)


def _dose_message(word: str, dose: float, usual: tuple[float, float], *, alone: bool) -> Message | None:
    if word == "within":
        return None
    if not alone:
        return Message("dose-over-together" if word == "over" else "dose-under-together")
    said = {"dose_pct": dose, "low": usual[0], "high": usual[1]}
    return Message("dose-over" if word == "over" else "dose-under", said)


def _heat_message(ingredient: Ingredient, works: bool | None) -> str:
    if works is False:
        told = ingredient.facts.if_not_heated or "It does little unless it goes through the heat."
        return f"It {ingredient.facts.hydrates}, and here it stays cold. {told}"
    return f"It {ingredient.facts.hydrates}." if ingredient.facts.hydrates else ""


def _blending_message(line: Line, ingredient: Ingredient, sugar_enough: bool) -> Message | None:
    if not _is_gum(ingredient):
        return None
    least = SUGAR_PER_GUM * line.grams
    if sugar_enough:
        return Message("blend-dry", {"least_g": least}) if least >= 1 else None
    return Message("blend-wanting", {"least_g": least})


def _pre_blend(grams: float, scale_g: float, sugar_g: float) -> Message:
    """Say how to weigh what is too little for the scale: thinned with the sugar that is there."""
    least = _READINGS * scale_g
    parts = next((parts for parts in _PRE_BLENDS if grams * parts >= least), _PRE_BLENDS[-1])
    said = {"grams": grams, "scale_g": scale_g}
    kept_g, used_g = least * (parts - 1), grams * (parts - 1)
    if grams * parts < least or kept_g > _MOST_KEPT_G or used_g > sugar_g:
        return Message("too-little-for-scale", said)
    return Message("pre-blend", {**said, "least_g": least, "sugar_g": kept_g, "weigh_g": grams * parts})


def _pair_messages(ingredient: Sequence[Ingredient]) -> tuple[str, ...]:
    names = {one.slug: one.name for one in ingredient}
    both = ((one, other, message) for one, other, message in _pairs() if one in names and other in names)
    return tuple(f"{names[one]} and {in_sentence(names[other])} {message}." for one, other, message in both)
