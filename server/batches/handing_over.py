"""What a batch gives away: nothing of one that was given up."""

from __future__ import annotations

from batches.models import Batch, Event
from batches.replay import BatchState
from jalebi_core.model.errors import LotError


def check_not_abandoned(batch: Batch, state: BatchState) -> None:
    """Raise LotError for a batch that was given up."""
    if state.closed is not None and state.closed.kind == Event.Kind.ABANDONED:
        raise LotError("batch-abandoned", number=batch.number)
