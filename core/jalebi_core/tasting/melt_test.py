"""The melt test: a ball on a mesh, and what has dripped through it as time goes by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import TastingError
from jalebi_core.wording.message import Message

USUAL_ROOM_C: Final = (20.0, 25.0)
USUAL_ONSET_MIN: Final = (8.0, 25.0)
USUAL_RATE: Final = (0.8, 2.5)
_FAST: Final = 3.0
_STANDS: Final = 0.4
_ONSET_SHARE: Final = 0.01
_FITTED: Final = (0.10, 0.60)
_LOST_G: Final = 0.5
"""A scale may read so much less than before without anything being wrong."""

_MOST_READINGS: Final = 200


@dataclass(frozen=True, slots=True)
class Melted:
    """A melt test read.

    onset_min : when the first hundredth of the ball had dripped, None before that
    rate : % of the ball a minute between a tenth and six tenths of it, None for fewer than two readings there
    said : in words
    """

    onset_min: float | None
    rate: float | None
    said: Message


def melted(ball_g: float, room_c: float, drips: Sequence[tuple[float, float]]) -> Melted:
    """Return what a melt test says.

    Parameters
    ----------
    ball_g : of the ball as it was put on the mesh
    room_c : of the air around it
    drips : minutes since then, and g that had dripped by then in all

    Raises TastingError for readings that cannot be.
    """
    minutes, grams = _checked(ball_g, room_c, drips)
    shares = grams / ball_g
    onset = None
    if shares[-1] >= _ONSET_SHARE:
        onset = float(np.interp(_ONSET_SHARE, np.maximum.accumulate(shares) + np.arange(len(shares)) * 1e-12, minutes))
    inside = (shares >= _FITTED[0]) & (shares <= _FITTED[1])
    rate = float(100 * np.polyfit(minutes[inside], shares[inside], 1)[0]) if inside.sum() >= 2 else None
    return Melted(onset, rate, _said(onset, rate, room_c))


def _checked(ball_g: float, room_c: float, drips: Sequence[tuple[float, float]]) -> tuple[FloatArray, FloatArray]:
    if not isfinite(ball_g) or ball_g <= 0:
        raise TastingError("melt-ball", ball_g=ball_g)
    if not -10 <= room_c <= 60:
        raise TastingError("melt-room", room_c=room_c)
    if not 0 < len(drips) <= _MOST_READINGS:
        raise TastingError("melt-readings", count=len(drips), most=_MOST_READINGS)
    ordered = sorted({0.0: 0.0, **dict(drips)}.items())
    minutes = np.array([minute for minute, _ in ordered])
    grams = np.array([weight for _, weight in ordered])
    if minutes[0] < 0:
        raise TastingError("melt-before", minute=float(minutes[0]))
    for before, after, minute in zip(grams, grams[1:], minutes[1:], strict=False):
        if after < before - _LOST_G:
            raise TastingError("melt-gains", minute=float(minute), before=float(before), after=float(after))
    if grams.max() > ball_g * 1.05 or grams.min() < 0:
        raise TastingError("melt-more-than-ball", grams=float(grams.max()), ball_g=ball_g)
    return minutes, grams


def _said(onset: float | None, rate: float | None, room_c: float) -> Message:
    if onset is None:
        return Message("melt-not-begun")
    if rate is None:
        return Message("melt-begun", {"onset": onset})
    code = "melt-fast" if rate > _FAST else "melt-stands" if rate < _STANDS else "melt-usual"
    if code == "melt-usual" and not USUAL_RATE[0] <= rate <= USUAL_RATE[1]:
        code = "melt-quick" if rate > USUAL_RATE[1] else "melt-slow"
    said = Message(code, {"onset": onset, "rate": rate, "room_c": room_c})
    if not USUAL_ROOM_C[0] <= room_c <= USUAL_ROOM_C[1]:
        return Message("melt-odd-room", {"said": said, "room_c": room_c})
    return said
