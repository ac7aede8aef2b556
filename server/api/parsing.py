"""Reading the bodies of requests: JSON as it is defined, with numbers that can be reckoned with."""

from __future__ import annotations

import json
from math import inf, isfinite
from typing import Final, NoReturn

from django.http import HttpRequest
from ninja.parser import Parser
from ninja.types import DictStrAny

from jalebi_core.formats.json_text import whole_number

_LEAST: Final = 1e-100
"""Anything nearer to nothing is nothing: no amount is that small, and what is divided by it is beyond all numbers."""


class JsonParser(Parser):
    """Refuses what Python reads beyond JSON (NaN, Infinity), and numbers beyond all measure."""

    def parse_body(self, request: HttpRequest) -> DictStrAny:
        body: DictStrAny = json.loads(
            request.body, parse_constant=_refuse, parse_float=_number, parse_int=_whole_number
        )
        return body


def _refuse(constant: str) -> NoReturn:
    raise ValueError(f"{constant} is not a number")


def _number(digits: str) -> float:
    value = float(digits)
    if not isfinite(value):
        _refuse(digits[:20])
    return value if abs(value) >= _LEAST else 0.0


def _whole_number(digits: str) -> int | float:
    value = whole_number(digits)
    if value in (inf, -inf):
        _refuse(digits[:20])
    return value
