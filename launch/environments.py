"""Python environments and node packages, made once and again only when their lists change."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import venv
from pathlib import Path

from .debian import ensure_python_can_make_environments
from .places import ROOT, VAR, WEB, LaunchError, digest
from .progress import run_quietly, step
from .stamps import environment_state, is_fresh, ready_python


def _ensure_uv() -> Path:
    folder, wanted = VAR / "uv", digest([ROOT / "requirements-uv.txt"])
    stamp = folder / "stamp"
    if not is_fresh(stamp, wanted):
        ensure_python_can_make_environments()
        with step("installer for Python packages"):
            venv.create(folder, with_pip=True, clear=True)
            run_quietly([folder / "bin/pip", "install", "-q", "--require-hashes", "-r", ROOT / "requirements-uv.txt"])
        stamp.write_text(wanted)
    return folder / "bin/uv"


def ensure_python(name: str, requirements: str) -> Path:
    """Return the Python of the environment ``var/NAME``, installed from a hashed list and with the core.

    Each purpose has an environment of its own, so that checks never touch the one that serves.
    """
    folder = VAR / name
    python = ready_python(name, requirements)
    if python is None:
        uv = _ensure_uv()
        env = {**os.environ, "VIRTUAL_ENV": str(folder), "UV_LINK_MODE": "copy", "UV_CACHE_DIR": str(VAR / "uv-cache")}
        with step(f"Python packages ({requirements})"):
            run_quietly([uv, "venv", "-q", "--clear", "--python", sys.executable, folder], env=env)
            run_quietly([uv, "pip", "sync", "-q", "--require-hashes", ROOT / requirements], env=env)
            run_quietly([uv, "pip", "install", "-q", "--no-deps", "--no-build-isolation", "-e", ROOT / "core"], env=env)
        (folder / "stamp").write_text(environment_state(requirements))
    return folder / "bin/python"


def install_core_alone() -> Path:
    """Return the Python of an environment with the core as it ships now, what it declares, and its tests' tools."""
    python = ensure_python("venv-core", "requirements-core.txt")
    env = {**os.environ, "VIRTUAL_ENV": str(VAR / "venv-core"), "UV_CACHE_DIR": str(VAR / "uv-cache")}
    install: list[str | Path] = [_ensure_uv(), "pip", "install", "-q", "--reinstall", "--no-deps"]
    run_quietly([*install, "--no-build-isolation", ROOT / "core"], env=env)
    return python


def ensure_node_packages() -> None:
    """Install the front end's packages exactly as locked."""
    npm = shutil.which("npm")
    if npm is None or shutil.which("node") is None:
        raise LaunchError("Node 20 with npm is needed to build the interface. Install it and start again.")
    version = subprocess.run(["node", "--version"], capture_output=True, text=True).stdout.strip()
    if int(version.lstrip("v").split(".")[0] or 0) < 20:
        raise LaunchError(f"Node 20 or newer is needed to build the interface, and this is {version}.")
    wanted, stamp = digest([WEB / "package-lock.json"]), WEB / "node_modules/.jalebi-stamp"
    if not is_fresh(stamp, wanted):
        with step("front-end packages"):
            run_quietly([npm, "ci", "--no-audit", "--no-fund", "--loglevel=error"], cwd=WEB)
        stamp.write_text(wanted)


def ensure_interface() -> Path:
    """Return the folder of the built interface; each state of the sources has a build of its own.

    A running server keeps the files it was started with while a newer build is made beside it.
    """
    sources = [path for part in ("src", "public") for path in (WEB / part).rglob("*") if path.is_file()]
    sources += [WEB / name for name in ("index.html", "package-lock.json", "vite.config.ts", "tsconfig.json")]
    built = VAR / "web" / digest(sources)
    if not (built / "index.html").exists():
        ensure_node_packages()
        unfinished = built.with_name(f"{built.name}.{os.getpid()}")
        command = ["npx", "--no-install", "vite", "build", "--emptyOutDir", "--logLevel=warn"]
        with step("interface"):
            run_quietly([*command, "--outDir", unfinished], cwd=WEB)
        if built.exists():
            shutil.rmtree(built)
        unfinished.rename(built)
        _forget_old_builds(built.parent)
    return built


def _forget_old_builds(folder: Path, keep: int = 4) -> None:
    builds = sorted(folder.iterdir(), key=lambda path: path.stat().st_mtime, reverse=True)
    for old in builds[keep:]:
        shutil.rmtree(old, ignore_errors=True)
