"""What was installed last: a stamp beside it says from which lists, so that nothing is done twice."""

from __future__ import annotations

import sys
from pathlib import Path

from .places import ROOT, VAR, digest


def is_fresh(stamp: Path, wanted: str) -> bool:
    """Tell whether what a stamp stands for was made of what is wanted now."""
    return stamp.exists() and stamp.read_text() == wanted


def environment_state(requirements: str) -> str:
    """Return what an environment is made of: its list of packages, the core's, and this Python."""
    return digest([ROOT / requirements, ROOT / "core/pyproject.toml"]) + sys.version


def ready_python(name: str, requirements: str) -> Path | None:
    """Return the Python of an environment that is as it should be, None where it has yet to be made."""
    folder = VAR / name
    python = folder / "bin/python"
    return python if python.exists() and is_fresh(folder / "stamp", environment_state(requirements)) else None
