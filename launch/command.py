"""The commands and what each does; what a command needs is imported only when it runs."""

from __future__ import annotations

import os
import sys
from errno import EDQUOT, ENOSPC, EROFS
from typing import TYPE_CHECKING, Final

from .places import ROOT, VAR, LaunchError, make_var
from .stamps import ready_python

if TYPE_CHECKING:
    from argparse import Namespace

    from .arguments import Arguments

_PARTS: Final = ("core", "server", "web", "browser")
_SERVING: Final = ("venv", "requirements.txt")
_CHECKING: Final = ("venv-test", "requirements-test.txt")
_IN_AN_ENVIRONMENT: Final = {
    "analyse": (_SERVING, "analyse a mix file: FILE [--json]"),
    "balance": (_SERVING, "balance a mix file with aims: FILE [--json]"),
    "bench": (_CHECKING, "measure speed and size, print the figures [PART ...]"),
    "endure": (
        _CHECKING,
        "attack it, kill its parts fifty times, type for ten minutes [attack|kills|memory]: it holds, nothing is lost",
    ),
    "cold": (_SERVING, "answer a question about cold and heat: FILE [--json]"),
    "steps": (_SERVING, "the steps of making a mix file: FILE [--machine KIND] [--litres L] [--cool HOW] [--json]"),
    "label": (_SERVING, "draft the label of a mix file: FILE [--json]"),
    "cost": (_SERVING, "cost a batch of a mix file: FILE [--json]"),
    "plan": (_SERVING, "plan mixes back from when they are served: FILE [--json]"),
    "trial": (_SERVING, "design a trial, or read its answers: FILE [--json]"),
    "diagnose": (_SERVING, "say why a batch is not as it should be: FILE [--json]"),
    "learn": (_SERVING, "learn from a kitchen's log: FILE [--json]"),
    "find": (_SERVING, "find ingredients on the shelf that ships: WORDS [--json]"),
    "read": (_SERVING, "read a recipe, text, page or data: FILE [--json]"),
    "physics": (_CHECKING, "write the computed tables of docs/physics.md anew"),
    "pictures": (_CHECKING, "take the pictures in docs/screenshots anew"),
}
"""Commands that are modules of their own, with the environment that each runs in."""
_FASTEST: Final = 120
_STORAGE: Final = {
    ENOSPC: "the disk is full ({}). Make room and start again; what was saved is saved.",
    EDQUOT: "your share of the disk is full ({}). Make room and start again; what was saved is saved.",
    EROFS: "{} cannot be written to: the disk is read-only. Mount it for writing and start again.",
}
"""What is said when the disk refuses, by error number."""


def main(arguments: list[str]) -> int:
    """Run one command and return its exit code: 2 for a call that makes no sense, 1 for a failure."""
    try:
        name, *rest = arguments or ["help"]
        if name in _IN_AN_ENVIRONMENT:
            return _replace_by_module(*_IN_AN_ENVIRONMENT[name][0], f"launch.{name}", rest)
        parser = _parser()
        asked = parser.parse_args(arguments)
        if asked.command == "start" and asked.speed is not None and not asked.with_devices:
            parser.error("--speed goes with --with-devices")
        return _run(asked)
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    except OSError as error:
        if error.errno not in _STORAGE:
            raise
        print(f"jalebi: {_STORAGE[error.errno].format(error.filename or VAR)}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        print("\njalebi: stopped.", file=sys.stderr)
        return 130


def _parser() -> Arguments:
    from argparse import RawDescriptionHelpFormatter

    from .arguments import Arguments

    parser = Arguments(
        "./jalebi",
        description="Jalebi: from ingredients to the temperature a frozen dessert scoops at.",
        formatter_class=RawDescriptionHelpFormatter,
    )
    commands = parser.add_subparsers(dest="command", metavar="COMMAND")
    start = commands.add_parser("start", help="install what is missing, start everything, serve on 127.0.0.1")
    start.add_argument("--with-devices", action="store_true", help="with simulated scales, probe and batch freezer")
    start.add_argument("--speed", type=_speed, help=f"how many times as fast as the clock they live, 1 to {_FASTEST}")
    test = commands.add_parser("test", help="all checks, or those of one part: core, server, web, browser")
    test.add_argument("part", nargs="?", choices=_PARTS, help="only this part's checks")
    test.add_argument("--thorough", action="store_true", help="try every generated case, where else a sample is tried")
    for name, (_, what) in _IN_AN_ENVIRONMENT.items():
        commands.add_parser(name, help=what, add_help=False)
    kitchen = commands.add_parser("kitchen", help="make a kitchen of your own with one person, print the password")
    kitchen.add_argument("kitchen", metavar="NAME", help="what the kitchen is called")
    kitchen.add_argument("person", metavar="PERSON", help="who signs in to it")
    demo = commands.add_parser("demo", help="put the demo kitchen back to what it was: --fresh")
    demo.add_argument("--fresh", action="store_true", required=True, help="what is in the demo kitchen now is lost")
    demo.add_argument("--yes", action="store_true", help="do not ask, also where somebody works there")
    commands.add_parser("types", help="write the interface's types anew after a change of the API")
    commands.add_parser("help", help="this list")
    return parser


def _speed(typed: str) -> float:
    """Return how fast simulated instruments live; raises ArgumentTypeError for what is no such number."""
    from argparse import ArgumentTypeError
    from contextlib import suppress

    with suppress(ValueError):
        if 1 <= (speed := float(typed)) <= _FASTEST:
            return speed
    raise ArgumentTypeError(f"it is a number from 1 to {_FASTEST}, not “{typed}”")


def _run(asked: Namespace) -> int:
    match asked.command:
        case "start":
            from .application import StandIns
            from .serve import start

            return start(StandIns(asked.speed or 1.0) if asked.with_devices else None)
        case "test":
            from .checks import run_checks

            return run_checks(asked.part, thorough=asked.thorough)
        case "types":
            from .checks import write_api_types

            return write_api_types()
        case "demo":
            from .serve import reset_demo

            return reset_demo(asked.yes)
        case "kitchen":
            from .serve import add_kitchen

            return add_kitchen(asked.kitchen, asked.person)
    _parser().print_help()
    return 0


def _replace_by_module(environment: str, requirements: str, module: str, arguments: list[str]) -> int:
    make_var()
    python = ready_python(environment, requirements)
    if python is None:
        from contextlib import nullcontext, redirect_stderr
        from io import StringIO

        from .environments import ensure_python

        # A program that reads standard error reads there what is wrong with its file, and nothing of a first start.
        with nullcontext() if sys.stderr.isatty() else redirect_stderr(StringIO()):
            python = ensure_python(environment, requirements)
    env = {**os.environ, "PYTHONPATH": f"{ROOT}{os.pathsep}{ROOT / 'server'}"}
    sys.stdout.flush()
    os.execve(python, [str(python), "-m", module, *arguments], env)
