"""A label and a cost in the core."""

from __future__ import annotations

from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.batch_cost import Costing, Purchase, batch_cost
from jalebi_core.regulation.label import LabelWish, label_of
from jalebi_core.shelf.catalogue import find

from .figure import Figure, median_ms

_LINES = (
    "whole-milk", "cream-36", "skim-milk-powder", "sugar", "dextrose", "egg-yolk", "locust-bean-gum", "salt",
)  # fmt: skip


def figures() -> list[Figure]:
    """Measure the draft of a label for each law, and the cost of a batch."""
    mix = Mix("custard", tuple(Line(find(slug), 100.0) for slug in _LINES), "frozen-custard", 30.0)
    costing = Costing(minutes=30.0, per_hour=20.0, purchases={number: Purchase(2.0) for number in range(len(_LINES))})
    return [
        Figure("the draft of a label, EU", median_ms(lambda: label_of(mix, LabelWish()), 50), 10, "ms"),
        Figure("the same, US", median_ms(lambda: label_of(mix, LabelWish(region="us")), 50), 10, "ms"),
        Figure("the cost of a batch", median_ms(lambda: batch_cost(mix, costing), 50), 2, "ms"),
    ]
