"""A mix: ingredients in amounts, each at a stage."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from . import constants as c
from .components import FloatArray
from .composition import Ingredient, blend
from .errors import MixError


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a mix; the same ingredient may stand in several lines and stages."""

    ingredient: Ingredient
    grams: float
    stage: str | None = None


@dataclass(frozen=True, slots=True)
class Mix:
    """A mix with at least one line that weighs something; raises MixError otherwise."""

    name: str
    lines: tuple[Line, ...]
    style: str | None = None
    overrun_pct: float | None = None

    def __post_init__(self) -> None:
        if not self.mass_g > 0:
            raise MixError("The mix weighs nothing. Give at least one line an amount.")

    @property
    def mass_g(self) -> float:
        return float(sum(line.grams for line in self.lines))

    @property
    def overrun_used_pct(self) -> float:
        """The stated overrun, or 30 % where none is stated."""
        return c.REFERENCE_OVERRUN_PCT if self.overrun_pct is None else self.overrun_pct

    def row(self) -> FloatArray:
        """Return the mix as one row, shape (WIDTH,), per 100 g."""
        grams = np.array([line.grams for line in self.lines])
        return blend(grams, np.array([line.ingredient.row for line in self.lines]))
