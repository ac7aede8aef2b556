"""The values of plan files: whole minutes, times, names and lists, each refused by name where it is none."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any, Final
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.problem import Use

MOST_MINUTES: Final = 20_160
MOST_UNITS: Final = 100_000
_LONGEST: Final = 120
_YEARS: Final = range(1900, 2200)
"""Of plans; nearer to the ends of the calendar a zone or a day before leads out of it."""


def minutes_from(origin: datetime, text: str, zone: ZoneInfo | None) -> int:
    """Return the minutes from the origin to a local time, elapsed where there is a zone."""
    at = local_time(text)
    if zone is not None:
        seconds = at.replace(tzinfo=zone).timestamp() - origin.replace(tzinfo=zone).timestamp()
    else:
        seconds = (at - origin).total_seconds()
    minutes = seconds / 60
    if not minutes.is_integer():
        raise PlanError("plan-time", text=text[:40])
    return int(minutes)


def local_time(text: Any) -> datetime:
    """Return a local time without an offset."""
    try:
        at = datetime.fromisoformat(text)
    except (TypeError, ValueError):
        raise PlanError("plan-time", text=str(text)[:40]) from None
    if at.tzinfo is not None:
        raise PlanError("plan-time", text=str(text)[:40])
    if at.year not in _YEARS:
        raise PlanError("plan-year", year=at.year, first=_YEARS.start, last=_YEARS.stop - 1)
    return at


def origin_of(content: Mapping[str, Any]) -> datetime:
    """Return the local time that minute 0 is."""
    return local_time(content.get("origin"))


def zone_of(content: Mapping[str, Any]) -> ZoneInfo | None:
    """Return the zone whose clock may change, None for a wall clock."""
    name = content.get("zone")
    if name is None:
        return None
    try:
        return ZoneInfo(word(name, "zone"))
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise PlanError("plan-zone", zone=str(name)[:40]) from None


def seconds_of(content: Mapping[str, Any]) -> float:
    """Return how long may be searched."""
    limit = content.get("time_limit_s", 8)
    if isinstance(limit, bool) or not isinstance(limit, int | float) or not 0 < limit <= 600:
        raise PlanError("plan-number", key="time_limit_s", value=str(limit)[:40])
    return float(limit)


def shift_of(data: Any, who: str) -> tuple[int, int]:
    """Return from when to when somebody is there."""
    start, end = span(data, f"a shift of {who}", -MOST_MINUTES)
    return start, end


def span(data: Any, what: str, least: int = 0) -> tuple[int, int]:
    """Return two whole numbers, the least first."""
    if not isinstance(data, list) or len(data) != 2:
        raise PlanError("plan-malformed", what=what)
    low, high = (whole({"value": one}, "value", None, least, MOST_MINUTES) for one in data)
    if low > high:
        raise PlanError("plan-least-above-most", what=what)
    return low, high


def uses(data: Mapping[str, Any], key: str, places: Mapping[str, int]) -> tuple[Use, ...]:
    """Return what is taken of places that are there."""
    found = []
    for one in listed(data, key):
        if not isinstance(one, dict):
            raise PlanError("plan-malformed", what=key)
        known_keys(one, {"place", "units"}, key)
        place = word(one.get("place"), "place")
        if place not in places:
            raise PlanError("plan-unknown-id", what=key, id=place)
        found.append(Use(place, whole(one, "units", None, 1, MOST_UNITS)))
    return tuple(found)


def entries(content: Mapping[str, Any], key: str, more: set[str]) -> list[dict[str, Any]]:
    """Return the objects of a list that each have an id of their own."""
    found = []
    for one in listed(content, key):
        if not isinstance(one, dict):
            raise PlanError("plan-malformed", what=key)
        known_keys(one, {"id", *more}, key)
        one["id"] = word(one.get("id"), f"the id of {key}")
        found.append(one)
    ids = [one["id"] for one in found]
    twice = next((name for name in ids if ids.count(name) > 1), None)
    if twice is not None:
        raise PlanError("plan-double-id", id=twice)
    return found


def listed(data: Mapping[str, Any], key: str) -> list[Any]:
    """Return a list, empty where there is none."""
    found = data.get(key)
    if found is None:
        return []
    if not isinstance(found, list) or len(found) > 2000:
        raise PlanError("plan-malformed", what=key)
    return found


def known_keys(data: Mapping[str, Any], keys: set[str], where: str) -> None:
    """Refuse a key that nobody knows."""
    unknown = sorted(map(str, data.keys() - keys))
    if unknown:
        raise PlanError("plan-unknown-key", key=unknown[0][:40], where=where)


def word(value: Any, what: str) -> str:
    """Return a name that can be printed."""
    if not isinstance(value, str) or not value.strip() or not value.isprintable() or len(value) > _LONGEST:
        raise PlanError("plan-malformed", what=what)
    return value


def text(data: Mapping[str, Any], key: str, usual: str) -> str:
    """Return a line of text that can be printed."""
    value = data.get(key)
    if value is None:
        return usual
    if not isinstance(value, str) or not value.isprintable() or len(value) > _LONGEST:
        raise PlanError("plan-malformed", what=key)
    return value


def flag(data: Mapping[str, Any], key: str) -> bool:
    """Return true or false."""
    value = data.get(key, False)
    if not isinstance(value, bool):
        raise PlanError("plan-malformed", what=key)
    return value


def whole_or_none(data: Mapping[str, Any], key: str) -> int | None:
    """Return a whole number, None where there is none."""
    return None if data.get(key) is None else whole(data, key, None, -MOST_MINUTES, MOST_MINUTES)


def whole(data: Mapping[str, Any], key: str, usual: int | None, least: int, most: int) -> int:
    """Return a whole number in its range; booleans and fractions are none."""
    value = data.get(key, usual)
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value <= most:
        raise PlanError("plan-number", key=key, value=str(value)[:40])
    return value
