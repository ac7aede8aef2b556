"""What the entries of a batch come to: they are added, never changed, and replayed into its present state."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from batches.models import Batch, Entry
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES


@dataclass(slots=True)
class BatchState:
    """What the entries of a batch come to: amounts and ticks by number of the line, a note, its taste and its run."""

    weighed: dict[int, dict[str, Any]] = field(default_factory=dict)
    ticked: set[int] = field(default_factory=set)
    note: str = ""
    tasted: str | None = None
    churned: dict[str, Any] | None = None


def replay(entries: Iterable[Entry]) -> BatchState:
    """Return what entries in their order come to."""
    state = BatchState()
    for entry in entries:
        if entry.line is not None:
            _replay_line(state, entry.line, entry)
        elif entry.kind == Entry.Kind.NOTE:
            state.note = entry.value or ""
        elif entry.kind == Entry.Kind.CHURNED:
            state.churned = entry.value
        else:
            state.tasted = entry.value
    return state


def _replay_line(state: BatchState, line: int, entry: Entry) -> None:
    if entry.kind == Entry.Kind.TICKED:
        (state.ticked.add if entry.value else state.ticked.discard)(line)
    elif entry.value is None:
        state.weighed.pop(line, None)
    else:
        state.weighed[line] = entry.value


def mix_as_made(batch: Batch, state: BatchState) -> Mix | None:
    """Return the mix as made: weighed where somebody weighed, planned elsewhere; None when nothing of it went in."""
    lines = batch.revision.content["lines"]
    grams = [state.weighed.get(number, line)["grams"] for number, line in enumerate(lines)]
    went_in = any(weight for line, weight in zip(lines, grams, strict=True) if line["stage"] not in MIX_IN_STAGES)
    return read_mix_snapshot(batch.revision.content, grams) if went_in else None
