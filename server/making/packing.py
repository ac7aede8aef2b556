"""Handing over: nothing is packed before its critical points are settled, unless somebody answers for it."""

from __future__ import annotations

from batches.models import Batch, Event
from batches.replay import BatchState
from jalebi_core.model.errors import LotError
from jalebi_core.production.making.critical import BEFORE_PACKING, MET, NAMES, critical_points
from kitchens.models import Kitchen
from making.bench import making_of
from making.watching import logs_of


def check_points(kitchen: Kitchen, batch: Batch, state: BatchState) -> None:
    """Refuse to pack a batch that was made step by step while points before packing are open; raises LotError.

    A sheet that was filled in by pen says nothing of steps, and is packed as it is.
    """
    if not state.steps:
        return
    released = {key for key, event in state.signed.items() if event.kind == Event.Kind.RELEASED}
    points = critical_points(making_of(kitchen, batch, state).steps, state.notes, logs_of(batch, state))
    waiting = [one.key for one in points if one.key in BEFORE_PACKING and one.state != MET and one.key not in released]
    if waiting:
        raise LotError("points-open", points=", ".join(NAMES[key].lower() for key in waiting))
