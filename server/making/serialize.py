"""A batch as the station Make shows it: its steps in words, and what its events come to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from django.utils import timezone

from batches.as_made import made_or_fault
from batches.models import Batch, Event
from batches.replay import BatchState, StepState
from batches.serialize import serialize_late
from jalebi_core.advice.comparison import effects_of
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.verdict import verdict
from jalebi_core.heat.probe_log import Log
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.base_weight import base_gap
from jalebi_core.production.making.critical import NAMES, critical_points
from jalebi_core.production.making.process import pasteurisation_credit, process_quantities
from jalebi_core.production.making.steps import PARTS, MakingStep, Reading
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from making.bench import Making
from making.schemas import (
    CriticalOut,
    GapOut,
    LastPress,
    LineNoted,
    MakingState,
    MakingStepOut,
    PartOut,
    ReadingOut,
    StepNoted,
    WeighingOut,
)
from making.watching import logged_credit, logs_of
from plans.batches_of_plan import PlannedTimes

_READINGS: Final = {
    "ice_water_c": "It shows",
    "pot_c": "It is at",
    "heated_c": "It reached",
    "cooled_c": "It is at",
    "steep_c": "Steeped at",
    "strained_g": "What came of it",
    "prepared_g": "What came of it",
    "stayed_g": "Stayed in the sieve",
    "base_g": "The base weighs",
    "added": "What was added",
    "base_in_c": "The base is at",
    "draw_c": "Taken out at",
    "setting": "Setting used",
    "tubs": "Tubs filled",
    "core_c": "The core is at",
}
_TENTHS_BELOW_G: Final = 10.0
_LEAST_G: Final = 0.05
_BASE_STEP: Final = "base-weight"


def serialize_parts(steps: tuple[MakingStep, ...]) -> list[PartOut]:
    """Return the parts that a batch has."""
    there = {step.part for step in steps}
    return [PartOut(key=key, name=name) for key, name in PARTS.items() if key in there]


def serialize_steps(kitchen: Kitchen, making: Making, times: PlannedTimes | None) -> list[MakingStepOut]:
    """Return the steps in the kitchen's words, with the hours of its plan where it has one."""
    notation = notation_of(kitchen)
    return [_step(step, notation, times) for step in making.steps]


def _step(step: MakingStep, notation: Notation, times: PlannedTimes | None) -> MakingStepOut:
    planned = times.of(step.plan_step) if times and step.plan_step else None
    weighing = step.weighing
    return MakingStepOut(
        id=step.id,
        part=step.part,
        kind=step.kind,
        title=words(step.title, notation),
        plan_step=step.plan_step,
        do=[words(one, notation) for one in step.do],
        why=_maybe(step.why, notation),
        cue=_maybe(step.cue, notation),
        mind=[words(one, notation) for one in step.mind],
        lines=list(step.lines),
        weighing=WeighingOut.model_validate(weighing, from_attributes=True) if weighing else None,
        readings=[_reading(one) for one in step.readings],
        least_min=step.least_min,
        most_min=step.most_min,
        critical=step.critical,
        choice=list(step.choice),
        method=list(step.method),
        planned_from=planned[0] if planned else None,
        planned_to=planned[1] if planned else None,
    )


def _maybe(message: Message | None, notation: Notation) -> str | None:
    return words(message, notation) if message else None


def _reading(reading: Reading) -> ReadingOut:
    return ReadingOut(
        key=reading.key,
        name=_READINGS.get(reading.key, reading.key),
        unit=reading.unit,
        target=reading.target,
        low=reading.low,
        high=reading.high,
    )


def serialize_state(kitchen: Kitchen, batch: Batch, state: BatchState, making: Making) -> MakingState:
    """Return what the events of a batch come to."""
    notation, logs = notation_of(kitchen), logs_of(batch, state)
    made, fault = made_or_fault(batch, state)
    found = analyse_mix(made, freezer_c=kitchen.used_freezer_c) if made else None
    differs = made is not None and [line.grams for line in made.lines] != [line.grams for line in making.mix.lines]
    effect = effects_of(making.mix, [made])[0].message if made is not None and differs else None
    return MakingState(
        events=batch.events.count(),
        now=timezone.now(),
        steps={name: _noted(step) for name, step in state.steps.items()},
        lines=_lines(batch, state, making, notation),
        added=[f"{one['name']}, {notation.mass_of(one['grams'], '.0f')}" for one in state.added],
        otherwise=[str(event.value) for event in state.otherwise],
        gap=_gap(state, making, notation),
        paused=None if state.paused is None else str(state.paused),
        closed=state.closed.kind if state.closed else None,
        overrun_pct=state.overrun["number"] if state.overrun else None,
        quantities=process_quantities(
            making.steps,
            state.notes,
            making.run.minutes if making.run else None,
            making.run.fill_pct if making.run else None,
        ),
        critical=_critical(state, making, logs, notation),
        credit=_most(
            pasteurisation_credit(state.notes, kitchen.region), logged_credit(making.steps, logs, kitchen.region)
        ),
        verdict=words(verdict(found, kitchen.used_freezer_c), notation)
        if found
        else ""
        if fault
        else "Nothing went in.",
        fault=words(fault, notation) if fault else "",
        late=[serialize_late(event, making.mix, notation) for event in state.late],
        effect=words(effect, notation) if effect else "",
        last={device: _press(event) for device, event in state.last.items()},
    )


