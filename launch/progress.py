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
    command: Sequence[str | Path],
    *,
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
    given: str = "",
    pid_file: Path | None = None,
) -> str:
    """Run a command, with what it is given to read, and return what it printed.

    Parameters
    ----------
    pid_file : where its process number stands while it runs, in a session of its own: it can be ended from there by
        the next launcher where this one is killed

    Raises
    ------
    LaunchError : it failed, with its last lines
    """
    try:
        running = subprocess.Popen(
            command,
            cwd=cwd,
            env=env,
            text=True,
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            start_new_session=pid_file is not None,
        )
    except FileNotFoundError:
        raise LaunchError(f"The program “{command[0]}” is not on this machine.") from None
    if pid_file is not None:
        pid_file.write_text(str(running.pid))
    try:
        with running:
            stdout, stderr = running.communicate(given)
    except BaseException:
        running.kill()
        raise
    finally:
        if pid_file is not None:
            pid_file.unlink(missing_ok=True)
    if running.returncode != 0:
        tail = "\n".join((stdout + stderr).strip().splitlines()[-12:])
        failed = f"“{' '.join(map(str, command[:4]))} …” failed:\n{tail}"
        log = VAR / "last-failure.log"
        try:
            with os.fdopen(os.open(log, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "w", encoding="utf-8") as file:
                file.write(stdout + stderr)
        except OSError:  # a full disk may be what it failed of
            raise LaunchError(failed) from None
        raise LaunchError(f"{failed}\n(The whole output is in {log}.)")
    return stdout
