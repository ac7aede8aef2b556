"""Runs that were logged, for their machine to learn from."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from uuid import UUID

from django.db import transaction

from batches.as_made import made_or_planned
from batches.models import Batch, Event
from batches.replay import replay
from batches.schemas import Churned
from jalebi_core.heat.churn import Conditions
from jalebi_core.model.errors import MachineError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.runs import is_stirred, logged_factor
from kitchens.models import Kitchen, Machine, Person


@transaction.atomic
def log_run(person: Person, batch: Batch, run: Churned | None, key: UUID) -> None:
    """Record how a batch was churned, or take it back where there is none; its machine learns from it."""
    value = _value(person.kitchen, batch, run) if run else None
    Event.objects.create(batch=batch, key=key, kind=Event.Kind.CHURNED, value=value, by=person)
    person.kitchen.note_logged()


def _value(kitchen: Kitchen, batch: Batch, run: Churned) -> dict[str, Any]:
    machine = Machine.objects.of(kitchen).get(pk=run.machine)
    core = machine.to_core()
    if not is_stirred(core.kind):
        raise MachineError("machine-not-stirred", name=machine.name)
    made = made_or_planned(batch, replay(batch.events.select_related("by")))
    went_in = _of_mass(made, run.grams) if run.grams else made
    conditions = Conditions(start_c=run.start_c, prefreeze_h=run.prefreeze_h, freezer_c=kitchen.freezer_c)
    factor = logged_factor(went_in, core, conditions, run.minutes)
    return {**run.model_dump(), "grams": went_in.mass_g, "machine_name": machine.name, "factor": factor}


def _of_mass(mix: Mix, grams: float) -> Mix:
    times = grams / mix.mass_g
    return replace(mix, lines=tuple(Line(line.ingredient, times * line.grams, line.stage) for line in mix.lines))
