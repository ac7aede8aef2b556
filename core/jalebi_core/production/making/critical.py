"""Critical points of a batch: heated, cooled, aged, hardened, free of what ran before; each from what was noted.

Guidance only: local codes and licensed practice go before it.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Final, Literal

from jalebi_core.heat.pot import STAGES_C
from jalebi_core.heat.probe_log import Log, cooling_clock
from jalebi_core.production.making.process import (
    Noted,
    corrected,
    offset_k,
    readings,
    thermometer_check,
)
from jalebi_core.production.making.steps import MakingStep, Stage
from jalebi_core.wording.message import Message

NAMES: Final = {
    "heated": "Heated",
    "foreign_bodies": "Free of shell, stones and splinters",
    "cooled": "Cooled",
    "cold_base": "Kept cold",
    "aged": "Aged within its time",
    "allergens": "Machine free of other allergens",
    "hardened": "Hardened",
}
BEFORE_PACKING: Final = ("heated", "foreign_bodies", "cooled", "cold_base", "aged", "allergens")
"""What has to be settled before anything is packed."""
BEFORE_BASES: Final = ("heated", "foreign_bodies", "cooled", "cold_base")
"""What has to be settled before a base is put aside, to be churned another day."""
_FRIDGE_C: Final = 4.0
_LATE_MIN: Final = 30.0
"""What came in so long after it was pressed is said to be late; a phone in a cellar is back sooner."""
State = Literal["met", "open", "missed"]
MET: Final = "met"
OPEN: Final = "open"
MISSED: Final = "missed"


@dataclass(frozen=True, slots=True)
class CriticalPoint:
    """One point: its limit, what was noted, and whether that is met, missed, or still open; by whom and when."""

    key: str
    state: State
    limit: Message
    noted: Message | None = None
    by: str = ""
    at: datetime | None = None


def critical_points(
    steps: Sequence[MakingStep], notes: Sequence[Noted], logs: Mapping[str, Log] | None = None
) -> tuple[CriticalPoint, ...]:
    """Return the critical points that a batch has, in the order of the work.

    Parameters
    ----------
    logs : what a probe logged, (minute, °C) by step; where it did, cooling is judged by both its stages
    """
    by_key: dict[str, MakingStep] = {}
    for step in steps:
        if step.critical is not None:
            by_key.setdefault(step.critical, step)
    return tuple(_point(key, by_key[key], steps, notes, logs or {}) for key in NAMES if key in by_key)


def _point(
    key: str, step: MakingStep, steps: Sequence[MakingStep], notes: Sequence[Noted], logs: Mapping[str, Log]
) -> CriticalPoint:
    if key == "heated":
        return _heated(step, notes)
    if key == "cooled":
        return _cooled(step, notes, logs.get(step.id, ()))
    if key == "aged":
        return _aged(step, steps, notes)
    if key in ("hardened", "cold_base"):
        return _cold_enough(key, step, notes)
    done = _last(step, notes, "done")
    state: State = MET if done else OPEN
    limit = Message("critical-clean" if key == "allergens" else "critical-looked-through")
    return CriticalPoint(key, state, limit, None, done.by if done else "", done.at if done else None)


def _last(step: MakingStep, notes: Sequence[Noted], what: str, key: str = "") -> Noted | None:
    return next(
        (one for one in reversed(notes) if (one.step, one.what) == (step.id, what) and key in ("", one.key)), None
    )


def _first(step: MakingStep, notes: Sequence[Noted], what: str) -> Noted | None:
    """Return when something was first noted: pressed again it does not begin anew."""
    return min((one for one in notes if (one.step, one.what) == (step.id, what)), key=lambda one: one.at, default=None)


def _minutes(since: Noted, until: Noted) -> float:
    return (until.at - since.at).total_seconds() / 60


def _unusable(key: str, limit: Message, notes: Sequence[Noted]) -> CriticalPoint | None:
    """Return an open point where the thermometer is further off than a correction mends; None where it can be used."""
    check = thermometer_check(notes)
    if check is None or check.is_usable:
        return None
    return CriticalPoint(key, OPEN, limit, Message("critical-thermometer", {"t_c": check.shown_c}))


def _heated(step: MakingStep, notes: Sequence[Noted]) -> CriticalPoint:
    wanted = step.readings[0]
    limit = Message("critical-heated", {"t_c": wanted.low})
    if unusable := _unusable("heated", limit, notes):
        return unusable
    value = readings(notes).get((step.id, wanted.key))
    note = _last(step, notes, "read", wanted.key)
    if value is None or note is None or wanted.low is None:
        return CriticalPoint("heated", OPEN, limit)
    state: State = MET if value >= wanted.low else MISSED
    return CriticalPoint(
        "heated", state, limit, _said(Message("critical-reading", {"t_c": value}), note), note.by, note.at
    )


def _said(message: Message, note: Noted) -> Message:
    """Return what was noted, and how much later it came in where that was long after."""
    late_min = note.late_min
    return Message("critical-late", {"noted": message, "hours": late_min / 60}) if late_min >= _LATE_MIN else message


def _cooled(step: MakingStep, notes: Sequence[Noted], log: Log) -> CriticalPoint:
    limit = _cooled_limit(step)
    # A probe that never saw it hot was somewhere else.
    clock = cooling_clock(log, _FRIDGE_C) if log and log[0][1] >= STAGES_C[0] else None
    if clock is not None and (clock.reached[2] or (clock.is_late and clock.reached[1])):
        passed = Message("critical-logged", {"minutes": log[-1][0], "t_c": log[-1][1]})
        done = _last(step, notes, "done")
        state: State = MISSED if clock.is_late else MET
        return CriticalPoint("cooled", state, limit, passed, done.by if done else "", done.at if done else None)
    if unusable := _unusable("cooled", limit, notes):
        return unusable
    began, key, off = _first(step, notes, "began"), step.readings[0].key, offset_k(notes)
    read = (
        []
        if began is None
        else _read_since(began, [one for one in notes if (one.step, one.key) == (step.id, key)], off)
    )
    if not read:
        return CriticalPoint("cooled", OPEN, limit)
    found = [_stage_state(stage, read) for stage in _stages(step)]
    state = MISSED if MISSED in found else OPEN if OPEN in found else MET
    minutes, t_c, note = read[-1]
    said = Message("critical-cooled-in", {"t_c": t_c, "minutes": minutes})
    if state == MISSED and found[-1] == MET:
        stage = _stages(step)[0]
        said = Message("critical-cooled-unread", {"noted": said, "stage_c": stage.t_c, "hours": stage.within_min / 60})
    return CriticalPoint("cooled", state, limit, _said(said, note), note.by, note.at)


def _stages(step: MakingStep) -> tuple[Stage, ...]:
    """Return how fast a step has to cool; records from before both stages were judged have the last alone."""
    wanted = step.readings[0]
    assert wanted.high is not None
    assert step.most_min is not None
    return step.stages or (Stage(wanted.high, step.most_min),)


def _cooled_limit(step: MakingStep) -> Message:
    *first, last = _stages(step)
    limit = Message("critical-cooled", {"t_c": last.t_c, "hours": last.within_min / 60})
    if not first:
        return limit
    return Message(
        "critical-cooled-stages", {"stage_c": first[0].t_c, "stage_h": first[0].within_min / 60, "limit": limit}
    )


def _read_since(began: Noted, notes: Sequence[Noted], off_k: float) -> list[tuple[float, float, Noted]]:
    """Return the minute, °C and note of each reading since a step began, in their order; none from before it."""
    found = [(_minutes(began, one), value, one) for one in notes if (value := corrected(one, off_k)) is not None]
    return sorted((one for one in found if one[0] >= 0), key=lambda one: one[0])


def _stage_state(stage: Stage, read: Sequence[tuple[float, float, Noted]]) -> State:
    """Return whether a stage was shown to be reached in its time; what was first read later shows nothing."""
    if any(minute <= stage.within_min and t_c <= stage.t_c for minute, t_c, _ in read):
        return MET
    return MISSED if read[-1][0] > stage.within_min else OPEN


def _aged(step: MakingStep, steps: Sequence[MakingStep], notes: Sequence[Noted]) -> CriticalPoint:
    assert step.most_min is not None
    limit = Message("critical-aged", {"hours": step.most_min / 60})
    after = [one for one in steps if one.kind in ("churn", "shake", "scrape")]
    began = _first(step, notes, "began")
    ends = [note for one in after if (note := _first(one, notes, "began") or _last(one, notes, "done"))]
    last = max(ends, key=lambda note: note.at, default=None)
    if began is None or last is None or last.at < began.at:
        return CriticalPoint("aged", OPEN, limit)
    minutes = _minutes(began, last)
    state: State = MET if minutes <= step.most_min else MISSED
    return CriticalPoint(
        "aged", state, limit, _said(Message("critical-aged-for", {"hours": minutes / 60}), last), last.by, last.at
    )


def _cold_enough(key: str, step: MakingStep, notes: Sequence[Noted]) -> CriticalPoint:
    """Return whether what must get cold was read as cold; while it is not, it may still get there."""
    wanted = step.readings[0]
    assert wanted.high is not None
    limit = Message("critical-hardened" if key == "hardened" else "critical-cold-base", {"t_c": wanted.high})
    if unusable := _unusable(key, limit, notes):
        return unusable
    value, note = readings(notes).get((step.id, wanted.key)), _last(step, notes, "read", wanted.key)
    if value is None or note is None:
        return CriticalPoint(key, OPEN, limit)
    state: State = MET if value <= wanted.high else OPEN
    return CriticalPoint(key, state, limit, _said(Message("critical-reading", {"t_c": value}), note), note.by, note.at)
