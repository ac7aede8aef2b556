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
from typing import Final

from .application import settings_environment
from .code_share import code_share
from .database import Cluster
from .debian import ensure_program
from .environments import ensure_interface, ensure_node_packages, ensure_python, install_core_alone
from .places import ROOT, WEB, make_var
from .progress import run_quietly

_SLOW: Final = re.compile(r" *\d+\.\d+ ?s ")
CLUSTER = Cluster("postgres-test", durable=False)
WORKERS = 2


BUDGET_S: Final = {"core": 60.0, "server": 150.0, "web": 30.0, "browser": 180.0}
"""How long the tests of a part may take on a machine of two processors that does nothing else."""


@dataclass(frozen=True, slots=True)
class Check:
    """One check: the part it belongs to, a title, a command, and where it runs.

    ``is_tests`` is whether it runs the tests of its part, for which there is a budget.
    """

    part: str
    title: str
    command: Sequence[str | Path]
    cwd: Path = ROOT
    is_tests: bool = False


@dataclass(frozen=True, slots=True)
class Outcome:
    """What came of a check: how many of its tests passed and failed, and how long it took."""

    check: Check
    passed: int
    failed: int
    seconds: float

    @property
    def line(self) -> str:
        """One line of the summary."""
        budget = BUDGET_S[self.check.part] if self.check.is_tests else None
        over = f", over its budget of {budget:.0f} s" if budget is not None and self.seconds > budget else ""
        return f"{self.check.title}: {self.passed} passed, {self.failed} failed, {self.seconds:.0f} s{over}"


def run_checks(part: str | None = None, *, thorough: bool = False) -> int:
    """Run the checks of one part, or all; print what fails, and return 0 only when nothing does.

    ``thorough`` tries every generated case where else a sample is tried, the same one each time.
    """
    make_var()
    python = ensure_python("venv-test", "requirements-test.txt")
    core = install_core_alone()
    interface = None
    if part != "core":
        ensure_node_packages()
    if part in (None, "browser"):
        ensure_program("chromium-headless-shell", "chromium-headless-shell")
        interface = ensure_interface()
    began = time.monotonic()
    try:
        port = CLUSTER.start() if part != "core" else 0
        env = settings_environment(CLUSTER, port, interface)
        env["PYTHONPATH"] = os.pathsep.join(map(str, (ROOT / "server", ROOT)))
        env["NO_COLOR"] = "1"
        env["JALEBI_THOROUGH"] = "1" if thorough else "0"

        def run_all(checks: Sequence[Check]) -> list[Outcome]:
            return [_run(check, env) for check in checks if part in (None, check.part)]

        with ThreadPoolExecutor(max_workers=2) as lanes:  # what reads the code goes beside what runs it
            outcomes = [one for lane in lanes.map(run_all, (_tests(python, core), _readings(python))) for one in lane]
    finally:
        CLUSTER.stop()
    print()
    for outcome in outcomes:
        print(outcome.line)
    print(f"{code_share(ROOT).line}; {time.monotonic() - began:.0f} s in all")
    failed = sum(outcome.failed for outcome in outcomes)
    print(f"\n{sum(outcome.passed for outcome in outcomes)} passed, {failed} failed", flush=True)
    return 1 if failed else 0


def write_api_types() -> int:
    """Write the interface's types anew from the API; no database is needed for that."""
    make_var()
    python = ensure_python("venv-test", "requirements-test.txt")
    ensure_node_packages()
    run_quietly([python, "-m", "config.manage", "api_types"], cwd=ROOT, env=settings_environment(CLUSTER, 0, None))
    return 0


def _tests(python: Path, core: Path) -> list[Check]:
    """Checks that run the code; each shares its tests among the processors itself."""
    shared = ["--numprocesses", str(WORKERS), "--durations", "10", "--durations-min", "2"]
    pytest: list[str | Path] = [core, "-I", "-m", "pytest", "-q", *shared]
    django: list[str | Path] = [python, "-W", "error", "-m", "config.manage", "test", "--noinput"]
    django += ["--parallel", str(WORKERS)]
    return [
        Check("core", "core, installed alone", pytest, ROOT / "core", is_tests=True),
        Check("server", "server", [*django, "server", "launch", "devices"], is_tests=True),
        Check("browser", "interface in Chromium", [*django, "e2e"], is_tests=True),
    ]


def _readings(python: Path) -> list[Check]:
    """Checks that read the code, and the quick ones, each on one processor."""
    return [
        Check("web", "interface without a page", ["npx", "--no-install", "vitest", "run"], WEB, is_tests=True),
        Check("web", "eslint", ["npx", "--no-install", "eslint", "."], WEB),
        Check("web", "tsc", ["npx", "--no-install", "tsc", "--noEmit"], WEB),
        Check("server", "mypy", [python, "-m", "mypy"]),
        Check("web", "generated API types", [python, "-m", "config.manage", "api_types", "--check"]),
        Check("server", "migrations", [python, "-m", "config.manage", "makemigrations", "--check", "--dry-run"]),
        Check("core", "import contract", [python.parent / "lint-imports"]),
        Check("core", "ruff: rules", [python, "-m", "ruff", "check", "."]),
        Check("core", "ruff: format", [python, "-m", "ruff", "format", "--check", "."]),
    ]


def _run(check: Check, env: dict[str, str]) -> Outcome:
    """Run one check; one without tests counts as one."""
    began = time.monotonic()
    done = subprocess.run(
        check.command, cwd=check.cwd, env=env, text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT
    )
    good, seconds = done.returncode == 0, time.monotonic() - began
    output = done.stdout.strip()
    end = f"── {check.title}: {'good' if good else 'FAILED'} ({seconds:.0f} s)"
    print(f"\n{output if not good else _tail(output)}\n{end}", flush=True)
    ran = _counted(r"^Ran (\d+) tests?|^(\d+) passed|^ *Tests .*\((\d+)\)$", output)
    bad = _counted(r"(?:failures|errors)=(\d+)|^(\d+) failed|^ *Tests +(\d+) failed", output)
    if good:
        return Outcome(check, max(ran, 1), 0, seconds)
    return Outcome(check, max(ran - bad, 0), max(bad, 1), seconds)


def _counted(pattern: str, output: str) -> int:
    return sum(int(number) for groups in re.findall(pattern, output, re.M) for number in groups if number)


def _tail(output: str) -> str:
    """Return the end of what a good check printed, and its slowest tests."""
    lines = output.splitlines()
    return "\n".join([line for line in lines[:-3] if _SLOW.match(line)] + lines[-3:])
