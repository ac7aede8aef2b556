"""Exchanges: some g of one line for as many of other ingredients, hundreds of them worked out at once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.regulation.allergens import allergens_of
from jalebi_core.regulation.restrictions import offence

MOST_SHARE_PCT: Final = {
    "water": 30.0,
    "whole-milk": 50.0,
    "cream-36": 40.0,
    "skim-milk-powder": 8.0,
    "sugar": 20.0,
    "dextrose": 10.0,
    "glucose-syrup-de42": 10.0,
    "inulin": 5.0,
    "locust-bean-gum": 0.25,
    "guar-gum": 0.25,
    "glycerol": 2.5,
    "neutral-spirit-40": 3.0,
}
"""Common ingredients that are tried, and the most of each in a mix, in %; working conventions of taste.

Of exchanges of one size the ingredients that stand first here are offered first: spirit last.
"""

_STEPS: Final = np.array([0.002, 0.005, 0.01, 0.015, 0.02, 0.03, 0.045, 0.06, 0.08, 0.1, 0.14, 0.2])
"""Sizes of an exchange that are tried, as a share of the mix."""


Pair = tuple[int, str]
"""A line and the ingredients that come in for some of it."""


@dataclass(frozen=True, slots=True)
class Exchanges:
    """All exchanges that are tried: of which pair each is, how much of it, and the rows they make."""

    pairs: Sequence[Pair]
    pair: NDArray[np.intp]
    grams: FloatArray
    rows: FloatArray

    def of(self, index: int) -> Pair:
        """Return which line gives in an exchange, and what comes in."""
        return self.pairs[int(self.pair[index])]

    def pairs_by(self, rank: FloatArray, most: int) -> list[Pair]:
        """Return pairs in the order of their best exchange, the one of the lowest rank first."""
        order = self.pair[np.argsort(rank, kind="stable")]
        pairs, first = np.unique(order, return_index=True)
        return [self.pairs[number] for number in pairs[np.argsort(first)][:most]]


def ingredients_to_try(
    mix: Mix,
    shelf: Mapping[str, Ingredient],
    restrictions: Sequence[str],
    wanted: Iterable[str] = tuple(MOST_SHARE_PCT),
) -> list[str]:
    """Return the wanted ingredients that offend no restriction and bring neither an allergen nor alcohol anew.

    Where none are named they are the common ones.
    """
    has = {allergen for line in mix.lines for allergen in allergens_of(line.ingredient.composition, ())}
    spirit = any(line.ingredient.row[INDEX["ethanol"]] > 0 for line in mix.lines)
    found = (slug for slug in wanted if slug in shelf and not _is_new(shelf[slug], has, spirit=spirit))
    return [slug for slug in found if not any(offence(shelf[slug], key) for key in restrictions)]


def exchanges_of(mix: Mix, shelf: Mapping[str, Ingredient], ingredient: Sequence[str]) -> Exchanges | None:
    """Return every exchange of a line of the mix for one of the ingredients, None where there is none."""
    giving = [number for number, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES]
    return exchanges_between(mix, shelf, [(number, slug) for number in giving for slug in ingredient])


def exchanges_between(mix: Mix, shelf: Mapping[str, Ingredient], pairs: Sequence[Pair]) -> Exchanges | None:
    """Return the exchanges of some pairs in all sizes that line and room allow, None where there is none."""
    names = [line.ingredient.name for line in mix.lines]
    pairs = [(number, slug) for number, slug in pairs if names[number] != shelf[slug].name]
    if not pairs:
        return None
    slugs = {slug: at for at, slug in enumerate(dict.fromkeys(slug for _, slug in pairs))}
    mass_g = mix.mass_g
    has: dict[str, float] = defaultdict(float)
    for line in mix.base:
        has[line.ingredient.name] += line.grams
    room = np.array([MOST_SHARE_PCT[slug] / 100 * mass_g - has[shelf[slug].name] for slug in slugs])
    rows = np.array([shelf[slug].row for slug in slugs])
    gone = np.array([line.ingredient.row for line in mix.lines])
    gives = np.array([line.grams for line in mix.lines])
    giving = np.array([number for number, _ in pairs])
    coming = np.array([slugs[slug] for _, slug in pairs])
    moved = _STEPS * mass_g
    pair, step = np.nonzero(moved <= np.minimum(gives[giving], room[coming])[:, None])
    if len(pair) == 0:
        return None
    made = mix.row() + _STEPS[step, None] * (rows[coming[pair]] - gone[giving[pair]])
    return Exchanges(pairs, pair, moved[step], made)


def exchanged(mix: Mix, number: int, coming: Ingredient, grams: float) -> Mix:
    """Return a mix in which some g of a line have been exchanged for another ingredient.

    They join their own line where there is one, and stand behind all others where there is none, so that lines keep
    their numbers.
    """
    giving = mix.lines[number]
    lines = list(mix.lines)
    lines[number] = replace(giving, grams=giving.grams - grams)
    same = [
        at for at, line in enumerate(lines) if at != number and line.stage not in MIX_IN_STAGES and _same(line, coming)
    ]
    if same:
        had = lines[same[0]]
        lines[same[0]] = replace(had, grams=had.grams + grams)
    else:
        lines.append(Line(coming, grams, giving.stage))
    return Mix(mix.name, tuple(lines), mix.style, mix.overrun_pct, mix.aims)


def _is_new(ingredient: Ingredient, has: set[str], *, spirit: bool) -> bool:
    """Tell whether ingredients would bring an allergen or alcohol into a mix that has none: nobody asked for that."""
    return not has.issuperset(ingredient.allergens) or (ingredient.row[INDEX["ethanol"]] > 0 and not spirit)


def _same(line: Line, ingredient: Ingredient) -> bool:
    return line.ingredient.name == ingredient.name
