"""The application on a database of its own with a fresh demo kitchen, to measure and to picture."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from .checks import CLUSTER
from .database import free_port
from .debian import ensure_program
from .environments import ensure_interface
from .places import ROOT, VAR
from .progress import run_quietly, step
from .serve import GUNICORN, PERSON, settings_environment, wait_until_healthy


@dataclass(frozen=True, slots=True)
class DemoServer:
    """Where it is, how to sign in, and the built interface that it serves."""

    port: int
    person: str
    password: str
    interface: Path

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}/"


@contextmanager
def demo_server() -> Iterator[DemoServer]:
    """Serve a fresh demo kitchen for as long as the block lasts; raises LaunchError when it does not come up."""
    interface = ensure_interface()
    ensure_program("chromium", "chromium")
    log = VAR / "demo-server.log"
    try:
        env = settings_environment(CLUSTER, CLUSTER.start(), interface)
        os.environ.update(env)
        with step("a fresh demo kitchen"):
            run_quietly([sys.executable, "-m", "config.manage", "prepare", "--fresh-demo"], cwd=ROOT, env=env)
        port = free_port()
        with log.open("w") as output:
            server = subprocess.Popen(
                [sys.executable, *GUNICORN, "--bind", f"127.0.0.1:{port}"],
                cwd=ROOT, env=env, stdout=output, stderr=output,
            )  # fmt: skip
        try:
            found = DemoServer(port, PERSON, env["JALEBI_DEMO_PASSWORD"], interface)
            wait_until_healthy(found.address, server, log)
            yield found
        finally:
            server.terminate()
            server.wait()
    finally:
        CLUSTER.stop()
