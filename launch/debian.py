"""Debian packages that Jalebi needs, installed when their programs are missing."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from .places import LaunchError
from .progress import run_quietly, step


def postgres_programs() -> Path | None:
    """Return the folder of the newest PostgreSQL server's programs, if one is installed."""
    found = [path.parent for path in Path("/usr/lib/postgresql").glob("*/bin/initdb")]
    return max(found, key=lambda path: int(path.parent.name), default=None)


def ensure_postgres() -> Path:
    """Return the folder of PostgreSQL's programs, installing the server where it is missing."""
    if postgres_programs() is None:
        install("postgresql")
    programs = postgres_programs()
    if programs is None:
        raise LaunchError("PostgreSQL was installed but its programs are not under /usr/lib/postgresql.")
    return programs


def ensure_program(program: str, *packages: str) -> None:
    """Install packages where a program is missing."""
    if shutil.which(program) is None:
        install(*packages)


def ensure_python_can_make_environments() -> None:
    """Install Debian's venv package where this Python comes without it."""
    try:
        import ensurepip  # noqa: F401
        import venv  # noqa: F401
    except ImportError:
        install("python3-venv")


def install(*packages: str) -> None:
    """Install Debian packages as root or through sudo."""
    if shutil.which("apt-get") is None:
        raise LaunchError(f"This is not Debian; please install {', '.join(packages)} by hand and start again.")
    as_root = [] if os.geteuid() == 0 else ["sudo", "-n"]
    if as_root and shutil.which("sudo") is None:
        raise LaunchError(f"Please have {', '.join(packages)} installed (apt-get install), then start again.")
    if as_root:
        as_root = ["sudo"]
    env = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    with step(f"Debian packages: {', '.join(packages)}"):
        run_quietly([*as_root, "apt-get", "update", "-qq"], env=env)
        run_quietly([*as_root, "apt-get", "install", "-y", "-qq", "--no-install-recommends", *packages], env=env)
