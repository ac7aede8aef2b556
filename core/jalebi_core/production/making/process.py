"""What was noted while a batch was made, as the quantities of its process that diagnosis and learning go by."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Final

from jalebi_core.heat.pot import HOLDS, credit
from jalebi_core.heat.tub import HARD_C
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.materials import steeping_of
from jalebi_core.production.making.steps import MakingStep

_IN_THE_POT: Final = ("pot_c", "heated_c")
MOST_OFF_K: Final = 3.0
"""A thermometer that is further off in ice water is broken or was not in ice water: no correction mends that."""


@dataclass(frozen=True, slots=True)
class Noted:
    """Something noted of a step: it began, is done, or a figure was read, with who and when.

    what : began, done or read; key and value of what was read
    late_min : how long after that it came in, min
    """

    step: str
    what: str
    at: datetime
    key: str = ""
    value: float | None = None
    by: str = ""
    late_min: float = 0.0


@dataclass(frozen=True, slots=True)
class ThermometerCheck:
    """What a thermometer showed in ice water, which is 0 °C."""

    shown_c: float

    @property
    def is_usable(self) -> bool:
        """Tell whether a correction puts it right."""
        return abs(self.shown_c) <= MOST_OFF_K


def thermometer_check(notes: Iterable[Noted]) -> ThermometerCheck | None:
    """Return the last check in ice water; None where nobody looked."""
    last = next((note for note in reversed(list(notes)) if note.key == "ice_water_c" and note.value is not None), None)
    return None if last is None or last.value is None else ThermometerCheck(last.value)


def offset_k(notes: Iterable[Noted]) -> float:
    """Return what is taken off every reading: 0 where nobody looked, and where no correction would mend it."""
    check = thermometer_check(notes)
    return check.shown_c if check is not None and check.is_usable else 0.0


def corrected(note: Noted, off_k: float) -> float | None:
    """Return a reading as a right thermometer shows it; None where nothing was read."""
    if note.value is None:
        return None
    return note.value - (off_k if note.key.endswith("_c") and note.key != "ice_water_c" else 0.0)


def readings(notes: Sequence[Noted]) -> dict[tuple[str, str], float]:
    """Return the last reading by step and key, temperatures as a right thermometer shows them."""
    off = offset_k(notes)
    return {
        (note.step, note.key): value
        for note in notes
        if note.what == "read" and (value := corrected(note, off)) is not None
    }


def process_quantities(
    steps: Sequence[MakingStep],
    notes: Sequence[Noted],
    predicted_min: float | None = None,
    fill_pct: float | None = None,
) -> dict[str, float]:
    """Return the quantities of a process that are known, by the keys that diagnosis reads.

    Parameters
    ----------
    predicted_min : how long a run was forecast to take; fill_pct : of the machine's bowl, as planned
    """
    read, began, done = readings(notes), _times(notes, "began"), _times(notes, "done")
    by_kind = {kind: [step.id for step in steps if step.kind == kind] for kind in {step.kind for step in steps}}
    churns = [*by_kind.get("churn", ()), *by_kind.get("shake", ())]
    found: dict[str, float | None] = {
        "heated_c": max((value for (_, key), value in read.items() if key == "heated_c"), default=None),
        "base_in_c": _last(read, "base_in_c"),
        "draw_c": _last(read, "draw_c"),
        "steep_c": _last(read, "steep_c"),
        "overrun_pct": _last(read, "overrun_pct"),
        "fill_pct": fill_pct,
        "aged_h": _hours(began.get("age"), min((began[one] for one in churns if one in began), default=None)),
        "steep_h": _longest(by_kind.get("prepare-steep", ()), began, done),
        "harden_h": _until_hard(by_kind.get("harden", ()), began, notes),
        "temper_min": _minutes(began.get("temper"), done.get("temper")),
    }
    minutes = [lasted for one in churns if (lasted := _minutes(began.get(one), done.get(one))) is not None]
    if minutes and predicted_min:
        found["churn_ratio"] = sum(minutes) / len(minutes) / predicted_min
    return {key: value for key, value in found.items() if value is not None}


def pasteurisation_credit(notes: Sequence[Noted], region: str) -> float | None:
    """Return what the temperatures that were read in the pot are worth, 1 is done; None for fewer than two of them.

    Straight between two readings, as `heat.pot.credit` counts it; guidance, not proof.
    """
    off = offset_k(notes)
    hot = [note for note in notes if note.key in _IN_THE_POT and note.value is not None]
    if len(hot) < 2:
        return None
    first = min(note.at for note in hot)
    record = sorted(((note.at - first).total_seconds() / 60, (note.value or 0.0) - off) for note in hot)
    return credit(record, region if region in HOLDS else "us")


def _times(notes: Sequence[Noted], what: str) -> dict[str, datetime]:
    """Return when something was noted of each step: the first time it began, the last time it was done."""
    ordered = reversed(notes) if what == "began" else notes
    return {note.step: note.at for note in ordered if note.what == what}


def _last(read: Mapping[tuple[str, str], float], key: str) -> float | None:
    return next((value for (_, one), value in reversed(list(read.items())) if one == key), None)


def _minutes(start: datetime | None, end: datetime | None) -> float | None:
    if start is None or end is None or end < start:
        return None
    return (end - start).total_seconds() / 60


def _hours(start: datetime | None, end: datetime | None) -> float | None:
    minutes = _minutes(start, end)
    return None if minutes is None else minutes / 60


def _longest(steps: Iterable[str], began: Mapping[str, datetime], done: Mapping[str, datetime]) -> float | None:
    lasted = [hours for one in steps if (hours := _hours(began.get(one), done.get(one))) is not None]
    return max(lasted, default=None)


def _until_hard(steps: Iterable[str], began: Mapping[str, datetime], notes: Sequence[Noted]) -> float | None:
    """Return how long the slowest tub took until its core was first read as hard."""
    off = offset_k(notes)
    hard: dict[str, datetime] = {}
    for note in notes:
        if note.key == "core_c" and note.value is not None and note.value - off <= HARD_C:
            hard.setdefault(note.step, note.at)
    return _longest(steps, began, hard)


def steeps(mix: Mix) -> float:
    """Return 1 where something in a mix steeps and is sieved out again, 0 where nothing does."""
    return float(any(steeping_of(line.ingredient) is not None for line in mix.lines))
