"""Parts are killed without warning while several people work; all that was acknowledged must be there, once."""

from __future__ import annotations

import os
import random
import shutil
import signal
import sys
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import Final

from launch.application import Application
from launch.bench.figure import Figure
from launch.database import Cluster
from launch.demo_server import DemoServer, demo_server

from .editor import Editor
from .patience import PATIENCE_S
from .sender import SENDERS, Sender

_CLUSTER: Final = Cluster("postgres-endure")
_KILLS: Final = 50
_EDITORS: Final = 6
_LONGEST_PAUSE_S: Final = 1.5


def figures() -> list[Figure]:
    """Kill, let everything come back, and count."""
    try:
        with demo_server(_CLUSTER) as server:
            return _killed(server)
    finally:
        shutil.rmtree(_CLUSTER.folder, ignore_errors=True)


def _killed(server: DemoServer) -> list[Figure]:
    chance = random.Random()
    editors: list[Editor | Sender] = [Editor(server, place) for place in range(_EDITORS)]
    editors += [begin(server) for begin in SENDERS]
    for editor in editors:
        editor.start()
    for number in range(_KILLS):
        _wait_for_edits(editors)
        time.sleep(chance.uniform(0.05, _LONGEST_PAUSE_S))
        chance.choice(WAYS)(server.application)
        done = sum(editor.acknowledged for editor in editors)
        print(f"\r  killed {number + 1} times, {done} acknowledged", end="", file=sys.stderr, flush=True)
    for editor in editors:
        editor.finish()
    print(file=sys.stderr)
    for sentence in (sentence for editor in editors for sentence in (*editor.lost, *editor.broken)):
        print(f"  {sentence}", file=sys.stderr)
    return [
        Figure(
            f"of what was acknowledged, lost or doubled in {_KILLS} kill -9",
            sum(len(one.lost) for one in editors),
            0.0,
            "",
        ),
        Figure(f"people of {len(editors)} that gave up", sum(bool(one.broken) for one in editors), 0.0, ""),
        Figure("acknowledged meanwhile", sum(one.acknowledged for one in editors), _KILLS, "", at_least=True),
    ]


def _wait_for_edits(editors: list[Editor | Sender]) -> None:
    """Wait until every editor's edits are acknowledged again, so that each kill falls among them."""
    before, until = [one.acknowledged for one in editors], time.monotonic() + PATIENCE_S
    while time.monotonic() < until and not all(
        one.broken or one.acknowledged > begun for one, begun in zip(editors, before, strict=True)
    ):
        time.sleep(0.02)


def kill_database(application: Application) -> None:
    """Kill the database with all its processes."""
    postmaster = _postmaster(application)
    _kill(postmaster, *children(postmaster))


def kill_backend(application: Application) -> None:
    """Kill one connection's process, whereupon the database restarts itself and drops all others."""
    serving = [pid for pid in children(_postmaster(application)) if b"jalebi_app" in _command(pid)]
    _kill(*random.sample(serving, min(1, len(serving))))


def kill_server(application: Application) -> None:
    """Kill the server with all its workers."""
    master = int(application.pid_file("server").read_text())
    _kill(master, *children(master))


def kill_a_server_worker(application: Application) -> None:
    """Kill one of the server's workers."""
    workers = children(int(application.pid_file("server").read_text()))
    _kill(*random.sample(workers, min(1, len(workers))))


def kill_worker(application: Application) -> None:
    """Kill the worker that does jobs, with what it has begun."""
    worker = int(application.pid_file("worker").read_text())
    _kill(worker, *children(worker))


WAYS: Final[tuple[Callable[[Application], None], ...]] = (
    kill_database,
    kill_backend,
    kill_server,
    kill_a_server_worker,
    kill_worker,
)


def children(pid: int) -> list[int]:
    """Return the processes that a process has begun, from /proc."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        with suppress(OSError):
            if int(stat.read_text().rpartition(")")[2].split()[1]) == pid:
                found.append(int(stat.parent.name))
    return found


def _postmaster(application: Application) -> int:
    return int((application.cluster.folder / "data/postmaster.pid").read_text().splitlines()[0])


def _command(pid: int) -> bytes:
    with suppress(OSError):
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    return b""


def _kill(*pids: int) -> None:
    for pid in pids:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)
