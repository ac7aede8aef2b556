"""A client that outlasts what is killed: it comes back with the session it has, as a browser does."""

from __future__ import annotations

import http.client
import time
from collections.abc import Callable
from typing import Final, TypeVar

from launch.bench.server_speed import Client
from launch.demo_server import DemoServer

PATIENCE_S: Final = 60.0
"""For an answer; whatever was killed is back long before."""
AWAY: Final = (OSError, http.client.HTTPException, RuntimeError)
"""What comes of asking while something is down."""
_PAUSE_S: Final = 0.1

Answer = TypeVar("Answer")


class PatientClient:
    """A signed-in client that does a job again until the server is back."""

    def __init__(self, server: DemoServer) -> None:
        self.client = Client(server.port, server.person, server.password)

    def insist(self, job: Callable[[Client], Answer]) -> Answer:
        """Return what a job comes to; raises what it raised last once patience is at an end."""
        until = time.monotonic() + PATIENCE_S
        while True:
            try:
                return job(self.client)
            except AWAY:
                self.client.close()
                if time.monotonic() > until:
                    raise
                time.sleep(_PAUSE_S)
