"""Scaling on the Bench: from a draft and a wished size to one that can be weighed, without changing anything."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict

from analysis.draft_analysis import serialize_fill
from analysis.kitchen_drafts import read_in_kitchen
from analysis.scale_schemas import DeviationOut, ScaledLine, ScaleOut, ScaleQuestion, WholeSizeOut
from ingredients.shelf_cache import cached_machine
from jalebi_core.formats.draft import ReadDraft
from jalebi_core.model.errors import AmountError, ScalingError
from jalebi_core.model.measures import Measures
from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import Machine, class_change, fill_of
from jalebi_core.production.scaling import (
    Piece,
    Scaled,
    litres_of,
    portions_of,
    scaled,
    times_for_line,
    times_for_litres,
    times_for_mass,
    times_for_portions,
    times_for_runs,
)
from jalebi_core.quantities.amounts import read_amount
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, constants_of, notation_of, spoons_of


def scaled_draft(kitchen: Kitchen, question: ScaleQuestion) -> ScaleOut:
    """Scale a draft; raises JalebiError for a size that cannot be."""
    read = read_in_kitchen(kitchen, question)
    mix, numbers = read.mix, read.numbers
    if mix is None:
        raise ScalingError("nothing-to-scale")
    machine = cached_machine(kitchen, question.machine)
    constants, notation = constants_of(kitchen), notation_of(kitchen)
    pieces = _pieces(mix, question, numbers)
    found = scaled(mix, _times(kitchen, question, mix, numbers, machine), constants, pieces)
    each_ml = question.each_ml or kitchen.scoop_ml
    return ScaleOut(
        times=found.times,
        mass_g=found.mix.mass_g,
        litres=litres_of(found.mix, constants),
        portions=portions_of(found.mix, each_ml, constants),
        lines=_lines(found, question, read, pieces),
        whole=[pieces[number].counted(count) for number, count in found.counts.items()],
        made_up=words(found.rounded, notation),
        effect=words(found.effect, notation),
        deviations=[DeviationOut(**asdict(one)) for one in found.deviations],
        nearest=[WholeSizeOut(mass_g=one.mass_g, message=words(one.message, notation)) for one in found.nearest],
        fill=serialize_fill(found.mix, machine),
        mind=_mind(mix, found.mix, machine),
    )


def _times(
    kitchen: Kitchen, question: ScaleQuestion, mix: Mix, numbers: Sequence[int], machine: Machine | None
) -> float:
    """Return how many times as big the mix is to be."""
    constants = constants_of(kitchen)
    each_ml = question.each_ml or kitchen.scoop_ml
    if question.by == "line":
        return _times_of_line(kitchen, question, mix, numbers)
    typed = question.amount
    ways: dict[str, Callable[[], float]] = {
        "mass": lambda: times_for_mass(mix, _read(typed, "g")),
        "litres": lambda: times_for_litres(mix, _read(typed, "l") / 1000, constants),
        "portions": lambda: times_for_portions(mix, _count(typed), each_ml, constants),
        "guests": lambda: times_for_portions(mix, _count(typed) * question.per_guest, each_ml, constants),
        "runs": lambda: _times_of_runs(mix, _count(typed), machine),
    }
    return ways[question.by]()


def _times_of_runs(mix: Mix, runs: float, machine: Machine | None) -> float:
    if machine is None:
        raise ScalingError("machine-not-chosen")
    return times_for_runs(mix, runs, machine)


def _times_of_line(kitchen: Kitchen, question: ScaleQuestion, mix: Mix, numbers: Sequence[int]) -> float:
    if question.line is None or question.line not in numbers:
        raise ScalingError("scaled-line-missing")
    number = numbers.index(question.line)
    ingredient = mix.lines[number].ingredient
    if ingredient is None:
        raise ScalingError("line-not-on-shelf")
    try:
        grams = read_amount(question.amount, "g", ingredient.measures, spoons_of(kitchen)).grams
    except AmountError as error:
        raise ScalingError(
            "amount-of-ingredient-refused", name=ingredient.composition.name, reason=error.message
        ) from None
    return times_for_line(mix, number, grams)


_AS_WATER = Measures(density_kg_l=1.0)


def _read(typed: str, unit: str) -> float:
    """Read an amount in g, or a volume in ml, which is g of water."""
    try:
        return read_amount(typed, unit, _AS_WATER).grams
    except AmountError as error:
        raise ScalingError.of(error.message) from None


def _count(typed: str) -> float:
    """Read a number of portions, guests or runs."""
    if any(letter.isalpha() for letter in typed):
        raise ScalingError("number-unreadable", typed=typed)
    return _read(typed, "g")


def _pieces(mix: Mix, question: ScaleQuestion, numbers: Sequence[int]) -> dict[int, Piece]:
    """Return the lines of the mix that come in whole pieces."""
    wanted = ((number, question.lines[at].whole, mix.lines[number].ingredient) for number, at in enumerate(numbers))
    return {
        number: Piece(name, ingredient.measures.pieces[name])
        for number, name, ingredient in wanted
        if name and name in ingredient.measures.pieces
    }


def _lines(found: Scaled, question: ScaleQuestion, read: ReadDraft, pieces: dict[int, Piece]) -> list[ScaledLine]:
    """Return how the lines would be typed: whole pieces counted, shares of the mix as they are, the rest in g."""
    lines = []
    for number, (at, line) in enumerate(zip(read.numbers, found.mix.lines, strict=True)):
        typed, before = question.lines[at], read.lines[at]
        is_share = before.share is not None
        amount = typed.typed if is_share else f"{line.grams:.10g}"
        lines.append(
            ScaledLine(
                line=at,
                name=line.ingredient.name,
                typed=pieces[number].counted(found.counts[number]) if number in pieces else amount,
                unit=typed.unit if is_share else "g",
                before_g=before.grams or 0.0,
                after_g=line.grams,
            )
        )
    return lines


def _mind(before: Mix, after: Mix, machine: Machine | None) -> list[str]:
    if machine is None:
        return []
    fill = fill_of(after, machine)
    messages = [class_change(fill_of(before, machine), fill, machine), machine.kind.before if fill.runs > 1 else None]
    return [sentence for sentence in (*messages, machine.kind.caution) if sentence]
