"""`find WORDS [--json]`: what on the shelf that ships somebody may mean, without database or browser."""

from __future__ import annotations

import json
from typing import Any, Final

from jalebi_core.formats.find_report import find_report

from .arguments import Arguments, refuse, run

_MOST_LETTERS: Final = 200


def main(arguments: list[str]) -> int:
    """Print what was found and return 0, or one sentence on standard error and 2."""
    parser = Arguments("./jalebi find", description="Find ingredients by what people call them.")
    parser.add_argument("words", metavar="WORDS", nargs="+", help="what the thing is called")
    parser.add_argument("--json", action="store_true", help="print data instead of a list")
    asked = parser.parse_args(arguments)
    words = " ".join(asked.words).strip()
    if not words or not words.isprintable() or len(words) > _MOST_LETTERS:
        return refuse(f"say what is looked for in 1 to {_MOST_LETTERS} letters that can be shown")
    found = find_report(words)
    print(json.dumps(found, ensure_ascii=False, indent=2) if asked.json else _list(words, found["matches"]))
    return 0


def _list(words: str, matches: list[dict[str, Any]]) -> str:
    if not matches:
        return f"Nothing on the shelf is called “{words[:60]}”. Try another word for it."
    return "\n".join(_row(match) for match in matches)


def _row(match: dict[str, Any]) -> str:
    held = match["allergens"]
    contains = "allergens not stated" if held is None else f"contains {', '.join(held)}" if held else "no allergens"
    perhaps = f"; may hold {', '.join(match['may_hold'])}: check the label" if match["may_hold"] else ""
    return f"{'=' if match['sure'] else '?'} {match['slug']:<26} {match['name']}: {contains}{perhaps}"


if __name__ == "__main__":
    run(main)
