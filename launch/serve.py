"""`start`, `demo` and `kitchen`: the application with its database, from nothing to an address."""

from __future__ import annotations

import fcntl
import os
import re
import signal
import time
import urllib.error
import urllib.request
from contextlib import suppress
from types import FrameType
from typing import Final, TextIO

from .application import Application, StandIns, is_healthy, settings_environment
from .database import Cluster
from .environments import ensure_interface, ensure_python
from .places import ROOT, VAR, LaunchError, make_var
from .progress import run_quietly, step

CLUSTER = Cluster("postgres")
PERSON: Final = "keeper"
_PORT: Final = 8000
_ADDRESS = VAR / "address"
_LOCK = VAR / "start.lock"
_HEALTHY_AGAIN_S: Final = 15.0
_LONGEST_STOP_S: Final = 30.0


def start(stand_ins: StandIns | None = None) -> int:
    """Serve until Ctrl-C; whatever is missing is installed first."""
    make_var()
    lock = _LOCK.open("a+")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        if not _is_outdated():
            return _tell_of_running()
        _take_over(lock)
    lock.truncate(0)
    lock.write(str(os.getpid()))
    lock.flush()
    signal.signal(signal.SIGTERM, _interrupt)
    print("Jalebi is getting ready.", flush=True)
    serving = None
    try:
        python = ensure_python("venv", "requirements.txt")
        serving = Application(CLUSTER, python, ensure_interface(), _PORT, stand_ins)
        serving.begin(_tell)
        _ADDRESS.write_text(serving.address)
        if serving.port != _PORT:
            print(f"Port {_PORT} is taken, so this is port {serving.port}.")
        print(f"\nJalebi is at {serving.address}\nSign in as  {PERSON}  with  {serving.env['JALEBI_DEMO_PASSWORD']}")
        print("(the demo kitchen, Sluice No. 9). Ctrl-C stops it.", flush=True)
        serving.watch()
    except KeyboardInterrupt:
        print("\nStopping; what was saved is saved.", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        if serving is not None:
            with step("stopping"):
                serving.end()
        _ADDRESS.unlink(missing_ok=True)
    return 0


def reset_demo(sure: bool) -> int:
    """Put the demo kitchen back to what it was; other kitchens are not touched."""
    if not sure and (working := _manage("demo_in_use").strip()):
        question = f"{working} What is in the demo kitchen now is lost. Go on? [y/N] "
        if not _agreed(question):
            raise LaunchError("the demo kitchen stays as it is. With --yes it is put back without asking.")
    with step("demo kitchen, fresh"):
        _manage("prepare", "--fresh-demo")
    return 0


def add_kitchen(kitchen: str, person: str) -> int:
    """Make a kitchen with one person, and print how to sign in."""
    print(_manage("add_kitchen", "--", kitchen, person), end="")
    return 0


def _manage(*command: str) -> str:
    """Run a management command on the kitchens' database, which is started only for as long as nobody else uses it."""
    make_var()
    python = ensure_python("venv", "requirements.txt")
    in_use = _is_locked()
    try:
        env = settings_environment(CLUSTER, CLUSTER.start(), None)
        if not in_use:
            run_quietly([python, "-m", "config.manage", "prepare"], cwd=ROOT, env=env)
        return run_quietly([python, "-m", "config.manage", *command], cwd=ROOT, env=env)
    except LaunchError as error:
        refused = re.search(r"^CommandError: (.+)$", str(error), re.MULTILINE)
        if refused:
            raise LaunchError(refused[1]) from None
        raise
    finally:
        if not in_use:
            CLUSTER.stop()


def _agreed(question: str) -> bool:
    try:
        return input(question).strip().lower() in ("y", "yes")
    except EOFError:
        return False


def _is_locked() -> bool:
    with _LOCK.open("a") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
        return False


def _is_outdated() -> bool:
    """Say whether what runs here says that it was updated since it was started."""
    if not _ADDRESS.exists():
        return False
    try:
        urllib.request.urlopen(f"{_ADDRESS.read_text().strip()}api/v1/health", timeout=5).close()
    except urllib.error.HTTPError as error:
        return b"/problems/updated" in error.read()
    except OSError:
        pass
    return False


def _take_over(lock: TextIO) -> None:
    """End the start that runs here and take its place; raises LaunchError where it does not end."""
    print("Jalebi was updated here while it ran: that start is ended, and this one takes its place.", flush=True)
    lock.seek(0)
    with suppress(ValueError, ProcessLookupError):
        os.kill(int(lock.read()), signal.SIGTERM)
    until = time.monotonic() + _LONGEST_STOP_S
    while True:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() > until:
                raise LaunchError("The start that runs here does not end. Stop it with Ctrl-C where it runs.") from None
            time.sleep(0.1)
        else:
            return


def _tell_of_running() -> int:
    """Say where the other start serves; raises LaunchError where it does not answer and does not come back."""
    if not _ADDRESS.exists():
        print("Jalebi is getting ready already, in another window; it will print its address there.")
        return 0
    address = _ADDRESS.read_text().strip()
    until = time.monotonic() + _HEALTHY_AGAIN_S
    while not is_healthy(address):
        if time.monotonic() > until:
            raise LaunchError(
                f"Jalebi runs here already but does not answer well at {address}; what it says stands where it was"
                " started. Stop it there with Ctrl-C and start again."
            )
        time.sleep(0.5)
    print(f"Jalebi is already running here: {address}")
    return 0


def _tell(sentence: str) -> None:
    print(f"{time.strftime('%H:%M:%S')}  {sentence}", flush=True)


def _interrupt(_signal: int, _frame: FrameType | None) -> None:
    raise KeyboardInterrupt
