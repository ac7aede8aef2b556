"""What a device and Jalebi say to each other: one JSON object a line, UTF-8, over TCP. See docs/devices.md."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from math import isfinite
from typing import Any, Final

from jalebi_core.model.errors import DeviceError

VERSION: Final = 1
KINDS: Final = ("scale", "fine-scale", "probe", "batch-freezer")
UNITS: Final = {"scale": "g", "fine-scale": "g", "probe": "°C", "batch-freezer": "°C"}
LONGEST_LINE: Final = 4096
_LIMITS: Final = {"g": (-100_000.0, 100_000.0), "°C": (-80.0, 250.0)}
MOST_LINES_S: Final = 100
"""Lines a second that a device may send, over a few seconds; a scale sends five."""
_MOST_BRACKETS: Final = 8
"""A line is a flat object: whatever opens more is not read."""
_LONGEST_NAME: Final = 60
_FASTEST: Final = 1000.0


@dataclass(frozen=True, slots=True)
class Hello:
    """What a device says first: what it is.

    step : its finest difference; speed : by how much its clock is faster than the one on the wall
    stand_in : it is simulated, and takes what a hand would do
    """

    kind: str
    name: str
    step: float
    speed: float = 1.0
    stand_in: bool = False

    @property
    def unit(self) -> str:
        return UNITS[self.kind]


@dataclass(frozen=True, slots=True)
class Shown:
    """What it shows: at a second of its own clock, in its unit, and whether it stands still; °C of a freezer's wall."""

    t: float
    value: float
    steady: bool = False
    wall_c: float | None = None


def write_hello(hello: Hello) -> str:
    """Return the first line of a device."""
    return json.dumps({"jalebi": "device", "version": VERSION, **asdict(hello)})


def write_shown(shown: Shown) -> str:
    """Return a line of a device."""
    said = {"t": round(shown.t, 3), "value": round(shown.value, 4), "steady": shown.steady}
    return json.dumps(said if shown.wall_c is None else {**said, "wall_c": round(shown.wall_c, 3)})


def read_hello(line: str) -> Hello:
    """Return what a device is; raises DeviceError for a line that does not say so."""
    said = _object(line)
    if said.get("jalebi") != "device" or said.get("version") != VERSION:
        raise DeviceError("device-no-hello", version=VERSION)
    kind, name = said.get("kind"), said.get("name")
    if kind not in KINDS:
        raise DeviceError("device-kind", kind=str(kind)[:_LONGEST_NAME], known=KINDS)
    if not isinstance(name, str) or not name.strip() or not name.isprintable() or len(name) > _LONGEST_NAME:
        raise DeviceError("device-name", most=_LONGEST_NAME)
    step, speed = _number(said, "step", 1e-6, 1000.0), _number({"speed": 1.0, **said}, "speed", 0.01, _FASTEST)
    return Hello(kind, name.strip(), step, speed, said.get("stand_in") is True)


def read_shown(line: str, unit: str) -> Shown:
    """Return what a device shows; raises DeviceError for a line that is none, or a value that cannot be."""
    said = _object(line)
    wall = None if said.get("wall_c") is None else _number(said, "wall_c", *_LIMITS["°C"])
    return Shown(
        _number(said, "t", 0.0, 1e10), _number(said, "value", *_LIMITS[unit]), said.get("steady") is True, wall
    )


def _object(line: str) -> Mapping[str, Any]:
    if line.count("{") + line.count("[") > _MOST_BRACKETS:
        raise DeviceError("device-no-json", said=line.strip()[:_LONGEST_NAME])
    try:
        said = json.loads(line)
    except ValueError:
        raise DeviceError("device-no-json", said=line.strip()[:_LONGEST_NAME]) from None
    if not isinstance(said, dict):
        raise DeviceError("device-no-json", said=line.strip()[:_LONGEST_NAME])
    return said


def _number(said: Mapping[str, Any], key: str, least: float, most: float) -> float:
    value = said.get(key)
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise DeviceError("device-number", key=key)
    if not least <= value <= most:
        raise DeviceError("device-range", key=key, least=least, most=most)
    return float(value)
