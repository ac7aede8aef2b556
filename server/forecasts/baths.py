"""Ice and salt: how cold, for how long, and how much of each for a draft."""

from __future__ import annotations

from math import ceil
from typing import Final

import numpy as np

from analysis.kitchen_drafts import read_in_kitchen
from forecasts.schemas import BathMoment, BathOut, BathQuestion, LoadOut, LoadQuestion
from ingredients.shelf_cache import cached_machine
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.ice_bath import IceBath, ice_for
from jalebi_core.heat.remedies import CHURNING_LOSS, HARDENING_LOSS
from jalebi_core.heat.sentences import mind_bath, say_bath
from jalebi_core.model.errors import HeatError
from jalebi_core.production.runs import NEEDS_ICE, filling_bucket
from jalebi_core.wording.message import Message, words
from kitchens.models import Kitchen, notation_of

_MOMENTS: Final = 24
_LAYER_G: Final = 900.0
_MOST_LAYERS: Final = 8
_DRAWN_C: Final = -5.0
_HARDENED_C: Final = -12.0


def bath_forecast(kitchen: Kitchen, question: BathQuestion) -> BathOut:
    """Return a bath over hours; raises HeatError where nothing is put in."""
    ice, notation = question.ice, notation_of(kitchen)
    if ice.ice_g + ice.water_g <= 0:
        raise HeatError("ask-nothing-put-in")
    bath = IceBath.of(ice.ice_g, salt_g=ice.salt_g, water_g=ice.water_g, water_c=ice.water_c).heated(question.heat_kj)
    moments, now = [], bath
    step_h = question.hours / _MOMENTS
    for at in range(_MOMENTS + 1):
        state = now.state()
        moments.append(
            BathMoment(
                minute=60 * step_h * at,
                t_c=state.t_c,
                ice_left_g=state.ice_left_g,
                salt_left_g=state.salt_left_g,
                brine_pct=state.brine_pct,
            )
        )
        now = now.left_standing(step_h, question.leak_w_k, question.room_c)
    gone = next((moment.minute for moment in moments if moment.ice_left_g < 1), None)
    return BathOut(
        moments=moments,
        takes_kj=bath.takes_kj,
        ends_at_c=bath.ends_at_c,
        lasts_min=gone,
        said=words(say_bath(bath), notation),
        mind=[words(one, notation) for one in mind_bath(bath)],
    )


def load_forecast(kitchen: Kitchen, question: LoadQuestion) -> LoadOut | None:
    """Return the ice and salt that churn a draft or harden it in the bucket; None for a draft with nothing in it."""
    mix = read_in_kitchen(kitchen, question).mix
    if mix is None:
        return None
    to_c = question.to_c if question.to_c is not None else _HARDENED_C if question.harden else _DRAWN_C
    if to_c >= question.start_c:
        raise HeatError("ask-not-colder", from_c=question.start_c, to_c=to_c)
    if question.bath_c > to_c:
        raise HeatError("ask-bath-too-warm", bath_c=question.bath_c, to_c=to_c)
    mass_g = question.mass_g or mix.mass_g
    table = thermal(mix.row(), mix.overrun_used_pct)
    warm, cold = table.h_at(np.array([question.start_c, to_c]))
    loss = HARDENING_LOSS if question.harden else CHURNING_LOSS
    load = ice_for(float(warm - cold) * mass_g / 1000 * loss, question.bath_c)
    machine = cached_machine(kitchen, question.machine)
    fills = machine is not None and machine.kind.key in NEEDS_ICE and not question.harden
    by_heat = load
    if machine is not None and fills:
        load = filling_bucket(load, machine)
    said = {
        "ice_g": round(load.ice_g, -1),
        "salt_g": round(load.salt_g, -1),
        "mass_g": mass_g,
        "name": "the mix",
        "from_c": question.start_c,
        "to_c": to_c,
    }
    more = load.ice_g > by_heat.ice_g + 1
    code = "ice-load-fills" if more else "ice-load-salt" if load.salt_g >= 1 else "ice-load"
    return LoadOut(
        heat_kj=load.heat_kj,
        ice_g=load.ice_g,
        salt_g=load.salt_g,
        layers=min(max(2, ceil(load.ice_g / _LAYER_G)), _MOST_LAYERS),
        said=words(Message(code, {**said, "heat_g": round(by_heat.ice_g, -1)}), notation_of(kitchen)),
    )
