"""The time of the stand-ins, which may go faster than that on the wall."""

from __future__ import annotations

import time
from dataclasses import dataclass, field


@dataclass(slots=True)
class Clock:
    """Seconds since it was made, so many times as fast as those on the wall."""

    speed: float = 1.0
    _begun: float = field(default_factory=time.monotonic)

    def now(self) -> float:
        return (time.monotonic() - self._begun) * self.speed
