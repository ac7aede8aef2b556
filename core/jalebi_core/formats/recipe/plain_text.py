"""Recipes as plain text: which line is the title, an ingredient, the yield or a part of the method."""

from __future__ import annotations

import re
from typing import Final

from jalebi_core.formats.recipe.source import MOST_LINES, RecipeSource
from jalebi_core.model.errors import RecipeError
from jalebi_core.quantities.typed_line import LONGEST_LINE, read_line

_LONGEST_INGREDIENT: Final = 140
_LONGEST_NAME: Final = 200
_LONGEST_YIELD: Final = 80
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

_SURELY_YIELD: Final = re.compile(r"^\W*(?:makes|yields?|serves|servings?)\b", re.IGNORECASE)


def read_plain_text(text: str) -> RecipeSource:
    """Tell the lines of a text apart; raises RecipeError where there are far too many."""
    lines = [line.strip() for line in text.replace("\r", "\n").split("\n") if line.strip()]
    if len(lines) > 5 * MOST_LINES:
        raise RecipeError("recipe-too-many-lines", count=len(lines), most_lines=5 * MOST_LINES)
    headed = any(_INGREDIENTS.match(line[:LONGEST_LINE]) for line in lines)
    name, yields = "", ""
    ingredients: list[str] = []
    method: list[str] = []
    part = "title" if headed else "any"
    for number, whole in enumerate(lines):
        line = whole[:LONGEST_LINE]
        is_ingredient = part != "method" and _is_ingredient(line)
        if _INGREDIENTS.match(line):
            part = "ingredients"
        elif _METHOD.match(line):
            part = "method"
        elif not yields and len(line) < _LONGEST_YIELD and (found := _YIELD.match(line)) and _is_yield(line):
            yields = line if found["quantity"] else ""
        elif part == "method" or (part == "any" and not is_ingredient and _is_sentence(line)):
            method.append(whole)
        elif number == 0 and not is_ingredient:
            name = line[:_LONGEST_NAME].strip("# *_")
        else:
            ingredients.append(line)
    return RecipeSource(name, tuple(line for line in ingredients if not _is_heading(line)), tuple(method), yields)


def _is_yield(line: str) -> bool:
    """Whether a line that may tell the yield does: “for 4 people” does, “for the base 200 g milk” does not."""
    return _SURELY_YIELD.match(line) is not None or not _is_ingredient(line)


def _is_heading(line: str) -> bool:
    return line.endswith(":") or re.match(r"^(?:for|to) (?:the|make|serve)\b[^0-9]*$", line, re.IGNORECASE) is not None


def _is_ingredient(line: str) -> bool:
    return (
        len(line) <= _LONGEST_INGREDIENT
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
