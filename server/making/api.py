"""Make: the steps of a batch, its presses, its photos, and the batches that a plan has begun."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Count, Q
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Status
from ninja.files import UploadedFile

from batches.batch_lots import put_aside
from batches.lots_api import Tubs, tubs_of
from batches.models import Batch, Photo
from batches.record import keep_events
from batches.replay import WITH_EVENTS, BatchState, replay
from batches.schemas import NewEvents
from batches.serialize import serialize_head
from batches.tub_schemas import NewTubs, PutAside
from batches.tubs import pack_tubs
from forecasts.runs import is_churned
from idempotency.answers import IdempotencyKey, answer_once
from ingredients.schemas import Part
from ingredients.serialize import parts_of_lines
from ingredients.shelf_cache import machines_of
from jalebi_core.production.making.critical import BEFORE_BASES, BEFORE_PACKING
from jalebi_core.regulation.cautions import cautions_of
from kitchens.models import Kitchen
from kitchens.sign_in import kitchen_of, person_of
from making.bench import Making, making_of
from making.changed import has_changed
from making.following import follow
from making.packing import check_points
from making.photos import keep_photo
from making.schemas import (
    AllAtWork,
    AtWork,
    BatchOfPlan,
    BegunBatch,
    BegunBatches,
    EventsTaken,
    MachineChoice,
    MakingOut,
    PhotoOut,
    Photos,
    PlanOfBatch,
)
from making.serialize import serialize_parts, serialize_state, serialize_steps
from plans.actions import plan_by_id
from plans.batches_of_plan import begin_product, plan_of, planned_times
from stock.models import with_on_hand
from stock.schemas import LotOut
from stock.serialize import serialize_lot

router = Router(tags=["making"])
_LOOKED_AT = 80
_WATER = "water"
_JUST_BEGUN = timedelta(hours=36)


@router.get("/batches/{batch_id}/making", response=MakingOut)
def making(request: HttpRequest, batch_id: int) -> MakingOut:
    """Return the steps of a batch in the order of the work, and what was noted of them."""
    kitchen = kitchen_of(request)
    batch = _batch(kitchen, batch_id)
    state = _state(batch)
    return _serialize(kitchen, batch, state, making_of(kitchen, batch, state))


@router.post("/batches/{batch_id}/events", response=EventsTaken)
def take_events(request: HttpRequest, batch_id: int, payload: NewEvents) -> EventsTaken:
    """Keep presses in their order, each once by its key; what makes no sense is refused and holds up no other."""
    person = person_of(request)
    batch = _batch(person.kitchen, batch_id)
    taken = keep_events(person, batch, payload.read)
    state = _state(batch)
    made = making_of(person.kitchen, batch, state)
    follow(person, batch, state, made)
    now = serialize_state(person.kitchen, batch, state, made)
    return EventsTaken(kept=taken.kept, refused=taken.refused, state=now)


@router.get("/batches/{batch_id}/tubs", response=Tubs)
def tubs_of_batch(request: HttpRequest, batch_id: int) -> Tubs:
    """Return the tubs that were filled from a batch."""
    return tubs_of(_batch(kitchen_of(request), batch_id))


@router.post("/batches/{batch_id}/tubs", response={201: Tubs})
def pack(request: HttpRequest, batch_id: int, payload: NewTubs, idempotency_key: IdempotencyKey = None) -> Status[Tubs]:
    """Note tubs that were filled from a batch; each gets a code that people can say.

    Of a batch that was made step by step the critical points have to be settled first.
    """
    person = person_of(request)
    batch = _batch(person.kitchen, batch_id)

    def note() -> Tubs:
        state = _state(batch)
        check_points(person.kitchen, batch, state, BEFORE_PACKING)
        pack_tubs(person, batch, payload)
        return tubs_of(batch)

    return answer_once(request, person, idempotency_key, Tubs, note)


@router.post("/batches/{batch_id}/bases", response={201: LotOut})
def keep_base(
    request: HttpRequest, batch_id: int, payload: PutAside, idempotency_key: IdempotencyKey = None
) -> Status[LotOut]:
    """Put base of a batch aside, to be churned another day; heating and cooling have to be settled first."""
    person = person_of(request)
    batch = _batch(person.kitchen, batch_id)

    def keep() -> LotOut:
        check_points(person.kitchen, batch, _state(batch), BEFORE_BASES)
        made = put_aside(person, batch, payload)
        rows = with_on_hand(person.kitchen).select_related("ingredient", "batch")
        return serialize_lot(rows.get(pk=made.pk))

    return answer_once(request, person, idempotency_key, LotOut, keep)


@router.get("/at-work", response=AllAtWork)
def at_work(request: HttpRequest) -> AllAtWork:
    """Return the batches that somebody is making and has not closed, the last begun on top."""
    rows = Batch.objects.of(kitchen_of(request)).select_related("revision", "begun_by").prefetch_related(WITH_EVENTS)
    open_ones = rows.annotate(pressed=Count("events", filter=~Q(events__device=""))).filter(
        Q(pressed__gt=0) | Q(begun_at__gte=timezone.now() - _JUST_BEGUN)
    )
    found = []
    for batch in open_ones.order_by("-begun_at")[:_LOOKED_AT]:
        state = replay(batch.events.all())
        if state.closed is None:
            found.append(
                AtWork(
                    id=batch.pk,
                    number=batch.number,
                    mix_name=batch.content["name"],
                    begun_at=batch.begun_at,
                    begun_by=batch.begun_by.name if batch.begun_by else None,
                    noted=len(state.steps) + len(state.ticked),
                    paused=None if state.paused is None else str(state.paused),
                )
            )
    return AllAtWork(found)


@router.get("/plans/{plan_id}/batches", response=BegunBatches)
def batches_of_plan(request: HttpRequest, plan_id: int) -> BegunBatches:
    """Return the batches that were begun for the products of a plan."""
    rows = plan_by_id(kitchen_of(request), plan_id).batches.select_related("batch").order_by("product")
    return BegunBatches([BegunBatch(product=one.product, batch=one.batch_id, number=one.batch.number) for one in rows])


@router.post("/plans/{plan_id}/batches", response={201: BegunBatch})
def begin_of_plan(request: HttpRequest, plan_id: int, payload: BatchOfPlan) -> Status[BegunBatch]:
    """Begin the batch of a product of a plan; asked again, the same."""
    found = begin_product(person_of(request), plan_id, payload.product)
    return Status(201, BegunBatch(product=found.product, batch=found.batch_id, number=found.batch.number))


@router.get("/batches/{batch_id}/photos", response=Photos)
def photos(request: HttpRequest, batch_id: int) -> Photos:
    """Return the photos of a batch, without the pictures themselves."""
    rows = _batch(kitchen_of(request), batch_id).photos.defer("image").select_related("by")
    return Photos([_photo(photo) for photo in rows])


@router.post("/batches/{batch_id}/photos", response={201: PhotoOut})
def add_photo(request: HttpRequest, batch_id: int, file: File[UploadedFile], step: str = "") -> Status[PhotoOut]:
    """Keep a photo of a batch, made small and without what the camera wrote beside it."""
    person = person_of(request)
    return Status(201, _photo(keep_photo(person, _batch(person.kitchen, batch_id), file.read(), step[:40])))


@router.get("/photos/{photo_id}", response={200: None})
def picture(request: HttpRequest, photo_id: int) -> HttpResponse:
    """Return a picture, as JPEG."""
    photo = Photo.objects.get(pk=photo_id, batch__kitchen=kitchen_of(request))
    answer = HttpResponse(bytes(photo.image), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer


def _stratum(parts: list[Part]) -> str:
    """Return what a line brings most of beside water; water where it brings nothing else."""
    dry = [part for part in parts if part["key"] != _WATER]
    return max(dry, key=lambda part: part["grams"])["key"] if dry else _WATER


def _photo(photo: Photo) -> PhotoOut:
    return PhotoOut(
        id=photo.pk,
        width=photo.width,
        height=photo.height,
        step=photo.step,
        at=photo.at,
        by=photo.by.name if photo.by else None,
    )


def _batch(kitchen: Kitchen, batch_id: int) -> Batch:
    return Batch.objects.of(kitchen).select_related("revision__mix", "begun_by").get(pk=batch_id)


def _state(batch: Batch) -> BatchState:
    return replay(batch.events.select_related("by"))


def _serialize(kitchen: Kitchen, batch: Batch, state: BatchState, made: Making) -> MakingOut:
    planned = plan_of(batch)
    machines = {number: one for number, one in machines_of(kitchen).items() if is_churned(made.mix, one)}
    return MakingOut(
        **dict(serialize_head(batch, state)),
        mass_g=made.mix.mass_g,
        machine=made.machine,
        machine_name=made.machine_name,
        machines=[MachineChoice(id=number, name=one.name) for number, one in machines.items()],
        runs=made.runs,
        parts=serialize_parts(made.steps),
        steps=serialize_steps(kitchen, made, planned_times(planned) if planned else None),
        line_names=[line.ingredient.name for line in made.mix.lines],
        line_strata=[
            _stratum(parts) for parts in parts_of_lines([(one.ingredient, one.grams) for one in made.mix.lines])
        ],
        cautions=[one.said for one in cautions_of(made.mix, kitchen.region, "sheet")],
        faults=list(made.faults),
        plan=PlanOfBatch(id=planned.plan_id, name=planned.plan.name) if planned else None,
        mix_changed=has_changed(batch),
        state=serialize_state(kitchen, batch, state, made),
    )
