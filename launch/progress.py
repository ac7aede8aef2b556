"""One line of progress for each slow step, on standard error so that results stay clean."""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path

from .places import VAR, LaunchError


@contextmanager
def step(title: str) -> Iterator[None]:
    """Say what is being done and how long it took."""
    print(f"  {title} … ", end="", file=sys.stderr, flush=True)
    began = time.monotonic()
    try:
        yield
    except BaseException:
        print("failed", file=sys.stderr, flush=True)
        raise
    print(f"done ({time.monotonic() - began:.1f} s)", file=sys.stderr, flush=True)


def run_quietly(
    command: Sequence[str | Path], *, cwd: Path | None = None, env: Mapping[str, str] | None = None, given: str = ""
) -> str:
    """Run a command, with what it is given to read, and return what it printed.

    Raises LaunchError with its last lines when it fails.
    """
    try:
        done = subprocess.run(command, cwd=cwd, env=env, text=True, capture_output=True, input=given)
    except FileNotFoundError:
        raise LaunchError(f"The program “{command[0]}” is not on this machine.") from None
    if done.returncode != 0:
        tail = "\n".join((done.stdout + done.stderr).strip().splitlines()[-12:])
        failed = f"“{' '.join(map(str, command[:4]))} …” failed:\n{tail}"
        log = VAR / "last-failure.log"
        try:
            with os.fdopen(os.open(log, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w", encoding="utf-8") as file:
                file.write(done.stdout + done.stderr)
        except OSError:  # a full disk may be what it failed of
            raise LaunchError(failed) from None
        raise LaunchError(f"{failed}\n(The whole output is in {log}.)")
    return done.stdout
