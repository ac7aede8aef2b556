"""Styles of frozen dessert with their usual bands, and the stages at which a line goes in."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, Final

from jalebi_core.data import read_toml
from jalebi_core.model.errors import MixError

Band = tuple[float, float]

STAGES: Final = {
    "dry": "Dry-blended first",
    "pot": "In the pot",
    "yolks": "Onto the yolks",
    "off-heat": "Off the heat",
    "cold": "Stirred in cold",
    "churn": "At the end of the churn",
    "mix-in": "Folded in, beside the mix",
    "layer": "Layered in the tub, beside the mix",
}
"""Stages in the order of the work; a line without one goes in at the start."""

HEATED: Final = frozenset(("dry", "pot", "yolks"))
NOT_HEATED: Final = frozenset(("off-heat", "cold", "churn"))
"""Stages whose lines go through the heat, what is dry-blended included, and those whose lines do not."""

NEVER_CHURNED: Final = frozenset(("no-churn", "granita"))
"""Styles that no machine turns, so that no butter forms."""

MIX_IN_STAGES: Final = frozenset(("mix-in", "layer"))
"""Stages whose lines are part of the product but not of the mix: they change neither its curve nor its air."""


@dataclass(frozen=True, slots=True)
class Style:
    """A style with bands by analysed quantity: g per 100 g, overrun in %, serving in °C.

    ``noun`` is its name in a sentence. ``fresh`` ones are eaten from the machine or the fork: how firm they would be
    out of a freezer says nothing.
    """

    slug: str
    name: str
    noun: str
    bands: dict[str, Band]
    fresh: bool = False


@cache
def styles() -> dict[str, Style]:
    """Return the styles by slug, from ``data/styles.toml``."""
    return {slug: _style(slug, fields) for slug, fields in read_toml("styles.toml").items()}


def _style(slug: str, fields: dict[str, Any]) -> Style:
    name, fresh = fields.pop("name"), fields.pop("fresh", False)
    noun = fields.pop("noun", name)
    return Style(slug, name, noun, {key: (float(low), float(high)) for key, (low, high) in fields.items()}, fresh)


def checked_style(style: object) -> str | None:
    """Return a known style or None where none is given; raises MixError for any other."""
    return _checked(style, styles(), "style", None)


def checked_stage(stage: object, line: int | None = None) -> str | None:
    """Return a known stage or None where none is given; raises MixError for any other."""
    return _checked(stage, STAGES, "stage", line)


def _checked(value: object, known: dict[str, Style] | dict[str, str], kind: str, line: int | None) -> str | None:
    if value is None or value == "":
        return None
    if not isinstance(value, str) or value not in known:
        raise MixError("unknown-choice", line, value=str(value)[:40], kind=kind, known=tuple(known))
    return value
