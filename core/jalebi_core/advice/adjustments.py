"""Adjustments: the smallest exchanges that bring an outcome back into its band, found by trying them.

Where no single exchange cures a fault the best are carried on together; where those do not either, it says what would.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.advice.comparison import Effect, effects_of
from jalebi_core.advice.contributions import CONTRIBUTIONS, contributions_of
from jalebi_core.advice.exchanges import Exchanges, Pair, exchanged, exchanges_between, exchanges_of, ingredients_to_try
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.assessment.flavour import doses_of, flavourings_of
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import Eating, eating
from jalebi_core.model.components import FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES, Band
from jalebi_core.physics.firmness import air_factor, hardening
from jalebi_core.physics.freezing import frozen_at, liquid, temperature_at_frozen_c
from jalebi_core.wording.message import Message

_MOST_LEVERS: Final = 3
_MOST_TOGETHER: Final = 3
_OF_ICE: Final = frozenset(("firmness", "iciness", "grit", "melt"))
"""Outcomes that depend on how much of the water is ice; the others need no freezing."""

_ROUNDED_G: Final = 0.05
_PAIRS_CARRIED_ON: Final = 8
_NEW_FAULT_COSTS: Final = 0.1
"""An exchange that puts another outcome out of its band ranks as if it were a tenth of the mix bigger."""


@dataclass(frozen=True, slots=True)
class Adjustment:
    """An exchange of g of a line for other ingredients, what the outcome is then, and what it does to the mix besides.

    Of exchanges together the effect is that of one and all before it.
    """

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

    adjustments : exchanges to choose from, the smallest that cure it, or those that gain most where no single one does
    together : exchanges that cure it one after the other, empty where one is enough or where they do not either
    otherwise : what would cure it where no exchange of common ingredients does
    """

    key: str
    cured: bool
    adjustments: tuple[Adjustment, ...]
    together: tuple[Adjustment, ...]
    otherwise: Message | None


@dataclass(frozen=True, slots=True)
class _Context:
    """What every search needs: the mix, where it is judged, what is to be had, and which outcomes are judged."""

    mix: Mix
    freezer_c: float
    shelf: Mapping[str, Ingredient]
    bands: Mapping[str, Band]
    faults: int


@dataclass(frozen=True, slots=True)
class _Found:
    """An adjustment before its effect is known, with the mix that it makes."""

    fault: Outcome
    line: int
    slug: str
    grams: float
    value: float
    after: Mix

    def with_effect(self, effect: Effect) -> Adjustment:
        cures = float(_outside(np.array(self.value), self.fault.band)) <= 0
        word = outcome_scales()[self.fault.key].word_for(self.value)
        return Adjustment(self.line, self.slug, round(self.grams, 1), self.value, word, cures, effect)


@dataclass(frozen=True, slots=True)
class _Search:
    """What a search found for one fault."""

    fault: Outcome
    adjustments: Sequence[_Found] = ()
    together: Sequence[_Found] = ()
    otherwise: Message | None = None


