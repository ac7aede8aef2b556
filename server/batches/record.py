"""Recording: a batch is begun of a revision, and presses are kept as its events, each once."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final
from uuid import uuid4

from django.core.exceptions import ObjectDoesNotExist
from django.db import DataError, transaction
from django.db.models import Max
from django.utils import timezone

from api.items import Unreadable
from api.problems import Problem, unkeepable_problem, unknown_problem
from batches.as_made import mix_as_made
from batches.begun import batch_begun
from batches.logged_runs import log_run
from batches.models import Batch, Event
from batches.press_time import pressed_at
from batches.replay import MACHINE_STEP, machine_number, replay
from batches.schemas import EventsKept, NewEvent, Refused
from ingredients.shelf_cache import ingredients_of, machines_of
from jalebi_core.formats.snapshot import ingredient_snapshot, read_ingredient
from jalebi_core.model.errors import AmountError, JalebiError, MixError
from jalebi_core.production.making.critical import NAMES
from jalebi_core.quantities.amounts import read_amount
from jalebi_core.tasting.overrun import CupWeighed
from jobs.problems import problem_of
from kitchens.models import Kitchen, Person, spoons_of
from mixes.drafts import mark_made
from mixes.revisions import keep_revision

_ABSURD: Final = 3.0
"""Times what was planned: more than that is asked about before it is kept."""
_SHOWN: Final = 20
"""Characters of what was typed that an error repeats."""
_TEMPERATURES_C: Final = (-60.0, 300.0)
_GAPS: Final = ("water", "sieve", "spill", "leave", "made-up")
_TEACH: Final = ("overrun", "finished", "undone")
"""What learning reads of a batch beside its runs."""
_OF_LINE: Final = ("weighed", "ticked", "swapped")
_WEIGHS: Final = ("weighed", "swapped", "added", "gap", "accepted", "undone")
"""What changes how much of what went in."""
_OF_STEP: Final = ("began", "done", "skipped", "read", "chose")


@dataclass(frozen=True, slots=True)
class Size:
    """A size that is not the revision's own: what each line weighs, in g, and how the batch is churned."""

    grams: Sequence[float] | None = None
    machine: int | None = None
    runs: int | None = None
    fresh: bool = False


@transaction.atomic
def begin_batch(person: Person, mix_id: int, begun_at: datetime | None = None, size: Size | None = None) -> Batch:
    """Begin a batch of the mix as it is, now unless said otherwise; raises as `keep_revision` does."""
    revision = keep_revision(person, mix_id, None, kept_at=begun_at)
    Kitchen.objects.select_for_update().get(pk=person.kitchen_id)
    last = Batch.objects.of(person.kitchen).aggregate(last=Max("number"))["last"] or 0
    when = begun_at or timezone.now()
    mark_made(revision.mix, when)
    wanted = size or Size(machine=revision.mix.machine_id)
    begun = Batch.objects.create(
        kitchen=person.kitchen,
        revision=revision,
        number=last + 1,
        begun_at=when,
        begun_by=person,
        planned=None if wanted.grams is None else list(wanted.grams),
        machine_id=wanted.machine,
        runs=wanted.runs,
        fresh=wanted.fresh,
    )
    batch_begun.send(Batch, batch=begun)
    return begun


def keep_events(person: Person, batch: Batch, events: Sequence[NewEvent | Unreadable]) -> EventsKept:
    """Keep presses in their order, each once; one that makes no sense is refused and holds up none of the others."""
    kept, refused = 0, []
    with transaction.atomic():
        Batch.objects.of(person.kitchen).select_for_update(of=("self",)).get(pk=batch.pk)
        earlier = list(batch.events.select_related("by"))
        for place, event in enumerate(events):
            if isinstance(event, Unreadable):
                refused.append(Refused(key=event.key, place=place, problem=event.problem))
                continue
            try:
                with transaction.atomic():
                    made = make_event(person, batch, event, earlier)
                earlier += [made] if made is not None else []
                kept += 1
            except JalebiError as error:
                problem = Problem.model_validate(problem_of(error, person.kitchen))
                refused.append(Refused(key=event.key, place=place, problem=problem))
            except ObjectDoesNotExist:
                refused.append(Refused(key=event.key, place=place, problem=unknown_problem()))
            except (DataError, UnicodeEncodeError):
                refused.append(Refused(key=event.key, place=place, problem=unkeepable_problem()))
    if any(isinstance(event, NewEvent) and event.kind in _TEACH for event in events):
        person.kitchen.note_logged()
    return EventsKept(kept=kept, refused=refused)


