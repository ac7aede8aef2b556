"""Drafts: the mixes of a kitchen as they are worked on, saved whole."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, Final

from django.db import transaction
from django.db.models import Q

from analysis.schemas import Draft, DraftLine
from api.problems import ConflictError
from ingredients.models import Ingredient
from ingredients.shelf_cache import ingredients_of
from jalebi_core.advice.first_drafts import approaches, first_draft
from jalebi_core.formats.draft import ReadLine, read_lines
from jalebi_core.formats.line_constraints import checked_form
from jalebi_core.model.aims import checked_aims
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MixError
from jalebi_core.model.styles import MIX_IN_STAGES, checked_stage, checked_style
from jalebi_core.regulation.restrictions import checked_restriction
from kitchens.models import Kitchen, Machine, notation_of, spoons_of
from mixes.models import Mix, MixLine
from mixes.schemas import DraftToSave, NewMix

USUAL_BATCH_G: Final = 1000.0
LIMITS: Final = ("least_g", "most_g", "step_g", "whole", "note", "form")
"""What a line holds beside its amount and stage, of the same name in the draft and in the table."""


def mix_by_id(kitchen: Kitchen, mix_id: int) -> Mix:
    """Return one of a kitchen's mixes; raises Mix.DoesNotExist."""
    return Mix.objects.of(kitchen).select_related("kitchen", "machine").get(pk=mix_id)


def machine_of(kitchen: Kitchen, number: int | None) -> Machine | None:
    """Return one of a kitchen's machines; None where none is chosen, or where it is there no more."""
    return None if number is None else Machine.objects.of(kitchen).filter(pk=number).first()


@transaction.atomic
def save_draft(kitchen: Kitchen, mix_id: int, version: int, draft: DraftToSave) -> Mix:
    """Save a draft whole that was made from a version of the mix.

    Raises
    ------
    Mix.DoesNotExist : no such mix in this kitchen
    ConflictError : somebody saved another version first; theirs stays
    JalebiError : a name, style, stage or ingredient that cannot be
    """
    mix: Mix = Mix.objects.of(kitchen).select_for_update().get(pk=mix_id)
    if mix.version != version:
        sentence = "Somebody else changed this mix meanwhile. Yours is not lost: look at both."
        raise ConflictError(sentence, version=mix.version)
    mix.name = checked_name(draft.name, "the mix")
    mix.style = checked_style(draft.style)
    mix.overrun_pct = draft.overrun_pct
    mix.aims = checked_aims(draft.aims)
    mix.restrictions = [checked_restriction(key) for key in draft.restrictions]
    mix.machine = machine_of(kitchen, draft.machine)
    mix.based_on = _base(mix, draft.based_on)
    mix.version += 1
    mix.save()
    mix.lines.all().delete()
    put_lines(mix, draft.lines)
    return mix


def _base(mix: Mix, number: int | None) -> int | None:
    """Return the revision that a draft goes on from; raises MixError where the mix has none of that number."""
    if number not in (None, mix.based_on) and not mix.revisions.filter(number=number).exists():
        raise MixError("no-such-revision", revision=number)
    return number


def mark_made(mix: Mix, made_at: datetime) -> None:
    """Remember when a mix was last made."""
    Mix.objects.of(mix.kitchen).filter(pk=mix.pk).filter(Q(made_at=None) | Q(made_at__lt=made_at)).update(
        made_at=made_at
    )


def draft_lines(mix: Mix) -> list[DraftLine]:
    """Return the lines of a mix as they were typed."""
    return [
        DraftLine.model_validate(
            {
                "ingredient": line.ingredient.slug,
                "typed": line.typed,
                "unit": line.unit,
                "grams": line.grams,
                "stage": line.stage,
                "pinned": line.pinned,
                **{key: getattr(line, key) for key in LIMITS},
            }
        )
        for line in mix.lines.select_related("ingredient")
    ]


def draft_of(mix: Mix) -> Draft:
    """Return a mix as the draft that it is."""
    return Draft(
        style=mix.style,
        overrun_pct=mix.overrun_pct,
        restrictions=mix.restrictions,
        aims=mix.aims,
        machine=mix.machine_id,
        lines=draft_lines(mix),
    )


