"""A mix: ingredients in amounts, each at a stage."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from . import constants as c
from .components import FloatArray
from .composition import Ingredient, blend
from .errors import MixError
from .styles import BESIDE


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
            beside = " What is folded in or layered stands beside it." if self.beside else ""
            raise MixError(f"The mix weighs nothing. Give at least one line an amount.{beside}")

    @property
    def base(self) -> tuple[Line, ...]:
        """The lines that are the mix; those of the stages beside it are not."""
        return tuple(line for line in self.lines if line.stage not in BESIDE)

    @property
    def beside(self) -> tuple[Line, ...]:
        """Mix-ins and layers: part of the product, not of the mix."""
        return tuple(line for line in self.lines if line.stage in BESIDE)

    @property
    def mass_g(self) -> float:
        """Mass of the mix, without what stands beside it."""
        return float(sum(line.grams for line in self.base))

    @property
    def overrun_used_pct(self) -> float:
        """The stated overrun, or 30 % where none is stated."""
        return c.REFERENCE_OVERRUN_PCT if self.overrun_pct is None else self.overrun_pct

    def replacing(self, at: int, *lines: Line) -> Mix:
        """Return the mix with other lines in the place of one."""
        return replace(self, lines=(*self.lines[:at], *lines, *self.lines[at + 1 :]))

    def row(self) -> FloatArray:
        """Return the mix as one row, shape (WIDTH,), per 100 g."""
        grams = np.array([line.grams for line in self.base])
        return blend(grams, np.array([line.ingredient.row for line in self.base]))