def _most(*values: float | None) -> float | None:
    return max((value for value in values if value is not None), default=None)


def _press(event: Event) -> LastPress:
    return LastPress(key=str(event.key), kind=event.kind, step=event.step, line=event.line)


def _noted(step: StepState) -> StepNoted:
    events = sorted(step.said.values(), key=lambda event: event.pk)
    return StepNoted(
        began_at=step.began_at,
        done_at=step.done_at,
        by=events[-1].by.name if events and events[-1].by else "",
        skipped=step.skipped,
        chosen=step.chosen,
        readings={key: value["number"] for key, value in step.readings.items()},
        also=[_said_too(event) for event in events[:-1] if event.by_id != events[-1].by_id or event.device],
    )


def _said_too(event: Event) -> str:
    who = event.by.name if event.by else "Somebody"
    what = event.value
    if event.kind == Event.Kind.WEIGHED and what:
        return f"{who}: {what['typed']}"
    if event.kind == Event.Kind.READ and what and what["number"] is not None:
        return f"{who}: {what['number']:g}"
    return f"{who}, on another device"


def _lines(batch: Batch, state: BatchState, making: Making, notation: Notation) -> list[LineNoted]:
    said = _said_of_weights(state, making, notation)
    found = []
    for number in range(len(batch.content["lines"])):
        weighed = state.weighed.get(number, {})
        events = (
            sorted(state.weighed_by[number].values(), key=lambda event: event.pk) if number in state.weighed_by else []
        )
        found.append(
            LineNoted(
                typed=weighed.get("typed"),
                grams=weighed.get("grams"),
                ticked=number in state.ticked,
                instead=state.swapped[number]["name"] if number in state.swapped else None,
                said=said.get(number, ""),
                also=[_said_too(event) for event in events[:-1] if event.kind == Event.Kind.WEIGHED],
            )
        )
    return found


def _said_of_weights(state: BatchState, making: Making, notation: Notation) -> dict[int, str]:
    """Return what a weight that is off does to the mix, by line."""
    mix, steps = making.mix, {step.lines[0]: step for step in making.steps if step.weighing}
    off = {at: one["grams"] - mix.lines[at].grams for at, one in state.weighed.items() if at in steps}
    noticed = [at for at, by in off.items() if _is_off(steps[at], mix.lines[at].grams + by)]
    tried = {at: _with(mix, at, mix.lines[at].grams + off[at]) for at in noticed}
    effects = effects_of(mix, [one for one in tried.values() if one is not None])
    of_line = dict(zip([at for at, one in tried.items() if one is not None], effects, strict=True))
    found = {}
    for at, by in off.items():
        grams = notation.mass_of(abs(by), ".0f" if abs(by) >= _TENTHS_BELOW_G else ".1f")
        if at in of_line:
            said = Message("weight-over" if by > 0 else "weight-under", {"by": grams, "effect": of_line[at].message})
            found[at] = words(said, notation)
        elif abs(by) >= _LEAST_G:
            said = Message("weight-over-unnoticed" if by > 0 else "weight-under-unnoticed", {"by": grams})
            found[at] = words(said, notation)
    return found


def _is_off(step: MakingStep, grams: float) -> bool:
    assert step.weighing is not None
    return not step.weighing.low_g - 1e-9 <= grams <= step.weighing.high_g + 1e-9


def _with(mix: Mix, at: int, grams: float) -> Mix | None:
    """Return a mix with one line of another weight; None where nothing is left of it."""
    line = mix.lines[at]
    try:
        return mix.replacing(at, type(line)(line.ingredient, grams, line.stage))
    except MixError:
        return None


def _gap(state: BatchState, making: Making, notation: Notation) -> GapOut | None:
    step = next((one for one in making.steps if one.id == _BASE_STEP), None)
    noted = state.steps[_BASE_STEP].readings.get("base_g") if _BASE_STEP in state.steps else None
    if step is None or noted is None or noted["number"] is None or step.readings[0].target is None:
        return None
    to = state.gap["to"] if state.gap else None
    try:
        found = base_gap(making.mix, step.readings[0].target, noted["number"])
    except MixError as error:
        return GapOut(gap_g=step.readings[0].target - noted["number"], said={"none": str(error)}, to=to)
    return GapOut(gap_g=found.gap_g, said={key: words(one, notation) for key, one in found.said.items()}, to=to)


def _critical(state: BatchState, making: Making, logs: Mapping[str, Log], notation: Notation) -> list[CriticalOut]:
    found = []
    for point in critical_points(making.steps, state.notes, logs):
        signed: Any = state.signed.get(point.key)
        released = signed is not None and signed.kind == Event.Kind.RELEASED
        found.append(
            CriticalOut(
                key=point.key,
                name=NAMES[point.key],
                state=point.state,
                limit=words(point.limit, notation),
                noted=_maybe(point.noted, notation) or "",
                by=point.by,
                at=point.at,
                signed_by=signed.by.name if signed and signed.by else "",
                released=signed.value["why"] if released else "",
            )
        )
    return found
