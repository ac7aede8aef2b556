"""From the core's arrays to what screens draw."""

from __future__ import annotations

from typing import Final

import numpy as np
from pydantic import BaseModel
from typing_extensions import TypedDict

from jalebi_core.analysis import analyse_mix, number
from jalebi_core.cabinet import CABINET_C, PLACES, serving_c
from jalebi_core.cautions import cautions
from jalebi_core.firmness import firmness, firmness_word
from jalebi_core.judgement import Outcome, judge
from jalebi_core.mix import Mix
from jalebi_core.phases import phases_of
from jalebi_core.verdict import verdict
from shelf.drawn import parts_by_stratum
from shelf.schemas import Part

DRAWN_DEGREES_C: Final = np.concatenate((np.arange(0.0, -8.0, -0.5), np.arange(-8.0, -31.0, -1.0)))
"""Where the curve is drawn: closer where it bends."""


class Curve(BaseModel):
    """Ice as % of all water at each temperature."""

    t_c: list[float]
    frozen_pct: list[float]


class AtFreezer(BaseModel):
    """How the mix is at the freezer's temperature."""

    t_c: float
    frozen_pct: float
    firmness: float
    word: str


class PlaceOut(BaseModel):
    """How the mix is where it is kept and served."""

    key: str
    name: str
    t_c: float
    frozen_pct: float
    firmness: float
    word: str


class Figures(BaseModel):
    """The figures of a mix, g per 100 g where no unit is named; none where they make no sense."""

    fat: float
    msnf: float
    sugars: float
    total_solids: float
    sweetness_pod: float
    freezing_power_pac: float
    freezing_power_per_100g_water: float | None
    density_kg_l: float | None


class TermOut(TypedDict):
    """One of the quantities that an outcome comes from."""

    name: str
    value: float
    unit: str


class OutcomeOut(BaseModel):
    """One outcome of how a mix will eat, against its band; ``rule`` names the function behind the value."""

    key: str
    name: str
    value: float
    unit: str
    band: list[float]
    scale: list[float]
    ends: list[str]
    word: str
    state: str
    terms: list[TermOut]
    reason: str
    rule: str


class MixAnalysis(BaseModel):
    """All that is drawn of one mix."""

    mass_g: float
    volume_l: float
    overrun_pct: float
    verdict: str
    cautions: list[str]
    outcomes: list[OutcomeOut]
    strata: list[Part]
    figures: Figures
    first_ice_c: float | None
    scoop_c: float | None
    curve: Curve
    freezer: AtFreezer
    ice_volume_pct: float
    places: list[PlaceOut]


def drawn(mix: Mix, freezer_c: float, cabinet_c: float = CABINET_C) -> MixAnalysis:
    """Analyse a mix for drawing, with its firmness at the given freezer and where it is served from."""
    where = (freezer_c, cabinet_c, serving_c(mix))
    found = analyse_mix(mix, np.append(DRAWN_DEGREES_C, where), freezer_c)
    overrun = np.array(mix.overrun_used_pct)
    frozen, kept = found.frozen_pct[: len(DRAWN_DEGREES_C)], found.frozen_pct[len(DRAWN_DEGREES_C) :]
    hard = firmness(kept, overrun)
    cold = phases_of(found.row, overrun, kept[0], freezer_c)
    figures = {key: number(getattr(found, key)) for key in Figures.model_fields}
    return MixAnalysis(
        mass_g=mix.mass_g,
        volume_l=float(found.volume_l),
        overrun_pct=mix.overrun_used_pct,
        verdict=verdict(found, freezer_c),
        cautions=cautions(mix, found, cold, freezer_c),
        outcomes=[_outcome(outcome) for outcome in judge(mix, found.row, kept[0], cold, freezer_c)],
        strata=parts_by_stratum(found.row),
        figures=Figures.model_validate(figures),
        first_ice_c=number(found.initial_c),
        scoop_c=number(found.scoop_c),
        curve=Curve(t_c=DRAWN_DEGREES_C.tolist(), frozen_pct=frozen.tolist()),
        freezer=AtFreezer(
            t_c=freezer_c,
            frozen_pct=float(kept[0]),
            firmness=float(hard[0]),
            word=firmness_word(float(hard[0])),
        ),
        ice_volume_pct=float(cold.ice_volume_pct),
        places=[
            PlaceOut(key=key, name=name, t_c=t_c, frozen_pct=ice, firmness=force, word=firmness_word(force))
            for (key, name), t_c, ice, force in zip(PLACES.items(), where, kept.tolist(), hard.tolist(), strict=True)
        ],
    )


def _outcome(outcome: Outcome) -> OutcomeOut:
    return OutcomeOut(
        key=outcome.key,
        name=outcome.name,
        value=outcome.value,
        unit=outcome.unit,
        band=list(outcome.band),
        scale=list(outcome.scale),
        ends=list(outcome.ends),
        word=outcome.word,
        state=outcome.state,
        terms=[TermOut(name=term.name, value=term.value, unit=term.unit) for term in outcome.terms],
        reason=outcome.reason,
        rule=outcome.rule,
    )
