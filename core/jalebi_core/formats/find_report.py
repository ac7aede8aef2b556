"""What `find` answers: the ingredients of the shelf that ships that words may mean, as plain data."""

from __future__ import annotations

from typing import Any, Final

from jalebi_core.regulation.restrictions import suits
from jalebi_core.shelf.catalogue import ingredients
from jalebi_core.shelf.ingredient_search import search_index

MOST_MATCHES: Final = 8


def find_report(words: str) -> dict[str, Any]:
    """Return ``matches``, best first; described in docs/file-formats.md."""
    names = search_index().names
    matches = names.ranked(words, MOST_MATCHES)
    sure = names.is_sure(words, matches)
    return {"matches": [_match(match.slug, sure=sure and match is matches[0]) for match in matches]}


def _match(slug: str, *, sure: bool) -> dict[str, Any]:
    ingredient = ingredients()[slug]
    return {
        "slug": slug,
        "name": ingredient.name,
        "sure": sure,
        "allergens": list(ingredient.allergens) if ingredient.allergens_stated else None,
        "may_hold": list(ingredient.may_hold),
        "suits": suits(ingredient),
        "warnings": list(ingredient.facts.warnings),
        "per_100g": dict(ingredient.composition.per_100g),
        "density_kg_l": ingredient.measures.density_kg_l,
    }
