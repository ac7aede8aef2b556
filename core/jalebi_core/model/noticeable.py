"""Steps of noticing: by how much a figure must move before a person can tell, from ``data/noticeable.toml``."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.components import FloatArray

HALF: Final = 0.5
"""Nearer than half a step nobody tells: a figure that moves by less is held the same, a fault by less is an edge."""

_NOTHING: Final = 1e-6


@dataclass(frozen=True, slots=True)
class Noticeable:
    """One step of a figure: a difference in its unit, or a ratio of it; below the least nobody notices any of it."""

    difference: float | None = None
    ratio: float | None = None
    least: float = _NOTHING

    def steps(self, before: FloatArray | float, after: FloatArray | float) -> FloatArray:
        """Return how many steps lead from one value to another, negative where it is less; shapes broadcast."""
        if self.difference is not None:
            return np.asarray((np.asarray(after) - before) / self.difference)
        assert self.ratio is not None
        rise = np.log(np.maximum(after, self.least) / np.maximum(before, self.least))
        return np.asarray(rise / np.log1p(self.ratio))

    def moved(self, value: float, steps: float) -> float:
        """Return the value so many steps from another."""
        if self.difference is not None:
            return value + steps * self.difference
        assert self.ratio is not None
        return float(value * (1 + self.ratio) ** steps)


@cache
def noticeable() -> dict[str, Noticeable]:
    """Return the steps by figure."""
    steps = read_toml("noticeable.toml").items()
    return {key: Noticeable(**{name: float(size) for name, size in fields.items()}) for key, fields in steps}
