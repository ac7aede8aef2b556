"""Logs that do not grow for ever."""

from __future__ import annotations

from pathlib import Path
from typing import Final

_LARGEST: Final = 5_000_000
_KEPT: Final = 3


def rotate(log: Path, largest: int = _LARGEST) -> None:
    """Set a log that has grown aside as ``NAME.1``, up to three of them; who writes it begins a new one."""
    if not log.exists() or log.stat().st_size <= largest:
        return
    for number in range(_KEPT - 1, 0, -1):
        older = log.with_name(f"{log.name}.{number}")
        if older.exists():
            older.rename(log.with_name(f"{log.name}.{number + 1}"))
    log.rename(log.with_name(f"{log.name}.1"))
