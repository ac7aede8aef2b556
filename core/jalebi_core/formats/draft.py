"""A draft read into a mix: lines as somebody typed them, against a shelf."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Protocol

from jalebi_core.model.errors import AmountError, UnknownIngredientError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES, Band, checked_style
from jalebi_core.quantities.amounts import MOST_GRAMS, Spoons, read_amount, read_share
from jalebi_core.quantities.shares import whole_with_shares
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import closest
from jalebi_core.wording.message import Message


class TypedLine(Protocol):
    """A line as typed: a slug, an amount with the unit that holds where none is typed, what it last weighed, g, and how
    it lies in a cup."""

    @property
    def ingredient(self) -> str: ...
    @property
    def typed(self) -> str: ...
    @property
    def unit(self) -> str: ...
    @property
    def grams(self) -> float | None: ...
    @property
    def stage(self) -> str | None: ...
    @property
    def form(self) -> str | None: ...


@dataclass(frozen=True, slots=True)
class ReadLine:
    """A line as read: what counts of it, what was assumed, and what is wrong with it.

    ``share`` is the part of the whole mix that was asked for, where the amount is one of % or ppm.
    """

    ingredient: Ingredient | None
    grams: float | None
    stage: str | None
    assumed: str | None = None
    error: Message | None = None
    share: float | None = None

    @property
    def in_mix(self) -> bool:
        """Whether it weighs something and is part of the mix, not folded in or layered."""
        return self.weighs and self.stage not in MIX_IN_STAGES

    @property
    def weighs(self) -> bool:
        """Whether it is known and weighs something."""
        return self.ingredient is not None and bool(self.grams)


@dataclass(frozen=True, slots=True)
class ReadDraft:
    """A draft as read: its lines, and the mix they make, None while nothing in it weighs anything.

    ``numbers`` says which line of the draft each line of the mix is, counted from 0.
    """

    lines: tuple[ReadLine, ...]
    mix: Mix | None
    numbers: tuple[int, ...] = field(default=())

    @property
    def ingredients(self) -> list[Ingredient]:
        """What is known of the lines, in their order."""
        return [line.ingredient for line in self.lines if line.ingredient is not None]


def read_draft(
    lines: Sequence[TypedLine],
    shelf: Mapping[str, Ingredient],
    spoons: Spoons,
    *,
    style: str | None = None,
    overrun_pct: float | None = None,
    aims: Mapping[str, Band] | None = None,
) -> ReadDraft:
    """Read a draft; raises MixError for a style that is not known. A line that cannot be read says so."""
    read = read_lines(lines, shelf, spoons)
    numbers = tuple(at for at, line in enumerate(read) if line.weighs)
    mixed = tuple(
        Line(line.ingredient, line.grams, line.stage) for line in read if line.ingredient is not None and line.grams
    )
    if not any(line.stage not in MIX_IN_STAGES for line in mixed):
        return ReadDraft(tuple(read), None)
    mix = Mix("draft", mixed, checked_style(style), overrun_pct, aims or {})
    return ReadDraft(tuple(read), mix, numbers)


def read_lines(lines: Sequence[TypedLine], shelf: Mapping[str, Ingredient], spoons: Spoons) -> list[ReadLine]:
    """Read lines; one that cannot be read keeps what it last weighed, and says why."""
    return _with_shares([_read(line, shelf, spoons) for line in lines])


def offence_of(ingredient: Ingredient | None, restrictions: Iterable[str]) -> str | None:
    """Return why an ingredient offends restrictions, None where it does not."""
    if ingredient is None:
        return None
    found = [reason for key in restrictions if (reason := offence(ingredient, key))]
    return "; ".join(dict.fromkeys(found)) or None


def _read(line: TypedLine, shelf: Mapping[str, Ingredient], spoons: Spoons) -> ReadLine:
    ingredient = shelf.get(line.ingredient)
    if ingredient is None:
        unknown = UnknownIngredientError(line.ingredient, closest(line.ingredient, shelf))
        return ReadLine(None, None, line.stage, error=Message(f"line-of-{unknown.code}", unknown.facts))
    try:
        share = read_share(line.typed, line.unit)
        if share is not None:
            return ReadLine(ingredient, None, line.stage, share=share)
        amount = read_amount(line.typed, line.unit, ingredient.measures.in_form(line.form), spoons)
    except AmountError as error:
        before = None if line.grams is None or line.grams > MOST_GRAMS else line.grams
        facts = {"name": ingredient.name, "reason": error.message}
        held = "line-unreadable" if before is None else "line-unreadable-held"
        return ReadLine(ingredient, before, line.stage, error=Message(held, {**facts, "before_g": before}))
    return ReadLine(ingredient, amount.grams, line.stage, amount.assumed)


def _with_shares(read: list[ReadLine]) -> list[ReadLine]:
    """Weigh the lines that are shares of the whole mix, now that the others are weighed."""
    in_mix = [line for line in read if line.stage not in MIX_IN_STAGES]
    try:
        whole_g = whole_with_shares(
            [line.grams or 0.0 for line in in_mix if line.share is None],
            [line.share for line in in_mix if line.share is not None],
        )
    except AmountError as error:
        return [
            replace(line, error=Message("line-unreadable", {"name": line.ingredient.name, "reason": error.message}))
            if line.share is not None and line.ingredient
            else line
            for line in read
        ]
    return [line if line.share is None else _weighed(line, line.share, whole_g) for line in read]


def _weighed(line: ReadLine, share: float, whole_g: float) -> ReadLine:
    return replace(line, grams=whole_g * share, assumed=f"share of {whole_g:.0f} g in all")
