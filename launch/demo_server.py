"""The application on a database of its own with a fresh demo kitchen, to measure and to picture."""

from __future__ import annotations

import os
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from .application import Application, StandIns
from .checks import CLUSTER
from .database import Cluster
from .debian import ensure_program
from .environments import ensure_interface
from .serve import PERSON


@dataclass(frozen=True, slots=True)
class DemoServer:
    """Where it is, how to sign in, and the built interface that it serves."""

    port: int
    person: str
    password: str
    interface: Path
    application: Application

    @property
    def address(self) -> str:
        return self.application.address


@contextmanager
def demo_server(cluster: Cluster = CLUSTER, stand_ins: StandIns | None = None) -> Iterator[DemoServer]:
    """Serve a fresh demo kitchen for as long as the block lasts; raises LaunchError when it does not come up."""
    interface = ensure_interface()
    ensure_program("chromium", "chromium")
    application = Application(cluster, Path(sys.executable), interface, stand_ins=stand_ins)
    try:
        application.begin(lambda sentence: print(f"  {sentence}", file=sys.stderr), "--fresh-demo")
        os.environ.update(application.env)
        threading.Thread(target=application.watch, daemon=True).start()
        password = application.env["JALEBI_DEMO_PASSWORD"]
        yield DemoServer(application.port, PERSON, password, interface, application)
    finally:
        application.end()
