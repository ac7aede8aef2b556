"""Noting: cards, melt tests, readings, weighings and choices, each kept once and checked by the core."""

from __future__ import annotations

from typing import Final
from uuid import UUID, uuid4

from django.db import transaction

from batches.models import Batch
from ingredients.shelf_cache import ingredients_of, shelf_of
from jalebi_core.data import read_toml
from jalebi_core.model.errors import TastingError
from jalebi_core.shelf.catalogue import find_among
from jalebi_core.tasting.card import Card as CoreCard
from jalebi_core.tasting.card import check_card
from jalebi_core.tasting.doses import DoseTasted
from jalebi_core.tasting.melt_test import melted
from kitchens.models import Kitchen, Person, Place
from tastings.models import Card, Choice, DoseTasting, MeltTest, Noted, PieceWeighing, Reading
from tastings.schemas import NewCard, NewChoice, NewDose, NewMeltTest, NewPieceWeighing, NewReading

MOST_CARDS: Final = 60
"""Of one batch."""


def _once(kitchen: Kitchen, model: type[Noted], key: UUID | None) -> bool:
    """Tell whether a press is to be kept: it was not yet."""
    return key is None or not model.objects.of(kitchen).filter(key=key).exists()


def _place(kitchen: Kitchen, number: int | None) -> Place | None:
    return None if number is None else Place.objects.of(kitchen).get(pk=number)


@transaction.atomic
def keep_card(person: Person, batch: Batch, new: NewCard) -> None:
    """Keep a card; raises TastingError for marks that are none, or a card that was mended before."""
    kitchen = person.kitchen
    Batch.objects.of(kitchen).select_for_update(of=("self",)).get(pk=batch.pk)
    if not _once(kitchen, Card, new.key):
        return
    check_card(CoreCard(new.marks, new.firmness, new.liking))
    _check_words(new.taster, new.eaten_with, new.words)
    if not new.marks and new.firmness is None and new.liking is None and not new.words.strip():
        raise TastingError("card-empty")
    if batch.cards.count() >= MOST_CARDS:
        raise TastingError("cards-too-many", most=MOST_CARDS)
    mends = None
    if new.mends is not None:
        mends = batch.cards.get(pk=new.mends)
        if Card.objects.of(kitchen).filter(mends=mends).exists():
            raise TastingError("card-mended", taster=mends.taster)
    Card.objects.create(
        kitchen=kitchen,
        key=new.key or uuid4(),
        batch=batch,
        taster=new.taster.strip(),
        place=_place(kitchen, new.place),
        out_min=new.out_min,
        t_c=new.t_c,
        eaten_with=new.eaten_with.strip(),
        firmness=new.firmness or "",
        liking=new.liking,
        marks=new.marks,
        words=new.words.strip(),
        mends=mends,
        by=person,
    )
    kitchen.note_logged()


def keep_melt_test(person: Person, batch: Batch, new: NewMeltTest) -> None:
    """Keep a melt test; raises TastingError for one that cannot be."""
    melted(new.ball_g, new.room_c, [(one.minute, one.grams) for one in new.drips])
    if _once(person.kitchen, MeltTest, new.key):
        MeltTest.objects.create(
            kitchen=person.kitchen,
            key=new.key or uuid4(),
            batch=batch,
            ball_g=new.ball_g,
            room_c=new.room_c,
            drips=[[one.minute, one.grams] for one in new.drips],
            by=person,
        )


def keep_reading(person: Person, new: NewReading) -> None:
    """Keep what a thermometer showed."""
    kitchen = person.kitchen
    if _once(kitchen, Reading, new.key):
        place = _place(kitchen, new.place)
        Reading.objects.create(
            kitchen=kitchen, key=new.key or uuid4(), where=new.where, place=place, t_c=new.t_c, by=person
        )
        kitchen.note_logged()


def keep_weighing(person: Person, new: NewPieceWeighing) -> None:
    """Keep some pieces weighed; raises TastingError for an ingredient or a piece that nobody knows."""
    kitchen = person.kitchen
    ingredient = shelf_of(kitchen).usual.get(new.ingredient)
    usual_g = None if ingredient is None else ingredient.measures.pieces.get(new.piece)
    if ingredient is None or usual_g is None:
        raise TastingError("piece-unknown", piece=new.piece, ingredient=new.ingredient)
    if _once(kitchen, PieceWeighing, new.key):
        PieceWeighing.objects.create(
            kitchen=kitchen,
            key=new.key or uuid4(),
            slug=new.ingredient,
            name=ingredient.name,
            piece=new.piece,
            usual_g=usual_g,
            pieces=new.pieces,
            grams=new.grams,
            by=person,
        )
        kitchen.note_logged()


def keep_dose(person: Person, new: NewDose) -> None:
    """Keep a dose that was tasted; raises TastingError for what nobody knows."""
    kitchen = person.kitchen
    ingredient = find_among(ingredients_of(kitchen), new.ingredient)
    _check_words(new.lot)
    DoseTasted(new.dose, new.mark, new.lot)
    if _once(kitchen, DoseTasting, new.key):
        fields = new.model_dump(exclude={"key", "ingredient"})
        DoseTasting.objects.create(
            kitchen=kitchen,
            key=new.key or uuid4(),
            slug=new.ingredient,
            name=ingredient.name,
            by=person,
            **{**fields, "lot": new.lot.strip()},
        )
        kitchen.note_logged()


def keep_choice(person: Person, new: NewChoice) -> None:
    """Keep what is not to count or not to be used; raises TastingError where it is not said of what."""
    of_entry = new.kind in (Choice.Kind.LEAVE_OUT, Choice.Kind.PUT_BACK)
    if of_entry and not new.entry:
        raise TastingError("choice-unsaid")
    if not of_entry and new.parameter not in read_toml("learning.toml"):
        raise TastingError("choice-unknown", parameter=new.parameter, known=tuple(read_toml("learning.toml")))
    Choice.objects.create(kitchen=person.kitchen, by=person, **new.model_dump())
    person.kitchen.note_logged()


def _check_words(*texts: str) -> None:
    if any(not (letter.isprintable() or letter == "\n") for text in texts for letter in text):
        raise TastingError("text-hidden")
