"""`learn FILE [--json]`: what a kitchen's log teaches, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.log_file import learn_report

from .arguments import run
from .reports import print_report


def main(arguments: list[str]) -> int:
    """Print what is learnt and return 0, or one sentence on standard error and 2."""
    return print_report("learn", "Learn from a kitchen's log.", learn_report, _text, arguments, "a log file")


def _text(found: dict[str, Any]) -> str:
    if not found["parameters"]:
        return "Nothing is learnt from this log yet."
    return "\n".join(f"{'' if one['in_use'] else 'Not used yet. '}{one['said']}" for one in found["parameters"])


if __name__ == "__main__":
    run(main)
