"""A recipe understood: each line with its amount in g, the ingredients it may mean, and what is doubtful about it."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Final

from jalebi_core.formats.recipe.custom import is_american, style_of, with_us_measures
from jalebi_core.formats.recipe.method import Method, Step
from jalebi_core.formats.recipe.paste import take_apart
from jalebi_core.formats.recipe.source import RecipeSource
from jalebi_core.formats.recipe.stages import stage_of_line
from jalebi_core.model.errors import AmountError
from jalebi_core.model.measures import Measures
from jalebi_core.quantities.amounts import ML_PER_SPOON, ML_PER_UNIT, Spoons, read_amount, read_share
from jalebi_core.quantities.forms import form_of
from jalebi_core.quantities.typed_line import RecipeLine, read_line, spoken
from jalebi_core.shelf.ingredient_search import Match, SearchIndex, strength_in
from jalebi_core.shelf.typed_lines import named_piece

MOST_CHOICES: Final = 5
LEAST_OF_FIRST: Final = 0.55
"""Choices whose score is a smaller part of the first one's are not worth a key."""
_COOKED_KINDS: Final = frozenset({"egg", "starch"})
_TAKEN_OUT_KINDS: Final = frozenset({"flavour", "infusion"})
_MAKES: Final = re.compile(r"^(?P<number>[^a-z]+?)\s*(?P<unit>[a-z]+)$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class UnderstoodLine:
    """A line of a recipe against a shelf.

    ``typed`` is the amount for the first choice, empty where none could be read; ``sure`` tells whether that choice is
    without doubt what is said; ``form`` is how it lies in a cup; ``stage`` is None where it is unsure; ``doubts`` are
    sentences, none where nothing needs a second look.
    """

    line: RecipeLine
    choices: tuple[Match, ...]
    sure: bool
    typed: str
    grams: float | None
    assumed: str | None
    form: str | None
    stage: str | None
    steeped: bool
    doubts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Makes:
    """What a recipe is said to make: in its words, the amount among them, in ml and in portions where it says so."""

    text: str
    amount: str | None
    ml: float | None
    portions: int | None


@dataclass(frozen=True, slots=True)
class Recipe:
    """A recipe against a shelf; ``spoons`` are the cups and spoons that it was read with."""

    name: str
    style: str | None
    servings: int | None
    makes: Makes | None
    lines: tuple[UnderstoodLine, ...]
    steps: tuple[Step, ...]
    spoons: Spoons
    doubts: tuple[str, ...]

    @property
    def questions(self) -> tuple[str, ...]:
        """All that somebody has to look at, line by line and of the whole."""
        of_lines = (f"“{one.line.raw[:80]}”: {doubt}" for one in self.lines for doubt in one.doubts)
        return (*of_lines, *self.doubts)


def read_recipe(text: str, shelf: SearchIndex, spoons: Spoons = "metric", *, american: bool | None = None) -> Recipe:
    """Read a pasted recipe; raises RecipeError where there is none in it.

    Parameters
    ----------
    spoons : which cups and spoons the kitchen owns
    american : whether it measures in those of the United States; None lets its words say
    """
    return understand(take_apart(text), shelf, spoons, american=american)


def understand(
    source: RecipeSource, shelf: SearchIndex, spoons: Spoons = "metric", *, american: bool | None = None
) -> Recipe:
    """Read the lines of a recipe against a shelf; an American one is read with US cups, whatever a kitchen owns."""
    if american is None:
        american = is_american(source)
    method = Method(source.method)
    lines = [read_line(line) for line in source.ingredient_lines]
    if american and spoons != "us":
        lines = [replace(line, amount=with_us_measures(line.amount)) for line in lines]
    found = [shelf.names.ranked(line.name, MOST_CHOICES) for line in lines]
    kinds = {shelf.kinds.get(matches[0].slug) for matches in found if matches}
    cooked = method.heated or (not method.steps and bool(kinds & _COOKED_KINDS))
    reader = _Reader(shelf, "us" if american else spoons, method, cooked)
    return Recipe(
        source.name,
        style_of(source),
        source.servings,
        _makes(source, "us" if american else spoons),
        tuple(reader.understood(line, ranked) for line, ranked in zip(lines, found, strict=True)),
        method.steps,
        "us" if american else spoons,
        () if method.steps else ("There is no method in it: say when each thing goes in.",),
    )


@dataclass(frozen=True, slots=True)
class _Reader:
    shelf: SearchIndex
    spoons: Spoons
    method: Method
    cooked: bool

    def understood(self, line: RecipeLine, ranked: list[Match]) -> UnderstoodLine:
        choices = tuple(match for match in ranked if match.score >= LEAST_OF_FIRST * ranked[0].score)
        first = choices[0].slug if choices else None
        sure = self.shelf.names.is_sure(line.name, choices)
        measures = self.shelf.measures.get(first or "", Measures())
        kind = self.shelf.kinds.get(first or "")
        form = form_of(f"{line.name} {line.note}", measures.forms, whole_by_nature=kind == "fruit")
        typed = _with_piece(line, measures)
        grams, assumed, unread = _weighed(typed, measures.in_form(form), self.spoons, known=first is not None)
        stage = stage_of_line(line.name, kind, self.method, cooked=self.cooked)
        steeped = kind in _TAKEN_OUT_KINDS and self.method.is_taken_out(line.name)
        if line.reduced_to is None and kind not in _TAKEN_OUT_KINDS:
            line = replace(line, reduced_to=self.method.share_left_of(line.name))
        doubts = [*self._doubts_of_name(line, choices, sure=sure), *unread, *_offers(line, steeped=steeped)]
        if stage is None and self.method.steps:
            doubts.append("When does it go in?")
        return UnderstoodLine(line, choices, sure, typed, grams, assumed, form, stage, steeped, tuple(doubts))

    def _doubts_of_name(self, line: RecipeLine, choices: tuple[Match, ...], *, sure: bool) -> list[str]:
        if not line.name:
            return ["What is this line of?"]
        if not choices:
            return [f"Nothing on the shelf is called “{line.name[:60]}”."]
        if sure:
            return []
        wanted, has = strength_in(line.name), self.shelf.names.strength_of(choices[0].slug)
        if wanted is not None and has is not None and wanted != has:
            return [f"{wanted:g} % is asked for; the nearest on the shelf has {has:g} %."]
        if len(choices) > 1 and choices[0].complete and choices[1].complete:
            return ["More than one thing on the shelf may be meant."]
        return ["Is this what is meant?"]


def _weighed(
    typed: str, measures: Measures, spoons: Spoons, *, known: bool
) -> tuple[float | None, str | None, tuple[str, ...]]:
    """Return the g of an amount, what was assumed, and why it cannot be read."""
    try:
        if not typed:
            return None, None, ("No amount is given.",)
        if read_share(typed) is not None:
            return None, "a share of the whole mix", ()
        if not known:
            return None, None, ()
        amount = read_amount(typed, "", measures, spoons)
    except AmountError as error:
        return None, None, (str(error),)
    return amount.grams, amount.assumed, ()


def _offers(line: RecipeLine, *, steeped: bool) -> list[str]:
    """Return what the recipe leaves open, as questions."""
    offers = []
    if line.instead:
        offers.append(f"“or {line.instead}” will do too: take which?")
    if line.optional:
        offers.append("It is optional: with it or without?")
    if steeped:
        offers.append("It is steeped and strained out: what it is steeped in is better made as a preparation.")
    return offers


def _with_piece(line: RecipeLine, measures: Measures) -> str:
    """Name what a bare count counts: the piece that the line names, or the ingredient's usual one."""
    if not line.counted or not measures.pieces:
        return line.amount
    return spoken(line.amount, named_piece(line, measures) or next(iter(measures.pieces)))


def _makes(source: RecipeSource, spoons: Spoons) -> Makes | None:
    if not source.yields:
        return None
    measured = _MAKES.match(source.makes or "")
    per_unit = {**ML_PER_UNIT, **ML_PER_SPOON[spoons], "gallon": 4 * ML_PER_SPOON[spoons]["quart"]}
    ml = None
    if measured:
        unit = measured["unit"].lower().rstrip("s").removesuffix("re").removesuffix("er")
        size = per_unit.get({"lit": "l"}.get(unit, unit))
        ml = None if size is None else round(_number(measured["number"]) * size, 1)
    return Makes(source.yields, source.makes, ml, source.servings)


def _number(text: str) -> float:
    return read_amount(text.strip(), "g").grams
