"""A proposal in a cook's words, and as the plain data that ``jalebi balance --json`` prints."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from jalebi_core.balance.solving import Balanced
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_FELT_G: Final = 0.02
_MOST_SAID: Final = 6


def summary(found: Balanced, chances: Sequence[float] = (), *, asked: bool = True) -> Message:
    """Return what a balance changes, and what is to be known beside it.

    ``chances`` are those of each aim where they were asked for; then they are told and nothing is called met. Nor is it
    where nobody ``asked`` for targets, as where marks on a tasting card set the aim.
    """
    notes = [*_beyond(found), *_also_moved(found), *found.problem.request.notes]
    proposal = _proposal(found, chances, asked=asked)
    return Message("proposal-noted", {"proposal": proposal, "notes": notes}) if notes else proposal


def _beyond(found: Balanced) -> list[Message]:
    names = names_of(found)
    return [Message("beyond-usual", {"names": [names[at] for at in found.beyond]})] if found.beyond else []


def _also_moved(found: Balanced) -> list[Message]:
    moved = [
        Message(
            "moves-too-c" if quantity.unit == "°C" else "moves-too",
            {"name": in_sentence(quantity.name), "before": before, "after": after},
        )
        for quantity, before, after in found.also_moved
    ]
    return [Message("also-moves", {"moved": moved})] if moved else []


def names_of(found: Balanced) -> list[str]:
    """Return the name of each column."""
    request = found.problem.request
    lines = [request.mix.lines[number].ingredient.name for number in found.problem.numbers]
    return lines + [ingredient.name for ingredient in request.may_add]


def _proposal(found: Balanced, chances: Sequence[float], *, asked: bool) -> Message:
    problem = found.problem
    names = names_of(found)
    moved = [
        (name, now, after)
        for name, now, after in zip(names, problem.origin, found.grams, strict=True)
        if abs(after - now) > _FELT_G
    ]
    if not moved and not chances:
        return Message("proposal-needless" if all(found.met) else "proposal-none")
    moved.sort(key=lambda line: -abs(line[2] - line[1]))
    said = len(moved) if len(moved) == _MOST_SAID + 1 else _MOST_SAID  # one more is as short as its count
    lines = [_of_line(name, float(now), float(after)) for name, now, after in moved[:said]]
    if len(moved) > said:
        lines.append(Message("smaller-changes", {"count": len(moved) - said}))
    quantities = problem.quantities[: problem.aims]
    if chances:
        told = [
            Message("chance", {"name": in_sentence(quantity.name), "chance_pct": 100 * chance})
            for quantity, chance in zip(quantities, chances, strict=True)
        ]
        return Message("proposal-chances" if moved else "chances-only", {"lines": lines, "chances": told})
    missed = [in_sentence(quantity.name) for quantity, met in zip(quantities, found.met, strict=True) if not met]
    if missed:
        return Message("proposal-missed", {"lines": lines, "missed": missed})
    return Message("proposal-met" if asked else "proposal-lines", {"lines": lines})


def _of_line(name: str, now: float, after: float) -> Message:
    if now == 0:
        return Message("line-comes-in", {"name": name, "after_g": after})
    if after == 0:
        return Message("line-goes-out", {"name": name})
    return Message("line-more" if after > now else "line-less", {"name": name, "by_g": abs(after - now)})
