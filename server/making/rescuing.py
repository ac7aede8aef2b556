"""Rescues of a batch: what is done when something goes wrong, and how it would go in another machine."""

from __future__ import annotations

from typing import Final

from batches.replay import BatchState
from forecasts.runs import is_churned
from ingredients.shelf_cache import machines_of
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.sentences import say_churned
from jalebi_core.production.making.rescues import AtHand, rescues
from jalebi_core.production.runs import forecast_run
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, notation_of
from making.bench import Making, forecast_of
from making.schemas import OtherMachine, RescueOut
from making.watching import step_of

_IN_ANOTHER: Final = ("does-not-set", "spent-bowl")


def rescues_of(kitchen: Kitchen, state: BatchState, making: Making, step_id: str) -> list[RescueOut]:
    """Return what can be done for a batch; raises MixError where it has no such step."""
    step, notation = step_of(making, step_id), notation_of(kitchen)
    machine = machines_of(kitchen).get(making.machine) if making.machine is not None else None
    missing = tuple(
        number
        for number, line in enumerate(making.mix.lines)
        if number not in state.ticked and line.grams > 0 and line in making.mix.base
    )
    at = AtHand(making.mix, machine, forecast_of(kitchen, making), kitchen.used_freezer_c, missing)
    found = rescues(at, step.part)
    others = _others(kitchen, making) if any(one.key in _IN_ANOTHER for one in found) else []
    return [
        RescueOut(
            key=one.key,
            name=words(one.name, notation),
            here=step.part in one.parts,
            now=[notation.text(words(message, notation)) for message in one.now],
            throw=notation.text(words(one.throw, notation)),
            others=others if one.key in _IN_ANOTHER else [],
        )
        for one in found
    ]


def _others(kitchen: Kitchen, making: Making) -> list[OtherMachine]:
    """Return how a run would go in each other machine of the kitchen."""
    found, notation = [], notation_of(kitchen)
    conditions = Conditions(freezer_c=kitchen.used_freezer_c)
    for number, machine in machines_of(kitchen).items():
        if number != making.machine and is_churned(making.mix, machine):
            run = forecast_run(making.mix, machine, conditions, helped=False)
            said = words(say_churned(run.run, conditions), notation)
            found.append(OtherMachine(id=number, name=machine.name, runs=run.runs, drawn=run.run.drawn, said=said))
    return found
