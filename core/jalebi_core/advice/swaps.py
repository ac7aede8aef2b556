"""Swaps: what can stand in for a line, at equal what, and what that does; and ingredients that are confused."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any, Final

from jalebi_core.advice.comparison import Effect, effects_of
from jalebi_core.data import read_toml
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import fat, protein, total_solids
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.regulation.restrictions import offence


def _gum(row: FloatArray) -> FloatArray:
    grams: FloatArray = row[..., INDEX["hydrocolloids"]]
    return grams


_PROPERTY: Final[Mapping[str, Callable[[FloatArray], FloatArray]]] = {
    "fat": fat,
    "solids": total_solids,
    "sweetness": sweetness_pod,
    "cold": freezing_power_pac,
    "gum": _gum,
    "protein": protein,
}
"""What a swap keeps equal; ``mass`` is not a property and needs none."""


@dataclass(frozen=True, slots=True)
class SwapRule:
    """One way to replace ingredients; `data/swaps.toml` explains the fields."""

    of: tuple[str, ...]
    by: str
    equal: str
    taste: str
    fill: str | None = None
    share: float = 1.0
    most_pct: float | None = None
    beside: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Swap:
    """A swap for one line of a mix: the lines in its place, slug and g, and what they do."""

    by: str
    lines: tuple[tuple[str, float], ...]
    equal: str
    taste: str
    effect: Effect


@dataclass(frozen=True, slots=True)
class Confusion:
    """Ingredients that may have been taken for these by mistake, and what the mistake would do."""

    other: str
    differ: str
    effect: Effect


@cache
def swap_rules() -> tuple[SwapRule, ...]:
    """Return the swaps of ``data/swaps.toml``."""
    return tuple(_rule(entry) for entry in _entries("swaps.toml", "swap"))


def _rule(entry: dict[str, Any]) -> SwapRule:
    return SwapRule(
        tuple(entry["of"]),
        entry["by"],
        entry["equal"],
        entry["taste"],
        entry.get("fill"),
        entry.get("share", 1.0),
        entry.get("most_pct"),
        entry.get("and", {}),
    )


@cache
def confusables() -> tuple[tuple[tuple[str, ...], str], ...]:
    """Return groups of ingredients that are confused and how to tell them apart, from ``data/confusables.toml``."""
    return tuple((tuple(entry["of"]), entry["differ"]) for entry in _entries("confusables.toml", "group"))


def _entries(file: str, key: str) -> list[dict[str, Any]]:
    entries: list[dict[str, Any]] = read_toml(file)[key]
    return entries


def swaps_for(
    mix: Mix, at: int, slug: str, shelf: Mapping[str, Ingredient], restrictions: Sequence[str] = ()
) -> list[Swap]:
    """Return the swaps for one line that offend none of the restrictions, the one that moves the mix least first.

    Parameters
    ----------
    mix, at : the mix, and which of its lines
    slug : what stands there on the shelf
    shelf : what is to be had
    """
    possible = [
        (rule, lines)
        for rule in swap_rules()
        if slug in rule.of and (lines := _lines_of(rule, mix, at, shelf)) is not None
        if not any(offence(shelf[name], key) for name, _ in lines for key in restrictions)
    ]
    effects = effects_of(mix, [_with(mix, at, lines, shelf) for _, lines in possible])
    swaps = [
        Swap(rule.by, lines, rule.equal, rule.taste, effect)
        for (rule, lines), effect in zip(possible, effects, strict=True)
    ]
    return sorted(swaps, key=lambda swap: swap.effect.size)


def _lines_of(
    rule: SwapRule, mix: Mix, at: int, shelf: Mapping[str, Ingredient]
) -> tuple[tuple[str, float], ...] | None:
    """Return the lines in the place of one, or None where something is not on the shelf or the property is missing."""
    if any(slug not in shelf for slug in (rule.by, rule.fill or rule.by, *rule.beside)):
        return None
    line = mix.lines[at]
    lead = line.grams * rule.share
    if rule.equal != "mass":
        has = float(_PROPERTY[rule.equal](line.ingredient.row))
        gives = float(_PROPERTY[rule.equal](shelf[rule.by].row))
        if gives <= 0 or has <= 0:
            return None
        lead *= has / gives
    if rule.most_pct is not None:
        lead = min(lead, mix.mass_g * rule.most_pct / 100)
    lines = [(rule.by, lead), *((slug, grams * line.grams) for slug, grams in rule.beside.items())]
    missing = line.grams - sum(grams for _, grams in lines)
    if rule.fill and missing > 0:
        lines.append((rule.fill, missing))
    return tuple((slug, round(grams, 2 if grams < 10 else 1)) for slug, grams in lines)


def _with(mix: Mix, at: int, lines: Sequence[tuple[str, float]], shelf: Mapping[str, Ingredient]) -> Mix:
    stage = mix.lines[at].stage
    return mix.replacing(at, *(Line(shelf[slug], grams, stage) for slug, grams in lines))


def confused_with(slug: str) -> list[tuple[str, str]]:
    """Return what ingredients are taken for by mistake, each with how to tell them apart."""
    return [(other, differ) for group, differ in confusables() if slug in group for other in group if other != slug]


def confusions_for(mix: Mix, at: int, slug: str, shelf: Mapping[str, Ingredient]) -> list[Confusion]:
    """Return what it would do to this mix to take the wrong ingredients for a line, the worst mistake first."""
    line = mix.lines[at]
    others = [(other, differ) for other, differ in confused_with(slug) if other in shelf]
    mistaken = [mix.replacing(at, Line(shelf[other], line.grams, line.stage)) for other, _ in others]
    found = [
        Confusion(other, differ, effect)
        for (other, differ), effect in zip(others, effects_of(mix, mistaken), strict=True)
    ]
    return sorted(found, key=lambda confusion: -confusion.effect.size)
