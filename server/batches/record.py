"""The record of a batch: entries are added, never changed, and folded into its present state."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Max, Q
from django.utils import timezone

from bench.models import Mix
from bench.revisions import RevisionLine, keep_revision, mix_of_revision
from jalebi_core.amounts import Spoons, read_amount
from jalebi_core.composition import Ingredient
from jalebi_core.errors import AmountError, MixError
from jalebi_core.measures import measures_of
from jalebi_core.mix import Mix as CoreMix
from jalebi_core.styles import BESIDE
from kitchens.models import Kitchen, Person, spoons_of

from .models import Batch, Entry
from .schemas import NewEntry


@dataclass(slots=True)
class Made:
    """What the entries of a batch come to."""

    weighed: dict[int, dict[str, Any]] = field(default_factory=dict)
    ticked: set[int] = field(default_factory=set)
    note: str = ""
    tasted: str | None = None


@transaction.atomic
def begin_batch(person: Person, mix_id: int, begun_at: datetime | None = None) -> Batch:
    """Begin a batch of the mix as it is, now unless said otherwise; raises as `keep_revision` does."""
    revision = keep_revision(person, mix_id, None, kept_at=begun_at)
    Kitchen.objects.select_for_update().get(pk=person.kitchen_id)
    last = Batch.objects.of(person.kitchen).aggregate(last=Max("number"))["last"] or 0
    when = begun_at or timezone.now()
    Mix.objects.filter(pk=mix_id).filter(Q(made_at=None) | Q(made_at__lt=when)).update(made_at=when)
    return Batch.objects.create(
        kitchen=person.kitchen, revision=revision, number=last + 1, begun_at=when, begun_by=person
    )


def fold(entries: list[Entry]) -> Made:
    """Return what entries in their order come to."""
    made = Made()
    for entry in entries:
        if entry.line is not None:
            _fold_line(made, entry.line, entry)
        elif entry.kind == Entry.Kind.NOTE:
            made.note = entry.value or ""
        else:
            made.tasted = entry.value
    return made


def _fold_line(made: Made, line: int, entry: Entry) -> None:
    if entry.kind == Entry.Kind.TICKED:
        (made.ticked.add if entry.value else made.ticked.discard)(line)
    elif entry.value is None:
        made.weighed.pop(line, None)
    else:
        made.weighed[line] = entry.value


def mix_as_made(batch: Batch, made: Made) -> CoreMix | None:
    """Return the mix as made: weighed where somebody weighed, planned elsewhere; None when nothing of it went in."""
    lines = batch.revision.content["lines"]
    grams = [made.weighed.get(number, line)["grams"] for number, line in enumerate(lines)]
    went_in = any(weight for line, weight in zip(lines, grams, strict=True) if line["stage"] not in BESIDE)
    return mix_of_revision(batch.revision.content, grams) if went_in else None


def add_entry(person: Person, batch: Batch, entry: NewEntry) -> None:
    """Record one thing; raises MixError when the line or the value makes no sense."""
    lines = batch.revision.content["lines"]
    if entry.kind in ("weighed", "ticked"):
        if entry.line is None or entry.line >= len(lines):
            raise MixError(f"This batch has no line {entry.line}; its lines are numbered from 0 to {len(lines) - 1}.")
    elif entry.line is not None:
        raise MixError(f"A {entry.kind} entry belongs to the whole batch, not to a line.")
    value = _value(entry, lines[entry.line] if entry.line is not None else None, spoons_of(person.kitchen))
    Entry.objects.create(batch=batch, kind=entry.kind, line=entry.line, value=value, by=person)


def _value(entry: NewEntry, line: RevisionLine | None, spoons: Spoons) -> Any:
    if entry.kind == "ticked":
        return entry.done
    text = entry.text
    if any(not (letter.isprintable() or letter == "\n") for letter in text):
        raise MixError("The text holds characters that cannot be shown.")
    if entry.kind == "tasted":
        return text.strip() or None
    if entry.kind == "note":
        return text
    if not text.strip():
        return None
    assert line is not None
    try:
        measures = measures_of(Ingredient.from_dict(line["ingredient"]))
        return {"typed": text.strip(), "grams": read_amount(text, line["unit"], measures, spoons).grams}
    except AmountError as error:
        raise MixError(f"{line['ingredient']['name']}: {error}") from None
