"""Recipes described in schema.org's terms, as JSON or as the JSON-LD of a page."""

from __future__ import annotations

import re
from collections.abc import Iterator
from html import unescape
from itertools import islice
from typing import Any, Final

from jalebi_core.formats.json_text import load_json
from jalebi_core.formats.recipe.source import LONGEST_PARAGRAPH, MOST_LINES, MOST_STEPS, RecipeSource
from jalebi_core.quantities.typed_line import LONGEST_LINE

_DEEPEST: Final = 8
"""Lists within lists beyond this depth hold no recipe that anybody publishes."""
_TAG: Final = re.compile(r"<[^<>]{0,200}>")


def find_recipe(text: str) -> RecipeSource | None:
    """Return the first recipe in a JSON text, None where there is none; raises ValueError for what is no JSON."""
    try:
        data = load_json(text)
    except RecursionError:
        raise ValueError("lists within lists without end") from None
    found = next(_recipes_in(data), None)
    return None if found is None else _source(found)


def _recipes_in(data: object, depth: int = 0) -> Iterator[dict[str, Any]]:
    if depth > _DEEPEST:
        return
    if isinstance(data, list):
        for item in data:
            yield from _recipes_in(item, depth + 1)
    elif isinstance(data, dict):
        kinds = data.get("@type", "")
        if "Recipe" in (kinds if isinstance(kinds, list) else [kinds]) or "recipeIngredient" in data:
            yield data
        for key in ("@graph", "mainEntity", "mainEntityOfPage", "itemListElement"):
            yield from _recipes_in(data.get(key), depth + 1)


def _source(data: dict[str, Any]) -> RecipeSource:
    ingredients, yields = data.get("recipeIngredient") or data.get("ingredients"), data.get("recipeYield")
    lines = ingredients.splitlines() if isinstance(ingredients, str) else ingredients
    makes = (yields if isinstance(yields, list) else [yields])[:MOST_LINES]
    return RecipeSource(
        _plain(data.get("name"), LONGEST_LINE),
        tuple(plain for line in (lines if isinstance(lines, list) else ()) if (plain := _plain(line, LONGEST_LINE))),
        tuple(islice(_instructions(data.get("recipeInstructions")), MOST_STEPS)),
        "; ".join(filter(None, (_plain(part, LONGEST_LINE) for part in makes)))[:LONGEST_LINE],
    )


def _instructions(data: object, depth: int = 0) -> Iterator[str]:
    if depth > _DEEPEST:
        return
    if isinstance(data, str):
        yield from filter(None, (_plain(line, LONGEST_PARAGRAPH) for line in data.splitlines()))
    elif isinstance(data, list):
        for item in data:
            yield from _instructions(item, depth + 1)
    elif isinstance(data, dict):
        yield from _instructions(data.get("itemListElement") or data.get("text") or data.get("name"), depth + 1)


def _plain(value: object, longest: int) -> str:
    text = str(value)[:longest] if isinstance(value, str | int | float) else ""
    return " ".join(_TAG.sub(" ", unescape(text)).split())
