"""A mix: ingredients in amounts, each at a stage."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.aims import bands_for
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import blend
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.styles import MIX_IN_STAGES, Band


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a mix; the same ingredient may stand in several lines and stages."""

    ingredient: Ingredient
    grams: float
    stage: str | None = None


@dataclass(frozen=True, slots=True)
class Mix:
    """A mix with at least one line that weighs something; raises MixError otherwise.

    ``aims`` are bands wanted in the place of the style's, by quantity; ``scoop_firmness`` is where a clean scoop begins
    for those who eat it, which a kitchen's tastings may teach.
    """

    name: str
    lines: tuple[Line, ...]
    style: str | None = None
    overrun_pct: float | None = None
    aims: Mapping[str, Band] = field(default_factory=dict)
    scoop_firmness: float = c.SCOOPING_FIRMNESS

    base: tuple[Line, ...] = field(init=False, repr=False, compare=False)
    """The lines that are the mix; those of the stages beside it are not."""

    def __post_init__(self) -> None:
        object.__setattr__(self, "base", tuple(line for line in self.lines if line.stage not in MIX_IN_STAGES))
        if not self.mass_g > 0:
            beside = " What is folded in or layered stands beside it." if self.mix_ins else ""
            raise MixError("mix-weighs-nothing", beside=beside)

    @property
    def mix_ins(self) -> tuple[Line, ...]:
        """Mix-ins and layers: part of the product, not of the mix."""
        return tuple(line for line in self.lines if line.stage in MIX_IN_STAGES)

    @property
    def mass_g(self) -> float:
        """Mass of the mix, without what stands beside it."""
        return float(sum(line.grams for line in self.base))

    @property
    def overrun_used_pct(self) -> float:
        """The stated overrun, or 30 % where none is stated."""
        return overrun_or_usual(self.overrun_pct)

    @property
    def bands(self) -> dict[str, Band]:
        """The bands that hold for it, by quantity: its style's, and its aims before them."""
        return bands_for(self.style, self.aims)

    def replacing(self, at: int, *lines: Line) -> Mix:
        """Return the mix with other lines in the place of one."""
        return replace(self, lines=(*self.lines[:at], *lines, *self.lines[at + 1 :]))

    def row(self) -> FloatArray:
        """Return the mix as one row, shape (WIDTH,), per 100 g."""
        grams = np.array([line.grams for line in self.base])
        return blend(grams, np.array([line.ingredient.row for line in self.base]))


def overrun_or_usual(overrun_pct: float | None) -> float:
    """Return a stated overrun, or 30 % where none is stated."""
    return c.REFERENCE_OVERRUN_PCT if overrun_pct is None else overrun_pct
