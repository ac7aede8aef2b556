"""`test`: everything that must hold before a change lands."""

from __future__ import annotations

import os
import re
import subprocess
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from .application import settings_environment
from .database import Cluster
from .debian import ensure_program
from .environments import ensure_interface, ensure_node_packages, ensure_python, install_core_alone
from .places import ROOT, WEB, make_var
from .progress import run_quietly

CLUSTER = Cluster("postgres-test", durable=False)
WORKERS = 2


@dataclass(frozen=True, slots=True)
class Check:
    """One check: the part it belongs to, a title, a command, and where it runs."""

    part: str
    title: str
    command: Sequence[str | Path]
    cwd: Path = ROOT


def run_checks(part: str | None = None) -> int:
    """Run the checks of one part, or all; print what fails, and return 0 only when nothing does."""
    make_var()
    python = ensure_python("venv-test", "requirements-test.txt")
    core = install_core_alone()
    interface = None
    if part != "core":
        ensure_node_packages()
    if part in (None, "browser"):
        ensure_program("chromium", "chromium")
        interface = ensure_interface()
    try:
        port = CLUSTER.start() if part != "core" else 0
        env = settings_environment(CLUSTER, port, interface)
        env["PYTHONPATH"] = os.pathsep.join(map(str, (ROOT / "server", ROOT)))
        env["NO_COLOR"] = "1"
        wanted = [check for check in _small_checks(python, core) if part in (None, check.part)]
        with ThreadPoolExecutor(max_workers=WORKERS) as pool:
            results = list(pool.map(lambda check: _run(check, env), wanted))
        results += [_run(check, env) for check in _whole_checks(python) if part in (None, check.part)]
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
    run_quietly([python, "-m", "config.manage", "api_types"], cwd=ROOT, env=settings_environment(CLUSTER, 0, None))
    return 0


def _small_checks(python: Path, core: Path) -> list[Check]:
    """Checks that keep one processor busy each, the longest first."""
    return [
        Check("core", "core, installed alone", [core, "-I", "-m", "pytest", "-q"], ROOT / "core"),
        Check("server", "mypy", [python, "-m", "mypy"]),
        Check("web", "eslint", ["npx", "--no-install", "eslint", "."], WEB),
        Check("web", "tsc", ["npx", "--no-install", "tsc", "--noEmit"], WEB),
        Check("web", "interface without a page", ["npx", "--no-install", "vitest", "run"], WEB),
        Check("web", "generated API types", [python, "-m", "config.manage", "api_types", "--check"]),
        Check("server", "migrations", [python, "-m", "config.manage", "makemigrations", "--check", "--dry-run"]),
        Check("core", "import contract", [python.parent / "lint-imports"]),
        Check("core", "ruff: rules", [python, "-m", "ruff", "check", "."]),
        Check("core", "ruff: format", [python, "-m", "ruff", "format", "--check", "."]),
    ]


def _whole_checks(python: Path) -> list[Check]:
    """Checks that share their tests among the processors themselves."""
    django: list[str | Path] = [python, "-W", "error", "-m", "config.manage", "test", "--noinput"]
    django += ["--parallel", str(WORKERS)]
    return [
        Check("server", "server", [*django, "server", "launch", "devices"]),
        Check("browser", "interface in Chromium", [*django, "e2e"]),
    ]


def _run(check: Check, env: dict[str, str]) -> tuple[int, int]:
    """Run one check and return how many of its tests passed and failed; a check without tests is one."""
    began = time.monotonic()
    done = subprocess.run(
        check.command, cwd=check.cwd, env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    good = done.returncode == 0
    output = done.stdout.strip()
    end = f"── {check.title}: {'good' if good else 'FAILED'} ({time.monotonic() - began:.0f} s)"
    print(f"\n{output if not good else _tail(output)}\n{end}", flush=True)
    ran = _counted(r"^Ran (\d+) tests?|^(\d+) passed|^ *Tests .*\((\d+)\)$", output)
    bad = _counted(r"(?:failures|errors)=(\d+)|^(\d+) failed|^ *Tests +(\d+) failed", output)
    if good:
        return max(ran, 1), 0
    return max(ran - bad, 0), max(bad, 1)


def _counted(pattern: str, output: str) -> int:
    return sum(int(number) for groups in re.findall(pattern, output, re.M) for number in groups if number)


def _tail(output: str) -> str:
    return "\n".join(output.splitlines()[-3:])
