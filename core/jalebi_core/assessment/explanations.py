"""Explanations: how each number on a screen is worked out, what that rests on, and the function that does it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from jalebi_core.data import read_toml
from jalebi_core.model.figures import quantities


@dataclass(frozen=True, slots=True)
class Explanation:
    """Where a number comes from; ``rule`` is the function in the core, room and module before it."""

    key: str
    name: str
    formula: str
    source: str
    rule: str


@cache
def explanations() -> dict[str, Explanation]:
    """Return the explanations by key: those of the figures, and those of ``data/explanations.toml``."""
    figures = (Explanation(one.key, one.name, one.formula, one.source, one.rule) for one in quantities().values())
    others = (Explanation(key, **fields) for key, fields in read_toml("explanations.toml").items())
    return {one.key: one for one in (*figures, *others)}
