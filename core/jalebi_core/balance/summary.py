"""A proposal in a cook's words, and as the plain data that ``jalebi balance --json`` prints."""

from __future__ import annotations

from typing import Final

from jalebi_core.balance.solving import Balanced

_FELT_G: Final = 0.02
_MOST_SAID: Final = 6


def sentence(found: Balanced) -> str:
    """Return what a balance changes, in one sentence."""
    problem = found.problem
    names = [problem.request.mix.lines[number].ingredient.name for number in problem.numbers]
    names += [ingredient.name for ingredient in problem.request.may_add]
    moved = [
        (name, now, after)
        for name, now, after in zip(names, problem.origin, found.grams, strict=True)
        if abs(after - now) > _FELT_G
    ]
    if not moved:
        return "Nothing needs to change." if all(found.met) else "No change of these lines brings it nearer."
    moved.sort(key=lambda line: -abs(line[2] - line[1]))
    messages = [_of_line(name, float(now), float(after)) for name, now, after in moved[:_MOST_SAID]]
    if len(moved) > _MOST_SAID:
        messages.append(f"and {len(moved) - _MOST_SAID} smaller changes")
    missed = [quantity.name.lower() for quantity, met in zip(problem.quantities, found.met, strict=True) if not met]
    end = f" Not reached: {', '.join(missed)}." if missed else " Every target is met."
    return f"{'; '.join(messages)}.{end}"


def _of_line(name: str, now: float, after: float) -> str:
    if now == 0:
        return f"{name} comes in with {after:.4g} g"
    if after == 0:
        return f"{name} goes out"
    sign = "+" if after > now else "−"
    return f"{name} {sign}{abs(after - now):.4g} g"
