"""Judging a mix: a word, a band and a reason for each outcome of how it will eat."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import doses_of, is_base
from jalebi_core.assessment.gums import working_gum_pct
from jalebi_core.assessment.outcome_scales import OutcomeScale, outcome_scales
from jalebi_core.assessment.outcomes import Eating, eating
from jalebi_core.assessment.reasons import CRUMB_G, REASONS, Facts, Term
from jalebi_core.assessment.serving_conditions import Served, serving_c
from jalebi_core.model.components import FloatArray, selection
from jalebi_core.model.composition import components_of, fat
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import NEVER_CHURNED, Band, styles
from jalebi_core.physics.firmness import firmness
from jalebi_core.physics.freezing import frozen_pct, liquid
from jalebi_core.physics.phases import Phases, phases_of
from jalebi_core.wording.message import Message

_ONLY_WHERE_THERE_IS: Final = {"slip": 0.005, "sand": 0.5, "saltiness": 0.005, "tartness": 0.05}
"""Outcomes that are not shown below this value where nothing is wanted of them: nothing there could cause them."""

_OF_KEPT_TUBS: Final = frozenset(("iciness", "melt"))
"""What a dessert that is eaten fresh is not judged by."""

_FAT_OF_MILK_AND_EGG: Final = selection("milk_fat", "egg_fat")

_NEVER: Final = -1e9
_CHURNS_FROM_G: Final = 5.0
"""Less fat than this in 100 g never churns to butter."""


@dataclass(frozen=True, slots=True)
class Outcome:
    """One outcome of a mix.

    ``band`` is usual for its style; ``beyond`` is how many steps that people notice the value lies outside it;
    ``state`` is low, in, high, or edge where that is less than half a step; ``rule`` names the function that computes
    the value.
    """

    key: str
    name: str
    value: float
    unit: str
    band: Band
    scale: Band
    ends: tuple[str, str]
    word: str
    state: str
    beyond: float
    terms: tuple[Term, ...]
    reason: Message
    rule: str


def outcomes_of(mix: Mix, freezer_c: float) -> tuple[Outcome, ...]:
    """Judge a mix for its style at a freezer's temperature; what nothing in it could cause is left out."""
    row, overrun = mix.row(), np.array(mix.overrun_used_pct)
    served_c = serving_c(mix)
    frozen, frozen_served = frozen_pct(liquid(row), np.array([freezer_c, served_c]))
    cold = phases_of(row, overrun, frozen, freezer_c)
    served = Served(served_c, float(firmness(row, frozen_served, overrun)), mix.scoop_firmness)
    return assess(mix, row, frozen, cold, freezer_c, served)


def assess(
    mix: Mix, row: FloatArray, frozen: FloatArray, cold: Phases, freezer_c: float, served: Served
) -> tuple[Outcome, ...]:
    """Do what `outcomes_of` does for a mix whose row, ice and phases at the freezer's temperature are known already."""
    gum_pct = working_gum_pct(mix)
    found = eating(row, np.array(mix.overrun_used_pct), frozen, freezer_c, np.array(gum_pct))
    facts = Facts(mix, row, components_of(row), float(frozen), freezer_c, cold, gum_pct, served, doses_of(mix))
    tracks = (outcome_scale.felt_by(mix.scoop_firmness) for outcome_scale in outcome_scales().values())
    values = ((outcome_scale, _value(outcome_scale.key, found, facts)) for outcome_scale in tracks)
    return tuple(
        _assessed(outcome_scale, value, facts)
        for outcome_scale, value in values
        if value is not None
        and (value > _ONLY_WHERE_THERE_IS.get(outcome_scale.key, _NEVER) or outcome_scale.band_for(mix)[0] > value)
    )


def steps_beyond(outcome_scale: OutcomeScale, values: FloatArray, band: Band) -> FloatArray:
    """Return how many steps values lie beyond a band, 0 within it, shape (...)."""
    steps = outcome_scale.noticed.steps
    return np.maximum(np.maximum(steps(values, band[0]), steps(band[1], values)), 0.0)


