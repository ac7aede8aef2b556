"""Make once, split late: what all variants of a trial have in common is made as one base, the rest weighed apart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

ORDER: Final = (("dry", "pot", None), ("yolks",), ("off-heat",), ("cold",), ("churn",), ("mix-in", "layer"))
"""Stages as they follow each other; what goes in hot, without a stage too, is one."""

SPLIT_AT: Final = ("hot", "yolks", "off-heat", "cold", "churn", "beside")
"""What each of them is called where a base is split."""

_DIFFERS_G: Final = 0.005

Amounts = Mapping[tuple[str, str | None], float]
"""g by ingredient and stage."""


@dataclass(frozen=True, slots=True)
class Weighed:
    """So many g of an ingredient at a stage."""

    ingredient: str
    stage: str | None
    grams: float


@dataclass(frozen=True, slots=True)
class Portion:
    """What one variant takes: g of the common base, what is weighed into it, and what that comes to."""

    key: str
    base_g: float
    add: tuple[Weighed, ...]
    total_g: float


@dataclass(frozen=True, slots=True)
class Split:
    """A base for all variants, and their portions; ``at`` is the stage that they part at, None where nothing differs.

    base_g, base : for all portions with what is spare
    """

    at: str | None
    base_g: float
    base: tuple[Weighed, ...]
    portions: tuple[Portion, ...]


def split(variants: Sequence[tuple[str, Amounts]], spare_pct: float) -> Split:
    """Return how variants, each a key with its amounts, are made from one base."""
    lines = list(dict.fromkeys(line for _, amounts in variants for line in amounts))
    differing = [
        _place(stage)
        for ingredient, stage in lines
        if _spread([amounts.get((ingredient, stage), 0.0) for _, amounts in variants]) > _DIFFERS_G
    ]
    at = min(differing, default=None)
    last = len(ORDER) if at is None else at
    common = {
        line: min(amounts.get(line, 0.0) for _, amounts in variants) if _place(line[1]) <= last else 0.0
        for line in lines
    }
    portion_g = sum(common.values())
    whole = len(variants) * (1 + spare_pct / 100)
    return Split(
        None if at is None else SPLIT_AT[at],
        portion_g * whole,
        tuple(Weighed(*line, grams * whole) for line, grams in common.items() if grams > 0),
        tuple(_portion(key, amounts, common, portion_g) for key, amounts in variants),
    )


def _portion(key: str, amounts: Amounts, common: Amounts, portion_g: float) -> Portion:
    add = [Weighed(*line, grams - common[line]) for line, grams in amounts.items()]
    return Portion(
        key, portion_g, tuple(one for one in add if one.grams > _DIFFERS_G), portion_g + sum(one.grams for one in add)
    )


def _place(stage: str | None) -> int:
    return next(at for at, stages in enumerate(ORDER) if stage in stages)


def _spread(grams: Sequence[float]) -> float:
    return max(grams) - min(grams)
