"""What the events of a batch come to: they are added, never changed, and replayed into its present state."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, Final, cast

from django.db.models import Prefetch

from batches.models import Event
from jalebi_core.production.making.process import Noted

MACHINE_STEP: Final = "machine"
"""The step under which it is noted that another machine was taken."""
_NUMBER: Final = re.compile(r"[0-9]{1,18}")
"""As the database counts; no other digits, of which there are more than ten."""
_CLOSING: Final = ("finished", "abandoned")
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
    late: list[Event] = field(default_factory=list)
    """Presses that came in after the batch was closed, and that nobody has accepted or declined yet."""
    notes: list[Noted] = field(default_factory=list)


OF_WORK: Final = (
    "weighed", "ticked", "began", "done", "skipped", "read", "chose", "otherwise", "added", "swapped", "gap", "paused",
    "resumed",
)  # fmt: skip
"""What changes the making of a batch; once that is closed, it waits until somebody accepts it."""
_SETTLES: Final = ("accepted", "declined")
_ABOUT_OTHERS: Final = ("undone", *_SETTLES)


def machine_number(chosen: str | None) -> int | None:
    """Return the number of a machine that was chosen; None where that is none."""
    return int(chosen) if chosen and _NUMBER.fullmatch(chosen) else None


def in_order(events: Iterable[Event]) -> list[Event]:
    """Return events in the order in which they were pressed, those of one device as they were counted there."""
    by_time = sorted(events, key=lambda event: (event.at, event.pk))
    counted = sorted((event for event in by_time if event.device), key=lambda event: (event.counter, event.pk))
    of_device: dict[str, Iterator[Event]] = {
        device: iter([event for event in counted if event.device == device])
        for device in {one.device for one in counted}
    }
    return [next(of_device[event.device]) if event.device else event for event in by_time]


def replay(events: Iterable[Event]) -> BatchState:
    """Return what events come to.

    One that was undone counts for nothing, unless its undoing was undone too; one that came in after the batch was
    closed counts from when it is accepted, before whatever was said of the same until then.
    """
    ordered = in_order(events)
    waiting = _came_late(ordered)
    gone = _taken_back(event for event in ordered if str(event.key) not in waiting)
    by_key = {str(event.key): event for event in ordered}
    accepted = {str(event.value) for event in ordered if event.kind == Event.Kind.ACCEPTED}
    state = BatchState()
    for event in ordered:
        key = str(event.key)
        if key in waiting:
            state.late.append(event)
        elif event.kind == Event.Kind.ACCEPTED and not {key, str(event.value)} & gone:
            if by_key[str(event.value)].kind not in _ABOUT_OTHERS:
                _replay(state, by_key[str(event.value)])
        elif event.kind not in _ABOUT_OTHERS and key not in gone | accepted:
            _replay(state, event)
            if event.device:
                state.last[event.device] = event
    return state


def _taken_back(ordered: Iterable[Event]) -> set[str]:
    """Return the keys of events that were undone, and whose undoing was not; and of those that were declined."""
    gone: set[str] = set()
    for event in reversed(list(ordered)):
        if event.kind in ("undone", "declined") and str(event.key) not in gone:
            gone.add(str(event.value))
    return gone


def _came_late(ordered: Sequence[Event]) -> set[str]:
    """Return the keys of presses at the work of a batch that came in after another device had closed it.

    Those that were accepted or declined wait no more.
    """
    gone = _taken_back(ordered)
    closed = max(
        (one for one in ordered if one.kind in _CLOSING and str(one.key) not in gone),
        key=lambda event: event.pk,
        default=None,
    )
    if closed is None:
        return set()
    settled = {str(one.value) for one in ordered if one.kind in _SETTLES and str(one.key) not in gone}
    after = [one for one in ordered if one.pk > closed.pk and one.device not in ("", closed.device)]
    late = {str(one.key) for one in after if one.kind in OF_WORK}
    at_work_before = {str(one.key) for one in ordered if one.kind in OF_WORK} - late
    late |= {str(one.key) for one in after if one.kind == "undone" and str(one.value) in at_work_before}
    return late - settled


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
    if event.kind == Event.Kind.BEGAN:
        step.began_at, step.done_at, step.skipped = step.began_at or event.at, None, None
        state.notes.append(_noted(name, "began", event))
    elif event.kind == Event.Kind.DONE:
        step.done_at = event.at if event.value is not False else None
        step.skipped = None
        if step.done_at:
            state.notes.append(_noted(name, "done", event))
    elif event.kind == Event.Kind.SKIPPED:
        step.skipped, step.done_at = str(event.value), event.at
    elif event.kind == Event.Kind.CHOSE:
        step.chosen = str(event.value)
    elif event.kind == Event.Kind.READ:
        key, number = value["key"], value["number"]
        step.readings[key] = value
        state.notes.append(_noted(name, "read", event, key, number))
    else:
        state.otherwise.append(event)
        return
    step.said[event.device] = event


def _noted(step: str, what: str, event: Event, key: str = "", value: float | None = None) -> Noted:
    late = event.arrived_at - event.at if event.arrived_at else timedelta()
    by = event.by.name if event.by else ""
    return Noted(step, what, event.at, key, value, by, late.total_seconds() / 60)


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
        state.notes.append(_noted("", "read", event, "overrun_pct", value["number"]))
    else:
        state.otherwise.append(event)