def help_for(
    mix: Mix, freezer_c: float, shelf: Mapping[str, Ingredient], restrictions: Sequence[str] = ()
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
    context = _Context(mix, freezer_c, shelf, bands, sum(fault.key in bands for fault in faults))
    tried = exchanges_of(mix, shelf, ingredients_to_try(mix, shelf, restrictions))
    values, new_faults = _values(context, tried) if tried else ({}, np.array([]))
    searched = [
        _flavour(context, fault) if fault.key == "flavour" else _search(context, fault, tried, values, new_faults)
        for fault in faults
    ]
    return _with_effects(mix, searched)


def _with_effects(mix: Mix, searched: Sequence[_Search]) -> tuple[Help, ...]:
    """Return the help that was found, all effects worked out at once."""
    found = [adjustment for search in searched for adjustment in (*search.adjustments, *search.together)]
    effects = iter(effects_of(mix, [adjustment.after for adjustment in found]) if found else ())
    helped = []
    for search in searched:
        adjustments = tuple(adjustment.with_effect(next(effects)) for adjustment in search.adjustments)
        together = tuple(adjustment.with_effect(next(effects)) for adjustment in search.together)
        cured = bool(together) or any(adjustment.cures for adjustment in adjustments)
        helped.append(Help(search.fault.key, cured, adjustments, together, search.otherwise))
    return tuple(helped)


def _values(context: _Context, tried: Exchanges) -> tuple[dict[str, FloatArray], FloatArray]:
    """Return every judged outcome of the exchanges, and how many faults each brings anew."""
    found = _eating(context, tried.rows, frozen_at(tried.rows, context.freezer_c))
    values = {key: getattr(found, key) for key in context.bands}
    outside = [_outside(values[key], band, 0.05) > 0 for key, band in context.bands.items()]
    return values, np.maximum(np.sum(outside, axis=0) - context.faults, 0)


def _eating(context: _Context, rows: FloatArray, frozen: FloatArray) -> Eating:
    return eating(rows, np.full(len(rows), context.mix.overrun_used_pct), frozen, context.freezer_c, rows[:, 0] * 0)


def _outside(values: FloatArray, band: Band, tolerance: float = 0.0) -> FloatArray:
    """Return by how much values lie outside a band, 0 inside, shape (...)."""
    outside: FloatArray = np.maximum(np.maximum(band[0] - values, values - band[1]) - tolerance, 0.0)
    return outside


def _search(
    context: _Context, fault: Outcome, tried: Exchanges | None, values: Mapping[str, FloatArray], new_faults: FloatArray
) -> _Search:
    if tried is None:
        return _Search(fault, otherwise=_otherwise(context, fault))
    away = _outside(values[fault.key], fault.band)
    size = tried.grams / context.mix.mass_g + _NEW_FAULT_COSTS * new_faults
    cured = bool((away <= 0).any())
    chosen = _chosen(fault, tried, away, size, cured=cured)
    adjustments = [_found(context, context.mix, fault, tried, index, values[fault.key]) for index in chosen]
    together: Sequence[_Found] = ()
    if chosen and not cured:
        gain = float(_outside(np.array(fault.value), fault.band) - away.min())
        together = _together(context, fault, tried.pairs_by(away, _PAIRS_CARRIED_ON), gain)
    return _Search(fault, adjustments, together, None if cured or together else _otherwise(context, fault))


def _chosen(fault: Outcome, tried: Exchanges, away: FloatArray, size: FloatArray, *, cured: bool) -> list[int]:
    """Return the exchanges to offer, each bringing another ingredient."""
    order = np.lexsort((size, away > 0)) if cured else np.lexsort((size, away))
    limit = 0.0 if cured else float(_outside(np.array(fault.value), fault.band)) - 0.05
    chosen: dict[str, int] = {}
    for index in order:
        if away[index] > 0 and (cured or away[index] >= limit):
            break
        chosen.setdefault(tried.of(index)[1], int(index))
        if len(chosen) == _MOST_LEVERS:
            break
    return list(chosen.values())


def _found(context: _Context, mix: Mix, fault: Outcome, tried: Exchanges, index: int, values: FloatArray) -> _Found:
    (line, slug), grams = tried.of(index), float(tried.grams[index])
    return _Found(fault, line, slug, grams, float(values[index]), exchanged(mix, line, context.shelf[slug], grams))


def _together(context: _Context, fault: Outcome, pairs: Sequence[Pair], gain: float) -> Sequence[_Found]:
    """Return exchanges that cure a fault one after the other, the best first; none where three do not.

    ``gain`` is that of the best single one: what comes after it gains less.
    """
    mix, done = context.mix, []
    before = float(_outside(np.array(fault.value), fault.band))
    if before > _MOST_TOGETHER * gain:
        return ()
    for _ in range(_MOST_TOGETHER):
        step = exchanges_between(mix, context.shelf, pairs)
        if step is None:
            return ()
        frozen = frozen_at(step.rows, context.freezer_c) if fault.key in _OF_ICE else np.zeros(len(step.rows))
        values = getattr(_eating(context, step.rows, frozen), fault.key)
        left = _outside(values, fault.band)
        index = int(np.lexsort((step.grams, left))[0])
        if left[index] >= before - 0.05:
            return ()
        done.append(_found(context, mix, fault, step, index, values))
        if left[index] <= 0:
            return done
        mix, before = done[-1].after, float(left[index])
    return ()


def _otherwise(context: _Context, fault: Outcome) -> Message:
    """Say what would cure a fault that no exchange of common ingredients does."""
    if fault.key == "firmness":
        edge = fault.band[1] if fault.state == "high" else fault.band[0]
        row = context.mix.row()
        share = (edge - float(hardening(row))) / float(air_factor(np.array(context.mix.overrun_used_pct)))
        celsius = float(temperature_at_frozen_c(liquid(row), np.array(share)))
        if not isfinite(celsius):
            return Message("no-freezer")
        return Message("soft-at" if fault.state == "high" else "firm-at", {"t_c": celsius})
    if fault.state == "high" and fault.key in CONTRIBUTIONS:
        shares = contributions_of(context.mix)[:, CONTRIBUTIONS.index(fault.key)]
        base = context.mix.base[int(np.argmax(shares))]
        return Message("brings-most", {"name": base.ingredient.name, "share_pct": float(shares.max())})
    return Message("other-ingredients")


def _flavour(context: _Context, fault: Outcome) -> _Search:
    """Exchange the line that leads the flavour with the biggest other line until the dose is on its ladder."""
    mix, lead = context.mix, doses_of(context.mix)[0]
    base = [
        (at, line, line.ingredient)
        for at, line in enumerate(mix.lines)
        if line.stage not in MIX_IN_STAGES and line.ingredient.slug
    ]
    carried = [
        (line.grams, at, ingredient, flavouring.share_pct)
        for at, line, ingredient in base
        for flavouring in flavourings_of(ingredient)
        if flavouring.name == lead.flavouring
    ]
    grams, number, ingredient, share = max(carried, key=lambda found: found[0])
    others = [(line.grams, at, other) for at, line, other in base if at != number]
    if not others:
        return _Search(fault, otherwise=Message("nothing-beside"))
    most, biggest, other = max(others, key=lambda found: found[0])
    edge = lead.ladder[0] if fault.state == "low" else lead.ladder[1]
    moved = abs(edge - lead.g_per_kg) * mix.mass_g / (10 * share) + _ROUNDED_G
    giving, coming, has = (biggest, ingredient, most) if fault.state == "low" else (number, other, grams)
    if moved >= has:
        return _Search(fault, otherwise=Message("stronger-wanted", {"name": lead.flavouring}))
    after = exchanged(mix, giving, coming, moved)
    return _Search(fault, [_Found(fault, giving, coming.slug, moved, doses_of(after)[0].up_pct, after)])
