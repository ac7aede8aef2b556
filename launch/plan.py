"""`plan FILE [--json]`: mixes planned back from when they are served, without database or browser."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.plan_answers import clock, plan_report

from .arguments import run
from .reports import print_report

_STATUS = {
    "optimal": "All on time; no plan has fewer washes or is fresher (proved).",
    "feasible": "All on time; a fresher plan may be left to find.",
    "impossible": "Not all of it can be on time (proved).",
    "unknown": "No plan was found in the time given.",
}

_SAID = {
    "serve_later": "{step} {minutes} min later.",
    "longer_shift": "{person} there from {from_} to {until}.",
    "more_hands": "somebody more with the shifts of {like}.",
    "more_room": "{place} with room for {capacity}.",
    "another_machine": "a second {like}.",
    "leave_out": "leave out {product}.",
}


def main(arguments: list[str]) -> int:
    """Print the plan and return 0, or one sentence on standard error and 2."""
    return print_report(
        "plan", "Plan mixes back from when they are served.", plan_report, _text, arguments, "a plan file"
    )


def _text(found: dict[str, Any]) -> str:
    late = [f"{one['step']} is {one['minutes']} min late." for one in found["lateness"] if one["minutes"]]
    why = [found["why"]["said"]] if found["why"] else []
    helps = [f"Would help: {_change(one['change'])}" for one in found["would_help"]]
    work = [(one["start"], one["end"], one["id"], one["machine"], one["people"]) for one in found["steps"]]
    work += [
        (one["start"], one["end"], f"{one['kind']} {one['machine']}", one["machine"], one["people"])
        for one in found["setups"]
    ]
    rows = [_row(*one) for one in sorted(work, key=lambda one: (one[0], one[1]))]
    return "\n".join((_STATUS[found["status"]], *late, *why, *helps, "", *rows))


def _row(start: int, end: int, what: str, machine: str | None, people: list[dict[str, Any]]) -> str:
    who = ", ".join(dict.fromkeys(piece["who"] for piece in people))
    return f"  {clock(start):>14} – {clock(end):<14} {what:<26} {machine or '':<14} {who}".rstrip()


def _change(change: dict[str, Any]) -> str:
    return _SAID[change["kind"]].format(**change, **_shift(change))


def _shift(change: dict[str, Any]) -> dict[str, str]:
    return {"from_": clock(change["to"][0]), "until": clock(change["to"][1])} if "to" in change else {}


if __name__ == "__main__":
    run(main)
