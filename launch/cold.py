"""`cold FILE [--json]`: a question about cold and heat to its answer, without database or browser."""

from __future__ import annotations

import json
import time
from typing import Any

from jalebi_core.formats.cold_answers import answer
from jalebi_core.formats.cold_file import read_question
from jalebi_core.model.errors import JalebiError

from .analyse import read_file
from .arguments import Arguments, refuse, run


def main(arguments: list[str]) -> int:
    """Print the answer and return 0, or one sentence on standard error and 2."""
    parser = Arguments("./jalebi cold", description="Answer a question about cold and heat.")
    parser.add_argument("file", metavar="FILE", help="a question (docs/file-formats.md), or - for standard input")
    parser.add_argument("--json", action="store_true", help="print data instead of a sentence and a table")
    asked = parser.parse_args(arguments)
    try:
        question = read_question(read_file(asked.file))
        began = time.perf_counter()
        found = {**answer(question), "seconds": time.perf_counter() - began}
    except JalebiError as error:
        return refuse(str(error))
    except OSError as error:
        return refuse(f"{asked.file[:200]} cannot be read: {error.strerror}")
    print(json.dumps(found, ensure_ascii=False, indent=2) if asked.json else _table(found))
    return 0


def _table(found: dict[str, Any]) -> str:
    lists = {key: value for key, value in found.items() if isinstance(value, list) and key != "cautions"}
    numbers = {key: value for key, value in found.items() if isinstance(value, float) and key != "seconds"}
    rows = [f"  {key:<20}{_figure(value):>10}" for key, value in numbers.items()]
    if lists:
        rows += ["", "".join(f"{key:>14}" for key in lists)]
        rows += ["".join(f"{_figure(value):>14}" for value in row) for row in zip(*lists.values(), strict=True)]
    return "\n".join((found["said"], *found["cautions"], "", *rows))


def _figure(value: float) -> str:
    return f"{value:.2f}".replace("-", "−")


if __name__ == "__main__":
    run(main)
