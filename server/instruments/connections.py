"""Where the instruments are: the installation's files of devices, which no request can change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from tomllib import TOMLDecodeError, loads

from jalebi_core.model.errors import DeviceError

_KEYS = {"key", "kitchen", "address"}


@dataclass(frozen=True, slots=True)
class Address:
    """Where an instrument of a kitchen is reached."""

    key: str
    kitchen: str
    host: str
    port: int


def read_addresses(files: Sequence[Path]) -> list[Address]:
    """Return the addresses of files that are there; raises DeviceError naming what cannot be read."""
    found = [_address(entry) for file in files if file.exists() for entry in _entries(file)]
    keys = [(one.kitchen, one.key) for one in found]
    twice = next((key for key in keys if keys.count(key) > 1), None)
    if twice:
        raise DeviceError("devices-file", what=f"“{twice[1]}” stands there twice.")
    return found


def _entries(file: Path) -> list[dict[str, object]]:
    try:
        entries = loads(file.read_text(encoding="utf-8")).get("device", [])
    except (TOMLDecodeError, UnicodeDecodeError, OSError) as error:
        raise DeviceError("devices-file", what=str(error)) from None
    if not isinstance(entries, list) or not all(isinstance(one, dict) for one in entries):
        raise DeviceError("devices-file", what="its devices begin with [[device]].")
    return entries


def _address(entry: dict[str, object]) -> Address:
    if entry.keys() != _KEYS or not all(isinstance(value, str) for value in entry.values()):
        raise DeviceError("devices-file", what="a device has the texts key, kitchen and address, and nothing else.")
    host, _, port = str(entry["address"]).rpartition(":")
    if not host or not port.isdigit() or not 0 < int(port) < 65_536:
        raise DeviceError("devices-file", what=f"“{entry['address']}” is no host:port.")
    return Address(str(entry["key"]), str(entry["kitchen"]), host, int(port))
