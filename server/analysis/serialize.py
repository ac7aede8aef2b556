"""From the core's arrays to what screens draw."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np
from pydantic import BaseModel
from typing_extensions import TypedDict

from ingredients.schemas import Part
from ingredients.serialize import parts_by_stratum
from jalebi_core.assessment.analysis import analyse_mix, number
from jalebi_core.assessment.assessment import Outcome, assess
from jalebi_core.assessment.cautions import cautions
from jalebi_core.assessment.serving_conditions import Served, serving_conditions_of
from jalebi_core.assessment.uncertainty import scooping_uncertainty_c
from jalebi_core.assessment.verdict import verdict
from jalebi_core.model.mix import Mix
from jalebi_core.physics.phases import phases_of
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.learnt import OF_INGREDIENTS, Mark
from kitchens.learnt_marks import LearntMark, learnt_marks
from kitchens.models import Kitchen, notation_of

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
    learnt: list[LearntMark]


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
    scoop_uncertainty_c: float
    curve: Curve
    freezer: AtFreezer
    ice_volume_pct: float
    places: list[PlaceOut]
    learnt: list[LearntMark]


_OF_COLD: Final = ("freezer_c", "freezer_firmness", "scoop_firmness")
_SWEET: Final = "sweetness_ideal"
_MOVED: Final = {
    _SWEET: ("sweetness",),
    "freezer_c": ("firmness", "iciness"),
    "freezer_firmness": ("firmness",),
    "scoop_firmness": ("firmness",),
}
"""The outcomes that move by what was learnt; that of an ingredient moves all."""


def serialize_analysis(mix: Mix, kitchen: Kitchen, freezer_c: float | None = None) -> MixAnalysis:
    """Analyse a mix for drawing, at the kitchen's freezer unless another is given, and where it is served from."""
    mix = kitchen.learnt.as_eaten(mix)
    marks = marks_for(kitchen, mix)
    freezer_c, notation = kitchen.used_freezer_c if freezer_c is None else freezer_c, notation_of(kitchen)
    found = analyse_mix(mix, DRAWN_DEGREES_C, freezer_c)
    places = serving_conditions_of(mix, freezer_c, kitchen.cabinet_c)
    freezer, overrun = places[0], np.array(mix.overrun_used_pct)
    frozen = np.array(freezer.frozen_pct)
    cold = phases_of(found.row, overrun, frozen, freezer_c)
    served = Served(places[-1].t_c, places[-1].firmness, mix.scoop_firmness)
    figures = {key: number(getattr(found, key)) for key in Figures.model_fields}
    return MixAnalysis(
        mass_g=mix.mass_g,
        volume_l=float(found.volume_l),
        overrun_pct=mix.overrun_used_pct,
        verdict=words(verdict(found, freezer_c, mix.scoop_firmness), notation),
        cautions=[words(one, notation) for one in cautions(mix, found, cold, freezer_c, served)],
        outcomes=[
            _outcome(outcome, notation, marks) for outcome in assess(mix, found.row, frozen, cold, freezer_c, served)
        ],
        strata=parts_by_stratum(found.row),
        figures=Figures.model_validate(figures),
        first_ice_c=number(found.initial_c),
        scoop_c=number(found.scoop_c),
        scoop_uncertainty_c=scooping_uncertainty_c(mix),
        curve=Curve(t_c=DRAWN_DEGREES_C.tolist(), frozen_pct=found.frozen_pct.tolist()),
        freezer=AtFreezer(t_c=freezer_c, frozen_pct=freezer.frozen_pct, firmness=freezer.firmness, word=freezer.word),
        ice_volume_pct=freezer.ice_volume_pct,
        places=[PlaceOut(**{key: getattr(place, key) for key in PlaceOut.model_fields}) for place in places],
        learnt=learnt_marks(marks),
    )


def marks_for(kitchen: Kitchen, mix: Mix) -> list[Mark]:
    """Return what a kitchen has learnt that moves the figures of a mix."""
    slugs = {line.ingredient.slug for line in mix.lines}
    return [
        one
        for one in kitchen.learnt.marks
        if one.key in _OF_COLD
        or (one.key == _SWEET and one.of == mix.style)
        or (one.key in OF_INGREDIENTS and one.of in slugs)
    ]


def _outcome(outcome: Outcome, notation: Notation, marks: Sequence[Mark]) -> OutcomeOut:
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
        reason=words(outcome.reason, notation),
        rule=outcome.rule,
        learnt=learnt_marks(one for one in marks if outcome.key in _MOVED.get(one.key, (outcome.key,))),
    )
