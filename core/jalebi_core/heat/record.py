"""A record of a thermometer, typed or pasted: lines of a minute and a temperature."""

from __future__ import annotations

import re
from typing import Final

from jalebi_core.heat.enthalpy import COLDEST_C, HOTTEST_C
from jalebi_core.model.errors import HeatError

_NUMBER: Final = r"[−-]?\d+(?:[.,]\d+)?"
_LINE: Final = re.compile(
    rf"(?:(?P<minutes>\d+):(?P<seconds>[0-5]\d)|(?P<minute>{_NUMBER}))\s*(?:min|m|')?(?:\s*[;|\t]\s*|,\s+|\s+)"
    rf"(?P<degrees>{_NUMBER})\s*(?:°\s*)?[CF]?",
    re.IGNORECASE,
)
_SHOWN: Final = 40


def read_record(text: str, *, fahrenheit: bool = False) -> tuple[tuple[float, float], ...]:
    """Return (minute, °C) of each line of a text; none for an empty one.

    Minutes are such as 12, 12.5 or 12:30. Raises HeatError naming the line that cannot be used.
    """
    found: list[tuple[float, float]] = []
    lines = [(number, line.strip()) for number, line in enumerate(text.splitlines(), start=1) if line.strip()]
    for number, line in lines:
        read = _LINE.fullmatch(line)
        if read is None:
            raise HeatError("record-line-unreadable", number=number, typed=line[:_SHOWN])
        minute = int(read["minutes"]) + int(read["seconds"]) / 60 if read["minutes"] else _value(read["minute"])
        degrees = _value(read["degrees"])
        celsius = (degrees - 32) / 1.8 if fahrenheit else degrees
        if not COLDEST_C <= celsius <= HOTTEST_C:
            raise HeatError("record-line-impossible", number=number, celsius=celsius)
        if minute < 0 or (found and minute <= found[-1][0]):
            raise HeatError("record-line-backwards", number=number, minute=minute)
        found.append((minute, celsius))
    if len(found) == 1:
        raise HeatError("record-too-short")
    return tuple(found)


def _value(number: str) -> float:
    return float(number.replace("−", "-").replace(",", "."))
