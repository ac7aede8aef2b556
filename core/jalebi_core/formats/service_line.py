"""A service as somebody types it: “2 L quince sorbet by 19:30, fresh”."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Final

from rapidfuzz import fuzz, process

from jalebi_core.model.errors import PlanError

_UNITS: Final[Mapping[str, tuple[str, str]]] = {
    "l": ("litres", "l"), "litre": ("litres", "l"), "litres": ("litres", "l"), "liter": ("litres", "l"),
    "liters": ("litres", "l"), "ml": ("litres", "ml"), "kg": ("mass", "kg"), "g": ("mass", "g"),
    "guest": ("guests", ""), "guests": ("guests", ""), "people": ("guests", ""), "scoop": ("portions", ""),
    "scoops": ("portions", ""), "portions": ("portions", ""), "portion": ("portions", ""), "tub": ("tubs", ""),
    "tubs": ("tubs", ""),
}  # fmt: skip
_AMOUNT: Final = re.compile(r"^\s*(?P<number>\d+(?:[.,]\d+)?(?:\s*[½¼¾])?|[½¼¾])\s*(?P<unit>[a-zA-Z]+)\b\s*(?:of\s+)?")
_FRACTIONS: Final = {"½": 0.5, "¼": 0.25, "¾": 0.75}
_HOW: Final = re.compile(r"[,;]?\s*\b(?P<how>fresh(?:\s+and\s+soft)?|soft|scooped|hardened|hard)\s*$", re.IGNORECASE)
_WHEN: Final = re.compile(
    r"[,;]?\s*\b(?:by|at|for)\s+(?:(?P<day>[\w.\-]+)\s+(?:at\s+)?)?(?P<hour>\d{1,2})(?:[:.](?P<minute>\d{2}))?"
    r"\s*(?P<half>am|pm)?(?:\s+(?:on\s+)?(?P<after>[\w.\-]+))?\s*$",
    re.IGNORECASE,
)
_DAYS: Final = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_LONGEST: Final = 200
_NEAR: Final = 60.0
_SURE_BY: Final = 8.0


@dataclass(frozen=True, slots=True)
class ServiceLine:
    """What a typed service says.

    by : mass, litres, portions, guests or tubs; amount : how much of it, with its unit
    name : what the mix was called; day : None where none was said; minute : of that day
    """

    by: str
    amount: str
    name: str
    day: date | None
    minute: int
    fresh: bool


def read_service(text: str, today: date) -> ServiceLine:
    """Read a typed service; raises PlanError that names what is missing or cannot be read."""
    said = " ".join(text.split())
    if len(said) > _LONGEST or not said.isprintable():
        raise PlanError("plan-malformed", what="the service")
    amount = _AMOUNT.match(said)
    if amount is None or amount["unit"].lower() not in _UNITS:
        raise PlanError("service-no-amount", text=said)
    by, unit = _UNITS[amount["unit"].lower()]
    rest = said[amount.end() :]
    fresh = False
    if how := _HOW.search(rest):
        fresh, rest = how["how"].lower().startswith(("fresh", "soft")), rest[: how.start()]
    when = _WHEN.search(rest)
    if when is None:
        raise PlanError("service-no-hour", text=said)
    name = rest[: when.start()].strip(" ,;")
    if not name:
        raise PlanError("service-no-mix", text=said)
    day = _day(when["day"] or when["after"], today)
    number = f"{_number(amount['number']):g}"
    return ServiceLine(by, f"{number} {unit}".strip(), name, day, _minute(when), fresh)


def mix_called(name: str, names: Sequence[str]) -> int:
    """Return which of a kitchen's mixes is meant; raises PlanError where none is near, or several are alike."""
    lowered = [one.casefold() for one in names]
    if lowered.count(name.casefold()) == 1:
        return lowered.index(name.casefold())
    found = process.extract(name.casefold(), lowered, scorer=fuzz.WRatio, limit=3)
    near = tuple(names[index] for _, _, index in found)
    if not found or found[0][1] < _NEAR:
        raise PlanError("service-unknown-mix", name=name, nearest=near or ("none",))
    if (
        len(found) > 1
        and found[0][1] - found[1][1] < _SURE_BY
        and fuzz.token_set_ratio(name.casefold(), lowered[found[1][2]]) == 100
    ):
        raise PlanError("service-which-mix", name=name, nearest=near)
    return int(found[0][2])


def _number(text: str) -> float:
    fraction = next((value for sign, value in _FRACTIONS.items() if sign in text), 0.0)
    whole = re.sub(r"[½¼¾\s]", "", text).replace(",", ".")
    return (float(whole) if whole else 0.0) + fraction


def _minute(when: re.Match[str]) -> int:
    hour, minute, half = int(when["hour"]), int(when["minute"] or 0), (when["half"] or "").lower()
    if half:
        hour = hour % 12 + (12 if half == "pm" else 0)
    if hour > 23 or minute > 59:
        raise PlanError("service-hour", text=when.group(0).strip(" ,;"))
    return 60 * hour + minute


def _day(said: str | None, today: date) -> date | None:
    if said is None:
        return None
    word = said.casefold().rstrip(".")
    if word in ("today", "tonight"):
        return today
    if word == "tomorrow":
        return today + timedelta(days=1)
    number = next((at for at, name in enumerate(_DAYS) if len(word) >= 2 and name.startswith(word)), None)
    if number is not None:
        return today + timedelta(days=(number - today.weekday()) % 7)
    try:
        return date.fromisoformat(word)
    except ValueError:
        raise PlanError("service-hour", text=said) from None
