"""Versions as entity tags (RFC 9110): what somebody looked at is named in If-Match, what it is now in ETag."""

from __future__ import annotations

import re
from typing import Annotated, Final

from django.http import HttpResponse
from ninja import Header

from api.problems import RefusedError

_TAG: Final = re.compile(r'"(\d{1,9})"')


class UnversionedError(RefusedError):
    """A change that does not say which version was looked at."""

    status = 428
    code = "version-missing"


IfMatch = Annotated[str | None, Header(alias="If-Match", description='The entity tag that was looked at, as “"3"”.')]
IfNoneMatch = Annotated[str | None, Header(alias="If-None-Match", description="The entity tag that is known already.")]


def version_of(if_match: str | None) -> int:
    """Return the version that a request was made from; raises UnversionedError where it names none."""
    found = _TAG.fullmatch(if_match or "")
    if found is None:
        raise UnversionedError('Say in If-Match which version was looked at, such as "3"; it comes as the ETag.')
    return int(found[1])


def tag(response: HttpResponse, version: int) -> None:
    """Name the version that an answer is of."""
    response["ETag"] = entity_tag(version)


def entity_tag(version: int) -> str:
    """Return the entity tag of a version."""
    return f'"{version}"'
