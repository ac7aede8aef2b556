"""What the events of a batch come to: they are added, never changed, and replayed into its present state."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, Final, cast

from django.db.models import Prefetch

from batches.models import Batch, Event
from jalebi_core.formats.snapshot import read_ingredient, read_mix_snapshot
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.production.making.base_weight import without_water
from jalebi_core.production.making.process import Noted

WITH_EVENTS: Final = Prefetch("events", Event.objects.select_related("by"))
"""To be fetched with batches that are replayed."""


@dataclass(slots=True)
class StepState:
    """What was noted of one step: when it began and was done, what was left out and why, what was chosen.

    ``said`` is what each device said last, so that two who did the same are both named.
    """

    began_at: datetime | None = None
    done_at: datetime | None = None
    skipped: str | None = None
    chosen: str | None = None
    readings: dict[str, Any] = field(default_factory=dict)
    said: dict[str, Event] = field(default_factory=dict)


@dataclass(slots=True)
class BatchState:
    """What the events of a batch come to: amounts and ticks by number of the line, its steps, a note, taste and run.

    swapped : what went in instead, by line; added : what went in beside the lines; gap : grams and where they went
    closed : how and when it ended; otherwise : what else was not as planned
    """

    weighed: dict[int, dict[str, Any]] = field(default_factory=dict)
    ticked: set[int] = field(default_factory=set)
    note: str = ""
    tasted: str | None = None
    churned: dict[str, Any] | None = None
    steps: dict[str, StepState] = field(default_factory=lambda: defaultdict(StepState))
    swapped: dict[int, dict[str, Any]] = field(default_factory=dict)
    added: list[dict[str, Any]] = field(default_factory=list)
    gap: dict[str, Any] | None = None
    otherwise: list[Event] = field(default_factory=list)
    paused: dict[str, Any] | None = None
    closed: Event | None = None
    signed: dict[str, Event] = field(default_factory=dict)
    overrun: dict[str, Any] | None = None
    weighed_by: dict[int, dict[str, Event]] = field(default_factory=lambda: defaultdict(dict))
    last: dict[str, Event] = field(default_factory=dict)
    """The last press of each device, which its undo takes back."""
    notes: list[Noted] = field(default_factory=list)


def in_order(events: Iterable[Event]) -> list[Event]:
    """Return events as they came, but those of one device in the order in which they were pressed there."""
    came = sorted(events, key=lambda event: event.pk)
    pressed = sorted((event for event in came if event.device), key=lambda event: (event.counter, event.pk))
    of_device: dict[str, Iterator[Event]] = {
        device: iter([event for event in pressed if event.device == device])
        for device in {one.device for one in pressed}
    }
    return [next(of_device[event.device]) if event.device else event for event in came]


def replay(events: Iterable[Event]) -> BatchState:
    """Return what events come to; one that was undone counts for nothing, unless its undoing was undone too."""
    ordered, gone = in_order(events), set[str]()
    for event in reversed(ordered):
        if event.kind == Event.Kind.UNDONE and str(event.key) not in gone:
            gone.add(str(event.value))
    state = BatchState()
    for event in ordered:
        if event.kind != Event.Kind.UNDONE and str(event.key) not in gone:
            _replay(state, event)
            if event.device:
                state.last[event.device] = event
    return state


def _replay(state: BatchState, event: Event) -> None:
    if event.line is not None:
        _replay_line(state, event.line, event)
    elif event.step:
        _replay_step(state, event.step, event)
    else:
        _replay_batch(state, event)


def _replay_line(state: BatchState, line: int, event: Event) -> None:
    if event.kind == Event.Kind.SWAPPED:
        if event.value is None:
            state.swapped.pop(line, None)
        else:
            state.swapped[line] = event.value
    elif event.kind == Event.Kind.TICKED:
        (state.ticked.add if event.value else state.ticked.discard)(line)
        state.weighed_by[line][event.device] = event
    elif event.value is None:
        state.weighed.pop(line, None)
    else:
        state.weighed[line] = event.value
        state.weighed_by[line][event.device] = event


def _replay_step(state: BatchState, name: str, event: Event) -> None:
    step, value = state.steps[name], cast(Any, event.value)
    who = event.by.name if event.by else ""
    if event.kind == Event.Kind.BEGAN:
        step.began_at, step.done_at, step.skipped = step.began_at or event.at, None, None
        state.notes.append(Noted(name, "began", event.at, by=who))
    elif event.kind == Event.Kind.DONE:
        step.done_at = event.at if event.value is not False else None
        step.skipped = None
        if step.done_at:
            state.notes.append(Noted(name, "done", event.at, by=who))
    elif event.kind == Event.Kind.SKIPPED:
        step.skipped, step.done_at = str(event.value), event.at
    elif event.kind == Event.Kind.CHOSE:
        step.chosen = str(event.value)
    elif event.kind == Event.Kind.READ:
        key, number = value["key"], value["number"]
        step.readings[key] = value
        state.notes.append(Noted(name, "read", event.at, key, number, who))
    else:
        state.otherwise.append(event)
        return
    step.said[event.device] = event


def _replay_batch(state: BatchState, event: Event) -> None:
    kind, value = event.kind, cast(Any, event.value)
    if kind == Event.Kind.NOTE:
        state.note = value or ""
    elif kind == Event.Kind.TASTED:
        state.tasted = value
    elif kind == Event.Kind.CHURNED:
        state.churned = value
    elif kind == Event.Kind.ADDED:
        state.added.append(value)
    elif kind == Event.Kind.GAP:
        state.gap = value
    elif kind in (Event.Kind.PAUSED, Event.Kind.RESUMED):
        state.paused = value if kind == Event.Kind.PAUSED else None
    elif kind in (Event.Kind.ABANDONED, Event.Kind.FINISHED):
        state.closed = event
    elif kind in (Event.Kind.SIGNED, Event.Kind.RELEASED):
        state.signed[value["point"]] = event
    elif kind == Event.Kind.OVERRUN:
        state.overrun = value
        who = event.by.name if event.by else ""
        state.notes.append(Noted("", "read", event.at, "overrun_pct", value["number"], who))
    else:
        state.otherwise.append(event)


def mix_as_made(batch: Batch, state: BatchState) -> Mix | None:
    """Return the mix as made: weighed where somebody weighed, planned elsewhere; None when nothing of it went in.

    What went in instead stands in its line, what was added at the end, and water that boiled off is gone.
    """
    content = batch.content
    lines = [{**line, **state.swapped.get(number, {})} for number, line in enumerate(content["lines"])]
    grams = [state.weighed.get(number, line)["grams"] for number, line in enumerate(content["lines"])]
    went_in = any(weight for line, weight in zip(lines, grams, strict=True) if line["stage"] not in MIX_IN_STAGES)
    if not went_in:
        return None
    mix = read_mix_snapshot({**content, "lines": lines}, grams)
    if state.added:
        more = tuple(
            Line(read_ingredient(one["ingredient"], one["slug"]), one["grams"], one["stage"]) for one in state.added
        )
        mix = Mix(mix.name, (*mix.lines, *more), mix.style, mix.overrun_pct, mix.aims)
    if state.gap and state.gap["to"] == "water":
        mix = without_water(mix, state.gap["grams"])
    return mix
