"""A kitchen's log for the core: its batches with what was measured and tasted, its readings, lots and weighings."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Any, Final

import numpy as np
from django.db.models import QuerySet
from django.utils import timezone

from batches.as_made import made_or_fault
from batches.models import Batch
from batches.replay import WITH_EVENTS, BatchState, replay
from jalebi_core.model.components import INDEX
from jalebi_core.model.ingredient import Facts as IngredientFacts
from jalebi_core.model.mix import Mix
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.production.machines import machine_kinds
from jalebi_core.shelf.custom_ingredients import brix_of
from jalebi_core.tasting.log import Batch as LoggedBatch
from jalebi_core.tasting.log import Facts, Freezer, FruitLot, Log, LogMachine, Made, PieceWeighing, Tasting
from jalebi_core.tasting.log import Reading as LoggedReading
from kitchens.models import Kitchen, Machine, Place
from stock.models import Lot
from tastings import models
from tastings.models import Card, Choice, Reading

OWN_FREEZER: Final = "your freezer"
"""What the kitchen's own freezer is called, the one of its settings."""

MOST_BATCHES: Final = 200
"""The last batches that anything is learnt from."""

MOST_LOTS: Final = 200
"""The last lots of fruit that anything is learnt from."""

_FREEZERS: Final = ("still-freezer", "fan-freezer", "cabinet", "blast")
_STRAIGHT_MIN: Final = 3.0
"""Out no longer than this, a tub is as it was in the freezer."""

_HARD_AFTER_H: Final = 12.0


def log_of(kitchen: Kitchen) -> Log:
    """Return what a kitchen has noted, in the order it was noted."""
    places = list(Place.objects.of(kitchen).filter(kind__in=_FREEZERS))
    machines = list(Machine.objects.of(kitchen))
    readings = list(Reading.objects.of(kitchen).select_related("place"))
    choices = list(Choice.objects.of(kitchen))
    return Log(
        freezers=(
            Freezer(OWN_FREEZER, kitchen.freezer_c),
            *(Freezer(place.name, None if place.mark else place.air_c) for place in places),
        ),
        ice_water_c=next((one.t_c for one in reversed(readings) if one.where == Reading.Where.ICE_WATER), None),
        machines=tuple(LogMachine(one.name, machine_kinds()[one.kind].air) for one in machines),
        readings=tuple(
            LoggedReading(
                reading_id(one),
                timezone.localdate(one.at),
                freezer_name(one.place),
                one.t_c,
                one.where == Reading.Where.TUB,
            )
            for one in readings
            if one.where != Reading.Where.ICE_WATER
        ),
        batches=tuple(_batches(kitchen)),
        lots=tuple(_fruit_lots(kitchen)),
        weighings=tuple(
            PieceWeighing(
                weighing_id(one), timezone.localdate(one.at), one.name, one.piece, one.usual_g, one.pieces, one.grams
            )
            for one in models.PieceWeighing.objects.of(kitchen)
        ),
        left_out=frozenset(left_out(choices)),
        since=forgotten(choices),
    )


def reading_id(reading: Reading) -> str:
    return f"reading-{reading.pk}"


def weighing_id(weighing: models.PieceWeighing) -> str:
    return f"weighing-{weighing.pk}"


def lot_id(lot: Lot) -> str:
    return f"lot-{lot.pk}"


def card_id(card: Card) -> str:
    return f"card-{card.pk}"


def batch_id(batch: Batch) -> str:
    return f"batch-{batch.pk}"


def freezer_name(place: Place | None) -> str:
    """Return what a freezer is called in the log."""
    return OWN_FREEZER if place is None else place.name


def left_out(choices: Iterable[Choice]) -> set[str]:
    """Return the entries that are left out by the last choice of each."""
    last = {one.entry: one.kind for one in choices if one.kind in (Choice.Kind.LEAVE_OUT, Choice.Kind.PUT_BACK)}
    return {entry for entry, kind in last.items() if kind == Choice.Kind.LEAVE_OUT}


def forgotten(choices: Iterable[Choice]) -> dict[str, date]:
    """Return from which day on entries count, by parameter, where something was forgotten."""
    last = {one.parameter: one for one in choices if one.kind in (Choice.Kind.FORGET, Choice.Kind.REMEMBER)}
    return {key: _day_after(one) for key, one in last.items() if one.kind == Choice.Kind.FORGET}


def _day_after(choice: Choice) -> date:
    return date.fromordinal(timezone.localdate(choice.at).toordinal() + 1)


def pinned(choices: Iterable[Choice]) -> set[tuple[str, str]]:
    """Return the parameters, with what they are about, for which the setting is kept."""
    last = {(one.parameter, one.of): one.kind for one in choices if one.kind in (Choice.Kind.PIN, Choice.Kind.UNPIN)}
    return {key for key, kind in last.items() if kind == Choice.Kind.PIN}


