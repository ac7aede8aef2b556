"""JSON with whole numbers that can be reckoned with, however many digits somebody writes."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any, Final

_MOST_DIGITS: Final = 300
"""More are beyond the range of a float."""


def load_json(text: str, refuse_constant: Callable[[str], Any] | None = None) -> Any:
    """Read a text; raises ValueError for what is no JSON, RecursionError for lists within lists without end.

    ``refuse_constant`` is called with NaN and Infinity, which Python reads beyond JSON.
    """
    return json.loads(text, parse_constant=refuse_constant, parse_int=whole_number)


def whole_number(digits: str) -> int | float:
    """Read a whole number; infinite, as 1e999 is, where no float is that large, so that it is refused by its name."""
    return int(digits) if len(digits) <= _MOST_DIGITS else float(digits)
