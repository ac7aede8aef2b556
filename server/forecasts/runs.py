"""A draft in the kitchen's machines: the one that it is meant for, and all of them side by side."""

from __future__ import annotations

from dataclasses import replace
from math import floor, isnan

from analysis.kitchen_drafts import read_in_kitchen
from forecasts.schemas import MachineRun, RemedyOut, RunMoment, RunOut, RunQuestion
from ingredients.shelf_cache import cached_machine, machines_of
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.ice_bath import IceBath
from jalebi_core.heat.remedies import Remedy
from jalebi_core.heat.sentences import say_churned, say_remedy, why_churned
from jalebi_core.model.errors import HeatError
from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import Machine, Programme
from jalebi_core.production.runs import RunForecast, forecast_run, is_stirred
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.learnt_marks import learnt_marks
from kitchens.models import Kitchen, notation_of

_NEVER_STIRRED = ("no-churn", "granita")
"""Styles that no machine stirs."""


def run_forecast(kitchen: Kitchen, question: RunQuestion) -> RunOut | None:
    """Return how a draft freezes in the machine that it is meant for; None where none is chosen, or none stirs it."""
    mix = read_in_kitchen(kitchen, question).mix
    machine = cached_machine(kitchen, question.machine)
    if mix is None or machine is None or question.machine is None or not is_churned(mix, machine):
        return None
    conditions, notation = conditions_of(kitchen, question), notation_of(kitchen)
    found = forecast_run(mix, machine, conditions, question.runs, _programme(machine, question.programme))
    tuned = Message("tuned", {"count": machine.tuning.runs}) if machine.tuning.runs else Message("untuned")
    return RunOut(
        **_machine_run(kitchen, question.machine, machine, found, conditions).model_dump(exclude={"said"}),
        said=words(found.said, notation),
        earliest_min=found.earliest_min,
        latest_min=found.latest_min,
        tuned=words(tuned, notation),
        mind=[words(one, notation) for one in found.mind],
        remedies=[_remedy(one, machine, conditions, notation) for one in found.remedies],
        ice_g=found.ice.ice_g if found.ice else None,
        salt_g=found.ice.salt_g if found.ice else None,
        why=words(why_churned(found.run, question.start_c), notation),
        seen=[
            RunMoment(minute=minute, t_c=t_c, wall_c=wall_c, frozen_pct=frozen)
            for minute, t_c, wall_c, frozen in found.run.seen
        ],
        learnt=learnt_marks(kitchen.learnt.of_machines([machine.name])),
    )


def machine_runs(kitchen: Kitchen, question: RunQuestion) -> list[MachineRun]:
    """Return how a draft freezes in each machine of a kitchen that stirs it."""
    mix = read_in_kitchen(kitchen, question).mix
    if mix is None:
        return []
    conditions = conditions_of(kitchen, question)
    stirred = {number: one for number, one in machines_of(kitchen).items() if is_churned(mix, one)}
    found = {
        number: forecast_run(mix, one, conditions, programme=_programme(one, None), helped=False)
        for number, one in stirred.items()
    }
    return [_machine_run(kitchen, number, stirred[number], one, conditions) for number, one in found.items()]


def conditions_of(kitchen: Kitchen, question: RunQuestion) -> Conditions:
    """Return how a run begins; a canister was in the kitchen's own freezer where none is named."""
    ice = question.ice
    if ice is not None and ice.ice_g + ice.water_g <= 0:
        raise HeatError("ask-nothing-put-in")
    return Conditions(
        start_c=question.start_c,
        room_c=question.room_c,
        freezer_c=kitchen.used_freezer_c if question.freezer_c is None else question.freezer_c,
        prefreeze_h=question.prefreeze_h,
        gel_frozen_pct=question.gel_frozen_pct,
        bath=IceBath.of(ice.ice_g, salt_g=ice.salt_g, water_g=ice.water_g, water_c=ice.water_c) if ice else None,
    )


def is_churned(mix: Mix, machine: Machine) -> bool:
    return is_stirred(machine.kind) and mix.style not in _NEVER_STIRRED


def _programme(machine: Machine, name: str | None) -> Programme | None:
    """Return a programme by its name, the usual one where none is named; raises HeatError for one that is not there."""
    if name is None:
        return machine.programmes[0] if machine.programmes else None
    found = next((one for one in machine.programmes if one.name == name), None)
    if found is None:
        known = ", ".join(one.name for one in machine.programmes) or "none"
        raise HeatError("programme-unknown", name=name, machine=machine.name, known=known)
    return found


def _machine_run(
    kitchen: Kitchen, number: int, machine: Machine, found: RunForecast, conditions: Conditions
) -> MachineRun:
    run = found.run
    kept_l = found.litres * (1 - kitchen.loss_pct / 100)
    return MachineRun(
        machine=number,
        name=machine.name,
        runs=found.runs,
        mass_g=found.mass_g,
        drawn=run.drawn,
        minutes=run.minutes,
        t_c=run.t_c,
        frozen_pct=run.frozen_pct,
        begins_pct=None if isnan(run.begins_frozen_pct) else run.begins_frozen_pct,
        left_pct=None if isnan(run.left_frozen_pct) else run.left_frozen_pct,
        air_pct=found.air_pct,
        litres=kept_l,
        scoops=floor(1000 * kept_l / kitchen.scoop_ml + 1e-9),
        said=words(say_churned(run, conditions), notation_of(kitchen)),
    )


def _remedy(remedy: Remedy, machine: Machine, conditions: Conditions, notation: Notation) -> RemedyOut:
    then = words(say_churned(remedy.run, replace(conditions, bath=None)), notation)
    return RemedyOut(
        kind=remedy.kind,
        to=remedy.to,
        said=words(say_remedy(remedy), notation),
        then=f"{then} {machine.kind.before}" if remedy.kind == "runs" else then,
        salt_g=remedy.ice.salt_g if remedy.ice else None,
    )
