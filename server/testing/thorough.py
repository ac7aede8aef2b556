"""How much is tried: all of it behind ``./jalebi test --thorough``, a sample that is the same each time else."""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import Final, TypeVar
from zlib import crc32

T = TypeVar("T")
THOROUGH: Final = os.environ.get("JALEBI_THOROUGH") == "1"


def sampled(cases: Iterable[T], one_in: int) -> list[T]:
    """Return one in so many cases, or all of them in a thorough run; which ones stays until the cases change."""
    return [case for case in cases if THOROUGH or crc32(repr(case).encode()) % one_in == 0]
