"""What follows of presses: the plan hears of steps that began and ended, and a machine learns from its run."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from uuid import NAMESPACE_URL, uuid5

from batches.logged_runs import log_run
from batches.models import Batch
from batches.replay import BatchState
from batches.schemas import Churned
from instruments.models import Watch
from jalebi_core.model.errors import JalebiError
from jalebi_core.production.making.process import process_quantities
from jalebi_core.production.making.steps import MakingStep
from kitchens.models import Person
from making.bench import Making
from making.watching import end_watches, watched_minutes
from plans.batches_of_plan import follow_batch, plan_of
from plans.planning_job import begin_planning

_LEAST_RUN_MIN = 2.0
_LONGEST_RUN_MIN = 600.0


def follow(person: Person, batch: Batch, state: BatchState, making: Making) -> None:
    """Let plan and machine know what was noted of a batch."""
    end_watches(batch, [name for name, step in state.steps.items() if step.done_at is not None])
    _log_run(person, batch, state, making)
    found = plan_of(batch)
    if found is None:
        return
    steps = [step for step in making.steps if step.plan_step is not None]
    if follow_batch(person, found, _begun(steps, state), _ended(steps, state)):
        try:
            begin_planning(person, found.plan, anew=True)
        except JalebiError:
            return  # what happened is kept all the same; the plan says why it cannot be made anew


def _begun(steps: list[MakingStep], state: BatchState) -> Iterator[tuple[str, datetime]]:
    """Yield the planned steps of which anything was noted, with the first time of that."""
    first: dict[str, datetime] = {}
    for step in steps:
        for at in _times(step, state):
            assert step.plan_step is not None
            first[step.plan_step] = min(first.get(step.plan_step, at), at)
    yield from first.items()


def _ended(steps: list[MakingStep], state: BatchState) -> Iterator[tuple[str, datetime]]:
    """Yield the planned steps of which everything is done or left out, with the last time of that."""
    for name in dict.fromkeys(step.plan_step for step in steps):
        own = [step for step in steps if step.plan_step == name]
        if name is not None and all(_is_done(step, state) for step in own):
            yield name, max(max(_times(step, state)) for step in own)


def _is_done(step: MakingStep, state: BatchState) -> bool:
    if step.weighing is not None:
        return step.weighing.line in state.ticked
    return step.id in state.steps and state.steps[step.id].done_at is not None


def _times(step: MakingStep, state: BatchState) -> list[datetime]:
    if step.weighing is not None:
        return [event.at for event in state.weighed_by.get(step.weighing.line, {}).values()]
    noted = state.steps.get(step.id) if step.id in state.steps else None
    return [at for at in (noted.began_at, noted.done_at) if at is not None] if noted else []


def _log_run(person: Person, batch: Batch, state: BatchState, making: Making) -> None:
    """Log the first run once it is done, for its machine to learn from; nobody has to type it again."""
    step = next((one for one in making.steps if one.id == "churn.1"), None)
    noted = state.steps.get("churn.1") if "churn.1" in state.steps else None
    if step is None or noted is None or state.churned or making.machine is None or making.run is None:
        return
    if noted.began_at is None or noted.done_at is None or noted.skipped:
        return
    by_watch = watched_minutes(Watch.objects.of(batch.kitchen_id).filter(batch=batch, step=step.id))
    minutes = by_watch or (noted.done_at - noted.began_at).total_seconds() / 60
    if not _LEAST_RUN_MIN <= minutes <= _LONGEST_RUN_MIN:
        return
    base_c = process_quantities(making.steps, state.notes).get("base_in_c", 4.0)
    run = Churned(
        machine=making.machine,
        minutes=round(minutes, 1),
        grams=making.run.mass_g,
        start_c=min(max(base_c, -5.0), 100.0),
    )
    log_run(person, batch, run, uuid5(NAMESPACE_URL, f"batch {batch.pk} churn.1"))
