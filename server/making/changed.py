"""Whether a mix was changed since a batch of it was begun: the batch keeps its revision, and says so."""

from __future__ import annotations

from batches.models import Batch
from mixes.drafts import draft_lines


def has_changed(batch: Batch) -> bool:
    """Tell whether the mix has other lines now than the revision that the batch is one of."""
    now = [(line.ingredient, line.grams or 0.0, line.stage) for line in draft_lines(batch.revision.mix)]
    then = [(line["slug"], line["grams"], line["stage"]) for line in batch.revision.content["lines"]]
    return now != then
