"""A command that reads one file and prints what the core says of it, as data or as text."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from jalebi_core.model.errors import JalebiError

from .analyse import read_file
from .arguments import file_parser, refuse

Report = dict[str, Any]


def print_report(
    command: str,
    what: str,
    report: Callable[[bytes], Report],
    text: Callable[[Report], str],
    arguments: list[str],
    file: str = "a mix file",
) -> int:
    """Print a report and return 0, or one sentence on standard error and 2."""
    asked = file_parser(command, what, file).parse_args(arguments)
    try:
        found = report(read_file(asked.file))
    except JalebiError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    print(json.dumps(found, ensure_ascii=False, indent=2) if asked.json else text(found))
    return 0
