"""The ingredients that ship, by slug; one file a kind in ``data/shelf``."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cache
from typing import Final, TypeVar

from jalebi_core.data import read_shelf_section, shelf_sections
from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import UnknownIngredientError
from jalebi_core.model.ingredient import FACTS, Facts, Ingredient
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of, checked_allergens
from jalebi_core.shelf.label_facts import with_shipped_label_facts
from jalebi_core.shelf.spelling import closest_words

T = TypeVar("T")

_LEAST_LIKENESS: Final = 50.0


@dataclass(frozen=True, slots=True)
class CatalogueEntry:
    """An ingredient that ships, with its other names and what its figures rest on."""

    ingredient: Ingredient
    also: tuple[str, ...]
    basis: str


@cache
def catalogue() -> dict[str, CatalogueEntry]:
    """Return what ships by slug; every composition has passed its checks."""
    return {slug: _entry(slug) for slug in shelf_sections()}


@cache
def _entry(slug: str) -> CatalogueEntry:
    kind, fields = read_shelf_section(slug)
    also, basis = fields.pop("also", []), fields.pop("basis")
    allergens, may_hold = fields.pop("allergens", []), fields.pop("may_hold", [])
    facts = Facts.from_dict({key: fields.pop(key) for key in FACTS & fields.keys()})
    composition = Composition.from_dict(fields)
    ingredient = Ingredient(
        composition,
        slug,
        kind,
        measures_of(composition),
        allergens_of(composition, allergens),
        allergens_stated=facts.sure != "undisclosed",
        may_hold=checked_allergens(may_hold, "may_hold"),
        facts=facts,
    )
    return CatalogueEntry(with_shipped_label_facts(ingredient), tuple(also), basis)


@cache
def ingredients() -> dict[str, Ingredient]:
    """Return the ingredients that ship, by slug, without prices."""
    return {slug: entry.ingredient for slug, entry in catalogue().items()}


def with_label_facts_of_shelf(ingredient: Ingredient) -> Ingredient:
    """Return an ingredient with its label facts on the shelf that ships, if it is one of it.

    Its nutrients hold only as long as nobody has given it another composition.
    """
    if ingredient.slug not in shelf_sections():
        return ingredient
    shipped = _entry(ingredient.slug).ingredient
    same = shipped.composition.per_100g == ingredient.composition.per_100g
    return replace(ingredient, nutrients=shipped.nutrients if same else None, on_label=shipped.on_label)


def find(slug: str) -> Ingredient:
    """Return an ingredient that ships; raises UnknownIngredientError with the closest names."""
    find_among(shelf_sections(), slug)
    return _entry(slug).ingredient


def find_among(known: Mapping[str, T], slug: str) -> T:
    """Return what a slug stands for on any shelf; raises UnknownIngredientError with the closest names."""
    found = known.get(slug)
    if found is None:
        raise UnknownIngredientError(slug[:60], closest(slug, known))
    return found


def closest(slug: str, known: Iterable[str]) -> tuple[str, ...]:
    """Return up to two known slugs that a misspelling may have meant."""
    return tuple(closest_words(slug[:60].lower(), list(known), _LEAST_LIKENESS))
