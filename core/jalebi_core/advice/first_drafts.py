"""First drafts: a mix to begin with, from a style, an approach and a batch size."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from math import isfinite

from jalebi_core.data import read_toml
from jalebi_core.model.errors import MixError
from jalebi_core.model.styles import styles

DraftLine = tuple[str, float, str]
"""Shelf name, g, stage."""

_FINE_G = 10.0


@dataclass(frozen=True, slots=True)
class FirstDraft:
    """A draft of 1 000 g for one style."""

    style: str
    overrun_pct: float
    lines: tuple[DraftLine, ...]


@dataclass(frozen=True, slots=True)
class Approach:
    """A way of making: what it is, its method as stage and sentence, and its drafts by style."""

    key: str
    name: str
    says: str
    method: tuple[tuple[str, str], ...]
    drafts: dict[str, FirstDraft]


@cache
def approaches() -> dict[str, Approach]:
    """Return the approaches by key, from ``data/first_drafts.toml``."""
    return {
        key: Approach(
            key,
            fields["name"],
            fields["says"],
            tuple((stage, sentence) for stage, sentence in fields["method"]),
            {
                draft["style"]: FirstDraft(
                    draft["style"],
                    float(draft["overrun_pct"]),
                    tuple((slug, float(grams), stage) for slug, grams, stage in draft["lines"]),
                )
                for draft in fields["drafts"]
            },
        )
        for key, fields in read_toml("first_drafts.toml").items()
    }


def first_draft(style: str, approach: str, batch_g: float) -> FirstDraft:
    """Return a draft for a batch, weighed to 1 g and what is under 10 g to 0.1 g.

    Raises
    ------
    MixError : an approach that does not make the style, or a batch that cannot be
    """
    known = approaches().get(approach)
    if known is None:
        raise MixError("unknown-approach", approach=approach[:40], approaches=tuple(approaches()))
    draft = known.drafts.get(style)
    if draft is None:
        made = ", ".join(styles()[key].name for key in known.drafts)
        raise MixError("approach-lacks-style", name=known.name, style=style[:40], made=made)
    if not isfinite(batch_g) or not 50 <= batch_g <= 1_000_000:
        raise MixError("batch-size-impossible", batch_g=batch_g)
    lines = tuple((slug, as_weighed(grams * batch_g / 1000), stage) for slug, grams, stage in draft.lines)
    return FirstDraft(draft.style, draft.overrun_pct, lines)


def as_weighed(grams: float) -> float:
    """Return an amount as a kitchen weighs it: to 1 g, and to 0.1 g under 10 g."""
    return round(grams, 1) if grams < _FINE_G else float(round(grams))