def put_lines(mix: Mix, lines: Sequence[DraftLine]) -> None:
    """Give a mix without lines those of a draft; raises MixError for one that cannot be kept."""
    ids = dict(Ingredient.objects.of(mix.kitchen).values_list("slug", "pk"))
    read = read_lines(lines, ingredients_of(mix.kitchen), spoons_of(mix.kitchen))
    pairs = enumerate(zip(lines, read, strict=True), start=1)
    MixLine.objects.bulk_create(_line_row(mix, number, line, found, ids) for number, (line, found) in pairs)


def _line_row(mix: Mix, number: int, line: DraftLine, read: ReadLine, ids: Mapping[str, int]) -> MixLine:
    if read.ingredient is None and read.error is not None:
        raise MixError.of(read.error, number)
    if not (line.typed.isprintable() and line.unit.isprintable()):
        raise MixError("amount-hidden-characters", number)
    return MixLine(
        mix=mix,
        position=number,
        ingredient_id=ids[line.ingredient],
        typed=line.typed,
        unit=line.unit,
        grams=read.grams,
        stage=checked_stage(line.stage, number),
        pinned=line.pinned,
        **_limits_of(line, number),
    )


def _limits_of(line: DraftLine, number: int) -> dict[str, Any]:
    if not line.note.isprintable() or not (line.whole or "").isprintable():
        raise MixError("line-note-hidden-characters", number)
    if line.least_g is not None and line.most_g is not None and line.least_g > line.most_g:
        raise MixError("limits-reversed-g", number, least_g=line.least_g, most_g=line.most_g)
    checked_form(line.form, number)
    return {key: getattr(line, key) for key in LIMITS}


@transaction.atomic
def begin_mix(kitchen: Kitchen, new: NewMix) -> Mix:
    """Make a mix as it is asked for; raises Mix.DoesNotExist and JalebiError."""
    if new.approach is None:
        return new_mix(kitchen, new.name, new.style, new.copy_of)
    draft = first_draft(new.style or "", new.approach, new.batch_g or USUAL_BATCH_G)
    mix = new_mix(kitchen, new.name, new.style, None)
    mix.overrun_pct = draft.overrun_pct
    written = notation_of(kitchen).text
    mix.method = [{"stage": stage, "text": written(text)} for stage, text in approaches()[new.approach].method]
    mix.save()
    lines = [DraftLine(ingredient=slug, typed=f"{grams:g}", stage=stage) for slug, grams, stage in draft.lines]
    put_lines(mix, lines)
    return mix


@transaction.atomic
def new_mix(kitchen: Kitchen, name: str, style: str | None, copy_of: int | None) -> Mix:
    """Make a mix from nothing or from a copy; raises Mix.DoesNotExist and JalebiError."""
    source = Mix.objects.of(kitchen).get(pk=copy_of) if copy_of is not None else None
    first = Machine.objects.of(kitchen).first()
    mix = Mix.objects.create(
        kitchen=kitchen,
        name=checked_name(name, "the mix"),
        style=checked_style(style) or (source.style if source else None),
        overrun_pct=source.overrun_pct if source else kitchen.learnt.overrun_pct.get(first.pk if first else 0),
        restrictions=source.restrictions if source else [],
        aims=source.aims if source else {},
        method=source.method if source else [],
        machine=source.machine if source else first,
        tags=source.tags if source else [],
    )
    lines = list(source.lines.all()) if source else []
    for line in lines:
        line.pk, line.mix = None, mix
    MixLine.objects.bulk_create(lines)
    return mix


def weighed_lines(mix: Mix) -> list[MixLine]:
    """Return the lines of a mix that can be made; raises MixError when one has no amount or nothing weighs."""
    lines = list(mix.lines.select_related("ingredient"))
    for number, line in enumerate(lines, start=1):
        if line.grams is None:
            raise MixError("line-without-amount", number, name=line.ingredient.name)
    if not any(line.grams for line in lines if line.stage not in MIX_IN_STAGES):
        raise MixError("mix-weighs-nothing", beside="")
    return lines
