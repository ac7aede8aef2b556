"""Guessing passwords takes time: each wrong one makes the next try of the same name, or from the same place, wait.

Whoever has signed in from a browser before is known to it by a signed cookie and waits only for their own mistakes:
a stranger who guesses without pause does not lock the owner out.
"""

from __future__ import annotations

import hashlib
import ipaddress
import math
import secrets
from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Final

from django.conf import settings
from django.db import models, transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from api.problems import RefusedError
from kitchens.models import Person, WrongTries

FREE_TRIES: Final = 5
"""Wrong passwords without a delay: people mistype."""
LONGEST_WAIT: Final = timedelta(minutes=1)
"""Even a guess a minute from every address needs millions of years for the demo's secret, and an owner without the
cookie waits no longer than a cup of tea takes."""
FORGOTTEN_AFTER: Final = timedelta(days=1)
_KNOWN_FOR: Final = timedelta(days=400)
_KNOWN_COOKIE: Final = f"jalebi_known_{settings.INSTALLATION}"
_SALT: Final = "browsers that people have signed in from"


class TooManyTriesError(RefusedError):
    """A try before its time."""

    status = 429
    code = "too-many-tries"


def begin_try(request: HttpRequest, name: str) -> list[str]:
    """Count a try before its password is looked at, so that many at once do not all pass, and return its keys.

    Raises
    ------
    TooManyTriesError : it comes too early; it is not counted then
    """
    keys = _keys(request, name)
    wait = _count(keys, timezone.now())
    if wait > timedelta():
        seconds = math.ceil(wait.total_seconds())
        said = "a second" if seconds == 1 else f"{seconds} seconds"
        raise TooManyTriesError(f"Too many wrong passwords. Wait {said}, then try again.", wait_s=seconds)
    return keys


@transaction.atomic
def _count(keys: Sequence[str], now: datetime) -> timedelta:
    """Count a try by its keys; return how long it has to wait where it comes too early and is not counted."""
    WrongTries.objects.bulk_create((WrongTries(key=key, last_at=now) for key in keys), ignore_conflicts=True)
    rows = list(WrongTries.objects.select_for_update().filter(key__in=keys).order_by("key"))
    for row in rows:
        row.last_at = min(row.last_at, now)  # the clock may have been set back
    wait = max(_wait_of(row, now) for row in rows)
    if wait <= timedelta():
        for row in rows:
            row.failures = 1 if row.last_at < now - FORGOTTEN_AFTER else row.failures + 1
            row.last_at = now
    WrongTries.objects.bulk_update(rows, ["failures", "last_at"])
    return wait


def forgive(request: HttpRequest, keys: Sequence[str]) -> None:
    """Forget the tries of somebody who has signed in now; of those from the same place only this one was right."""
    here = WrongTries.objects.filter(key=_digest("address", _address(request)))
    WrongTries.objects.filter(key__in=keys).exclude(pk__in=here).delete()
    here.filter(key__in=keys, failures__gt=0).update(failures=models.F("failures") - 1)


def forget_old_tries() -> None:
    """Forget who has not tried for a day."""
    WrongTries.objects.filter(last_at__lt=timezone.now() - FORGOTTEN_AFTER).delete()


def remember_browser(request: HttpRequest, response: HttpResponse, person: Person) -> None:
    """Let a browser show, next time, that this person has signed in from it."""
    known = _known(request, person.name) or secrets.token_hex(8)
    value = f"{_digest('name', person.name.casefold())}:{known}"
    response.set_signed_cookie(_KNOWN_COOKIE, value, salt=_SALT, max_age=_KNOWN_FOR, httponly=True, samesite="Lax")


def _keys(request: HttpRequest, name: str) -> list[str]:
    known = _known(request, name)
    if known is not None:
        return [_digest("browser", known)]
    return [_digest("name", name.casefold()), _digest("address", _address(request))]


def _known(request: HttpRequest, name: str) -> str | None:
    cookie = request.get_signed_cookie(_KNOWN_COOKIE, "", salt=_SALT) or ""
    of, _, known = cookie.partition(":")
    return known if of == _digest("name", name.casefold()) else None


def _address(request: HttpRequest) -> str:
    """Return where a request comes from; all the addresses of this machine are one, and so is a network of IPv6."""
    try:
        address = ipaddress.ip_address(request.META.get("REMOTE_ADDR", ""))
    except ValueError:
        return "unknown"
    if address.is_loopback:
        return "this machine"
    return str(ipaddress.ip_network((address, 64), strict=False) if address.version == 6 else address)


def _digest(kind: str, value: str) -> str:
    return hashlib.sha256(f"{kind} {value}".encode()).hexdigest()


def _wait_of(row: WrongTries, now: datetime) -> timedelta:
    beyond = row.failures - FREE_TRIES
    if beyond < 0 or row.last_at < now - FORGOTTEN_AFTER:
        return timedelta()
    delay = min(timedelta(seconds=2 ** min(beyond, 10)), LONGEST_WAIT)
    return row.last_at + delay - now
