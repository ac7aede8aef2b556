"""The words that screens share: strata, stages, styles, approaches, units, restrictions and allergens."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel

from ingredients.schemas import Named
from jalebi_core.advice.first_drafts import approaches
from jalebi_core.assessment.explanations import explanations
from jalebi_core.balance.jobs import JOBS
from jalebi_core.balance.quantities import aimable
from jalebi_core.heat.tub import PLACES, WALLS
from jalebi_core.model.strata import STRATA
from jalebi_core.model.styles import MIX_IN_STAGES, STAGES, styles
from jalebi_core.physics.firmness import FIRMNESS_WORDS
from jalebi_core.production.machines import machine_kinds
from jalebi_core.production.runs import is_stirred, usual_bowl_l
from jalebi_core.quantities.amounts import GRAMS_PER_UNIT, ML_PER_SPOON, ML_PER_UNIT, PER_SHARE
from jalebi_core.regulation.allergens import ALLERGENS
from jalebi_core.regulation.cautions import REGIONS
from jalebi_core.regulation.restrictions import RESTRICTIONS
from jalebi_core.wording.notation import LOCALES

router = Router(tags=["vocabulary"])


class StyleOut(Named):
    """A style and its usual bands, low and high by quantity."""

    bands: dict[str, tuple[float, float]]


class ApproachOut(Named):
    """An approach, what it is, and the styles that it has a first draft for."""

    says: str
    styles: list[str]


class JobOut(Named):
    """A job that Balance does in one press, and what it needs beside the mix."""

    asks: str


class Aimable(Named):
    """What can be aimed at, and its unit."""

    unit: str


class ExplanationOut(Named):
    """How a number on a screen is worked out, what that rests on, and the function in the core that does it."""

    formula: str
    source: str
    rule: str


class MachineKindOut(Named):
    """A kind of machine, the L of its usual bowl, and whether it freezes as it stirs."""

    bowl_l: float
    stirred: bool


class PlaceKindOut(Named):
    """A kind of place that a tub can stand in, and how cold or warm that usually is."""

    air_c: float


class Vocabulary(BaseModel):
    """The words that screens share, in the order they are shown."""

    strata: list[Named]
    stages: list[Named]
    mix_in_stages: list[str]
    styles: list[StyleOut]
    approaches: list[ApproachOut]
    machines: list[MachineKindOut]
    places: list[PlaceKindOut]
    walls: list[Named]
    jobs: list[JobOut]
    aimable: list[Aimable]
    units: list[str]
    firmness_words: list[str]
    restrictions: list[Named]
    allergens: list[str]
    explanations: list[ExplanationOut]
    locales: list[Named]
    regions: list[Named]


@router.get("/vocabulary", response=Vocabulary)
def vocabulary(request: HttpRequest) -> Vocabulary:
    """Return the words for strata, stages, styles, units, firmness, restrictions and allergens."""
    return Vocabulary(
        strata=[Named(key=key, name=name) for key, name in STRATA.items()],
        stages=[Named(key=key, name=name) for key, name in STAGES.items()],
        mix_in_stages=sorted(MIX_IN_STAGES),
        styles=[StyleOut(key=style.slug, name=style.name, bands=style.bands) for style in styles().values()],
        approaches=[
            ApproachOut(key=approach.key, name=approach.name, says=approach.says, styles=list(approach.drafts))
            for approach in approaches().values()
        ],
        machines=[
            MachineKindOut(key=kind.key, name=kind.name, bowl_l=usual_bowl_l(kind.key), stirred=is_stirred(kind))
            for kind in machine_kinds().values()
        ],
        places=[PlaceKindOut(key=key, name=place.name, air_c=place.air_c) for key, place in PLACES.items()],
        walls=[Named(key=key, name=wall.name) for key, wall in WALLS.items()],
        jobs=[JobOut(key=job.key, name=job.name, asks=job.asks) for job in JOBS.values()],
        aimable=[Aimable(key=key, name=name, unit=unit) for key, name, unit in aimable()],
        units=[*GRAMS_PER_UNIT, *ML_PER_UNIT, *ML_PER_SPOON["metric"], *PER_SHARE],
        firmness_words=["liquid", "slushy", *(word for _, word in reversed(FIRMNESS_WORDS))],
        restrictions=[Named(key=key, name=restriction.name) for key, restriction in RESTRICTIONS.items()],
        allergens=list(ALLERGENS),
        explanations=[ExplanationOut(**asdict(one)) for one in explanations().values()],
        regions=[Named(key=key, name=name) for key, name in REGIONS.items()],
        locales=[Named(key=tag, name=region) for tag, (region, _) in LOCALES.items()],
    )
