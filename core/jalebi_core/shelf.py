"""The shelf that ships: ingredients by slug, one file a kind in ``data/shelf``."""

from __future__ import annotations

import difflib
import tomllib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar

from .allergens import allergens_of
from .composition import Ingredient
from .errors import UnknownIngredientError
from .goods import FACTS, Facts, Goods
from .measures import measures_of
from .naming import Names
from .recipe.reading import ShelfWords

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class ShelfItem:
    """An ingredient of the shelf with what the mass balance does not say."""

    slug: str
    ingredient: Ingredient
    kind: str
    also: tuple[str, ...]
    basis: str
    allergens: tuple[str, ...]
    facts: Facts


@cache
def shelf() -> dict[str, ShelfItem]:
    """Return the shelf by slug; every composition has passed its checks."""
    kinds = sorted(files(__package__).joinpath("data/shelf").iterdir(), key=lambda file: file.name)
    return {
        slug: _item(slug, file.name.removesuffix(".toml"), fields)
        for file in kinds
        for slug, fields in tomllib.loads(file.read_text(encoding="utf-8")).items()
    }


def _item(slug: str, kind: str, fields: dict[str, Any]) -> ShelfItem:
    also, basis, allergens = fields.pop("also", []), fields.pop("basis"), fields.pop("allergens", [])
    facts = Facts.from_dict({key: fields.pop(key) for key in FACTS & fields.keys()})
    return ShelfItem(slug, Ingredient.from_dict(fields), kind, tuple(also), basis, tuple(allergens), facts)


@cache
def goods() -> dict[str, Goods]:
    """Return the shelf that ships as goods, by slug, without prices."""
    return {
        slug: Goods(
            slug,
            item.ingredient,
            item.kind,
            measures_of(item.ingredient),
            allergens_of(item.ingredient, item.allergens),
            True,
            item.facts,
        )
        for slug, item in shelf().items()
    }


@cache
def words() -> ShelfWords:
    """Return what reading a recipe needs of the shelf that ships."""
    return ShelfWords(
        Names({slug: (item.ingredient.name, *item.also) for slug, item in shelf().items()}),
        {slug: measures_of(item.ingredient) for slug, item in shelf().items()},
        {slug: item.kind for slug, item in shelf().items()},
    )


def find(slug: str) -> Ingredient:
    """Return one ingredient; raises UnknownIngredientError with the closest names."""
    return find_among(shelf(), slug).ingredient


def find_goods(slug: str) -> Goods:
    """Return one ingredient with all that is known of it; raises UnknownIngredientError with the closest names."""
    return find_among(goods(), slug)


def find_among(known: Mapping[str, T], slug: str) -> T:
    """Return what a slug stands for on any shelf; raises UnknownIngredientError with the closest names."""
    found = known.get(slug)
    if found is None:
        raise UnknownIngredientError(slug[:60], closest(slug, known))
    return found


def closest(slug: str, known: Iterable[str]) -> tuple[str, ...]:
    """Return up to two known slugs that a misspelling may have meant."""
    return tuple(difflib.get_close_matches(slug[:60].lower(), list(known), n=2, cutoff=0.5))
