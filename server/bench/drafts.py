"""Drafts: read what was typed, and save it whole."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Final

from django.db import transaction

from jalebi.problems import ConflictError
from jalebi_core.aims import checked_aims
from jalebi_core.amounts import MOST_GRAMS, Spoons, read_amount, read_share
from jalebi_core.composition import Ingredient as Composition
from jalebi_core.composition import checked_name
from jalebi_core.errors import AmountError, MixError, UnknownIngredientError
from jalebi_core.first_drafts import first_draft, schools
from jalebi_core.goods import Goods
from jalebi_core.mix import Line, Mix
from jalebi_core.restrictions import checked_restriction, offence
from jalebi_core.shelf import closest
from jalebi_core.styles import BESIDE, Band, checked_stage, checked_style
from kitchens.models import Kitchen, Machine, spoons_of
from shelf.kept import goods_of
from shelf.models import Ingredient

from .models import Mix as MixRow
from .models import MixLine
from .schemas import Draft, DraftLine, DraftToAnalyse, DraftToSave, NewMix

USUAL_BATCH_G: Final = 1000.0
LIMITS: Final = ("least_g", "most_g", "step_g", "whole", "note")
"""What a line holds beside its amount and stage, of the same name in the draft and in the table."""


@dataclass(frozen=True, slots=True)
class ReadLine:
    """A draft's line as read: what counts of it, what was assumed, and what is wrong with it."""

    line: DraftLine
    goods: Goods | None
    grams: float | None
    assumed: str | None
    error: str | None
    share: float | None = None
    """The part of the whole mix that was asked for, where the amount is one of % or ppm."""

    @property
    def ingredient(self) -> Composition | None:
        return self.goods.composition if self.goods else None


def read_lines(kitchen: Kitchen, lines: Sequence[DraftLine]) -> list[ReadLine]:
    """Read the lines of a draft; a line that cannot be read keeps what it last weighed."""
    known, spoons = goods_of(kitchen), spoons_of(kitchen)
    return _with_shares([_read(line, known, spoons) for line in lines])


def _with_shares(read: list[ReadLine]) -> list[ReadLine]:
    """Weigh the lines that are shares of the whole mix, now that the others are weighed."""
    in_mix = [line for line in read if line.line.stage not in BESIDE]
    shares = sum(line.share for line in in_mix if line.share is not None)
    rest_g = sum(line.grams or 0 for line in in_mix if line.share is None)
    if shares >= 1:
        error = f"what is given in % adds up to {100 * shares:g} %, which leaves no room for anything else."
        return [line if line.share is None else replace(line, error=_of(line, error)) for line in read]
    whole_g = rest_g / (1 - shares)
    return [line if line.share is None else _weighed(line, line.share, whole_g) for line in read]


def _weighed(line: ReadLine, share: float, whole_g: float) -> ReadLine:
    return replace(line, grams=whole_g * share, assumed=f"share of {whole_g:.0f} g in all")


def _of(line: ReadLine, sentence: str) -> str:
    return f"{line.ingredient.name}: {sentence}" if line.ingredient else sentence


def restrictions_of(kitchen: Kitchen, draft: Draft) -> list[str]:
    """Return the restrictions of a kitchen and of a draft together; raises MixError for one that is not known."""
    return [checked_restriction(key) for key in (*kitchen.restrictions, *draft.restrictions)]


def freezer_of(kitchen: Kitchen, draft: DraftToAnalyse) -> float:
    """Return the °C that a draft is judged for, the kitchen's own freezer where it names none."""
    return kitchen.freezer_c if draft.freezer_c is None else draft.freezer_c


def offence_of(line: ReadLine, restrictions: Iterable[str]) -> str | None:
    """Return why a line offends the restrictions, None where it does not."""
    if line.goods is None:
        return None
    said = [found for key in restrictions if (found := offence(line.goods, key))]
    return "; ".join(dict.fromkeys(said)) or None


def _read(line: DraftLine, known: Mapping[str, Goods], spoons: Spoons) -> ReadLine:
    goods = known.get(line.ingredient)
    if goods is None:
        unknown = str(UnknownIngredientError(line.ingredient, closest(line.ingredient, known)))
        return ReadLine(line, None, None, None, unknown[:1].upper() + unknown[1:])
    try:
        share = read_share(line.typed, line.unit)
        if share is not None:
            return ReadLine(line, goods, None, None, None, share)
        amount = read_amount(line.typed, line.unit, goods.measures, spoons)
    except AmountError as error:
        kept = None if line.grams is None or line.grams > MOST_GRAMS else line.grams
        counted = "" if kept is None else f" Until then it counts as {kept:g} g."
        return ReadLine(line, goods, kept, None, f"{goods.composition.name}: {error}{counted}")
    return ReadLine(line, goods, amount.grams, amount.assumed, None)


def mix_of(kitchen: Kitchen, draft: Draft, read: Sequence[ReadLine]) -> Mix | None:
    """Return the mix that a draft makes in a kitchen, or None while nothing in it weighs anything."""
    lines = tuple(
        Line(line.goods.composition, line.grams, line.line.stage, line.goods)
        for line in read
        if line.goods and line.grams
    )
    if not any(line.stage not in BESIDE for line in lines):
        return None
    style = checked_style(draft.style)
    return Mix("draft", lines, style, draft.overrun_pct, aims_of(kitchen, style, checked_aims(draft.aims)))


