"""`start` and `demo`: the application with its database, from nothing to an address."""

from __future__ import annotations

import fcntl
import os
import re
import signal
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path
from types import FrameType

from .database import Cluster, free_port
from .environments import ensure_interface, ensure_python
from .places import ROOT, VAR, LaunchError, make_var
from .progress import run_quietly, step
from .secrets_file import load_secrets

CLUSTER = Cluster("postgres")
PERSON = "keeper"
GUNICORN: tuple[str | Path, ...] = ("-m", "gunicorn", "--config", ROOT / "server/gunicorn_settings.py")
_ADDRESS = VAR / "address"
_SERVER_PID = VAR / "server.pid"


def settings_environment(cluster: Cluster, port: int, interface: Path | None) -> dict[str, str]:
    """Return the environment that the server's settings are read from, for a cluster at its port."""
    secrets = load_secrets()
    return {
        **os.environ,
        "PYTHONPATH": str(ROOT / "server"),
        "DJANGO_SETTINGS_MODULE": "config.settings",
        "JALEBI_SECRET_KEY": secrets["secret_key"],
        "JALEBI_DATABASE_PORT": str(port),
        "JALEBI_DATABASE_PASSWORD": secrets["database_password"],
        "JALEBI_DEMO_PASSWORD": secrets["demo_password"],
        "JALEBI_CACHE": str(VAR / "cache" / cluster.name),
        "JALEBI_INTERFACE": str(interface or ""),
    }


def start() -> int:
    """Serve until Ctrl-C; whatever is missing is installed first."""
    make_var()
    lock = (VAR / "start.lock").open("w")
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        where = _ADDRESS.read_text().strip() if _ADDRESS.exists() else "an address it will print soon"
        print(f"Jalebi is already running here: {where}")
        return 0
    signal.signal(signal.SIGTERM, _interrupt)
    print("Jalebi is getting ready.", flush=True)
    python = ensure_python("venv", "requirements.txt")
    interface = ensure_interface()
    _stop_left_over_server()
    try:
        env = settings_environment(CLUSTER, CLUSTER.start(), interface)
        with step("database and demo kitchen"):
            run_quietly([python, "-m", "config.manage", "prepare"], cwd=ROOT, env=env)
        return _serve(python, env)
    except KeyboardInterrupt:
        return 0
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        with step("stopping the database"):
            CLUSTER.stop()


def reset_demo() -> int:
    """Put the demo kitchen back to what it was; other kitchens are not touched."""
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


def _is_locked() -> bool:
    with (VAR / "start.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
        return False


def _serve(python: Path, env: dict[str, str]) -> int:
    port = free_port(8000)
    address = f"http://127.0.0.1:{port}/"
    log = VAR / "server.log"
    with log.open("a") as output:
        server = subprocess.Popen(
            [python, *GUNICORN, "--bind", f"127.0.0.1:{port}"],
            cwd=ROOT, env=env, stdout=output, stderr=output, stdin=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
    _SERVER_PID.write_text(str(server.pid))
    try:
        wait_until_healthy(address, server, log)
        _ADDRESS.write_text(address)
        if port != 8000:
            print(f"Port 8000 is taken, so this is port {port}.")
        print(f"\nJalebi is at {address}\nSign in as  {PERSON}  with  {env['JALEBI_DEMO_PASSWORD']}")
        print("(the demo kitchen, Sluice No. 9). Ctrl-C stops it.", flush=True)
        return server.wait()
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        server.terminate()
        server.wait()
        _SERVER_PID.unlink(missing_ok=True)
        _ADDRESS.unlink(missing_ok=True)
        print("\nThe server has stopped.", flush=True)


def wait_until_healthy(address: str, server: subprocess.Popen[bytes], log: Path, seconds: float = 30) -> None:
    """Return when the server answers; raises LaunchError when it ends or stays silent."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if server.poll() is not None:
            break
        try:
            with urllib.request.urlopen(f"{address}api/v1/health", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.1)
    tail = "\n".join(log.read_text().splitlines()[-8:])
    raise LaunchError(f"The server did not come up; its log is {log}:\n{tail}")


def _stop_left_over_server() -> None:
    """End a server that outlived its launcher, as after a kill -9."""
    try:
        pid = int(_SERVER_PID.read_text())
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
    except (OSError, ValueError):
        return
    if str(ROOT / "server/gunicorn_settings.py").encode() in command:
        os.kill(pid, signal.SIGTERM)
        for _ in range(100):
            if not Path(f"/proc/{pid}").exists():
                break
            time.sleep(0.1)
    _SERVER_PID.unlink(missing_ok=True)


def _interrupt(_signal: int, _frame: FrameType | None) -> None:
    raise KeyboardInterrupt
