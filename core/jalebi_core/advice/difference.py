"""The difference between two states of a mix in a cook's words: which lines moved, and what that did."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from jalebi_core.advice.comparison import effects_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.wording.message import Message

_FELT_G: Final = 0.05


@dataclass(frozen=True, slots=True)
class LineChange:
    """An ingredient that weighs something else, all its lines together; 0 where it was not there or is gone."""

    name: str
    before_g: float
    after_g: float


@dataclass(frozen=True, slots=True)
class Difference:
    """What changed from one state of a mix to another; ``message`` sums it up."""

    lines: tuple[LineChange, ...]
    message: Message


def difference(before: Mix, after: Mix) -> Difference:
    """Compare two states of a mix, the lines that moved most first."""
    lines = tuple(sorted(_changes(before, after), key=lambda line: -abs(line.after_g - line.before_g)))
    effect = effects_of(before, [after])[0].message
    if not lines:
        return Difference((), Message("nothing-changed"))
    return Difference(lines, Message("changed", {"lines": [_message(line) for line in lines], "effect": effect}))


def _changes(before: Mix, after: Mix) -> Iterator[LineChange]:
    was, now = _grams(before), _grams(after)
    names = {_key(line.ingredient): line.ingredient.name for line in (*before.lines, *after.lines)}
    for key in dict.fromkeys((*was, *now)):
        one, other = was.get(key, 0.0), now.get(key, 0.0)
        if abs(one - other) > _FELT_G:
            yield LineChange(names[key], one, other)


def _grams(mix: Mix) -> dict[str, float]:
    grams: dict[str, float] = {}
    for line in mix.lines:
        key = _key(line.ingredient)
        grams[key] = grams.get(key, 0.0) + line.grams
    return grams


def _key(ingredient: Ingredient) -> str:
    """Return what an ingredient is known by: its name may have been changed since."""
    return ingredient.slug or ingredient.name


def _message(line: LineChange) -> Message:
    if line.before_g == 0:
        return Message("line-new", {"name": line.name, "after_g": line.after_g})
    if line.after_g == 0:
        return Message("line-gone", {"name": line.name})
    by = line.after_g - line.before_g
    return Message("line-more" if by > 0 else "line-less", {"name": line.name, "by_g": abs(by)})
