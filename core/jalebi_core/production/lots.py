"""Lots in the house: how long each is good, which goes first, how a weight is split, and whether the masses agree.

A lot is what came in under one code on one day, or what one batch made. First expired goes first out.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Final

THAWED_HOURS: Final = 24.0
"""How long a frozen base or preparation may wait in the fridge once thawed, never to be frozen again: usual guidance
of food authorities for thawed perishable food; where local rules say less, they hold."""
LEAST_G: Final = 0.05
"""Less than this is nothing: no kitchen's scale shows it."""
_BALANCE_SHARE: Final = 0.03


@dataclass(frozen=True, slots=True)
class Lot:
    """A lot as far as its use is concerned.

    grams : what is on hand
    use_by : not used after it; best_before : somebody looks and decides after it
    opened_on : the day it was opened, from which ``keeps_days`` counts where that is known
    thawed_at : when it was taken out of the freezer
    """

    key: int
    grams: float
    came_on: date
    use_by: date | None = None
    best_before: date | None = None
    opened_on: date | None = None
    keeps_days: int | None = None
    thawed_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class Share:
    """What is taken of a lot, and whether somebody must look at it first: it is past the day it was best before."""

    key: int
    grams: float
    ask: bool


@dataclass(frozen=True, slots=True)
class Split:
    """A weight split over lots, and what no lot can give."""

    shares: tuple[Share, ...]
    short_g: float


def good_until(lot: Lot) -> date | None:
    """Return the last day a lot is good: the earlier of its date and what opening or thawing allows; None if unknown.

    A lot that was opened keeps as its ingredient does; what was thawed keeps `THAWED_HOURS`.
    """
    days = [day for day in (lot.use_by, lot.best_before) if day is not None]
    if lot.opened_on is not None and lot.keeps_days is not None:
        days.append(lot.opened_on + timedelta(days=lot.keeps_days))
    if lot.thawed_at is not None:
        days.append((lot.thawed_at + timedelta(hours=THAWED_HOURS)).date())
    return min(days, default=None)


def is_blocked(lot: Lot, now: datetime) -> bool:
    """Tell whether a lot must not be used any more: past its use-by date, or thawed too long ago."""
    if lot.thawed_at is not None and now > lot.thawed_at + timedelta(hours=THAWED_HOURS):
        return True
    return lot.use_by is not None and now.date() > lot.use_by


def asks_first(lot: Lot, now: datetime) -> bool:
    """Tell whether somebody must look at a lot before it is used: it is past the day that it is good until."""
    last = good_until(lot)
    return last is not None and now.date() > last


def suggest_lots(lots: Iterable[Lot], grams: float, now: datetime) -> Split:
    """Return which lots give a weight: what expires first goes first, then what is open, then what came first."""
    usable = [lot for lot in lots if lot.grams >= LEAST_G and not is_blocked(lot, now)]
    usable.sort(key=lambda lot: (good_until(lot) or date.max, lot.opened_on is None, lot.came_on, lot.key))
    shares, missing = [], grams
    for lot in usable:
        if missing < LEAST_G:
            break
        taken = min(lot.grams, missing)
        shares.append(Share(lot.key, taken, asks_first(lot, now)))
        missing -= taken
    return Split(tuple(shares), missing if missing >= LEAST_G else 0.0)


def tub_code(packed_on: date, batch_of_day: int, tub: int) -> str:
    """Return the code of a tub that people can say: year and day of the year, batch of the day, tub."""
    return f"L{packed_on:%y}{packed_on:%j}-{batch_of_day}-{tub:02d}"


@dataclass(frozen=True, slots=True)
class MassBalance:
    """What came in beside what is accounted for, in g, and whether the two agree."""

    in_g: float
    out_g: float
    allowed_g: float

    @property
    def gap_g(self) -> float:
        """What nobody has accounted for; negative where more is accounted for than came in."""
        return self.in_g - self.out_g

    @property
    def agrees(self) -> bool:
        """Whether the gap is within 3 % or two steps of the scale."""
        return abs(self.gap_g) <= self.allowed_g


def mass_balance(in_g: float, out_g: Sequence[float], scale_g: float) -> MassBalance:
    """Return whether masses agree: within 3 % of what came in, or two steps of the scale where that is more."""
    return MassBalance(in_g, sum(out_g), max(_BALANCE_SHARE * in_g, 2 * scale_g))
