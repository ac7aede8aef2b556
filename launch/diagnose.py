"""`diagnose FILE [--json]`: why a batch is not as it should be, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.diagnosis_file import diagnosis_report
from jalebi_core.tasting.diagnosis import SHOWN, process

from .arguments import run
from .reports import print_report


def main(arguments: list[str]) -> int:
    """Print the diagnosis and return 0, or one sentence on standard error and 2."""
    what = "Say why a batch is not as it should be."
    return print_report("diagnose", what, diagnosis_report, _text, arguments, "a diagnosis file")


def _text(found: dict[str, Any]) -> str:
    lines = []
    for one in found["causes"][:SHOWN]:
        lines.append(f"{one['said']} ({100 * one['share']:.0f} %)")
        lines += [f"  for: {said}" for said in one["for"]]
        lines += [f"  against: {said}" for said in one["against"]]
    if found["ask"] is not None:
        lines += ["", process()[found["ask"]]["ask"]]
    return "\n".join([*lines, "", f"Test: {found['test']}", f"Next time: {found['change']['said']}"])


if __name__ == "__main__":
    run(main)
