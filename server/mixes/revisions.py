"""Revisions: named points of a mix that hold all that was known of it and of everything in it."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from analysis.kitchen_drafts import read_in_kitchen
from analysis.schemas import Draft, DraftLine
from jalebi_core.advice.difference import Difference, difference
from jalebi_core.formats.snapshot import SCHEMA, ingredient_snapshot, read_mix_snapshot
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix as CoreMix
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, Person, notation_of, own_aims
from mixes.drafts import LIMITS, draft_of, weighed_lines
from mixes.models import Mix, MixLine, Revision
from mixes.schemas import DifferenceOut, LineChangeOut

Content = dict[str, Any]
"""A mix as it was; `jalebi_core.formats.snapshot` reads it, whatever its schema."""


def content_of(mix: Mix) -> Content:
    """Return what a revision holds: the whole mix with every ingredient as it is now, and the recipe it came from."""
    return {
        "schema": SCHEMA,
        "name": mix.name,
        "style": mix.style,
        "overrun_pct": mix.overrun_pct,
        "aims": mix.aims,
        "kitchen_aims": own_aims(mix.kitchen, mix.style),
        "restrictions": mix.restrictions,
        "kitchen_restrictions": mix.kitchen.restrictions,
        "machine": None
        if mix.machine is None
        else {"name": mix.machine.name, "kind": mix.machine.kind, "bowl_l": mix.machine.bowl_l},
        "recipe": {"method": mix.method, "servings": mix.servings, "makes": mix.makes},
        "lines": [_line_of(line) for line in weighed_lines(mix)],
    }


def _line_of(line: MixLine) -> Content:
    return {
        "slug": line.ingredient.slug,
        "ingredient": {**ingredient_snapshot(line.ingredient.to_core()), "made_from": line.ingredient.made_from},
        "typed": line.typed,
        "unit": line.unit,
        "grams": line.grams or 0.0,
        "stage": line.stage,
        "pinned": line.pinned,
        **{key: getattr(line, key) for key in LIMITS},
    }


@transaction.atomic
def keep_revision(
    person: Person, mix_id: int, name: str | None, note: str = "", kept_at: datetime | None = None
) -> Revision:
    """Keep the mix as it is now; without a name, the revision it goes on from serves if nothing has changed since.

    Raises
    ------
    Mix.DoesNotExist : no such mix in this kitchen
    MixError : a line has no amount yet, or nothing weighs anything
    """
    mix = Mix.objects.of(person.kitchen).select_for_update().get(pk=mix_id)
    content = content_of(mix)
    base = mix.revisions.filter(number=mix.based_on).first() if mix.based_on else None
    if name is None and base is not None and base.content == content:
        return base
    number = (mix.revisions.aggregate(last=Max("number"))["last"] or 0) + 1
    named = checked_name(name, "the revision") if name is not None else f"as made, revision {number}"
    if not all(letter.isprintable() or letter == "\n" for letter in note):
        raise MixError("revision-note-hidden-characters")
    revision = Revision.objects.create(
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
    Mix.objects.of(person.kitchen).filter(pk=mix.pk).update(based_on=number)
    return revision


def draft_of_revision(content: Content) -> dict[str, Any]:
    """Return a revision's content as the fields of the draft that it was; what an old one does not hold is not set."""
    held = ("ingredient", "typed", "unit", "grams", "stage", "pinned", *LIMITS)
    lines = [
        DraftLine.model_validate({key: line[key] for key in held if key in line} | {"ingredient": line["slug"]})
        for line in content["lines"]
    ]
    return {
        "style": content["style"],
        "overrun_pct": content["overrun_pct"],
        "aims": content.get("aims", {}),
        "restrictions": content.get("restrictions", []),
        "lines": lines,
    }


def since(kitchen: Kitchen, revision: Revision) -> Difference | None:
    """Return what has changed in a mix since a revision; None where the mix as it is now weighs nothing."""
    now = current_mix(kitchen, revision.mix)
    return difference(read_mix_snapshot(revision.content), now) if now else None


def drafts_difference(kitchen: Kitchen, mix: Mix, draft: Draft) -> DifferenceOut:
    """Return how a draft differs from the mix as it is kept."""
    now, drafted = current_mix(kitchen, mix), read_in_kitchen(kitchen, draft).mix
    if now is None or drafted is None:
        empty = "What is kept weighs nothing." if now is None else "This draft weighs nothing."
        return DifferenceOut(changes=[], message=empty)
    found = difference(now, drafted)
    return DifferenceOut(
        changes=[LineChangeOut(**asdict(line)) for line in found.lines],
        message=words(found.message, notation_of(kitchen)),
    )


def current_mix(kitchen: Kitchen, mix: Mix) -> CoreMix | None:
    """Return a mix as it is kept, what has no amount yet left out; None where nothing in it weighs anything."""
    return read_in_kitchen(kitchen, draft_of(mix)).mix
