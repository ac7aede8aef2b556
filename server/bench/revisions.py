"""Revisions: named points of a mix that hold the composition of everything in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any, NotRequired, TypedDict

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from jalebi_core.composition import Ingredient, checked_name
from jalebi_core.difference import Difference, difference
from jalebi_core.errors import MixError
from jalebi_core.mix import Line, Mix
from jalebi_core.styles import BESIDE, Band
from kitchens.models import Kitchen, Person

from .drafts import aims_of, mix_of, read_lines, weighed_lines
from .models import Mix as MixRow
from .models import MixLine, Revision
from .schemas import DifferenceOut, Draft, LineChangeOut


class RevisionLine(TypedDict):
    """A line as it was, with its ingredient's composition as the core reads it back."""

    slug: str
    ingredient: dict[str, Any]
    typed: str
    unit: str
    grams: float
    stage: str | None
    made_from: NotRequired[dict[str, Any]]


class RevisionContent(TypedDict):
    """A mix as it was."""

    name: str
    style: str | None
    overrun_pct: float | None
    lines: list[RevisionLine]
    aims: NotRequired[dict[str, Band]]


def content_of(mix: MixRow) -> RevisionContent:
    """Return what a revision holds: the mix with every ingredient's composition as it is now."""
    content: RevisionContent = {
        "name": mix.name,
        "style": mix.style,
        "overrun_pct": mix.overrun_pct,
        "lines": [_line_of(line) for line in weighed_lines(mix)],
    }
    if mix.aims:
        content["aims"] = mix.aims
    return content


def _line_of(line: MixLine) -> RevisionLine:
    held: RevisionLine = {
        "slug": line.ingredient.slug,
        "ingredient": line.ingredient.composition,
        "typed": line.typed,
        "unit": line.unit,
        "grams": line.grams or 0.0,
        "stage": line.stage,
    }
    if line.ingredient.made_from:
        held["made_from"] = line.ingredient.made_from
    return held


@transaction.atomic
def keep_revision(
    person: Person, mix_id: int, name: str | None, note: str = "", kept_at: datetime | None = None
) -> Revision:
    """Keep the mix as it is now; without a name, the revision it goes on from serves if nothing has changed since.

    Raises
    ------
    MixRow.DoesNotExist : no such mix in this kitchen
    MixError : a line has no amount yet, or nothing weighs anything
    """
    mix: MixRow = MixRow.objects.of(person.kitchen).select_for_update().get(pk=mix_id)
    content = content_of(mix)
    base: Revision | None = mix.revisions.filter(number=mix.based_on).first() if mix.based_on else None
    if name is None and base is not None and base.content == content:
        return base
    number = (mix.revisions.aggregate(last=Max("number"))["last"] or 0) + 1
    named = checked_name(name, "the revision") if name is not None else f"as made, revision {number}"
    if not all(letter.isprintable() or letter == "\n" for letter in note):
        raise MixError("The note holds characters that cannot be shown.")
    kept = Revision.objects.create(
        kitchen=person.kitchen,
        mix=mix,
        number=number,
        name=named,
        note=note.strip(),
        parent=mix.based_on,
        content=content,
        kept_at=kept_at or timezone.now(),
        kept_by=person,
    )
    MixRow.objects.filter(pk=mix.pk).update(based_on=number)
    return kept


def since(kitchen: Kitchen, revision: Revision) -> Difference | None:
    """Return what has changed in a mix since a revision; None where the mix as it is kept weighs nothing."""
    now = mix_as_kept(kitchen, revision.mix)
    return difference(mix_of_revision(revision.content), now) if now else None


def drafts_difference(kitchen: Kitchen, mix: MixRow, draft: Draft) -> DifferenceOut:
    """Return how a draft differs from the mix as it is kept."""
    kept, drafted = mix_as_kept(kitchen, mix), mix_of(kitchen, draft, read_lines(kitchen, draft.lines))
    if kept is None or drafted is None:
        empty = "What is kept weighs nothing." if kept is None else "This draft weighs nothing."
        return DifferenceOut(changes=[], said=empty)
    found = difference(kept, drafted)
    return DifferenceOut(changes=[LineChangeOut(**asdict(line)) for line in found.lines], said=found.said)


def mix_as_kept(kitchen: Kitchen, mix: MixRow) -> Mix | None:
    """Return a mix as it is kept, what has no amount yet left out; None where nothing in it weighs anything."""
    now = [line for line in mix.lines.select_related("ingredient") if line.grams]
    if not any(line.stage not in BESIDE for line in now):
        return None
    lines = tuple(Line(line.ingredient.to_core(), line.grams or 0.0, line.stage) for line in now)
    return Mix(mix.name, lines, mix.style, mix.overrun_pct, aims_of(kitchen, mix.style, mix.aims))


def mix_of_revision(content: RevisionContent, grams: Sequence[float] | None = None) -> Mix:
    """Return the mix of a revision's content, with other amounts where they are given."""
    lines = content["lines"]
    amounts = [line["grams"] for line in lines] if grams is None else grams
    return Mix(
        content["name"],
        tuple(
            Line(Ingredient.from_dict(line["ingredient"]), amount, line["stage"])
            for line, amount in zip(lines, amounts, strict=True)
        ),
        content["style"],
        content["overrun_pct"],
        {key: (low, high) for key, (low, high) in content.get("aims", {}).items()},
    )
