"""A pot of base: on the stove, in an ice bath, in the fridge; its metal is ahead of it and behind it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

_STEP_S: Final = 0.5
_BASE_KJ_KGK: Final = 3.5
_METAL_KJ_K: Final = 0.9
_METAL_W_K: Final = 60.0
_STOVE_W: Final = 1400.0
_BOILS_C: Final = 101.0
_ROOM_W_K: Final = 1.8
_AROUND: Final = {"room": (20.0, 1.8), "ice-bath": (0.0, 25.0), "fridge": (4.0, 2.0), "freezer": (-18.0, 2.5)}
PLACES: Final = tuple(_AROUND)


@dataclass(slots=True)
class Pot:
    """A stirred base of some kg and the metal under it, °C of both; ``place`` is where it stands."""

    kg: float = 1.0
    base_c: float = 6.0
    metal_c: float = 20.0
    is_on: bool = False
    place: str = "room"
    _at: float = 0.0

    def fill(self, grams: float, celsius: float) -> None:
        self.kg, self.base_c, self.metal_c = max(grams, 50.0) / 1000, celsius, celsius
        self.is_on, self.place = False, "room"

    def at(self, seconds: float) -> float:
        """Return the °C of the base at a second."""
        while self._at < seconds:
            step = min(_STEP_S, seconds - self._at)
            around_c, w_k = _AROUND[self.place]
            into_base = _METAL_W_K * (self.metal_c - self.base_c)
            stove = _STOVE_W if self.is_on else 0.0
            outside = w_k * (around_c - self.metal_c) if self.place != "room" else 0.0
            air = _ROOM_W_K * (around_c - self.base_c)
            self.metal_c += step * (stove - into_base + outside) / 1000 / _METAL_KJ_K
            self.base_c = min(self.base_c + step * (into_base + air) / 1000 / (_BASE_KJ_KGK * self.kg), _BOILS_C)
            self._at += step
        return self.base_c
