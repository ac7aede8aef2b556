"""How long a request is, from what has come of it so far."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

LONGEST_BODY: Final = 1_100_000
"""Bytes of a body: a recipe of a million characters as JSON."""
LONGEST_FILE: Final = 12_000_000
"""Bytes of a form that carries a file of ingredients, which has 10 MB at most."""
_FILE: Final = re.compile(rb"^POST [^ ?]+/ingredient-files[? ]")
_END: Final = b"\r\n\r\n"
_LENGTH: Final = re.compile(rb"^content-length:[ \t]*([0-9]{1,18})[ \t]*\r$", re.IGNORECASE | re.MULTILINE)
_CODED: Final = re.compile(rb"^transfer-encoding:", re.IGNORECASE | re.MULTILINE)


class UnmeasuredError(ValueError):
    """A body that does not say how long it is."""


@dataclass(frozen=True, slots=True)
class RequestSize:
    """Bytes of the head with its empty line and of the body, and how many of the latter there may be."""

    head: int
    body: int
    most: int

    @property
    def whole(self) -> int:
        return self.head + self.body

    @property
    def is_too_large(self) -> bool:
        return self.body > self.most


def request_size(begun: bytes | bytearray) -> RequestSize | None:
    """Return how long a request is, None while its head is not whole.

    Raises
    ------
    UnmeasuredError : the body comes in chunks, whose number nobody knows
    """
    end = begun.find(_END)
    if end < 0:
        return None
    head = bytes(begun[: end + len(_END)])
    if _CODED.search(head):
        raise UnmeasuredError
    lengths = [int(length) for length in _LENGTH.findall(head)]
    return RequestSize(len(head), max(lengths, default=0), LONGEST_FILE if _FILE.match(head) else LONGEST_BODY)
