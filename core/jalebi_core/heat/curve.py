"""A curve of straight pieces read at one number at a time: what models step by, thousands of times a run."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

from jalebi_core.model.components import FloatArray


def curve(x: FloatArray, y: FloatArray) -> Callable[[float], float]:
    """Return y by x along straight lines between nodes of shape (nodes,), x rising; level beyond both ends.

    It is `np.interp` for a plain number, five times as fast.
    """
    nodes, values = x.tolist(), y.tolist()
    pairs = zip(nodes, nodes[1:], values, values[1:], strict=False)
    slopes = [(after - before) / (right - left) for left, right, before, after in pairs]
    first, last = nodes[0], nodes[-1]

    def at(place: float) -> float:
        if place <= first:
            return float(values[0])
        if place >= last:
            return float(values[-1])
        node = bisect_right(nodes, place) - 1
        return float(values[node] + (place - nodes[node]) * slopes[node])

    return at
