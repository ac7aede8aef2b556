"""Local times of plans: now in a plan's zone, minutes from an origin, and how a clock shows them."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.utils import timezone

from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.shifts import minutes_between


def zone_called(name: str) -> ZoneInfo | None:
    """Return a zone by its IANA name, None for none; raises PlanError for one that is not known."""
    if not name:
        return None
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise PlanError("plan-zone", zone=name[:40]) from None


def local_now(zone: ZoneInfo | None) -> datetime:
    """Return the local time now, without its offset."""
    return timezone.now().astimezone(zone or UTC).replace(tzinfo=None, second=0, microsecond=0)


def local(at: datetime) -> datetime:
    """Return a local time as it was said, without an offset and without seconds."""
    return at.replace(tzinfo=None, second=0, microsecond=0)


def time_at(origin: datetime, zone: ZoneInfo | None, minutes: int) -> datetime:
    """Return the local time of a minute; minutes are elapsed ones where there is a zone."""
    if zone is None:
        return origin + timedelta(minutes=minutes)
    begun = origin.replace(tzinfo=zone).astimezone(UTC)
    return (begun + timedelta(minutes=minutes)).astimezone(zone).replace(tzinfo=None)


def clock_of(origin: datetime, zone: ZoneInfo | None) -> Callable[[int], str]:
    """Return what says a minute as a kitchen would: the hour, with the weekday where that is another than the first."""

    def says(minutes: int) -> str:
        at = time_at(origin, zone, minutes)
        hour = f"{at.hour}:{at.minute:02d}"
        return hour if at.date() == origin.date() else f"{hour} on {at:%A}"

    return says


def minute_of(origin: datetime, zone: ZoneInfo | None, at: datetime) -> int:
    """Return the minute of a local time."""
    return minutes_between(origin, local(at), zone)


def clock_changes(origin: datetime, zone: ZoneInfo | None, horizon: int) -> list[tuple[int, int]]:
    """Return the minutes at which the clock is put on or back, and by how many minutes, to the quarter of an hour."""
    if zone is None:
        return []
    found, offset = [], 0
    for minute in range(0, horizon + 1, 15):
        apart = int((time_at(origin, zone, minute) - origin).total_seconds() // 60) - minute
        if apart != offset:
            found.append((minute, apart - offset))
            offset = apart
    return found
