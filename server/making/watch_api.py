"""Make with instruments: steps that are watched, and what a hand does at the stand-ins."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status

from batches.models import Batch
from batches.replay import replay
from instruments.models import Watch
from kitchens.sign_in import kitchen_of, person_of
from making.bench import making_of
from making.rescuing import rescues_of
from making.schemas import RescueOut, StandInAct, WatchOut
from making.stand_ins import act
from making.watching import begin_watch, serialize_watch, step_of

router = Router(tags=["making"])


@router.post("/batches/{batch_id}/steps/{step}/watch", response={201: WatchOut | None})
def begin(request: HttpRequest, batch_id: int, step: str) -> Status[WatchOut | None]:
    """Let the instrument that can watch a step do so; none where none is connected. Asked again, the same."""
    kitchen = kitchen_of(request)
    batch = Batch.objects.of(kitchen).select_related("revision__mix").get(pk=batch_id)
    state = replay(batch.events.select_related("by"))
    made = making_of(kitchen, batch, state)
    watching = begin_watch(kitchen, batch, state, made, step)
    return Status(201, serialize_watch(kitchen, state, made, watching) if watching else None)


@router.get("/batches/{batch_id}/steps/{step}/watch", response=WatchOut | None)
def watched(request: HttpRequest, batch_id: int, step: str) -> WatchOut | None:
    """Return what is logged of a step, and how it goes on; none where nothing watches it."""
    kitchen = kitchen_of(request)
    batch = Batch.objects.of(kitchen).select_related("revision__mix").get(pk=batch_id)
    rows = Watch.objects.of(kitchen).filter(batch=batch, step=step).select_related("instrument")
    watching = rows.order_by("-pk").first()
    if watching is None:
        return None
    state = replay(batch.events.select_related("by"))
    return serialize_watch(kitchen, state, making_of(kitchen, batch, state), watching)


@router.get("/batches/{batch_id}/steps/{step}/rescues", response=list[RescueOut])
def rescues(request: HttpRequest, batch_id: int, step: str) -> list[RescueOut]:
    """Return what can be done when something goes wrong at a step, what happens there first."""
    kitchen = kitchen_of(request)
    batch = Batch.objects.of(kitchen).select_related("revision__mix").get(pk=batch_id)
    state = replay(batch.events.select_related("by"))
    return rescues_of(kitchen, state, making_of(kitchen, batch, state), step)


@router.post("/batches/{batch_id}/steps/{step}/stand-in", response={204: None})
def do_at_stand_in(request: HttpRequest, batch_id: int, step: str, payload: StandInAct) -> Status[None]:
    """Do at the simulated instruments what a hand would do at this step."""
    person = person_of(request)
    batch = Batch.objects.of(person.kitchen).select_related("revision__mix").get(pk=batch_id)
    made = making_of(person.kitchen, batch, replay(batch.events.select_related("by")))
    act(person, made, step_of(made, step), payload)
    return Status(204, None)