def aims_of(kitchen: Kitchen, style: str | None, own: Mapping[str, Sequence[float]]) -> dict[str, Band]:
    """Return the aims that hold for a mix as bands: those of its kitchen for its style, and its own before them."""
    return {key: (low, high) for key, (low, high) in {**kitchen.aims.get(style or "", {}), **own}.items()}


def machine_of(kitchen: Kitchen, number: int | None) -> Machine | None:
    """Return one of a kitchen's machines; None where none is chosen, or where it is there no more."""
    if number is None:
        return None
    found: Machine | None = Machine.objects.of(kitchen).filter(pk=number).first()
    return found


@transaction.atomic
def save_draft(kitchen: Kitchen, mix_id: int, draft: DraftToSave) -> MixRow:
    """Save a draft whole.

    Raises
    ------
    MixRow.DoesNotExist : no such mix in this kitchen
    ConflictError : somebody saved another version first; theirs stays
    JalebiError : a name, style, stage or ingredient that cannot be
    """
    mix: MixRow = MixRow.objects.of(kitchen).select_for_update().get(pk=mix_id)
    if mix.version != draft.version:
        raise ConflictError("Somebody else changed this mix meanwhile. Yours is not lost: look at both.")
    read = read_lines(kitchen, draft.lines)
    mix.name = checked_name(draft.name, "the mix")
    mix.style = checked_style(draft.style)
    mix.overrun_pct = draft.overrun_pct
    mix.aims = checked_aims(draft.aims)
    mix.restrictions = [checked_restriction(key) for key in draft.restrictions]
    mix.machine = machine_of(kitchen, draft.machine)
    mix.based_on = draft.based_on
    mix.version += 1
    mix.save()
    mix.lines.all().delete()
    put_lines(mix, read)
    return mix


def kept_lines(mix: MixRow) -> list[DraftLine]:
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


def put_lines(mix: MixRow, read: Sequence[ReadLine]) -> None:
    """Give a mix without lines those of a draft as read; raises MixError for one that cannot be kept."""
    ids = dict(Ingredient.objects.of(mix.kitchen).values_list("slug", "pk"))
    MixLine.objects.bulk_create(_line_row(mix, number, line, ids) for number, line in enumerate(read, start=1))


def _line_row(mix: MixRow, number: int, read: ReadLine, ids: Mapping[str, int]) -> MixLine:
    if read.goods is None:
        raise MixError(read.error or "", number)
    if not (read.line.typed.isprintable() and read.line.unit.isprintable()):
        raise MixError("the amount holds characters that cannot be shown.", number)
    return MixLine(
        mix=mix,
        position=number,
        ingredient_id=ids[read.line.ingredient],
        typed=read.line.typed,
        unit=read.line.unit,
        grams=read.grams,
        stage=checked_stage(read.line.stage, number),
        pinned=read.line.pinned,
        **_limits_of(read, number),
    )


def _limits_of(read: ReadLine, number: int) -> dict[str, Any]:
    line = read.line
    if not line.note.isprintable() or not (line.whole or "").isprintable():
        raise MixError("the note holds characters that cannot be shown.", number)
    if line.least_g is not None and line.most_g is not None and line.least_g > line.most_g:
        raise MixError(f"at least {line.least_g:g} g and at most {line.most_g:g} g cannot both be.", number)
    return {key: getattr(line, key) for key in LIMITS}


@transaction.atomic
def begun_mix(kitchen: Kitchen, new: NewMix) -> MixRow:
    """Make a mix as it is asked for; raises MixRow.DoesNotExist and JalebiError."""
    if new.school is None:
        return new_mix(kitchen, new.name, new.style, new.copy_of)
    draft = first_draft(new.style or "", new.school, new.batch_g or USUAL_BATCH_G)
    mix = new_mix(kitchen, new.name, new.style, None)
    mix.overrun_pct = draft.overrun_pct
    mix.method = [{"stage": stage, "text": text} for stage, text in schools()[new.school].method]
    mix.save()
    lines = [DraftLine(ingredient=slug, typed=f"{grams:g}", stage=stage) for slug, grams, stage in draft.lines]
    put_lines(mix, read_lines(kitchen, lines))
    return mix


@transaction.atomic
def new_mix(kitchen: Kitchen, name: str, style: str | None, copy_of: int | None) -> MixRow:
    """Make a mix from nothing or from a copy; raises MixRow.DoesNotExist and JalebiError."""
    source = MixRow.objects.of(kitchen).get(pk=copy_of) if copy_of is not None else None
    mix = MixRow.objects.create(
        kitchen=kitchen,
        name=checked_name(name, "the mix"),
        style=checked_style(style) or (source.style if source else None),
        overrun_pct=source.overrun_pct if source else None,
        restrictions=source.restrictions if source else [],
        aims=source.aims if source else {},
        method=source.method if source else [],
        machine=source.machine if source else Machine.objects.of(kitchen).first(),
        tags=source.tags if source else [],
    )
    lines = list(source.lines.all()) if source else []
    for line in lines:
        line.pk, line.mix = None, mix
    MixLine.objects.bulk_create(lines)
    return mix


def weighed_lines(mix: MixRow) -> list[MixLine]:
    """Return the lines of a mix that can be made; raises MixError when one has no amount or nothing weighs."""
    lines = list(mix.lines.select_related("ingredient"))
    for number, line in enumerate(lines, start=1):
        if line.grams is None:
            raise MixError(f"{line.ingredient.name} has no amount yet. Give it one or remove the line.", number)
    if not any(line.grams for line in lines if line.stage not in BESIDE):
        raise MixError("The mix weighs nothing. Give at least one line an amount.")
    return lines