def add_event(person: Person, batch: Batch, event: NewEvent) -> None:
    """Keep one press as `keep_events` does; raises JalebiError when what it says makes no sense."""
    make_event(person, batch, event, list(batch.events.select_related("by")))


def make_event(person: Person, batch: Batch, event: NewEvent, earlier: Sequence[Event]) -> Event | None:
    """Keep one press and return it, None where it was kept before; raises JalebiError when it makes no sense.

    Parameters
    ----------
    earlier : all that was kept of the batch before
    """
    if event.key is not None and any(one.key == event.key for one in earlier):
        return None
    _check_place(batch, event)
    if event.kind == "churned":
        log_run(person, batch, event.run, event.key or uuid4())
        return None
    now = timezone.now()
    made = Event(
        batch=batch,
        key=event.key or uuid4(),
        kind=event.kind,
        step="" if event.kind in _OF_LINE else event.step,
        line=event.line,
        value=_VALUES[event.kind](person, batch, event),
        device=event.device,
        counter=event.counter,
        at=pressed_at(event, batch.begun_at, earlier, now),
        arrived_at=now,
        by=person,
    )
    made.save()
    if event.kind in _WEIGHS:
        mix_as_made(batch, replay([*earlier, made]))  # which raises MixError where that makes none
    return made


def _check_place(batch: Batch, event: NewEvent) -> None:
    """Raise MixError for a press that is about nothing of this batch, or says what nobody can read."""
    lines = batch.content["lines"]
    if event.kind in _OF_LINE:
        if event.line is None:
            raise MixError("batch-line-unsaid")
        if event.line >= len(lines):
            raise MixError("batch-line-missing", number=event.line, last=len(lines) - 1)
    elif event.line is not None:
        raise MixError("entry-belongs-to-batch", kind=event.kind)
    if event.kind in _OF_STEP and not event.step:
        raise MixError("event-step-unsaid", kind=event.kind)
    if any(not (letter.isprintable() or letter == "\n") for letter in event.text + event.name + event.more):
        raise MixError("text-hidden-characters")


def _nothing(_person: Person, _batch: Batch, _event: NewEvent) -> None:
    """What kind, step and time say already."""


def _done(_person: Person, _batch: Batch, event: NewEvent) -> bool:
    return event.done


def _text(_person: Person, _batch: Batch, event: NewEvent) -> str:
    return event.text


def _chosen(person: Person, _batch: Batch, event: NewEvent) -> str:
    """Return what was chosen; of the machine's step it is the number of one of the kitchen."""
    if event.step == MACHINE_STEP:
        known = machines_of(person.kitchen)
        if machine_number(event.text) not in known:
            raise MixError("machine-unknown", number=event.text[:_SHOWN], known=[one.name for one in known.values()])
    return event.text


def _tasted(_person: Person, _batch: Batch, event: NewEvent) -> str | None:
    return event.text.strip() or None


def _reason(_person: Person, _batch: Batch, event: NewEvent) -> str:
    if not event.text.strip():
        raise MixError("event-reason-unsaid")
    return event.text.strip()


def _weight(person: Person, typed: str, ingredient: Any = None, unit: str = "g") -> float:
    """Return the g of an amount as it was typed; raises MixError for what cannot be read."""
    spoons = spoons_of(person.kitchen)
    try:
        if ingredient is None:
            return read_amount(typed, unit).grams
        return read_amount(typed, unit, ingredient.measures, spoons).grams
    except AmountError as error:
        name = "this weight" if ingredient is None else ingredient.name
        raise MixError("amount-of-ingredient-refused", name=name, reason=error.message) from None


def _weighed(person: Person, batch: Batch, event: NewEvent) -> dict[str, Any] | None:
    if not event.text.strip():
        return None
    line = batch.content["lines"][event.line or 0]
    ingredient = read_ingredient(line["ingredient"], line["slug"])
    grams = _weight(person, event.text, ingredient, line["unit"])
    if grams > _ABSURD * line["grams"] and line["grams"] > 0 and not event.sure:
        raise MixError("weight-absurd", name=ingredient.name, grams=grams, target_g=line["grams"])
    return {"typed": event.text.strip(), "grams": grams}


