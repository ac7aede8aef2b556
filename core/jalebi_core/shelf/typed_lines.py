"""A line as typed into a field, “½ cup cream”, “juice of 1 lemon”: how much of what, against a shelf.

Fields, pasted recipes and files share one grammar of amounts: `quantities.typed_line.read_line` takes a line apart,
`quantities.amounts.read_amount` weighs what it says.
"""

from __future__ import annotations

from dataclasses import dataclass

from jalebi_core.model.errors import AmountError
from jalebi_core.model.measures import BY_WEIGHT_ONLY, Measures
from jalebi_core.quantities.amounts import Amount, Spoons, read_amount, read_share
from jalebi_core.quantities.forms import form_of
from jalebi_core.quantities.typed_line import RecipeLine, read_line, spoken
from jalebi_core.shelf.ingredient_search import SearchIndex, words_of
from jalebi_core.wording.message import Message
from jalebi_core.wording.notation import MassUnit


@dataclass(frozen=True, slots=True)
class TypedMatch:
    """An ingredient that a typed line may mean.

    typed : the amount as it is put into a line, empty where none was typed
    grams : what that weighs, None where it cannot be said yet
    assumed : what was assumed to get there
    form : how it lies in the cup, where the words say so
    error : why it cannot be read
    """

    slug: str
    typed: str
    grams: float | None = None
    assumed: str | None = None
    form: str | None = None
    error: Message | None = None


@dataclass(frozen=True, slots=True)
class TypedLineReading:
    """A typed line: its amount, what it is of in the words typed, and what on the shelf that may be, best first."""

    amount: str
    query: str
    matches: tuple[TypedMatch, ...]


def read_typed_line(
    text: str, shelf: SearchIndex, unit: MassUnit = "g", spoons: Spoons = "metric", limit: int = 8
) -> TypedLineReading:
    """Read a line as somebody types it; its last word may still be unfinished, and any part may be missing.

    A bare number is in ``unit`` unless the words name a piece: “24 honey” is 24 g, “4 yolks” are four.
    """
    line = read_line(text)
    matches = shelf.names.ranked(line.name, limit, typing=True)
    return TypedLineReading(
        line.amount,
        line.name,
        tuple(_match(line, match.slug, shelf, unit, spoons) for match in matches),
    )


def _match(line: RecipeLine, slug: str, shelf: SearchIndex, unit: MassUnit, spoons: Spoons) -> TypedMatch:
    measures = shelf.measures.get(slug, BY_WEIGHT_ONLY)
    fruit = shelf.kinds.get(slug) == "fruit"
    form = form_of(f"{line.name} {line.note}", measures.forms, whole_by_nature=fruit)
    typed = _with_named_piece(line, measures)
    if not typed or read_share(typed) is not None:
        return TypedMatch(slug, typed, form=form)
    try:
        amount: Amount = read_amount(typed, unit, measures.in_form(form), spoons)
    except AmountError as error:
        return TypedMatch(slug, typed, form=form, error=error.message)
    return TypedMatch(slug, typed, amount.grams, amount.assumed, form)


def _with_named_piece(line: RecipeLine, measures: Measures) -> str:
    """Name what a bare count counts where the line names a piece."""
    piece = named_piece(line, measures)
    return spoken(line.amount, piece) if line.counted and piece else line.amount


def named_piece(line: RecipeLine, measures: Measures) -> str | None:
    """Return the piece of an ingredient that a line names, None where it names none."""
    words = set(words_of(f"{line.name} {line.note}"))
    return next((piece for piece in measures.pieces if set(words_of(piece)) <= words), None)
