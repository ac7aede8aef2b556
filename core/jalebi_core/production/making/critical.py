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
from jalebi_core.production.making.process import Noted, readings
from jalebi_core.production.making.steps import MakingStep
from jalebi_core.wording.message import Message

NAMES: Final = {
    "heated": "Heated",
    "cooled": "Cooled",
    "aged": "Aged within its time",
    "allergens": "Machine free of other allergens",
    "hardened": "Hardened",
}
BEFORE_PACKING: Final = ("heated", "cooled", "aged", "allergens")
"""What has to be settled before anything is packed."""
_FRIDGE_C: Final = 4.0
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
    if key == "hardened":
        return _hardened(step, notes)
    done = _noted(step, notes, "done")
    state: State = MET if done else OPEN
    return CriticalPoint(
        key, state, Message("critical-clean"), None, done.by if done else "", done.at if done else None
    )


def _noted(step: MakingStep, notes: Sequence[Noted], what: str, key: str = "") -> Noted | None:
    return next(
        (one for one in reversed(notes) if (one.step, one.what) == (step.id, what) and key in ("", one.key)), None
    )


def _heated(step: MakingStep, notes: Sequence[Noted]) -> CriticalPoint:
    wanted = step.readings[0]
    limit = Message("critical-heated", {"t_c": wanted.low})
    value = readings(notes).get((step.id, wanted.key))
    note = _noted(step, notes, "read", wanted.key)
    if value is None or note is None or wanted.low is None:
        return CriticalPoint("heated", OPEN, limit)
    state: State = MET if value >= wanted.low else MISSED
    return CriticalPoint("heated", state, limit, Message("critical-reading", {"t_c": value}), note.by, note.at)


def _cooled(step: MakingStep, notes: Sequence[Noted], log: Log) -> CriticalPoint:
    wanted = step.readings[0]
    assert wanted.high is not None
    assert step.most_min is not None
    limit = Message("critical-cooled", {"t_c": wanted.high, "hours": step.most_min / 60})
    # A probe that never saw it hot was somewhere else.
    clock = cooling_clock(log, _FRIDGE_C) if log and log[0][1] >= STAGES_C[0] else None
    if clock is not None and (clock.reached[2] or (clock.is_late and clock.reached[1])):
        passed = Message("critical-logged", {"minutes": log[-1][0], "t_c": log[-1][1]})
        done = _noted(step, notes, "done")
        return CriticalPoint(
            "cooled",
            MISSED if clock.is_late else MET,
            limit,
            passed,
            done.by if done else "",
            done.at if done else None,
        )
    began, note = _noted(step, notes, "began"), _noted(step, notes, "read", wanted.key)
    value = readings(notes).get((step.id, wanted.key))
    if began is None or note is None or value is None:
        return CriticalPoint("cooled", OPEN, limit)
    minutes = (note.at - began.at).total_seconds() / 60
    said = Message("critical-cooled-in", {"t_c": value, "minutes": minutes})
    late = minutes > step.most_min
    state: State = MISSED if late else MET if value <= wanted.high else OPEN
    return CriticalPoint("cooled", state, limit, said, note.by, note.at)


def _aged(step: MakingStep, steps: Sequence[MakingStep], notes: Sequence[Noted]) -> CriticalPoint:
    assert step.most_min is not None
    limit = Message("critical-aged", {"hours": step.most_min / 60})
    after = [one for one in steps if one.kind in ("churn", "shake", "scrape")]
    began = _noted(step, notes, "began")
    ends = [note for one in after if (note := _noted(one, notes, "began") or _noted(one, notes, "done"))]
    if began is None or not ends:
        return CriticalPoint("aged", OPEN, limit)
    last = max(ends, key=lambda note: note.at)
    hours = (last.at - began.at).total_seconds() / 3600
    state: State = MET if 60 * hours <= step.most_min else MISSED
    return CriticalPoint("aged", state, limit, Message("critical-aged-for", {"hours": hours}), last.by, last.at)


def _hardened(step: MakingStep, notes: Sequence[Noted]) -> CriticalPoint:
    wanted = step.readings[0]
    assert wanted.high is not None
    limit = Message("critical-hardened", {"t_c": wanted.high})
    value, note = readings(notes).get((step.id, wanted.key)), _noted(step, notes, "read", wanted.key)
    if value is None or note is None:
        return CriticalPoint("hardened", OPEN, limit)
    state: State = MET if value <= wanted.high else OPEN
    return CriticalPoint("hardened", state, limit, Message("critical-reading", {"t_c": value}), note.by, note.at)
