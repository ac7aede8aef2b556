"""The commands and what each does."""

from __future__ import annotations

import os
import sys

from .checks import run_checks, write_api_types
from .environments import ensure_python
from .places import ROOT, LaunchError, make_var
from .serve import add_kitchen, reset_demo, start

HELP = """\
Jalebi: from ingredients to the temperature a frozen dessert scoops at.

  ./jalebi start                 install what is missing, start everything, serve on 127.0.0.1
  ./jalebi test                  all checks: style, types, core, server, interface in a browser
  ./jalebi analyse FILE [--json] analyse a mix file (docs/file-formats.md); FILE may be - for standard input
  ./jalebi balance FILE [--json] balance a mix file with aims (docs/file-formats.md)
  ./jalebi bench                 measure speed and size, print the figures
  ./jalebi endure [kills|memory] kill everything fifty times, type for ten minutes: nothing is lost, nothing grows
  ./jalebi kitchen NAME PERSON   make a kitchen of your own with one person, print the password
  ./jalebi demo --fresh          put the demo kitchen back to what it was
  ./jalebi types                 write the interface's types anew after a change of the API
  ./jalebi physics               write the computed tables of docs/physics.md anew
  ./jalebi pictures              take the pictures in docs/screenshots anew
  ./jalebi help                  this list
"""


def main(arguments: list[str]) -> int:
    """Run one command and return its exit code: 2 for a call that makes no sense, 1 for a failure."""
    try:
        return _dispatch(arguments)
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("\njalebi: stopped.", file=sys.stderr)
        return 130


def _dispatch(arguments: list[str]) -> int:
    match arguments:
        case [] | ["help"] | ["-h"] | ["--help"]:
            print(HELP, end="")
            return 0
        case ["start"]:
            return start()
        case ["test"]:
            return run_checks()
        case ["analyse", *rest]:
            return _replace_by_module("venv", "requirements.txt", "launch.analyse", rest)
        case ["balance", *rest]:
            return _replace_by_module("venv", "requirements.txt", "launch.balance", rest)
        case ["bench", *rest]:
            return _replace_by_module("venv-test", "requirements-test.txt", "launch.bench", rest)
        case ["endure", *rest]:
            return _replace_by_module("venv-test", "requirements-test.txt", "launch.endure", rest)
        case ["physics"]:
            return _replace_by_module("venv-test", "requirements-test.txt", "launch.physics", [])
        case ["pictures"]:
            return _replace_by_module("venv-test", "requirements-test.txt", "launch.pictures", [])
        case ["types"]:
            return write_api_types()
        case ["demo", "--fresh"]:
            return reset_demo()
        case ["kitchen", kitchen, person]:
            return add_kitchen(kitchen, person)
        case ["kitchen", *_]:
            return _misused("kitchen takes the name of the kitchen and the name of the person")
        case ["demo", *_]:
            return _misused("demo takes --fresh and nothing else")
        case [name, *_] if name in ("start", "test", "types", "pictures", "physics"):
            return _misused(f"{name} takes nothing after it")
        case [name, *_]:
            return _misused(f"there is no command “{name[:40]}”")
    raise AssertionError(arguments)


def _misused(sentence: str) -> int:
    print(f"jalebi: {sentence}. `./jalebi help` lists the commands.", file=sys.stderr)
    return 2


def _replace_by_module(environment: str, requirements: str, module: str, arguments: list[str]) -> int:
    make_var()
    python = ensure_python(environment, requirements)
    env = {**os.environ, "PYTHONPATH": f"{ROOT}{os.pathsep}{ROOT / 'server'}"}
    sys.stdout.flush()
    os.execve(python, [str(python), "-m", module, *arguments], env)