def read_lots(kitchen: Kitchen) -> QuerySet[Lot]:
    """Return the last lots of fruit that somebody read with a refractometer, the newest first."""
    read = Lot.objects.of(kitchen).filter(brix__isnull=False, ingredient__isnull=False)
    return read.select_related("ingredient").order_by("-came_on", "-id")[:MOST_LOTS]


def _fruit_lots(kitchen: Kitchen) -> Iterable[FruitLot]:
    for lot in reversed(read_lots(kitchen)):
        if lot.ingredient and lot.brix and (usual := brix_of(lot.ingredient.to_composition())) > 0:
            yield FruitLot(
                lot_id(lot), lot.came_on, lot.ingredient.name, lot.brix, usual, lot.supplier or None, season_of(lot)
            )


def season_of(lot: Lot) -> str | None:
    """Tell whether a lot came in the season of its fruit, None where the shelf does not know that."""
    months = IngredientFacts.from_dict(lot.ingredient.facts).months if lot.ingredient else ()
    if not months:
        return None
    return "in season" if lot.came_on.month in months else "out of season"


def _batches(kitchen: Kitchen) -> Iterable[LoggedBatch]:
    rows = Batch.objects.of(kitchen).select_related("revision", "machine").prefetch_related(WITH_EVENTS, "tubs")
    last = rows.prefetch_related("cards__place", "cards__mended_by").order_by("-begun_at", "-id")[:MOST_BATCHES]
    for batch in reversed(last):
        state = replay(batch.events.all())
        cards = standing(batch.cards.all())
        made = _made(batch, state)
        if not cards and made == Made():
            continue
        mix, _ = made_or_fault(batch, state)
        if mix is not None:
            yield _logged(batch, state, mix, made, cards)


def standing(cards: Iterable[Card]) -> list[Card]:
    """Return the cards that no later one took the place of."""
    known = list(cards)
    mended = {card.mends_id for card in known}
    return [card for card in known if card.pk not in mended]


def _logged(batch: Batch, state: BatchState, mix: Mix, made: Made, cards: Sequence[Card]) -> LoggedBatch:
    churned = state.churned
    forecast = churned["minutes"] * churned["factor"] if churned and churned.get("factor") else None
    draw_c = _draw_c(state)
    if draw_c is not None:
        row = mix.row()
        made = Made(
            made.overrun_pct, made.cup, made.churn_min, made.in_g, made.out_g,
            float(frozen_at(row, draw_c)) * float(row[INDEX["water"]]) / 100,
        )  # fmt: skip
    return LoggedBatch(
        id=batch_id(batch),
        at=timezone.localdate(batch.begun_at),
        facts=Facts.of_mix(mix, forecast),
        machine=_machine_name(batch, state),
        style=mix.style,
        made=made,
        tastings=tuple(tasting_of(card) for card in cards),
    )


def tasting_of(card: Card) -> Tasting:
    """Return a card as learning reads it: out of a freezer only straight from there, and long enough in it."""
    straight = card.out_min is None or card.out_min <= _STRAIGHT_MIN
    hard = (card.at - card.batch.begun_at).total_seconds() / 3600 >= _HARD_AFTER_H
    alone = not card.eaten_with
    return Tasting(
        id=card_id(card),
        at=timezone.localdate(card.at),
        by=card.taster,
        freezer=freezer_name(card.place) if straight and hard else None,
        t_c=card.t_c,
        firmness=card.firmness or None,
        sweetness_mark=card.marks.get("sweetness") if alone else None,
    )


def _machine_name(batch: Batch, state: BatchState) -> str | None:
    if state.churned:
        return str(state.churned["machine_name"])
    return batch.machine.name if batch.machine else None


def _made(batch: Batch, state: BatchState) -> Made:
    tubs_g = sum(tub.grams for tub in batch.tubs.all())
    put_in = sum(one["grams"] for one in state.weighed.values())
    whole = len(state.weighed) == len(batch.content["lines"])
    out = tubs_g if tubs_g and state.closed is not None and whole and put_in > 0 else None
    return Made(
        overrun_pct=state.overrun["number"] if state.overrun else _logged_air(state.churned),
        churn_min=state.churned["minutes"] if state.churned else None,
        in_g=put_in if out else None,
        out_g=out,
    )


def _logged_air(churned: dict[str, Any] | None) -> float | None:
    air = churned.get("overrun_pct") if churned else None
    return None if air is None else float(air)


def _draw_c(state: BatchState) -> float | None:
    read = [
        step.readings["draw_c"]["number"]
        for step in state.steps.values()
        if "draw_c" in step.readings and step.readings["draw_c"]["number"] is not None
    ]
    return float(np.mean(read)) if read else None
