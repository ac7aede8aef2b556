"""A private PostgreSQL on loopback, one cluster for the kitchen's data and one for the checks."""

from __future__ import annotations

import os
import pwd
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from contextlib import suppress
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from .debian import ensure_postgres
from .places import VAR, LaunchError
from .progress import run_quietly, step
from .secrets_file import load_secrets

_ELSEWHERE = Path("/var/lib/jalebi")
_SETTINGS = """
listen_addresses = '127.0.0.1'
unix_socket_directories = ''
max_connections = 60
log_min_messages = warning
# What went wrong and where, never what anybody typed.
log_error_verbosity = terse
log_min_error_statement = panic
logging_collector = on
log_directory = '..'
log_filename = 'postgresql-%a.log'
log_file_mode = 0600
log_rotation_age = 1d
log_rotation_size = 10MB
log_truncate_on_rotation = on
"""
_ROLES = Path(__file__).with_name("roles.sql")
_INCLUDE = "include_if_exists = 'jalebi.conf'"
_ORPHANS_END_S = 10.0
_SETTINGS_OF_CHECKS = """
fsync = off
synchronous_commit = off
full_page_writes = off
"""


@dataclass(frozen=True, slots=True)
class Cluster:
    """A cluster by name; root hands it to the user ``postgres``, anybody else owns it."""

    name: str
    durable: bool = True

    @property
    def _as_owner(self) -> list[str]:
        return ["runuser", "-u", "postgres", "--"] if os.geteuid() == 0 else []

    @property
    def folder(self) -> Path:
        """Under ``var/``, or under /var/lib where the user ``postgres`` cannot enter this folder.

        There it is named after the installation, not its path: a new clone in the place of an old one
        has other secrets and begins anew.
        """
        if self._as_owner and not _may_enter(VAR):
            return _ELSEWHERE / load_secrets()["installation"] / self.name
        return VAR / self.name

    def start(self, port: int = 0) -> int:
        """Start the cluster, or find it running, and return its port: the one that is asked for, or any."""
        programs = ensure_postgres()
        data = self.folder / "data"
        if not (data / "PG_VERSION").exists():
            with step("new PostgreSQL cluster"):
                self._create(programs, data)
        running = self._running_port(data)
        if running is None:
            self._end_orphans(data)
            self._configure(data)
            running = self._start(programs, data, port)
        self._make_roles(programs, running)
        return running

    def lives(self) -> bool:
        """Say whether the server of this cluster runs."""
        return self._running_port(self.folder / "data") is not None

    def stop(self) -> None:
        """Stop the cluster cleanly if it runs."""
        programs, data = ensure_postgres(), self.folder / "data"
        if self._running_port(data):
            run_quietly([*self._as_owner, programs / "pg_ctl", "-D", data, "-m", "fast", "-w", "stop"], cwd=Path("/"))
        if not self.durable and self.folder.is_relative_to(_ELSEWHERE):
            shutil.rmtree(self.folder, ignore_errors=True)
            with suppress(OSError):
                self.folder.parent.rmdir()

    def _create(self, programs: Path, data: Path) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        shutil.rmtree(data, ignore_errors=True)
        with tempfile.NamedTemporaryFile("w", suffix=".pw") as password:
            password.write(load_secrets()["database_password"])
            password.flush()
            if self._as_owner:
                owner = pwd.getpwnam("postgres")
                for path in (self.folder, Path(password.name)):
                    os.chown(path, owner.pw_uid, owner.pw_gid)
            run_quietly(
                [
                    *self._as_owner, programs / "initdb", "-D", data, "-U", "jalebi", "-E", "UTF8", "--locale=C.UTF-8",
                    "--auth=scram-sha-256", f"--pwfile={password.name}", *([] if self.durable else ["--no-sync"]),
                ],
                cwd=Path("/"),
            )  # fmt: skip

    def _configure(self, data: Path) -> None:
        """Write what this version of Jalebi wants of PostgreSQL, also into a cluster that an older one made."""
        settings, conf = data / "jalebi.conf", data / "postgresql.conf"
        wanted = _SETTINGS + ("" if self.durable else _SETTINGS_OF_CHECKS)
        if not settings.exists() or settings.read_text() != wanted:
            settings.write_text(wanted)
        if _INCLUDE not in conf.read_text():
            with conf.open("a") as file:
                file.write(f"\n{_INCLUDE}\n")
        if self._as_owner:
            owner = pwd.getpwnam("postgres")
            os.chown(settings, owner.pw_uid, owner.pw_gid)

    def _start(self, programs: Path, data: Path, wanted: int) -> int:
        log = self.folder / "log"
        last: LaunchError | None = None
        for _ in range(10):
            port = wanted or free_port()
            try:
                run_quietly(
                    [*self._as_owner, programs / "pg_ctl", "-D", data, "-l", log, "-o", f"-p {port}", "-w", "start"],
                    cwd=Path("/"),
                )
            except LaunchError as error:
                last = error
                time.sleep(0.5)
            else:
                return port
        raise LaunchError(f"PostgreSQL does not start; its log is {log}.\n{last}")

    def _make_roles(self, programs: Path, port: int) -> None:
        """Make the role that owns the tables and the one that the application signs in as; neither is administrator."""
        secrets = load_secrets()
        passwords = (f"\\set {name} '{secrets[name]}'\n" for name in ("owner_password", "role_password"))
        asked = "".join(passwords) + _ROLES.read_text()
        connect = ["-h", "127.0.0.1", "-p", str(port), "-U", "jalebi", "-d", "postgres"]
        run_quietly(
            [programs / "psql", "-q", "-X", "-v", "ON_ERROR_STOP=1", *connect],
            env={**os.environ, "PGPASSWORD": secrets["database_password"]},
            given=asked,
        )

    def _end_orphans(self, data: Path) -> None:
        """Clear what a killed server left: processes that still hold its memory, and its pid file.

        PostgreSQL refuses to start beside the first, and takes any process that has the old pid by now for its server.
        """
        for pid in _processes_in(data):
            with suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)
        until = time.monotonic() + _ORPHANS_END_S
        while _processes_in(data):
            if time.monotonic() > until:
                raise LaunchError(f"Processes of an earlier PostgreSQL still work in {data}.")
            time.sleep(0.02)
        (data / "postmaster.pid").unlink(missing_ok=True)

    def _running_port(self, data: Path) -> int | None:
        """Return the port of this cluster's living server; a left-over pid file does not count."""
        try:
            lines = (data / "postmaster.pid").read_text().splitlines()
            pid, port = int(lines[0]), int(lines[3])
            command = Path(f"/proc/{pid}/cmdline").read_bytes().split(b"\0")
        except (OSError, ValueError, IndexError):
            return None
        return port if str(data).encode() in command else None


@cache
def _may_enter(folder: Path) -> bool:
    """Say whether the user ``postgres`` may enter a folder; asked once, because supervision asks all the time."""
    return subprocess.run(["runuser", "-u", "postgres", "--", "test", "-x", str(folder)], cwd="/").returncode == 0


def _processes_in(data: Path) -> list[int]:
    """Return the processes whose working directory is a cluster's, which are those of its server."""
    found = []
    for cwd in Path("/proc").glob("[0-9]*/cwd"):
        with suppress(OSError):
            if cwd.readlink() == data:
                found.append(int(cwd.parent.name))
    return found


def free_port(preferred: int = 0) -> int:
    """Return a free loopback port: the preferred one or the next above it, or any where none is preferred."""
    for port in range(preferred, preferred + 100) if preferred else (0,):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            return int(probe.getsockname()[1])
    raise LaunchError(f"No port from {preferred} to {preferred + 99} is free on this machine.")
