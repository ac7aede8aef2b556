"""Where things are; all that is made at run time lies under ``var/``."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
VAR = ROOT / "var"
WEB = ROOT / "web"


class LaunchError(Exception):
    """Something outside the code stands in the way; ``str()`` says what and the way out."""


def digest(paths: Iterable[Path]) -> str:
    """Return a short digest of files' names and contents, the same whatever order they come in."""
    total = hashlib.sha256()
    for path in sorted(paths):
        total.update(str(path.relative_to(ROOT)).encode())
        total.update(path.read_bytes())
    return total.hexdigest()[:16]


def make_var() -> None:
    """Make ``var/``; raises LaunchError when this user may not write there."""
    try:
        VAR.mkdir(exist_ok=True)
        (VAR / ".writable").touch()
    except PermissionError:
        raise LaunchError(
            f"{VAR} belongs to another user. Start Jalebi as that user, or remove the folder to begin anew."
        ) from None
