"""Handing over: nothing leaves before its critical points are settled, unless somebody answers for it."""

from __future__ import annotations

from collections.abc import Sequence

from batches.handing_over import check_not_abandoned
from batches.models import Batch, Event
from batches.replay import OF_WORK, BatchState
from jalebi_core.model.errors import LotError
from jalebi_core.production.making.critical import MET, NAMES, critical_points
from kitchens.models import Kitchen
from making.bench import making_of
from making.watching import logs_of


def check_points(kitchen: Kitchen, batch: Batch, state: BatchState, before: Sequence[str]) -> None:
    """Refuse to hand over a batch that was given up, or whose points before that are open; raises LotError.

    The points bind from the first thing that was noted of its making, whatever was undone since. A batch of which
    nothing was noted here was made by pen and paper, and is handed over as it is.

    Parameters
    ----------
    before : the points that have to be settled first
    """
    check_not_abandoned(batch, state)
    if not batch.events.filter(kind__in=OF_WORK).exists():
        return
    released = {key for key, event in state.signed.items() if event.kind == Event.Kind.RELEASED}
    points = critical_points(making_of(kitchen, batch, state).steps, state.notes, logs_of(batch, state))
    waiting = [one.key for one in points if one.key in before and one.state != MET and one.key not in released]
    if waiting:
        raise LotError("points-open", points=", ".join(NAMES[key].lower() for key in waiting))
