"""Delivery lists: first what they would bring in, then all of it or nothing."""

from __future__ import annotations

from django.db import transaction

from ingredients.shelf_cache import ShelfCache, shelf_of
from jalebi_core.formats.delivery_file import DeliveryLine, read_delivery
from jalebi_core.model.errors import JalebiError, LotError
from jalebi_core.quantities.amounts import read_amount
from jalebi_core.shelf.catalogue import closest
from kitchens.models import Person, spoons_of
from stock.lots import receive_lot
from stock.schemas import DeliveryOut, DeliveryRow, NewLot


@transaction.atomic
def take_delivery(person: Person, data: bytes, apply: bool) -> DeliveryOut:
    """Say what a list would bring in, and take it in where ``apply`` says so.

    Raises
    ------
    IngredientFileError : the file cannot be read
    LotError : it is to be taken in, and rows of it are wrong
    """
    shelf = shelf_of(person.kitchen)
    rows = [_row(person, shelf, line) for line in read_delivery(data)]
    wrong = sum(row.error is not None for row, _ in rows)
    if apply and wrong:
        raise LotError("delivery-rows-wrong", wrong=wrong)
    for _, new in rows:
        if apply and new is not None:
            receive_lot(person, new)
    return DeliveryOut(rows=[row for row, _ in rows], wrong=wrong, done=apply)


def _row(person: Person, shelf: ShelfCache, line: DeliveryLine) -> tuple[DeliveryRow, NewLot | None]:
    try:
        slug = _slug(shelf, line.ingredient)
        known = shelf.ingredients[slug]
        grams = read_amount(line.amount, person.kitchen.mass_unit, known.measures, spoons_of(person.kitchen)).grams
        new: NewLot | None = NewLot(ingredient=slug, typed=line.amount, came_on=line.came_on, **line.facts)
    except JalebiError as error:
        found = DeliveryRow(
            row=line.number, text=f"{line.amount} {line.ingredient}".strip(), ingredient=None, name=None, grams=None,
            code=line.code, until=None, price=None, error=_sentence(line.error or str(error)),
        )  # fmt: skip
        return found, None
    if line.error is not None:
        new = None
    return DeliveryRow(
        row=line.number,
        text=f"{line.amount} {line.ingredient}".strip(),
        ingredient=slug,
        name=known.name,
        grams=grams,
        code=line.code,
        until=line.until,
        price=line.price,
        error=None if line.error is None else _sentence(line.error),
    ), new


def _slug(shelf: ShelfCache, name: str) -> str:
    """Return the ingredient that a list names: by slug, by one of its names, or where only one comes near."""
    wanted = name.strip().casefold()
    if not wanted:
        raise LotError("delivery-without-name")
    for slug, called in shelf.names.items():
        if wanted == slug or wanted in (one.casefold() for one in called):
            return slug
    near = [match.slug for match in shelf.words.names.ranked(name, 3)]
    said = [shelf.ingredients[slug].name for slug in near or closest(wanted, shelf.ingredients)]
    raise LotError("delivery-name-unknown", name=name[:60], near=tuple(said))


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]
