"""A recipe understood: each line with its amount in g, the ingredients it may mean, and what is doubtful about it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from jalebi_core.formats.recipe.method import Method, Step
from jalebi_core.formats.recipe.paste import take_apart
from jalebi_core.formats.recipe.source import RecipeSource
from jalebi_core.model.errors import AmountError
from jalebi_core.model.measures import Measures
from jalebi_core.quantities.amounts import Spoons, read_amount, read_share
from jalebi_core.quantities.typed_line import RecipeLine, read_line, spoken
from jalebi_core.shelf.ingredient_search import Match, SearchIndex
from jalebi_core.shelf.typed_lines import named_piece

SURE_SCORE: Final = 0.72
CLEAR_LEAD: Final = 0.04
MOST_CHOICES: Final = 5
LEAST_OF_FIRST: Final = 0.55
"""Choices whose score is a smaller part of the first one's are not worth a key."""
_STAGE_BY_KIND: Final = {"gum": "dry", "egg": "yolks", "spirit": "off-heat", "mix-in": "mix-in", "flavour": "off-heat"}


@dataclass(frozen=True, slots=True)
class UnderstoodLine:
    """A line of a recipe against a shelf.

    ``typed`` is the amount for the first choice, empty where none could be read; ``doubts`` are sentences,
    none where nothing needs a second look.
    """

    line: RecipeLine
    choices: tuple[Match, ...]
    typed: str
    grams: float | None
    assumed: str | None
    stage: str | None
    doubts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Recipe:
    """A recipe against a shelf."""

    name: str
    servings: int | None
    makes: str | None
    lines: tuple[UnderstoodLine, ...]
    steps: tuple[Step, ...]


def read_recipe(text: str, shelf: SearchIndex, spoons: Spoons = "metric") -> Recipe:
    """Read a pasted recipe; raises RecipeError where there is none in it."""
    return understand(take_apart(text), shelf, spoons)


def understand(source: RecipeSource, shelf: SearchIndex, spoons: Spoons = "metric") -> Recipe:
    """Read the lines of a recipe against a shelf."""
    method = Method(source.method)
    lines = tuple(_understood(read_line(line), shelf, spoons, method) for line in source.ingredient_lines)
    return Recipe(source.name, source.servings, source.makes, lines, method.steps)


def _understood(line: RecipeLine, shelf: SearchIndex, spoons: Spoons, method: Method) -> UnderstoodLine:
    ranked = shelf.names.ranked(line.name, MOST_CHOICES)
    choices = tuple(match for match in ranked if match.score >= LEAST_OF_FIRST * ranked[0].score)
    first = choices[0].slug if choices else None
    doubts = [] if line.name else ["What is this line of?"]
    if line.name and not choices:
        doubts.append(f"Nothing on the shelf is called “{line.name[:60]}”.")
    elif len(choices) > 1 and choices[0].score - choices[1].score < CLEAR_LEAD:
        doubts.append("More than one thing on the shelf may be meant.")
    elif choices and choices[0].score < SURE_SCORE:
        doubts.append("Is this what is meant?")
    measures = shelf.measures.get(first or "", Measures())
    typed = _with_piece(line, measures)
    grams, assumed = None, None
    try:
        if not typed:
            doubts.append("No amount is given.")
        elif read_share(typed) is not None:
            assumed = "a share of the whole mix"
        elif first:
            amount = read_amount(typed, "", measures, spoons)
            grams, assumed = amount.grams, amount.assumed
    except AmountError as error:
        doubts.append(str(error))
    stage = method.stage_of(line.name) or _usual_stage(shelf.kinds.get(first or ""), method)
    return UnderstoodLine(line, choices, typed, grams, assumed, stage, tuple(doubts))


def _with_piece(line: RecipeLine, measures: Measures) -> str:
    """Name what a bare count counts: the piece that the line names, or the ingredient's usual one."""
    if not line.counted or not measures.pieces:
        return line.amount
    return spoken(line.amount, named_piece(line, measures) or next(iter(measures.pieces)))


def _usual_stage(kind: str | None, method: Method) -> str:
    return _STAGE_BY_KIND.get(kind or "", "pot" if method.heated else "cold")
