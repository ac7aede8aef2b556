"""What stands on a scale, and how the scale shows it."""

from __future__ import annotations

from dataclasses import dataclass, field
from random import Random

_SETTLES_S = 0.25
_POUR_G_S = 40.0
_DRIFT_G_MIN = 0.01
_STEADY_S = 0.6


@dataclass(slots=True)
class Pan:
    """A pan, poured into by and by: ``grams`` lie on it, ``coming`` are still poured.

    step_g : the scale's finest difference; most_g : what it bears
    """

    step_g: float
    most_g: float
    chance: Random
    grams: float = 0.0
    coming: float = 0.0
    poured_g_s: float = _POUR_G_S
    tare_g: float = 0.0
    _shown: float = 0.0
    _drift: float = 0.0
    _moved_at: float = field(default=-10.0)
    _at: float = 0.0

    def pour(self, grams: float, seconds: float | None = None) -> None:
        """Let some more flow in, over seconds or as fast as from a jug; less than 0 is taken off."""
        self.coming += grams
        self.poured_g_s = _POUR_G_S if seconds is None else abs(self.coming) / max(seconds, 0.05)

    def take_off(self) -> None:
        self.grams = self.coming = 0.0

    def tare(self) -> None:
        self.tare_g = self.grams

    def at(self, seconds: float) -> tuple[float, bool]:
        """Return what it shows at a second, and whether that stands still."""
        passed, self._at = max(seconds - self._at, 0.0), seconds
        flows = min(self.poured_g_s * passed, abs(self.coming))
        flows = flows if self.coming > 0 else -flows
        if flows:
            self.grams, self.coming, self._moved_at = self.grams + flows, self.coming - flows, seconds
        self._drift += self.chance.gauss(0, _DRIFT_G_MIN * self.step_g * (passed / 60) ** 0.5)
        target = min(max(self.grams, 0.0), self.most_g) - self.tare_g + self._drift
        self._shown += (target - self._shown) * min(passed / _SETTLES_S, 1.0)
        rough = self.step_g * (0.4 if self.coming else 0.08)
        steady = not self.coming and seconds - self._moved_at > _STEADY_S
        value = self._shown + self.chance.gauss(0, rough)
        return round(value / self.step_g) * self.step_g, steady
