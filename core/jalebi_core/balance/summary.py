"""A proposal in a cook's words, and as the plain data that ``jalebi balance --json`` prints."""

from __future__ import annotations

from typing import Final

from jalebi_core.balance.solving import Balanced
from jalebi_core.wording.message import Message

_FELT_G: Final = 0.02
_MOST_SAID: Final = 6


def summary(found: Balanced) -> Message:
    """Return what a balance changes."""
    problem = found.problem
    names = [problem.request.mix.lines[number].ingredient.name for number in problem.numbers]
    names += [ingredient.name for ingredient in problem.request.may_add]
    moved = [
        (name, now, after)
        for name, now, after in zip(names, problem.origin, found.grams, strict=True)
        if abs(after - now) > _FELT_G
    ]
    if not moved:
        return Message("proposal-needless" if all(found.met) else "proposal-none")
    moved.sort(key=lambda line: -abs(line[2] - line[1]))
    said = len(moved) if len(moved) == _MOST_SAID + 1 else _MOST_SAID  # one more is as short as its count
    lines = [_of_line(name, float(now), float(after)) for name, now, after in moved[:said]]
    if len(moved) > said:
        lines.append(Message("smaller-changes", {"count": len(moved) - said}))
    missed = [quantity.name.lower() for quantity, met in zip(problem.quantities, found.met, strict=True) if not met]
    if missed:
        return Message("proposal-missed", {"lines": lines, "missed": missed})
    return Message("proposal-met", {"lines": lines})


def _of_line(name: str, now: float, after: float) -> Message:
    if now == 0:
        return Message("line-comes-in", {"name": name, "after_g": after})
    if after == 0:
        return Message("line-goes-out", {"name": name})
    return Message("line-more" if after > now else "line-less", {"name": name, "by_g": abs(after - now)})
