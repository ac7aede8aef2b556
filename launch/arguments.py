"""Command lines: what is wrong with one is told in one line, with exit code 2."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Callable
from signal import SIG_DFL, SIGPIPE, signal
from typing import NoReturn


class Arguments(argparse.ArgumentParser):
    """A parser that refuses in one sentence."""

    def error(self, message: str) -> NoReturn:
        refuse(f"{message}. `{self.prog} --help` says more")
        sys.exit(2)


def refuse(sentence: str) -> int:
    """Print one sentence on standard error and return 2."""
    print(f"jalebi: {' '.join(sentence.split())}", file=sys.stderr)
    return 2


def run(main: Callable[[list[str]], int]) -> NoReturn:
    """Run a command that prints, and end with its exit code; a reader that goes away, such as head, ends it quietly."""
    signal(SIGPIPE, SIG_DFL)
    sys.exit(main(sys.argv[1:]))


def file_parser(command: str, what: str, file: str = "a mix file") -> Arguments:
    """Return a parser of the ``file`` and of whether ``json`` is wanted, for a command that reads a file."""
    parser = Arguments(f"./jalebi {command}", description=what)
    parser.add_argument("file", metavar="FILE", help=f"{file} (docs/file-formats.md), or - for standard input")
    parser.add_argument("--json", action="store_true", help="print data instead of a table")
    return parser
