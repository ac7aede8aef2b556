"""Where a recipe comes from: plain text, or a web page or JSON that describes it in schema.org's terms."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from dataclasses import dataclass
from html import unescape
from html.parser import HTMLParser
from typing import Any, Final

from jalebi_core.model.errors import RecipeError
from jalebi_core.quantities.amounts import NUMBER
from jalebi_core.quantities.typed_line import read_line

MOST_CHARACTERS: Final = 2_000_000
MOST_LINES: Final = 300
_LONGEST_LINE: Final = 140
_BLOCKS: Final = frozenset(
    "p div li br tr h1 h2 h3 h4 h5 h6 section article ul ol table dt dd".split()  # noqa: SIM905
)
_INGREDIENTS: Final = re.compile(
    r"^\W*(?:the )?(?:ingredients?|you(?:'|’)?ll need|what you need)\b.{0,20}$", re.IGNORECASE
)
_METHOD: Final = re.compile(
    r"^\W*(?:the )?(?:method|directions?|instructions?|steps?|preparation|procedure|how to make it|to make)\b.{0,20}$",
    re.IGNORECASE,
)
_YIELD: Final = re.compile(
    r"^\W*(?:serves|serving(?:s|\s+size)?|makes|yields?|for|portions?|quantity)\b\s*:?\s*(?P<quantity>.*\d.*|.*\b(?:a|one|two)\b.*)$",
    re.IGNORECASE,
)
_SERVINGS: Final = re.compile(
    r"(?:serves|servings?|people|portions?|for)\D{0,10}(?P<a>\d{1,3})|(?P<b>\d{1,3})\s*(?:servings|people|portions|scoops)|"
    r"^\s*(?P<c>\d{1,3})\s*$",
    re.IGNORECASE,
)
_VOLUME: Final = re.compile(
    rf"(?P<amount>{NUMBER})\s*(?P<unit>l|litres?|liters?|ml|quarts?|pints?|cups?|kg|g)\b", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class RecipeSource:
    """A recipe taken apart but not yet understood."""

    name: str
    ingredient_lines: tuple[str, ...]
    method: tuple[str, ...]
    yields: str = ""

    @property
    def servings(self) -> int | None:
        """The number of people or portions it is said to be for."""
        match = _SERVINGS.search(self.yields)
        return int(match["a"] or match["b"] or match["c"]) if match else None

    @property
    def makes(self) -> str | None:
        """The quantity it is said to make, as written, such as “1 litre”."""
        match = _VOLUME.search(self.yields)
        return f"{match['amount'].strip()} {match['unit']}" if match else None


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
    source = _from_json(text) if text[0] in "[{" else _from_page(text) if _is_markup(text) else _from_text(text)
    if not source.ingredient_lines:
        raise RecipeError("recipe-without-ingredients")
    if len(source.ingredient_lines) > MOST_LINES:
        raise RecipeError("recipe-too-many-ingredients", count=len(source.ingredient_lines), most_lines=MOST_LINES)
    return source


def _is_markup(text: str) -> bool:
    return (
        re.search(r"<(?:html|body|div|p|li|ul|span|br|script|h[1-6]|table|!doctype)\b", text[:200_000], re.IGNORECASE)
        is not None
    )


def _from_json(text: str) -> RecipeSource:
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise RecipeError("recipe-not-json") from None
    found = next(_recipes_in(data), None)
    if found is None:
        raise RecipeError("recipe-data-missing")
    return _from_recipe(found)


def _recipes_in(data: object, depth: int = 0) -> Iterator[dict[str, Any]]:
    if depth > 8:
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


def _from_recipe(data: dict[str, Any]) -> RecipeSource:
    ingredients = data.get("recipeIngredient") or data.get("ingredients") or []
    lines = ingredients.splitlines() if isinstance(ingredients, str) else ingredients
    yields = data.get("recipeYield", "")
    message = yields if isinstance(yields, list) else [yields]
    return RecipeSource(
        _plain(data.get("name", "")),
        tuple(plain for line in lines if (plain := _plain(line))),
        tuple(_instructions(data.get("recipeInstructions"))),
        "; ".join(_plain(part) for part in message),
    )


def _instructions(data: object, depth: int = 0) -> Iterator[str]:
    if depth > 8:
        return
    if isinstance(data, str):
        yield from filter(None, (_plain(line) for line in data.splitlines()))
    elif isinstance(data, list):
        for item in data:
            yield from _instructions(item, depth + 1)
    elif isinstance(data, dict):
        yield from _instructions(data.get("itemListElement") or data.get("text") or data.get("name"), depth + 1)


def _plain(value: object) -> str:
    text = str(value) if isinstance(value, str | int | float) else ""
    return " ".join(re.sub(r"<[^>]{0,200}>", " ", unescape(text)).split())


class _Page(HTMLParser):
    """The recipe data blocks of a page, and its text by blocks."""

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.data_blocks: list[str] = []
        self.text: list[str] = []
        self._inside = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag == "script" and dict(attrs).get("type") == "application/ld+json":
            self._inside = "data"
            self.data_blocks.append("")
        elif tag in ("script", "style", "noscript"):
            self._inside = tag
        elif tag in _BLOCKS:
            self.text.append("\n")

    def handle_endtag(self, tag: str) -> None:
        if tag in ("script", "style", "noscript"):
            self._inside = ""
        elif tag in _BLOCKS:
            self.text.append("\n")

    def handle_data(self, data: str) -> None:
        if self._inside == "data":
            self.data_blocks[-1] += data
        elif not self._inside:
            self.text.append(re.sub(r"\s+", " ", data))


def _from_page(text: str) -> RecipeSource:
    page = _Page()
    page.feed(text)
    page.close()
    for block in page.data_blocks:
        try:
            found = next(_recipes_in(json.loads(block)), None)
        except (ValueError, RecursionError):
            continue
        if found is not None:
            return _from_recipe(found)
    return _from_text("".join(page.text))


def _from_text(text: str) -> RecipeSource:
    lines = [line.strip() for line in text.replace("\r", "\n").split("\n") if line.strip()]
    if len(lines) > 5 * MOST_LINES:
        raise RecipeError("recipe-too-many-lines", count=len(lines), most_lines=5 * MOST_LINES)
    headed = any(_INGREDIENTS.match(line) for line in lines)
    name, yields = "", ""
    ingredients: list[str] = []
    method: list[str] = []
    part = "title" if headed else "any"
    for number, line in enumerate(lines):
        if _INGREDIENTS.match(line):
            part = "ingredients"
        elif _METHOD.match(line):
            part = "method"
        elif not yields and len(line) < 80 and (found := _YIELD.match(line)) and not _is_ingredient(line):
            yields = line if found["quantity"] else ""
        elif part == "method" or (part == "any" and not _is_ingredient(line) and _is_sentence(line)):
            method.append(line)
        elif number == 0 and not _is_ingredient(line):
            name = line[:200].strip("# *_")
        elif part == "ingredients" or (part == "any" and _is_ingredient(line)):
            ingredients.append(line)
    return RecipeSource(name, tuple(line for line in ingredients if not _is_heading(line)), tuple(method), yields)


def _is_heading(line: str) -> bool:
    return line.endswith(":") or re.match(r"^(?:for|to) (?:the|make|serve)\b[^0-9]*$", line, re.IGNORECASE) is not None


def _is_ingredient(line: str) -> bool:
    return (
        len(line) <= _LONGEST_LINE
        and not _is_numbered_sentence(line)
        and bool(read_line(line).amount or _begins_small(line))
    )


def _begins_small(line: str) -> bool:
    return (
        re.match(r"^\W*(?:the )?(?:juice|zest|rind|seeds|a few|some|salt)\b", line, re.IGNORECASE) is not None
        and len(line) < 60
    )


def _is_numbered_sentence(line: str) -> bool:
    return re.match(r"^\s*[0-9]{1,2}\s*[.)]\s*[A-Za-z]", line) is not None and len(line) > 30


def _is_sentence(line: str) -> bool:
    return len(line) > 40 or line.endswith(".") or _is_numbered_sentence(line)
