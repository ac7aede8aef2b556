"""Keeping programs alive: each part is looked at several times a second and brought back when it has ended."""

from __future__ import annotations

import os
import signal
import subprocess
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Final, Protocol

from .places import ROOT, LaunchError

_LOOK_EVERY_S: Final = 0.2
_PAUSES_S: Final = (0.0, 0.5, 1.0, 2.0, 5.0, 10.0)
"""Before each further try of a part that does not stay: the first at once, the last for as long as it takes."""
_STAYED_S: Final = 20.0
"""A part that has lived this long has come back for good."""
_PATIENCE_S: Final = 10.0
"""For a program to end by itself before it is killed; requests are answered within it."""


class Part(Protocol):
    """Something that has to be running."""

    name: str

    def lives(self) -> bool:
        """Say whether it runs."""

    def bring_back(self) -> None:
        """Start it where it has ended; raises LaunchError when that cannot be now."""

    def stop(self) -> None:
        """End it."""


@dataclass(slots=True)
class Program:
    """A part that is a process with children of its own, begun in a session that can be ended as a whole.

    ``ready`` returns when it does its work, or raises LaunchError; its pid is kept so that the next start can end it
    when the launcher was killed.
    """

    name: str
    command: Sequence[str | Path]
    env: Mapping[str, str]
    output: Path
    pid_file: Path
    pass_fds: tuple[int, ...] = ()
    ready: Callable[[Program], None] = lambda _program: None
    process: subprocess.Popen[bytes] | None = None

    def lives(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def bring_back(self) -> None:
        self._kill_group()
        with os.fdopen(os.open(self.output, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as output:
            self.process = subprocess.Popen(
                self.command, cwd=ROOT, env=self.env, stdin=subprocess.DEVNULL, stdout=output, stderr=output,
                start_new_session=True, pass_fds=self.pass_fds, umask=0o077,
            )  # fmt: skip
        self.pid_file.write_text(str(self.process.pid))
        self.ready(self)

    def stop(self) -> None:
        if self.process is None:
            return
        self.process.terminate()
        with suppress(subprocess.TimeoutExpired):
            self.process.wait(_PATIENCE_S)
        self._kill_group()
        self.pid_file.unlink(missing_ok=True)

    def tail(self, lines: int = 8) -> str:
        """Return the last lines that it printed."""
        return "\n".join(self.output.read_text(errors="replace").splitlines()[-lines:])

    def _kill_group(self) -> None:
        """End what is left of it: workers that outlived their master would answer with yesterday's code."""
        if self.process is not None:
            with suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()


@dataclass(slots=True)
class _Watch:
    """Since when a part is down, how often it has been tried in a row, and when it may be tried again."""

    is_down: bool = False
    tries: int = 0
    again_at: float = 0.0
    back_at: float = 0.0


class Supervisor:
    """Looks after parts in their order, which is that in which they need each other.

    ``tell`` says what has ended and come back; ``tidy`` is done at every look.
    """

    def __init__(self, parts: Sequence[Part], tell: Callable[[str], None], tidy: Callable[[], None]) -> None:
        self.parts = parts
        self._tell = tell
        self._tidy = tidy
        self._watches = {part.name: _Watch() for part in parts}
        self._ended = threading.Event()

    def begin(self) -> None:
        """Start every part; raises LaunchError when one does not come up."""
        for part in self.parts:
            part.bring_back()

    def watch(self) -> None:
        """Bring back what ends until `end` is called."""
        while not self._ended.wait(_LOOK_EVERY_S):
            for part in self.parts:
                self._look_at(part)
            self._tidy()

    def end(self) -> None:
        """Make `watch` return, and stop every part, the last first."""
        self._ended.set()
        for part in reversed(self.parts):
            part.stop()

    def _look_at(self, part: Part) -> None:
        watch, now = self._watches[part.name], time.monotonic()
        if part.lives():
            if watch.tries and now - watch.back_at > _STAYED_S:
                watch.tries = 0
            return
        if not watch.is_down:
            watch.is_down = True
            self._tell(f"The {part.name} has ended; it is being started again.")
        if now < watch.again_at:
            return
        watch.tries += 1
        try:
            part.bring_back()
        except LaunchError as error:
            if watch.tries == len(_PAUSES_S):
                self._tell(f"The {part.name} does not come back; it is tried every {_PAUSES_S[-1]:g} s. {error}")
        else:
            watch.is_down = False
            self._tell(f"The {part.name} is back.")
        watch.back_at = time.monotonic()
        watch.again_at = watch.back_at + _PAUSES_S[min(watch.tries, len(_PAUSES_S) - 1)]
