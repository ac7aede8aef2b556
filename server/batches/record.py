"""Recording: a batch is begun of a revision, and entries are added to it."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from batches.logged_runs import log_run
from batches.models import Batch, Entry
from batches.schemas import NewEntry
from jalebi_core.formats.snapshot import read_ingredient
from jalebi_core.model.errors import AmountError, MixError
from jalebi_core.quantities.amounts import Spoons, read_amount
from kitchens.models import Kitchen, Person, spoons_of
from mixes.drafts import mark_made
from mixes.revisions import keep_revision


@transaction.atomic
def begin_batch(person: Person, mix_id: int, begun_at: datetime | None = None) -> Batch:
    """Begin a batch of the mix as it is, now unless said otherwise; raises as `keep_revision` does."""
    revision = keep_revision(person, mix_id, None, kept_at=begun_at)
    Kitchen.objects.select_for_update().get(pk=person.kitchen_id)
    last = Batch.objects.of(person.kitchen).aggregate(last=Max("number"))["last"] or 0
    when = begun_at or timezone.now()
    mark_made(revision.mix, when)
    return Batch.objects.create(
        kitchen=person.kitchen, revision=revision, number=last + 1, begun_at=when, begun_by=person
    )


def add_entry(person: Person, batch: Batch, entry: NewEntry) -> None:
    """Record one thing; raises MixError when the line or the value makes no sense."""
    lines = batch.revision.content["lines"]
    if entry.kind in ("weighed", "ticked"):
        if entry.line is None:
            raise MixError("batch-line-unsaid")
        if entry.line >= len(lines):
            raise MixError("batch-line-missing", number=entry.line, last=len(lines) - 1)
    elif entry.line is not None:
        raise MixError("entry-belongs-to-batch", kind=entry.kind)
    if entry.kind == "churned":
        log_run(person, batch, entry.run)
        return
    value = _value(entry, lines[entry.line] if entry.line is not None else None, spoons_of(person.kitchen))
    Entry.objects.create(batch=batch, kind=entry.kind, line=entry.line, value=value, by=person)


def _value(entry: NewEntry, line: Mapping[str, Any] | None, spoons: Spoons) -> Any:
    if entry.kind == "ticked":
        return entry.done
    text = entry.text
    if any(not (letter.isprintable() or letter == "\n") for letter in text):
        raise MixError("text-hidden-characters")
    if entry.kind == "tasted":
        return text.strip() or None
    if entry.kind == "note":
        return text
    if not text.strip():
        return None
    assert line is not None
    ingredient = read_ingredient(line["ingredient"], line["slug"])
    try:
        grams = read_amount(text, line["unit"], ingredient.measures, spoons).grams
    except AmountError as error:
        raise MixError("amount-of-ingredient-refused", name=ingredient.name, reason=error.message) from None
    return {"typed": text.strip(), "grams": grams}
