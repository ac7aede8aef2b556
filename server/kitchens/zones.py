"""A kitchen's time zone: which day it is there, wherever a day is meant."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Final
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone

from jalebi_core.model.errors import MixError

UTC: Final = "UTC"
_OF_THE_MACHINE: Final = Path("/etc/localtime")


def checked_zone(name: str) -> str:
    """Return the IANA name of a time zone; raises MixError for one that is not known."""
    try:
        return ZoneInfo(name).key
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise MixError("zone-unknown", zone=name[:40]) from None


def zone_of_this_machine() -> str:
    """Return the zone that this machine goes by; UTC where it does not say."""
    _, _, name = str(_OF_THE_MACHINE.resolve()).partition("/zoneinfo/")
    try:
        return checked_zone(name)
    except MixError:
        return UTC


def zone_middleware(
    get_response: Callable[[HttpRequest], HttpResponseBase],
) -> Callable[[HttpRequest], HttpResponseBase]:
    """Let no request go by the zone of the one before it: that of its own kitchen is chosen when somebody is known."""

    def answer(request: HttpRequest) -> HttpResponseBase:
        timezone.deactivate()
        return get_response(request)

    return answer
