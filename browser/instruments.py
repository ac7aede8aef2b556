"""Simulated instruments for browser tests: stand-ins and bridge, as `./jalebi start --with-devices` has them."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Final

from django.db import connection

from testing.other_processes import environment_on

_UP_S: Final = 60.0
_END_S: Final = 15.0


class Instruments:
    """The stand-ins of a kitchen and the bridge to them, two processes that end with `end`."""

    def __init__(self, kitchen: str, speed: float = 60.0, factor: float = 0.9) -> None:
        self._folder = TemporaryDirectory()
        file = Path(self._folder.name) / "stand-ins.toml"
        asked = ["--speed", f"{speed:g}", "--factor", f"{factor:g}", "--kitchen", kitchen, "--file", str(file)]
        self._parts = [subprocess.Popen([sys.executable, "-m", "devices", *asked])]
        until = time.monotonic() + _UP_S
        while not file.exists():
            if time.monotonic() > until:
                raise TimeoutError("The stand-ins did not come up.")
            time.sleep(0.05)
        env = {
            **environment_on(str(connection.settings_dict["NAME"])),
            "JALEBI_DEVICES": str(file),
        }
        self._parts.append(subprocess.Popen([sys.executable, "-m", "config.manage", "bridge"], env=env))

    def end(self) -> None:
        """End the bridge first, so that nothing is written any more."""
        for part in reversed(self._parts):
            part.terminate()
            try:
                part.wait(_END_S)
            except subprocess.TimeoutExpired:
                part.kill()
                part.wait()
        self._folder.cleanup()
