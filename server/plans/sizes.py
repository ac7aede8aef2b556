"""What is made for a service: how many grams of base, in which machines, in how many runs and how long."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil
from typing import Final

from analysis.kitchen_drafts import read_in_kitchen
from analysis.scale_schemas import ScaledLine, ScaleQuestion
from analysis.scaling import scaled_draft
from forecasts.runs import is_churned
from ingredients.shelf_cache import machines_of
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.tub import vessel
from jalebi_core.model.errors import PlanError
from jalebi_core.model.mix import Mix as CoreMix
from jalebi_core.production.machines import Machine as CoreMachine
from jalebi_core.production.machines import fill_of
from jalebi_core.production.runs import forecast_run
from jalebi_core.production.scaling import scaled, times_for_mass
from jalebi_core.production.schedule.mix_facts import MixFacts, facts_of
from kitchens.models import Kitchen, Vessel, constants_of
from mixes.drafts import draft_of
from mixes.models import Mix
from plans.schemas import ServiceIn

_USUAL_TUB_L: Final = 0.5
_MOST_RUNS: Final = 12
_RUNS_BEFORE_ICE: Final = 3
_PREFREEZE_H: Final = 24.0


@dataclass(frozen=True, slots=True)
class Churning:
    """How a service's base runs through a machine."""

    machine: int
    runs: int
    minutes: int
    ice_g: float
    salt_g: float


@dataclass(frozen=True, slots=True)
class Sized:
    """What a service takes.

    grams : of base; litres : in the tub; lines : as they are weighed, with grams by ingredient
    churning : the machines that need the fewest runs; overrun_pct : of the mix; mix : itself, of that size
    """

    style: str
    grams: int
    litres: float
    overrun_pct: int
    lines: list[ScaledLine]
    needed: dict[str, float]
    facts: MixFacts
    churning: list[Churning]
    mix: CoreMix


def size_service(kitchen: Kitchen, mix: Mix, service: ServiceIn) -> Sized:
    """Work out what a service takes; raises JalebiError for an amount or a mix that cannot be made."""
    draft = draft_of(mix)
    by, amount = service.by, service.amount
    if by == "tubs":
        by, amount = "litres", f"{_count(amount) * _tub_l(kitchen):g} l"
    question = ScaleQuestion.model_validate({**draft.model_dump(), "by": by, "amount": amount})
    read = read_in_kitchen(kitchen, question).mix
    if read is None:
        raise PlanError("plan-mix-empty", mix=mix.name)
    found = scaled_draft(kitchen, question)
    whole = scaled(read, times_for_mass(read, found.mass_g), constants_of(kitchen)).mix
    needed: dict[str, float] = {}
    for line in whole.lines:
        needed[line.ingredient.slug] = needed.get(line.ingredient.slug, 0.0) + line.grams
    churning = [] if read.style == "no-churn" else _churning(kitchen, whole, mix.name, mix.machine_id)
    return Sized(
        style=read.style or "",
        grams=max(round(sum(line.grams for line in whole.base)), 1),
        litres=found.litres,
        overrun_pct=round(read.overrun_used_pct),
        lines=found.lines,
        needed=needed,
        facts=facts_of(whole),
        churning=churning,
        mix=whole,
    )


def _churning(kitchen: Kitchen, mix: CoreMix, name: str, meant_for: int | None) -> list[Churning]:
    """Return the machines that need the fewest runs.

    Ice and salt are for mixes that are meant for them, and for what nothing else holds.
    """
    found = [
        one
        for number, machine in machines_of(kitchen).items()
        if is_churned(mix, machine) and (one := _run(kitchen, number, machine, mix)) is not None
    ]
    if not found:
        raise PlanError("plan-no-machine", mix=name)
    wanted = [one for one in found if one.machine == meant_for or not one.ice_g]
    found = [one for one in wanted if one.runs <= _RUNS_BEFORE_ICE] or found
    fewest = min(one.runs for one in found)
    if fewest > _MOST_RUNS:
        raise PlanError("plan-too-many-runs", mix=name, runs=fewest, most=_MOST_RUNS)
    return [one for one in found if one.runs == fewest]


def _run(kitchen: Kitchen, number: int, machine: CoreMachine, mix: CoreMix) -> Churning | None:
    """Return how a mix runs through a machine; None where it never comes to be drawn there."""
    runs = fill_of(mix, machine).runs
    if runs > _MOST_RUNS:
        return Churning(number, runs, 30, 0.0, 0.0)
    conditions = Conditions(freezer_c=kitchen.used_freezer_c, prefreeze_h=_PREFREEZE_H)
    found = forecast_run(mix, machine, conditions, runs, helped=False)
    if not found.run.drawn:
        return None
    ice = found.ice
    return Churning(
        number,
        runs,
        max(ceil(found.run.minutes), 1),
        ice.ice_g * runs if ice else 0.0,
        ice.salt_g * runs if ice else 0.0,
    )


def _count(amount: str) -> float:
    try:
        return float(amount.replace(",", ".").split()[0])
    except (ValueError, IndexError):
        raise PlanError("service-no-amount", text=amount) from None


def _tub_l(kitchen: Kitchen) -> float:
    """Return the L of a tub of this kitchen, the first of its vessels."""
    row = Vessel.objects.of(kitchen).first()
    if row is None:
        return _USUAL_TUB_L
    shape = (row.shape, row.height_mm, row.diameter_mm, row.length_mm, row.width_mm)
    return vessel(*shape, row.wall, row.lid).litres
