"""Levers: the smallest exchanges that bring an outcome back into its band, found by trying them.

An exchange takes some g of one line away and puts as many of other goods in. Hundreds are worked out at once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from . import constants as c
from .allergens import allergens_of
from .comparison import Effect, effects_of
from .components import INDEX, FloatArray
from .goods import Goods
from .judgement import Outcome, outcomes_of
from .mix import Line, Mix
from .outcomes import eating, frozen_at
from .restrictions import offence
from .styles import BESIDE
from .tracks import tracks

MOST_SHARE_PCT: Final = {
    "water": 30.0,
    "whole-milk": 50.0,
    "cream-36": 40.0,
    "skim-milk-powder": 8.0,
    "sugar": 20.0,
    "dextrose": 10.0,
    "glucose-syrup-de42": 10.0,
    "inulin": 5.0,
    "locust-bean-gum": 0.25,
    "guar-gum": 0.25,
    "glycerol": 2.5,
    "neutral-spirit-40": 3.0,
}
"""Common goods that are tried, and the most of each in a mix, in %; working conventions of taste.

Of exchanges of one size the goods that stand first here are offered first: spirit last.
"""

_STEPS: Final = np.array([0.002, 0.005, 0.01, 0.015, 0.02, 0.03, 0.045, 0.06, 0.08, 0.1, 0.14, 0.2])
"""Sizes of an exchange that are tried, as a share of the mix."""

_MOST_LEVERS: Final = 3
_NEW_FAULT_COSTS: Final = 0.1
"""An exchange that puts another outcome out of its band ranks as if it were a tenth of the mix bigger."""


@dataclass(frozen=True, slots=True)
class Lever:
    """An exchange of g of a line for other goods, what the outcome is then, and what else it does."""

    line: int
    slug: str
    grams: float
    value: float
    word: str
    cures: bool
    effect: Effect


@dataclass(frozen=True, slots=True)
class Help:
    """What helps one outcome: the smallest exchanges that cure it, or those that gain most where none does."""

    key: str
    cured: bool
    levers: tuple[Lever, ...]


def help_for(
    mix: Mix, freezer_c: float, shelf: Mapping[str, Goods], restrictions: Sequence[str] = ()
) -> tuple[Help, ...]:
    """Return help for every outcome of a mix that is out of its band.

    Parameters
    ----------
    mix, freezer_c : what is judged, and where
    shelf : what is to be had; not tried is what offends a restriction or brings an allergen or alcohol anew
    """
    judged = outcomes_of(mix, freezer_c)
    faults = [outcome for outcome in judged if outcome.state != "in"]
    if not faults:
        return ()
    tried = _exchanges(mix, shelf, restrictions)
    if tried is None:
        return ()
    frozen = frozen_at(tried.rows, freezer_c)
    found = eating(tried.rows, np.full(len(tried.rows), mix.overrun_used_pct), frozen)
    outside = [_outside(getattr(found, outcome.key), outcome.band) > 0 for outcome in judged]
    new_faults = np.maximum(np.sum(outside, axis=0) - len(faults), 0)
    return tuple(_help(mix, fault, tried, getattr(found, fault.key), new_faults, shelf) for fault in faults)


@dataclass(frozen=True, slots=True)
class _Tried:
    """All exchanges that are tried: which line gives, what comes in, how much, and the rows they make."""

    lines: NDArray[np.intp]
    slugs: list[str]
    grams: FloatArray
    rows: FloatArray


def _exchanges(mix: Mix, shelf: Mapping[str, Goods], restrictions: Sequence[str]) -> _Tried | None:
    goods = [slug for slug in MOST_SHARE_PCT if slug in shelf and not _is_new_to(mix, shelf[slug])]
    goods = [slug for slug in goods if not any(offence(shelf[slug], key) for key in restrictions)]
    if not goods:
        return None
    giving = [number for number, line in enumerate(mix.lines) if line.stage not in BESIDE]
    gives = np.array([mix.lines[number].grams for number in giving])
    has = np.array([[_same(mix.lines[number], shelf[slug]) for slug in goods] for number in giving])
    room = np.array([_room_g(mix, shelf[slug], slug) for slug in goods])
    moved = _STEPS * mix.mass_g
    possible = ~has[..., None] & (moved <= np.minimum(gives[:, None], room)[..., None])
    line, coming, step = np.nonzero(possible)
    if len(line) == 0:
        return None
    gone = np.array([mix.lines[number].ingredient.row for number in giving])
    come = np.array([shelf[slug].composition.row for slug in goods])
    rows = mix.row() + _STEPS[step, None] * (come[coming] - gone[line])
    return _Tried(np.array(giving)[line], [goods[index] for index in coming], moved[step], rows)


def _is_new_to(mix: Mix, goods: Goods) -> bool:
    """Tell whether goods would bring an allergen or alcohol into a mix that has none: nobody asked for that."""
    has = {allergen for line in mix.lines for allergen in allergens_of(line.ingredient, ())}
    spirit = any(line.ingredient.row[INDEX["ethanol"]] > 0 for line in mix.lines)
    return not has.issuperset(goods.allergens) or (goods.composition.row[INDEX["ethanol"]] > 0 and not spirit)


def _same(line: Line, goods: Goods) -> bool:
    return line.ingredient.name == goods.composition.name


def _room_g(mix: Mix, goods: Goods, slug: str) -> float:
    """Return how many more g of goods a mix may hold."""
    return MOST_SHARE_PCT[slug] / 100 * mix.mass_g - sum(line.grams for line in mix.base if _same(line, goods))


def _outside(values: FloatArray, band: tuple[float, float]) -> FloatArray:
    """Return by how much values lie outside a band, 0 inside, shape (...)."""
    outside: FloatArray = np.maximum(np.maximum(band[0] - values, values - band[1]) - c.BAND_SLACK, 0.0)
    return outside


def _help(
    mix: Mix, fault: Outcome, tried: _Tried, values: FloatArray, new_faults: FloatArray, shelf: Mapping[str, Goods]
) -> Help:
    away = _outside(values, fault.band)
    size = tried.grams / mix.mass_g + _NEW_FAULT_COSTS * new_faults
    cured = bool((away <= 0).any())
    order = np.lexsort((size, away > 0)) if cured else np.lexsort((size, away))
    chosen: list[int] = []
    for index in order:
        if cured and away[index] > 0:
            break
        if not cured and away[index] >= float(_outside(np.array(fault.value), fault.band)) - c.BAND_SLACK:
            break
        if all(tried.slugs[index] != tried.slugs[other] for other in chosen):
            chosen.append(int(index))
        if len(chosen) == _MOST_LEVERS:
            break
    effects = effects_of(mix, [_done(mix, tried, index, shelf) for index in chosen])
    levers = (_lever(fault, tried, values, index, effect) for index, effect in zip(chosen, effects, strict=True))
    return Help(fault.key, cured, tuple(levers))


def _done(mix: Mix, tried: _Tried, index: int, shelf: Mapping[str, Goods]) -> Mix:
    return exchanged(mix, int(tried.lines[index]), shelf[tried.slugs[index]], float(tried.grams[index]))


def _lever(fault: Outcome, tried: _Tried, values: FloatArray, index: int, effect: Effect) -> Lever:
    value = float(values[index])
    return Lever(
        line=int(tried.lines[index]),
        slug=tried.slugs[index],
        grams=round(float(tried.grams[index]), 1),
        value=value,
        word=tracks()[fault.key].word_for(value, fault.band),
        cures=float(_outside(np.array(value), fault.band)) <= 0,
        effect=effect,
    )


def exchanged(mix: Mix, number: int, coming: Goods, grams: float) -> Mix:
    """Return a mix in which some g of a line have been exchanged for other goods at its stage."""
    line = mix.lines[number]
    less = Line(line.ingredient, line.grams - grams, line.stage)
    return mix.replacing(number, less, Line(coming.composition, grams, line.stage))
