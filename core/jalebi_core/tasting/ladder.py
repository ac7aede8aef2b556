"""Ladders: one mix in rungs, or a grid of two factors, each rung told by what alone differs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import prod
from typing import Final

from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.tasting.factors import Factor
from jalebi_core.wording.message import Message

LETTERS: Final = "ABCDEFGHIJKL"
MOST_RUNGS: Final = len(LETTERS)
MOST_FACTORS: Final = 2


@dataclass(frozen=True, slots=True)
class Rung:
    """A mix of a ladder: its letter, what it is called, and the steps that it is made of."""

    key: str
    name: Message
    mix: Mix
    steps: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Ladder:
    """The rungs, the first factor slowest, what alone changes, and what “all else” means for each factor."""

    rungs: tuple[Rung, ...]
    changes: tuple[Message, ...]
    held: tuple[Message, ...]


def ladder(mix: Mix, factors: Sequence[Factor], serve_c: float | None = None) -> Ladder:
    """Return a mix in the rungs of one or two factors.

    Parameters
    ----------
    serve_c : where a firmness that is aimed at or held is wanted; −18 where none is given

    Raises TastingError for factors that make no ladder, and for a rung that cannot be made, with the reason.
    """
    if not 1 <= len(factors) <= MOST_FACTORS:
        raise TastingError("ladder-factors", count=len(factors))
    for factor in factors:
        factor.check(mix)
    count = prod(len(factor.steps) for factor in factors)
    if not 2 <= count <= MOST_RUNGS:
        raise TastingError("ladder-rungs", count=count, most=MOST_RUNGS)
    return Ladder(
        tuple(
            _rung(key, mix, list(zip(factors, steps, strict=True)), serve_c)
            for key, steps in zip(LETTERS, product(*(factor.steps for factor in factors)), strict=False)
        ),
        tuple(factor.change(mix) for factor in factors),
        tuple(factor.held(mix) for factor in factors),
    )


def _rung(key: str, mix: Mix, steps: Sequence[tuple[Factor, float]], serve_c: float | None) -> Rung:
    made = mix
    for factor, step in steps:
        made = factor.vary(made, step, serve_c)
    names = [factor.called(mix, step) for factor, step in steps]
    told = [name for name in names if name.code != "rung-as-it-is"] or names[:1]
    name = told[0] if len(told) == 1 else Message("rung-both", {"names": told})
    return Rung(key, name, replace(made, name=f"{mix.name} {key}"[:80]), tuple(step for _, step in steps))
