"""Whether the folder still holds the code that runs, or was moved to a newer version meanwhile."""

from __future__ import annotations

import hashlib
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Final

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase

import jalebi_core
from api.problems import problem

CODE: Final = (Path(__file__).parent.parent, Path(jalebi_core.__file__).parent)
_LOOK_EVERY_S: Final = 2.0
_KINDS: Final = (".py", ".toml", ".json")
_MOVED: Final = "This Jalebi was updated while it ran. Start it again with ./jalebi start; nothing saved is lost."


def code_stamp(folders: Iterable[Path] = CODE) -> str:
    """Return what tells one version of the code from another: names, sizes and times of its files."""
    total = hashlib.sha256()
    for folder in folders:
        for path in sorted(folder.rglob("*")):
            if path.suffix in _KINDS and "tests" not in path.parts:
                about = path.stat()
                total.update(f"{path} {about.st_size} {about.st_mtime_ns}\n".encode())
    return total.hexdigest()[:16]


def write_stamp() -> None:
    """Remember for which code the database was prepared."""
    if settings.PREPARED is not None:
        settings.PREPARED.write_text(code_stamp())


def moved_middleware(
    get_response: Callable[[HttpRequest], HttpResponseBase],
) -> Callable[[HttpRequest], HttpResponseBase]:
    """Answer that Jalebi has to be started again once the code is another than what runs, or than the database's."""
    looked, moved, runs = 0.0, False, code_stamp()

    def answer(request: HttpRequest) -> HttpResponseBase:
        nonlocal looked, moved
        if time.monotonic() - looked > _LOOK_EVERY_S:
            looked, moved = time.monotonic(), {code_stamp(), _prepared(runs)} != {runs}
        return problem(503, "updated", _MOVED) if moved else get_response(request)

    return answer


def _prepared(runs: str) -> str:
    """Return for which code the database was prepared; for what runs where nobody says."""
    try:
        return runs if settings.PREPARED is None else str(settings.PREPARED.read_text())
    except FileNotFoundError:
        return runs
