"""A batch in a machine that freezes it, by the model of the core with a speed that nobody is told."""

from __future__ import annotations

from bisect import bisect
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from jalebi_core.heat.churn import Churner, Conditions, churn
from jalebi_core.heat.enthalpy import Thermal

_PAST_THE_DRAW_G: Final = 14.0


@dataclass(slots=True)
class Bowl:
    """What churns, or nothing; ``began`` is the second at which it was started, None while it stands."""

    celsius: float = 5.0
    began: float | None = None
    _seen: list[tuple[float, float, float, float]] = field(default_factory=list)

    def load(self, mix: Thermal, grams: float, machine: Churner, conditions: Conditions) -> None:
        """Pour a base in; how it will go is known from then on, to the bowl alone."""
        further = replace(machine, draw_ice_g=machine.draw_ice_g + _PAST_THE_DRAW_G)
        self._seen = list(churn(mix, grams, further, conditions).seen)
        self.celsius, self.began = conditions.start_c, None

    def start(self, seconds: float) -> None:
        self.began = seconds

    def stop(self) -> None:
        self.began = None

    def at(self, seconds: float) -> tuple[float, float | None]:
        """Return the °C of the mix and of the wall at a second; the last while it stands."""
        if self.began is None or not self._seen:
            return self.celsius, None
        minute = (seconds - self.began) / 60
        minutes = [one[0] for one in self._seen]
        self.celsius = float(np.interp(minute, minutes, [one[1] for one in self._seen]))
        return self.celsius, self._seen[min(bisect(minutes, minute), len(minutes) - 1)][2]
