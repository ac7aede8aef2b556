"""A proposal in a cook's words, and as the plain data that ``jalebi balance --json`` prints."""

from __future__ import annotations

from collections.abc import Mapping
from math import isfinite
from typing import Any, Final

from ..goods import Goods
from ..mix import Line
from .reasons import reasons_for
from .solving import Balanced

_FELT_G: Final = 0.02
_MOST_SAID: Final = 6


def sentence(found: Balanced) -> str:
    """Return what a balance changes, in one sentence."""
    problem = found.problem
    names = [problem.wishes.mix.lines[number].ingredient.name for number in problem.numbers]
    names += [goods.composition.name for goods in problem.wishes.may_add]
    moved = [
        (name, now, after)
        for name, now, after in zip(names, problem.origin, found.grams, strict=True)
        if abs(after - now) > _FELT_G
    ]
    if not moved:
        return "Nothing needs to change." if all(found.met) else "No change of these lines brings it nearer."
    moved.sort(key=lambda line: -abs(line[2] - line[1]))
    said = [_of_line(name, float(now), float(after)) for name, now, after in moved[:_MOST_SAID]]
    if len(moved) > _MOST_SAID:
        said.append(f"and {len(moved) - _MOST_SAID} smaller changes")
    missed = [quantity.name.lower() for quantity, met in zip(problem.quantities, found.met, strict=True) if not met]
    end = f" Not reached: {', '.join(missed)}." if missed else " Every target is met."
    return f"{'; '.join(said)}.{end}"


def _of_line(name: str, now: float, after: float) -> str:
    if now == 0:
        return f"{name} comes in with {after:.4g} g"
    if after == 0:
        return f"{name} goes out"
    sign = "+" if after > now else "−"
    return f"{name} {sign}{abs(after - now):.4g} g"


def balance_data(found: Balanced, common: Mapping[str, Goods], seconds: float) -> dict[str, Any]:
    """Return a balance as plain data: lines, aims with before and after, what is unmet and would help."""
    problem, wishes = found.problem, found.problem.wishes
    names = [_slug(wishes.mix.lines[number]) for number in problem.numbers]
    names += [goods.slug for goods in wishes.may_add]
    lines = [
        {"ingredient": name, "grams": round(float(grams), 4)}
        for name, grams, column in zip(names, found.grams, range(len(names)), strict=True)
        if grams > 0 or column < problem.lines
    ]
    aims = [
        {
            "of": aim.of,
            "min": aim.low if isfinite(aim.low) else None,
            "max": aim.high if isfinite(aim.high) else None,
            "before": round(float(before), 6),
            "after": round(float(after), 6),
            "met": met,
        }
        for aim, before, after, met in zip(wishes.aims, found.before, found.after, found.met, strict=True)
    ]
    unmet = [
        {
            "of": one.aim.of,
            "nearest": round(one.nearest, 6),
            "because": one.because,
            "would_help": [relaxation.said for relaxation in one.would_help],
        }
        for one in reasons_for(found, common)
    ]
    return {
        "lines": lines,
        "aims": aims,
        "unmet": unmet,
        "changed": found.changed,
        "said": sentence(found),
        "seconds": round(seconds, 4),
    }


def _slug(line: Line) -> str:
    return line.goods.slug if line.goods else line.ingredient.name
