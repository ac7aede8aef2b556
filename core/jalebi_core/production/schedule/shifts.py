"""When people are there: shifts that come back every week, within the hours that the kitchen is open."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Final
from zoneinfo import ZoneInfo

_DAY_MIN: Final = 1440


@dataclass(frozen=True, slots=True)
class WeeklySpan:
    """A span that comes back on days of the week, Monday 0, in minutes of the day.

    It goes on past midnight where its end is not after its start.
    """

    days: frozenset[int]
    start: int
    end: int


def spans_in(
    weekly: Iterable[WeeklySpan], origin: datetime, zone: ZoneInfo | None, horizon: int
) -> list[tuple[int, int]]:
    """Return weekly spans as minutes from the origin, elapsed ones where there is a zone, joined where they meet."""
    return _joined(span for one in weekly for span in _repeated(one, origin, zone, horizon))


def _repeated(one: WeeklySpan, origin: datetime, zone: ZoneInfo | None, horizon: int) -> Iterator[tuple[int, int]]:
    midnight = origin.replace(hour=0, minute=0, second=0, microsecond=0)
    for number in range(-1, horizon // _DAY_MIN + 2):
        day = midnight + timedelta(days=number)
        if day.weekday() in one.days:
            end = one.end if one.end > one.start else one.end + _DAY_MIN
            start, finish = (minutes_between(origin, day + timedelta(minutes=at), zone) for at in (one.start, end))
            if finish > 0 and start < horizon:
                yield max(start, 0), min(finish, horizon)


def minutes_between(origin: datetime, at: datetime, zone: ZoneInfo | None) -> int:
    """Return the minutes between two local times, elapsed ones where there is a zone."""
    if zone is None:
        return int((at - origin).total_seconds() // 60)
    return int((at.replace(tzinfo=zone).timestamp() - origin.replace(tzinfo=zone).timestamp()) // 60)


def within(spans: Sequence[tuple[int, int]], limits: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Return what of spans lies within limits."""
    cut = ((max(start, low), min(end, high)) for start, end in spans for low, high in limits)
    return sorted((start, end) for start, end in cut if start < end)


def _joined(spans: Iterable[tuple[int, int]]) -> list[tuple[int, int]]:
    found: list[tuple[int, int]] = []
    for start, end in sorted(spans):
        if found and start <= found[-1][1]:
            found[-1] = (found[-1][0], max(end, found[-1][1]))
        else:
            found.append((start, end))
    return found
