"""Judging a mix: a word, a band and a reason for each outcome of how it will eat."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import doses_of
from jalebi_core.assessment.outcome_scales import OutcomeScale, outcome_scales
from jalebi_core.assessment.outcomes import Eating, eating
from jalebi_core.assessment.reasons import CRUMB_G, REASONS, Facts, Term
from jalebi_core.model import constants as c
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import components_of
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import Band, styles
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.phases import Phases, phases_of
from jalebi_core.wording.message import Message

_ONLY_WHERE_THERE_IS: Final = {"slip": 0.005, "sand": 0.5}
"""Outcomes that are not shown below this value: nothing there could cause them."""

_NEVER: Final = -1e9


@dataclass(frozen=True, slots=True)
class Outcome:
    """One outcome of a mix.

    ``band`` is usual for its style; ``state`` is low, in or high against it; ``rule`` names the function that
    computes the value.
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
    terms: tuple[Term, ...]
    reason: Message
    rule: str


def outcomes_of(mix: Mix, freezer_c: float) -> tuple[Outcome, ...]:
    """Judge a mix for its style at a freezer's temperature; what nothing in it could cause is left out."""
    row = mix.row()
    frozen = frozen_at(row, freezer_c)
    cold = phases_of(row, np.array(mix.overrun_used_pct), frozen, freezer_c)
    return assess(mix, row, frozen, cold, freezer_c)


def assess(mix: Mix, row: FloatArray, frozen: FloatArray, cold: Phases, freezer_c: float) -> tuple[Outcome, ...]:
    """Do what `outcomes_of` does for a mix whose row, ice and phases at the freezer's temperature are known already."""
    found = eating(row, np.array(mix.overrun_used_pct), frozen, freezer_c)
    facts = Facts(mix, row, components_of(row), float(frozen), freezer_c, cold)
    bands = mix.bands
    values = ((outcome_scale, _value(outcome_scale.key, found, facts)) for outcome_scale in outcome_scales().values())
    return tuple(
        _assessed(outcome_scale, value, facts, bands)
        for outcome_scale, value in values
        if value is not None and value > _ONLY_WHERE_THERE_IS.get(outcome_scale.key, _NEVER)
    )


def _value(key: str, found: Eating, facts: Facts) -> float | None:
    if key == "flavour":
        doses = doses_of(facts.mix)
        return doses[0].up_pct if doses else None
    return None if key == "grit" and facts.grams("erythritol") < CRUMB_G else float(getattr(found, key))


def _assessed(outcome_scale: OutcomeScale, value: float, facts: Facts, bands: Mapping[str, Band]) -> Outcome:
    band = outcome_scale.band_for(bands)
    state = "low" if value < band[0] - c.BAND_TOLERANCE else "high" if value > band[1] + c.BAND_TOLERANCE else "in"
    word = outcome_scale.word_for(value, band)
    terms, because = REASONS[outcome_scale.key](facts)
    unit = f" {outcome_scale.unit}" if outcome_scale.unit else ""
    said = {"word": word.capitalize(), "value": value, "unit": unit, "because": because}
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
        word,
        state,
        terms,
        reason,
        outcome_scale.rule,
    )


def _wanted(mix: Mix, outcome_scale: OutcomeScale, band: Band) -> Message:
    style = styles().get(mix.style or "")
    span = Message("band" if band[0] != band[1] else "band-of-one", {"low": band[0], "high": band[1]})
    if outcome_scale.style_band in mix.aims or style is None:
        return Message("wanted-by-aim", {"band": span})
    return Message("wanted-by-style", {"style": style.name, "band": span})