def _read(_person: Person, _batch: Batch, event: NewEvent) -> dict[str, Any]:
    if not event.name or (event.number is None and not event.text.strip()):
        raise MixError("reading-unsaid", step=event.step)
    number = event.number
    if number is None and event.name.endswith("_g"):
        number = _weight(_person, event.text)
    if event.name.endswith("_c") and number is not None and not _TEMPERATURES_C[0] <= number <= _TEMPERATURES_C[1]:
        raise MixError("reading-impossible", t_c=number)
    return {"key": event.name, "number": number, "text": event.text.strip()}


def _instead(person: Person, slug: str) -> dict[str, Any]:
    ingredient = ingredients_of(person.kitchen).get(slug)
    if ingredient is None:
        raise MixError("event-ingredient-unknown", slug=slug)
    return {"slug": slug, "ingredient": ingredient_snapshot(ingredient), "name": ingredient.name}


def _swapped(person: Person, _batch: Batch, event: NewEvent) -> dict[str, Any] | None:
    return {**_instead(person, event.name), "why": event.text.strip()} if event.name else None


def _added(person: Person, _batch: Batch, event: NewEvent) -> dict[str, Any]:
    found = _instead(person, event.name)
    grams = _weight(person, event.text, ingredients_of(person.kitchen)[event.name])
    return {**found, "grams": grams, "typed": event.text.strip(), "stage": "cold", "why": event.more.strip()}


def _gap(person: Person, batch: Batch, event: NewEvent) -> dict[str, Any] | None:
    if not event.name:
        return None
    if event.name not in _GAPS:
        raise MixError("gap-unknown", gap=event.name, known=_GAPS)
    grams = event.number if event.number is not None else _weight(person, event.text)
    most_g = sum(line["grams"] for line in batch.content["lines"])
    if not -most_g <= grams <= most_g:
        raise MixError("gap-impossible", gap_g=grams, most_g=most_g)
    return {"to": event.name, "grams": grams}


def _overrun(person: Person, _batch: Batch, event: NewEvent) -> dict[str, Any]:
    mix_g, frozen_g = _weight(person, event.text), _weight(person, event.more)
    cup = CupWeighed(tare_g=0.0, mix_g=mix_g, frozen_g=frozen_g)
    return {"mix_g": mix_g, "frozen_g": frozen_g, "number": cup.overrun_pct}


def _point(person: Person, batch: Batch, event: NewEvent) -> dict[str, Any]:
    if event.name not in NAMES:
        raise MixError("critical-unknown", point=event.name, known=tuple(NAMES))
    return {"point": event.name, "why": _reason(person, batch, event) if event.kind == "released" else ""}


def _closed(person: Person, batch: Batch, event: NewEvent) -> str:
    closed = replay(batch.events.select_related("by")).closed
    if closed is not None:
        raise MixError("batch-closed", number=batch.number, by=closed.by.name if closed.by else "somebody")
    return _reason(person, batch, event) if event.kind == "abandoned" else event.text.strip()


def _settled(_person: Person, batch: Batch, event: NewEvent) -> str:
    waiting = replay(batch.events.select_related("by")).late
    if event.late is None or not any(one.key == event.late for one in waiting):
        raise MixError("event-not-late")
    return str(event.late)


def _undone(_person: Person, batch: Batch, event: NewEvent) -> str:
    if event.undoes is None or not batch.events.filter(key=event.undoes).exists():
        raise MixError("event-unknown")
    return str(event.undoes)


_VALUES: Final[Mapping[str, Callable[[Person, Batch, NewEvent], Any]]] = {
    "weighed": _weighed,
    "ticked": _done,
    "note": _text,
    "tasted": _tasted,
    "began": _nothing,
    "done": _done,
    "skipped": _reason,
    "read": _read,
    "chose": _chosen,
    "otherwise": _reason,
    "added": _added,
    "swapped": _swapped,
    "gap": _gap,
    "paused": _text,
    "resumed": _nothing,
    "abandoned": _closed,
    "finished": _closed,
    "signed": _point,
    "released": _point,
    "overrun": _overrun,
    "accepted": _settled,
    "declined": _settled,
    "undone": _undone,
}
