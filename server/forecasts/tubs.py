"""A draft in its tub: hardening here, then out to the counter, and what a thaw did."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from analysis.kitchen_drafts import read_in_kitchen
from forecasts.schemas import StayOut, TubOut, TubQuestion
from jalebi_core.heat.enthalpy import melted_pct
from jalebi_core.heat.ice_bath import IceBath, ice_for
from jalebi_core.heat.remedies import HARDENING_LOSS
from jalebi_core.heat.sentences import mind_shock, mind_vessel, say_melted, say_tub
from jalebi_core.heat.tub import (
    PLACES,
    SCOOPS_FROM,
    SCOOPS_TO,
    Filling,
    Place,
    TubRun,
    Vessel,
    emptied,
    filling_of,
    follow,
    vessel,
)
from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import HeatError
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.wording.message import Message, words
from kitchens.models import Kitchen, notation_of

_EMPTYING_ROOM_C: Final = 25.0
_HARD_C: Final = -15.0
_SOME_PCT: Final = 0.5
_NOTICED_PCT: Final = 3.0
_HARDENED_C: Final = -12.0
_BRINE_C: Final = -16.0
_POINTS: Final = 120
"""Of a stay that are drawn, at most."""


def tub_forecast(kitchen: Kitchen, question: TubQuestion) -> TubOut | None:
    """Return a draft in a tub over its stays; None for a draft with nothing in it."""
    mix = read_in_kitchen(kitchen, question).mix
    if mix is None:
        return None
    filling, tub, notation = filling_of(mix), _vessel(question), notation_of(kitchen)
    places = [_place(stay.kind, stay.air_c) for stay in question.stays]
    start_c = emptied(filling, tub, question.start_c, question.emptying_min, _EMPTYING_ROOM_C)
    mind = mind_vessel(filling, tub, start_c)
    melted = melted_pct(filling.mix, question.start_c, start_c)
    if melted >= _NOTICED_PCT:
        mind.append(Message("emptied", {"minutes": question.emptying_min, "melted_pct": melted}))
    runs: list[TubRun] = []
    for place, stay in zip(places, question.stays, strict=True):
        bath = _bath(question, filling, tub, start_c) if stay.kind == "brine" else None
        runs.append(follow(filling, tub, place, runs[-1].t_c if runs else start_c, stay.minutes / 60, bath=bath))
        tub = replace(tub, wall_start_c=None)
    began = np.concatenate(([0.0], np.cumsum([stay.minutes for stay in question.stays])))
    worst = _worst_thaw(runs)
    scoops = _scoops_c(filling)
    out = runs[min(1, len(runs) - 1)]

    def joined(name: str) -> list[float]:
        parts = [getattr(run, name)[_drawn(run)] for run in runs]
        found: list[float] = np.concatenate(parts).tolist()
        return found

    minutes = [run.minutes[_drawn(run)] + start for run, start in zip(runs, began, strict=False)]
    return TubOut(
        minutes=np.concatenate(minutes).tolist(),
        core_c=joined("core_c"),
        rim_c=joined("rim_c"),
        core_word=[firmness_word(value) for value in joined("core_firmness")],
        rim_word=[firmness_word(value) for value in joined("rim_firmness")],
        mean_firmness=joined("mean_firmness"),
        scoops_coldest_c=scoops[0],
        scoops_warmest_c=scoops[1],
        stays=[
            StayOut(
                name=place.name,
                air_c=place.air_c,
                from_min=float(began[at]),
                to_min=float(began[at + 1]),
                said=words(say_tub(run, place, _HARD_C), notation),
            )
            for at, (run, place) in enumerate(zip(runs, places, strict=True))
        ],
        scoops_from=out.scoops_from,
        scoops_to=out.scoops_to,
        mind=[words(one, notation) for one in (*mind, *mind_shock(worst))],
        melted_pct=worst,
        melted_said=words(say_melted(worst), notation) if worst >= _SOME_PCT else "",
    )


def _vessel(question: TubQuestion) -> Vessel:
    of = question.vessel
    return vessel(
        of.shape,
        of.height_mm,
        of.diameter_mm,
        of.length_mm,
        of.width_mm,
        of.wall,
        of.lid,
        of.wall_g / 1000,
        wall_start_c=question.wall_c,
    )


def _place(kind: str, air_c: float | None) -> Place:
    """Return a place by its kind, at another temperature where that is said; raises HeatError for an unknown kind."""
    usual = PLACES.get(kind)
    if usual is None:
        raise HeatError("ask-choice-unknown", key="kind", value=kind, known=", ".join(PLACES))
    return usual if air_c is None else replace(usual, air_c=air_c)


def _scoops_c(filling: Filling) -> tuple[float | None, float | None]:
    """Return the coldest and the warmest °C at which a filling scoops; None for both where it never does."""
    within = (filling.firmness >= SCOOPS_FROM) & (filling.firmness <= SCOOPS_TO)
    scoops = filling.mix.t_c[within]
    return (float(scoops[0]), float(scoops[-1])) if len(scoops) else (None, None)


def _bath(question: TubQuestion, filling: Filling, tub: Vessel, start_c: float) -> IceBath:
    """Return the ice and salt around a can: what is said, or what hardens the filling."""
    ice = question.ice
    if ice is not None and ice.ice_g + ice.water_g > 0:
        return IceBath.of(ice.ice_g, salt_g=ice.salt_g, water_g=ice.water_g, water_c=ice.water_c)
    mix = filling.mix
    warm, cold = mix.h_at(np.array([start_c, _HARDENED_C]))
    kg = mix.density_kg_m3 * tub.litres / 1000
    load = ice_for(max(0.0, float(warm - cold)) * kg * HARDENING_LOSS, _BRINE_C)
    return IceBath.of(load.ice_g, salt_g=load.salt_g)


def _drawn(run: TubRun) -> slice:
    """Return every so many steps, the first and more or less the last of them."""
    return slice(None, None, max(1, len(run.minutes) // _POINTS))


def _worst_thaw(runs: list[TubRun]) -> float:
    """Return the most of the ice, %, that the rim had and lost on the way."""
    frozen: FloatArray = np.concatenate([run.rim_frozen_pct for run in runs])
    most = np.maximum.accumulate(frozen)
    lost = np.where(most > 0, 1 - frozen / np.where(most > 0, most, 1.0), 0.0)
    return 100 * float(lost.max())
