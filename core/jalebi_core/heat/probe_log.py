"""What a probe that stays in says: how far a pot goes on by itself, how it cools, and a freezer that gets warm.

A log is a sequence of (minute, °C), its minutes rising.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import log
from typing import Final

import numpy as np

from jalebi_core.heat.pot import FIRST_STAGE_MIN, SECOND_STAGE_MIN, STAGES_C

Log = Sequence[tuple[float, float]]

GOES_ON_MIN: Final = 0.2
"""For so long a pot off the heat goes on as it rose before: its bottom and the probe are behind; a convention."""
_RISE_OVER_MIN: Final = 0.5
_FALL_OVER_MIN: Final = 4.0
_LEAST_CHANGE_K: Final = 0.3
WARM_ABOVE_C: Final = -15.0
WARM_FOR_MIN: Final = 30.0
"""A freezer above that for so long has to be looked after; frost and an open door are shorter."""


def goes_on_to(seen: Log) -> float | None:
    """Return the °C that a pot goes on to if it is taken off the heat now; None where it does not rise."""
    rise = _slope(seen, _RISE_OVER_MIN)
    return None if rise is None or rise.k_min <= 0 else seen[-1][1] + rise.k_min * GOES_ON_MIN


@dataclass(frozen=True, slots=True)
class CoolingClock:
    """How a pot cools: when it passed 57, 21 and 5 °C, and when it will, in minutes of its log; None for never yet.

    reached : whether that was measured, rather than reckoned
    """

    passes_min: tuple[float | None, float | None, float | None]
    reached: tuple[bool, bool, bool]

    @property
    def is_late(self) -> bool:
        """Tell whether one of the two stages took or will take longer than food codes give it."""
        hot, warm, cold = self.passes_min
        if hot is None:
            return False
        return (warm is not None and warm - hot > FIRST_STAGE_MIN) or (
            warm is not None and cold is not None and cold - warm > SECOND_STAGE_MIN
        )


def cooling_clock(seen: Log, around_c: float) -> CoolingClock:
    """Return how a pot cools; what is to come as its distance to what is around it dies away now."""
    measured = tuple(_first_below(seen, stage) for stage in STAGES_C)
    passes = tuple(
        known if known is not None else _will_pass(seen, stage, around_c)
        for known, stage in zip(measured, STAGES_C, strict=True)
    )
    return CoolingClock(
        (passes[0], passes[1], passes[2]),
        (measured[0] is not None, measured[1] is not None, measured[2] is not None),
    )


def warm_since(seen: Log, above_c: float = WARM_ABOVE_C, for_min: float = WARM_FOR_MIN) -> float | None:
    """Return the minute since which a freezer is too warm without a break; None where it is not, or not for so long."""
    since = None
    for minute, celsius in seen:
        if celsius <= above_c:
            since = None
        elif since is None:
            since = minute
    return since if since is not None and seen[-1][0] - since >= for_min else None


def _first_below(seen: Log, celsius: float) -> float | None:
    if seen and seen[0][1] <= celsius:
        return seen[0][0]
    for (begins, from_c), (ends, to_c) in pairwise(seen):
        if to_c <= celsius:
            return begins + (ends - begins) * (from_c - celsius) / (from_c - to_c) if from_c > to_c else ends
    return None


def _will_pass(seen: Log, celsius: float, around_c: float) -> float | None:
    fall = _slope(seen, _FALL_OVER_MIN)
    if fall is None or fall.k_min >= 0 or celsius <= around_c or fall.celsius <= around_c:
        return None
    lag = (fall.celsius - around_c) / -fall.k_min
    return fall.minute + lag * log((fall.celsius - around_c) / (celsius - around_c))


@dataclass(frozen=True, slots=True)
class _Slope:
    """How fast it changes, K a minute, and in the middle of which minutes at what °C."""

    minute: float
    celsius: float
    k_min: float


def _slope(seen: Log, over_min: float) -> _Slope | None:
    """Return how it changed in the last minutes; None for fewer than three readings, or where noise is all."""
    last = np.array([one for one in seen if one[0] >= seen[-1][0] - over_min], dtype=np.float64) if seen else None
    if last is None or len(last) < 3 or np.ptp(last[:, 0]) <= 0:
        return None
    minute, celsius = last.mean(axis=0).tolist()
    k_min = float(np.polyfit(last[:, 0] - minute, last[:, 1], 1)[0])
    return _Slope(minute, celsius, k_min) if abs(k_min) * np.ptp(last[:, 0]) >= _LEAST_CHANGE_K else None
