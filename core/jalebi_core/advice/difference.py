"""The difference between two states of a mix in a cook's words: which lines moved, and what that did."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from jalebi_core.advice.comparison import effects_of
from jalebi_core.model.mix import Mix

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
    message: str


def difference(before: Mix, after: Mix) -> Difference:
    """Compare two states of a mix, the lines that moved most first."""
    lines = tuple(sorted(_changes(before, after), key=lambda line: -abs(line.after_g - line.before_g)))
    effect = effects_of(before, [after])[0].message
    if not lines:
        return Difference((), "Nothing has changed.")
    return Difference(lines, f"{', '.join(_message(line) for line in lines)} → {effect}.")


def _changes(before: Mix, after: Mix) -> Iterator[LineChange]:
    was, now = _grams(before), _grams(after)
    for name in dict.fromkeys((*was, *now)):
        one, other = was.get(name, 0.0), now.get(name, 0.0)
        if abs(one - other) > _FELT_G:
            yield LineChange(name, one, other)


def _grams(mix: Mix) -> dict[str, float]:
    grams: dict[str, float] = {}
    for line in mix.lines:
        grams[line.ingredient.name] = grams.get(line.ingredient.name, 0.0) + line.grams
    return grams


def _message(line: LineChange) -> str:
    if line.before_g == 0:
        return f"{line.name} new, {line.after_g:.4g} g"
    if line.after_g == 0:
        return f"{line.name} gone"
    sign = "+" if line.after_g > line.before_g else "−"
    return f"{line.name} {sign}{abs(line.after_g - line.before_g):.4g} g"
