"""Levers: the smallest exchanges that bring an outcome back into its band, found by trying them.

Where no single exchange cures a fault the best are carried on together; where those do not either, it says what would.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from . import constants as c
from .comparison import Effect, effects_of
from .components import FloatArray
from .exchanges import Exchanges, exchanged, exchanges_between, exchanges_of, goods_to_try
from .firmness import air_factor
from .flavour import doses_of, flavourings_of
from .freezing import liquid, temperature_at_frozen_c
from .goods import Goods
from .judgement import Outcome, outcomes_of
from .mix import Mix
from .outcomes import eating, frozen_at
from .shares import SHARES, shares_of
from .styles import BESIDE, Band
from .tracks import tracks

_MOST_LEVERS: Final = 3
_MOST_TOGETHER: Final = 3
_PAIRS_CARRIED_ON: Final = 8
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
    """What helps one outcome.

    levers : exchanges to choose from, the smallest that cure it, or those that gain most where no single one does
    together : exchanges that cure it one after the other, empty where one is enough or where they do not either
    otherwise : what would cure it where no exchange of common goods does, else empty
    """

    key: str
    cured: bool
    levers: tuple[Lever, ...]
    together: tuple[Lever, ...]
    otherwise: str


@dataclass(frozen=True, slots=True)
class _Asked:
    """What every search needs: the mix, where it is judged, what is to be had, and which outcomes are judged."""

    mix: Mix
    freezer_c: float
    shelf: Mapping[str, Goods]
    bands: Mapping[str, Band]
    faults: int


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
    bands = {outcome.key: outcome.band for outcome in judged if outcome.key != "flavour"}
    asked = _Asked(mix, freezer_c, shelf, bands, sum(fault.key in bands for fault in faults))
    tried = exchanges_of(mix, shelf, goods_to_try(mix, shelf, restrictions))
    values, new_faults = _values(asked, tried) if tried else ({}, np.array([]))
    return tuple(
        _help_flavour(asked, fault) if fault.key == "flavour" else _help(asked, fault, tried, values, new_faults)
        for fault in faults
    )


def _values(asked: _Asked, tried: Exchanges) -> tuple[dict[str, FloatArray], FloatArray]:
    """Return every judged outcome of the exchanges, and how many faults each brings anew."""
    frozen = frozen_at(tried.rows, asked.freezer_c)
    overrun = np.full(len(tried.rows), asked.mix.overrun_used_pct)
    found = eating(tried.rows, overrun, frozen, asked.freezer_c)
    values = {key: getattr(found, key) for key in asked.bands}
    outside = [_outside(values[key], band, c.BAND_SLACK) > 0 for key, band in asked.bands.items()]
    return values, np.maximum(np.sum(outside, axis=0) - asked.faults, 0)


def _outside(values: FloatArray, band: Band, slack: float = 0.0) -> FloatArray:
    """Return by how much values lie outside a band, 0 inside, shape (...)."""
    outside: FloatArray = np.maximum(np.maximum(band[0] - values, values - band[1]) - slack, 0.0)
    return outside


def _help(
    asked: _Asked, fault: Outcome, tried: Exchanges | None, values: Mapping[str, FloatArray], new_faults: FloatArray
) -> Help:
    if tried is None:
        return Help(fault.key, False, (), (), _otherwise(asked, fault))
    away = _outside(values[fault.key], fault.band)
    size = tried.grams / asked.mix.mass_g + _NEW_FAULT_COSTS * new_faults
    cured = bool((away <= 0).any())
    chosen = _chosen(fault, tried, away, size, cured=cured)
    done = [_done(asked.mix, asked.shelf, tried, index) for index in chosen]
    effects = effects_of(asked.mix, done)
    levers = tuple(
        _lever(fault, tried, index, float(values[fault.key][index]), effect)
        for index, effect in zip(chosen, effects, strict=True)
    )
    together = () if cured or not chosen else _together(asked, fault, tried, away)
    cured = cured or bool(together)
    return Help(fault.key, cured, levers, together, "" if cured else _otherwise(asked, fault))


def _chosen(fault: Outcome, tried: Exchanges, away: FloatArray, size: FloatArray, *, cured: bool) -> list[int]:
    """Return the exchanges to offer, each bringing other goods."""
    order = np.lexsort((size, away > 0)) if cured else np.lexsort((size, away))
    limit = 0.0 if cured else float(_outside(np.array(fault.value), fault.band)) - c.BAND_SLACK
    chosen: list[int] = []
    for index in order:
        if away[index] > 0 and (cured or away[index] >= limit):
            break
        if all(tried.slugs[index] != tried.slugs[other] for other in chosen):
            chosen.append(int(index))
        if len(chosen) == _MOST_LEVERS:
            break
    return chosen


def _done(mix: Mix, shelf: Mapping[str, Goods], tried: Exchanges, index: int) -> Mix:
    return exchanged(mix, int(tried.lines[index]), shelf[tried.slugs[index]], float(tried.grams[index]))


def _lever(fault: Outcome, tried: Exchanges, index: int, value: float, effect: Effect) -> Lever:
    return Lever(
        line=int(tried.lines[index]),
        slug=tried.slugs[index],
        grams=round(float(tried.grams[index]), 1),
        value=value,
        word=tracks()[fault.key].word_for(value, fault.band),
        cures=float(_outside(np.array(value), fault.band)) <= 0,
        effect=effect,
    )


def _together(asked: _Asked, fault: Outcome, tried: Exchanges, away: FloatArray) -> tuple[Lever, ...]:
    """Return exchanges that cure a fault one after the other, the best first; none where three do not."""
    best = dict.fromkeys((int(tried.lines[index]), tried.slugs[index]) for index in np.argsort(away, kind="stable"))
    pairs = list(best)[:_PAIRS_CARRIED_ON]
    mix, found = asked.mix, []
    for _ in range(_MOST_TOGETHER):
        step = exchanges_between(mix, asked.shelf, pairs)
        if step is None:
            return ()
        values, new_faults = _values(asked, step)
        left = _outside(values[fault.key], fault.band)
        size = step.grams / mix.mass_g + _NEW_FAULT_COSTS * new_faults
        index = int(np.lexsort((size, left))[0])
        now = _done(mix, asked.shelf, step, index)
        effect = effects_of(mix, [now])[0]
        found.append(_lever(fault, step, index, float(values[fault.key][index]), effect))
        if left[index] <= 0:
            return tuple(found)
        mix = now
    return ()


def _otherwise(asked: _Asked, fault: Outcome) -> str:
    """Say what would cure a fault that no exchange of common goods does."""
    if fault.key == "firmness":
        edge = fault.band[1] if fault.state == "high" else fault.band[0]
        share = edge / float(air_factor(np.array(asked.mix.overrun_used_pct)))
        celsius = float(temperature_at_frozen_c(liquid(asked.mix.row()), np.array(share)))
        if not isfinite(celsius):
            return "Nothing at hand cures it, and no freezer does."
        at = f"{celsius:.0f} °C".replace("-", "−")
        if fault.state == "high":
            return (
                f"Nothing at hand cures it. At {at} it is soft enough: keep it there, or let the tub stand until then."
            )
        return f"Nothing at hand cures it. Kept at {at} it is firm enough."
    if fault.state == "high" and fault.key in SHARES:
        shares = shares_of(asked.mix)[:, SHARES.index(fault.key)]
        base = asked.mix.base[int(np.argmax(shares))]
        return f"Nothing at hand cures it. {base.ingredient.name} brings {shares.max():.0f} % of it: begin there."
    return "Nothing at hand cures it: it asks for other goods than the common ones, or for another style."


def _help_flavour(asked: _Asked, fault: Outcome) -> Help:
    """Exchange the line that leads the flavour with the biggest other line until the dose is on its ladder."""
    mix, lead = asked.mix, doses_of(asked.mix)[0]
    base = [(at, line, line.goods) for at, line in enumerate(mix.lines) if line.stage not in BESIDE and line.goods]
    carried = [
        (line.grams, at, goods, flavouring.share_pct)
        for at, line, goods in base
        for flavouring in flavourings_of(goods)
        if flavouring.name == lead.flavouring
    ]
    grams, number, goods, share = max(carried, key=lambda found: found[0])
    others = [(line.grams, at, other) for at, line, other in base if at != number]
    if not others:
        return Help(fault.key, False, (), (), "There is nothing beside it to exchange it with.")
    most, biggest, other = max(others, key=lambda found: found[0])
    edge = lead.ladder[0] if fault.state == "low" else lead.ladder[1]
    moved = abs(edge - lead.g_per_kg) * mix.mass_g / (10 * share)
    giving, coming, has = (biggest, goods, most) if fault.state == "low" else (number, other, grams)
    if moved >= has:
        return Help(fault.key, False, (), (), f"{lead.flavouring} alone does not mend it: take a stronger one.")
    now = exchanged(mix, giving, coming, moved)
    value = doses_of(now)[0].up_pct
    word = tracks()[fault.key].word_for(value, fault.band)
    effect = effects_of(mix, [now])[0]
    lever = Lever(giving, coming.slug, round(moved, 1), value, word, True, effect)
    return Help(fault.key, True, (lever,), (), "")
