"""`test`: everything that must hold before a change lands."""

from __future__ import annotations

import os
import re
import subprocess
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from .database import Cluster
from .debian import ensure_program
from .environments import ensure_interface, ensure_node_packages, ensure_python
from .places import ROOT, WEB, make_var
from .progress import run_quietly
from .serve import settings_environment

CLUSTER = Cluster("postgres-test", durable=False)


@dataclass(frozen=True, slots=True)
class Check:
    """One check: a title, a command, and where it runs."""

    title: str
    command: Sequence[str | Path]
    cwd: Path = ROOT


def run_checks() -> int:
    """Run all checks, print what fails, and return 0 only when nothing does."""
    make_var()
    python = ensure_python("venv-test", "requirements-test.txt")
    ensure_node_packages()
    ensure_program("chromium", "chromium")
    interface = ensure_interface()
    try:
        env = settings_environment(CLUSTER, CLUSTER.start(), interface)
        env["PYTHONPATH"] = os.pathsep.join(map(str, (ROOT / "server", ROOT)))
        env["NO_COLOR"] = "1"
        results = [_run(check, env) for check in _checks(python)]
    finally:
        CLUSTER.stop()
    passed, failed = (sum(result[index] for result in results) for index in (0, 1))
    print(f"\n{passed} passed, {failed} failed", flush=True)
    return 1 if failed else 0


def write_api_types() -> int:
    """Write the interface's types anew from the API; no database is needed for that."""
    make_var()
    python = ensure_python("venv-test", "requirements-test.txt")
    ensure_node_packages()
    run_quietly([python, "-m", "jalebi.manage", "api_types"], cwd=ROOT, env=settings_environment(CLUSTER, 0, None))
    return 0


def _checks(python: Path) -> list[Check]:
    django: list[str | Path] = [python, "-W", "error", "-m", "jalebi.manage", "test", "--noinput", "--parallel", "2"]
    return [
        Check("ruff: rules", [python, "-m", "ruff", "check", "."]),
        Check("ruff: format", [python, "-m", "ruff", "format", "--check", "."]),
        Check("mypy", [python, "-m", "mypy"]),
        Check("migrations", [python, "-m", "jalebi.manage", "makemigrations", "--check", "--dry-run"]),
        Check("generated API types", [python, "-m", "jalebi.manage", "api_types", "--check"]),
        Check("tsc", ["npx", "--no-install", "tsc", "--noEmit"], WEB),
        Check("core", [python, "-m", "pytest", "-q"]),
        Check("server", [*django, "server", "launch"]),
        Check("interface in Chromium", [*django, "e2e"]),
    ]


def _run(check: Check, env: dict[str, str]) -> tuple[int, int]:
    """Run one check and return how many of its tests passed and failed; a check without tests is one."""
    print(f"\n── {check.title}", flush=True)
    began = time.monotonic()
    done = subprocess.run(
        check.command, cwd=check.cwd, env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    good = done.returncode == 0
    output = done.stdout.strip()
    print(output if not good else "\n".join(output.splitlines()[-3:]))
    print(f"── {check.title}: {'good' if good else 'FAILED'} ({time.monotonic() - began:.0f} s)", flush=True)
    ran = sum(int(n) for n in re.findall(r"^Ran (\d+) tests?|(?m:^(\d+) passed)", output, re.M) for n in n if n)
    bad = sum(int(n) for n in re.findall(r"(?:failures|errors)=(\d+)|(\d+) failed", output) for n in n if n)
    if good:
        return max(ran, 1), 0
    return max(ran - bad, 0), max(bad, 1)
