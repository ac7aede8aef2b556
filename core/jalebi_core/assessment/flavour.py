"""Flavour strength: doses in g per kg of mix against the ladder from the weakest to the strongest usual dose."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.ingredient import Flavouring, Ingredient
from jalebi_core.model.mix import Mix


@dataclass(frozen=True, slots=True)
class Dose:
    """A flavouring in a mix: g per kg, and the ladder it stands on."""

    flavouring: str
    g_per_kg: float
    ladder: tuple[float, float]

    @property
    def up_pct(self) -> float:
        """How far up its ladder it stands: 0 at the weakest usual dose, 100 at the strongest."""
        low, high = self.ladder
        return 100 * (self.g_per_kg - low) / (high - low)


def flavourings_of(ingredient: Ingredient) -> tuple[Flavouring, ...]:
    """Return what flavours with ingredients: themselves, or what they were made with."""
    if ingredient.facts.strength_g_kg:
        return (Flavouring(ingredient.name, 100.0, ingredient.facts.strength_g_kg),)
    return ingredient.facts.flavourings


def together(parts: Iterable[tuple[Ingredient, float]], yield_g: float) -> tuple[Flavouring, ...]:
    """Return the flavourings, with their g per 100 g, of what so many g of ingredients were made into.

    All that went in is counted, also what is strained out again: a ladder for tea is one of g of leaves.
    """
    grams: dict[tuple[str, tuple[float, float]], float] = {}
    for ingredient, mass in parts:
        for flavouring in flavourings_of(ingredient):
            key = (flavouring.name, flavouring.ladder)
            grams[key] = grams.get(key, 0.0) + mass * flavouring.share_pct / 100
    return tuple(Flavouring(name, 100 * mass / yield_g, ladder) for (name, ladder), mass in grams.items() if mass > 0)


_BASES: Final = frozenset(("fruit", "dairy"))


def is_base(mix: Mix, flavouring: str) -> bool:
    """Tell whether a flavouring is the fruit or sour milk that a mix is made of: there is never too much of that."""
    return any(
        line.ingredient.kind in _BASES and flavouring in (one.name for one in flavourings_of(line.ingredient))
        for line in mix.base
    )


def doses_of(mix: Mix) -> tuple[Dose, ...]:
    """Return the flavourings of a mix, the one that leads first; what stands beside the mix is not counted."""
    known = [(line.ingredient, line.grams) for line in mix.base]
    found = (Dose(one.name, 10 * one.share_pct, one.ladder) for one in together(known, mix.mass_g))
    return tuple(sorted(found, key=lambda dose: -dose.up_pct))