def _value(key: str, found: Eating, facts: Facts) -> float | None:
    if key == "flavour":
        return facts.doses[0].up_pct if facts.doses else None
    style = styles().get(facts.mix.style or "")
    if key == "firmness" and style and style.fresh:
        return facts.served.firmness
    left_out = (
        (key == "grit" and facts.grams("erythritol") < CRUMB_G)
        or (key == "butter" and (facts.mix.style in NEVER_CHURNED or facts.family("fat") < _CHURNS_FROM_G))
        or (key in _OF_KEPT_TUBS and style is not None and style.fresh)
    )
    return None if left_out else float(getattr(found, key))


def _beyond(outcome_scale: OutcomeScale, value: float, band: Band, facts: Facts) -> float:
    """Return how many steps a value lies beyond its band; a flavour's steps are those of its dose."""
    if outcome_scale.key == "flavour":
        lead = facts.doses[0]
        dose = min(lead.g_per_kg, lead.ladder[1]) if is_base(facts.mix, lead.flavouring) else lead.g_per_kg
        return float(steps_beyond(outcome_scale, np.array(dose), lead.ladder))
    if outcome_scale.key == "richness":
        return float(steps_beyond(outcome_scale, fat_judged(facts.row, band), band))
    return float(steps_beyond(outcome_scale, np.array(value), band))


def fat_judged(row: FloatArray, band: Band) -> FloatArray:
    """Return the fat of rows that is held against a band; where none is usual, cocoa and nuts bring theirs along."""
    return fat(row) if band[1] > 0 else components_of(row) @ _FAT_OF_MILK_AND_EGG


def _assessed(outcome_scale: OutcomeScale, value: float, facts: Facts) -> Outcome:
    band, bands = outcome_scale.band_for(facts.mix), facts.mix.bands
    beyond = _beyond(outcome_scale, value, band, facts)
    state = outcome_scale.state_for(value, beyond, band)
    terms, because = REASONS[outcome_scale.key](facts)
    said = {"words": _words(outcome_scale, value, state), "figure": _figure(outcome_scale, value), "because": because}
    usual = state != "in" and outcome_scale.style_band in bands
    wanted = {"wanted": _wanted(facts.mix, outcome_scale, band)} if usual else {}
    reason = Message("outcome-beyond" if usual else "outcome", {**said, **wanted})
    return Outcome(
        outcome_scale.key,
        outcome_scale.name,
        value,
        outcome_scale.unit,
        band,
        outcome_scale.scale,
        outcome_scale.ends,
        outcome_scale.word_for(value),
        state,
        beyond if state != "in" else 0.0,
        terms,
        reason,
        outcome_scale.rule,
    )


def _words(outcome_scale: OutcomeScale, value: float, state: str) -> Message:
    near = outcome_scale.words_near(value)
    if len(near) > 1:
        word = Message("between-words", {"one": near[0], "other": near[1]})
    else:
        word = Message("said", {"text": near[0].capitalize()})
    return Message("on-edge", {"word": word}) if state == "edge" else word


def _figure(outcome_scale: OutcomeScale, value: float) -> Message:
    code = "figure-fine" if outcome_scale.digits > 1 else "figure"
    unit = f" {outcome_scale.unit}" if outcome_scale.unit else ""
    return Message(code, {"value": float(outcome_scale.rounded(value)), "unit": unit})


def _wanted(mix: Mix, outcome_scale: OutcomeScale, band: Band) -> Message:
    style = styles().get(mix.style or "")
    span = Message("band" if band[0] != band[1] else "band-of-one", {"low": band[0], "high": band[1]})
    if outcome_scale.style_band in mix.aims or style is None:
        return Message("wanted-by-aim", {"band": span})
    return Message("wanted-by-style", {"style": style.noun, "band": span})
