"""Filling tubs from a batch, and noting what happens to them."""

from __future__ import annotations

from datetime import date
from typing import Final

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from batches.as_made import made_or_planned
from batches.models import Batch, Tub, TubEvent
from batches.replay import replay
from batches.tub_schemas import NewTubEvent, NewTubs, PackedTub, TubEventOut
from jalebi_core.model.errors import LotError
from jalebi_core.production.lots import tub_code
from jalebi_core.regulation.label import litre_g
from kitchens.models import Kitchen, Person, Place

_GONE: Final = (Tub.State.FINISHED, Tub.State.SOLD, Tub.State.DESTROYED)
_STATES: Final = {
    "opened": Tub.State.OPENED,
    "finished": Tub.State.FINISHED,
    "sold": Tub.State.SOLD,
    "destroyed": Tub.State.DESTROYED,
}
_MOST_TUBS: Final = 99


@transaction.atomic
def pack_tubs(person: Person, batch: Batch, new: NewTubs) -> list[Tub]:
    """Note tubs that were filled from a batch; raises LotError for a 100th of a batch, or where nothing was made."""
    kitchen = person.kitchen
    Kitchen.objects.select_for_update().get(pk=kitchen.pk)
    place = Place.objects.of(kitchen).get(pk=new.place, put_away=False) if new.place else None
    last = batch.tubs.aggregate(last=Max("number"))["last"] or 0
    if last + new.count > _MOST_TUBS:
        raise LotError("too-many-tubs", most=_MOST_TUBS)
    today, grams_l = timezone.localdate(), batch_litre_g(batch)
    of_day = batch_of_day(batch)
    begun_on = timezone.localdate(batch.begun_at)
    tubs = [
        Tub(
            kitchen=kitchen,
            batch=batch,
            number=number,
            code=tub_code(begun_on, of_day, number),
            ml=new.ml,
            grams=new.ml * grams_l / 1000,
            packed_on=today,
            best_before=new.best_before,
            place=place,
        )
        for number in range(last + 1, last + new.count + 1)
    ]
    Tub.objects.bulk_create(tubs)
    where = place.name if place else ""
    TubEvent.objects.bulk_create(TubEvent(tub=tub, kind=TubEvent.Kind.PACKED, place=where, by=person) for tub in tubs)
    return tubs


def batch_litre_g(batch: Batch) -> float:
    """Return what a litre of a batch weighs as it was made, with its air; raises LotError where nothing went in."""
    made = made_or_planned(batch, replay(batch.events.select_related("by")))
    put_in = sum(line.grams for line in made.lines)
    if put_in <= 0:
        raise LotError("batch-empty")
    return litre_g(made, put_in)


def batch_of_day(batch: Batch) -> int:
    """Return which batch of its day a batch is, counted from 1."""
    day: date = timezone.localdate(batch.begun_at)
    begun = Batch.objects.of(batch.kitchen_id).filter(begun_at__date=day)
    return begun.filter(number__lte=batch.number).count()


@transaction.atomic
def note_tub_event(person: Person, tub_id: int, event: NewTubEvent) -> Tub:
    """Note what happened to a tub; raises LotError for one that is gone, or where what is asked for is missing."""
    tubs = Tub.objects.of(person.kitchen).select_for_update(of=("self",)).select_related("batch__revision", "place")
    tub = tubs.get(pk=tub_id)
    if tub.state in _GONE:
        raise LotError("tub-gone", tub=tub.code, state=tub.state)
    if not (event.to + event.why).isprintable():
        raise LotError("note-hidden-characters")
    place = Place.objects.of(person.kitchen).get(pk=event.place, put_away=False) if event.place else None
    if event.kind == "moved" and place is None:
        raise LotError("tub-moved-nowhere", tub=tub.code)
    if event.kind == "sold" and not event.to.strip():
        raise LotError("tub-sold-to-nobody", tub=tub.code)
    if place is not None:
        tub.place = place
    tub.state = _STATES.get(event.kind, tub.state)
    tub.save(update_fields=["place", "state"])
    where = tub.place.name if tub.place else ""
    TubEvent.objects.create(tub=tub, kind=event.kind, place=where, to=event.to.strip(), why=event.why, by=person)
    return tub


def serialize_tub(tub: Tub) -> PackedTub:
    """Return a tub with all that happened to it; its batch, place and events come with the query."""
    return PackedTub.model_validate(
        {
            "id": tub.pk,
            "code": tub.code,
            "said": f"batch {tub.batch.number}, tub {tub.number}",
            "batch_id": tub.batch_id,
            "mix_name": tub.batch.content["name"],
            "ml": tub.ml,
            "grams": tub.grams,
            "packed_on": tub.packed_on,
            "best_before": tub.best_before,
            "place": tub.place.name if tub.place else None,
            "state": tub.state,
            "events": [_event(event) for event in tub.events.all()],
        }
    )


def _event(event: TubEvent) -> TubEventOut:
    return TubEventOut.model_validate(
        {
            **{key: getattr(event, key) for key in ("kind", "place", "to", "why", "at")},
            "by": event.by.name if event.by else None,
        }
    )
