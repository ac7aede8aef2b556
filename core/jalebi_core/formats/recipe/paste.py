"""What somebody pastes: plain text, or a web page or JSON that describes a recipe in schema.org's terms."""

from __future__ import annotations

from jalebi_core.formats.recipe.page import Page, is_markup
from jalebi_core.formats.recipe.plain_text import read_plain_text
from jalebi_core.formats.recipe.source import MOST_CHARACTERS, MOST_LINES, RecipeSource
from jalebi_core.formats.recipe.structured_data import find_recipe
from jalebi_core.model.errors import RecipeError


def take_apart(text: str) -> RecipeSource:
    """Find name, ingredient lines, method and yield.

    Raises
    ------
    RecipeError : nothing there, far too much, or nothing that looks like an ingredient
    """
    if len(text) > MOST_CHARACTERS:
        raise RecipeError("recipe-too-long", count=len(text) / 1000000.0)
    text = text.replace("\x00", "").lstrip("\ufeff").strip()
    if not text:
        raise RecipeError("recipe-empty")
    source = _from_json(text) if text[0] in "[{" else _from_page(text) if is_markup(text) else read_plain_text(text)
    if not source.ingredient_lines:
        raise RecipeError("recipe-without-ingredients")
    if len(source.ingredient_lines) > MOST_LINES:
        raise RecipeError("recipe-too-many-ingredients", count=len(source.ingredient_lines), most_lines=MOST_LINES)
    return source


def _from_json(text: str) -> RecipeSource:
    try:
        found = find_recipe(text)
    except ValueError:
        raise RecipeError("recipe-not-json") from None
    if found is None:
        raise RecipeError("recipe-data-missing")
    return found


def _from_page(text: str) -> RecipeSource:
    page = Page(text)
    for block in page.data_blocks():
        try:
            found = find_recipe(block)
        except ValueError:
            continue
        if found is not None:
            return found
    return read_plain_text(page.text())
