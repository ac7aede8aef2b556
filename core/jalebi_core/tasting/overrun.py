"""Air by one cup weighed twice: full of mix, and full of what was frozen of it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from jalebi_core.model.errors import TastingError

_HEAVIER: Final = 1.10
"""A frozen cup so much heavier than the mix in it was overfilled or mistyped."""


@dataclass(frozen=True, slots=True)
class CupWeighed:
    """A cup in g: empty, level with mix, level with the frozen. Raises TastingError for weights that cannot be."""

    tare_g: float
    mix_g: float
    frozen_g: float

    def __post_init__(self) -> None:
        if self.mix_g <= self.tare_g:
            raise TastingError("cup-empty", mix_g=self.mix_g, tare_g=self.tare_g)
        if self.frozen_g <= self.tare_g:
            raise TastingError("cup-frozen-empty", frozen_g=self.frozen_g, tare_g=self.tare_g)
        if self.frozen_g - self.tare_g >= _HEAVIER * (self.mix_g - self.tare_g):
            raise TastingError("cup-heavier", frozen_g=self.frozen_g, mix_g=self.mix_g)

    @property
    def overrun_pct(self) -> float:
        """The air beaten in, % of the mix's volume; a little below 0 where the cup was heaped."""
        return 100 * ((self.mix_g - self.tare_g) / (self.frozen_g - self.tare_g) - 1)
