"""Measure everything and print it; the server runs on a database of its own."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

from launch.checks import CLUSTER
from launch.database import free_port
from launch.debian import ensure_program
from launch.environments import ensure_interface
from launch.places import ROOT, VAR, LaunchError
from launch.progress import run_quietly, step
from launch.serve import settings_environment, wait_until_healthy

from . import core_speed


def main(arguments: list[str]) -> int:
    """Print the figures; exit code 2 for a call that makes no sense."""
    if arguments:
        print("jalebi: bench takes nothing after it.", file=sys.stderr)
        return 2
    print("Figures are medians unless said; “SHORT” is short of what is asked.")
    for figure in core_speed.figures():
        print(figure.line(), flush=True)
    interface = ensure_interface()
    ensure_program("chromium", "chromium")
    try:
        env = settings_environment(CLUSTER.start(), interface)
        with step("demo kitchen to measure with"):
            run_quietly([sys.executable, "-m", "jalebi.manage", "prepare", "--fresh-demo"], cwd=ROOT, env=env)
        _measure_served(env, interface)
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    finally:
        CLUSTER.stop()
    return 0


def _measure_served(env: dict[str, str], interface: Path) -> None:
    port, log = free_port(), VAR / "bench-server.log"
    command: list[str | Path] = [sys.executable, "-m", "gunicorn", "--config", ROOT / "server/gunicorn_settings.py"]
    with log.open("w") as output:
        server = subprocess.Popen(
            [*command, "--bind", f"127.0.0.1:{port}"], cwd=ROOT, env=env, stdout=output, stderr=output
        )
    try:
        address = f"http://127.0.0.1:{port}/"
        wait_until_healthy(address, server, log)
        os.environ.update(env)
        from . import interface_speed, server_speed

        sign_in = ("keeper", env["JALEBI_DEMO_PASSWORD"])
        for figure in server_speed.figures(port, *sign_in):
            print(figure.line(), flush=True)
        for figure in interface_speed.figures(address, interface, *sign_in):
            print(figure.line(), flush=True)
    finally:
        server.terminate()
        server.wait()


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
