"""Scaling on the Bench: from a draft and a wished size to one that can be weighed, without changing anything."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import asdict

from jalebi_core.amounts import Measures, read_amount
from jalebi_core.errors import AmountError, ScalingError
from jalebi_core.machines import Machine, class_change, fill_of
from jalebi_core.mix import Line, Mix
from jalebi_core.scaling import (
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
from kitchens.models import Kitchen, kept_of, spoons_of
from shelf.kept import kept_machine

from .analysing import fill_drawn
from .drafts import ReadLine, mix_of, read_lines
from .scale_schemas import DeviationOut, ScaledLine, ScaleOut, ScaleQuestion, WholeSizeOut


def scaled_draft(kitchen: Kitchen, question: ScaleQuestion) -> ScaleOut:
    """Scale a draft; raises JalebiError for a size that cannot be."""
    read = read_lines(kitchen, question.lines)
    mix = mix_of(kitchen, question, read)
    if mix is None:
        raise ScalingError("There is nothing in the mix to scale.")
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams]
    machine = kept_machine(kitchen, question.machine)
    kept = kept_of(kitchen)
    pieces = _pieces(mix, [read[at] for at in numbers])
    found = scaled(mix, _times(kitchen, question, mix, numbers, machine), kept, pieces)
    each_ml = question.each_ml or kitchen.scoop_ml
    return ScaleOut(
        times=found.times,
        mass_g=found.mix.mass_g,
        litres=litres_of(found.mix, kept),
        portions=portions_of(found.mix, each_ml, kept),
        lines=_lines(found, [read[at] for at in numbers], numbers, pieces),
        whole=[pieces[number].counted(count) for number, count in found.counts.items()],
        made_up=found.rounded,
        effect=found.effect,
        deviations=[DeviationOut(**asdict(one)) for one in found.deviations],
        nearest=[WholeSizeOut(**asdict(one)) for one in found.nearest],
        fill=fill_drawn(found.mix, machine),
        mind=_mind(mix, found.mix, machine),
    )


def _times(
    kitchen: Kitchen, question: ScaleQuestion, mix: Mix, numbers: Sequence[int], machine: Machine | None
) -> float:
    """Return how many times as big the mix is to be."""
    kept = kept_of(kitchen)
    each_ml = question.each_ml or kitchen.scoop_ml
    if question.by == "line":
        return _times_of_line(kitchen, question, mix, numbers)
    typed = question.amount
    ways: dict[str, Callable[[], float]] = {
        "mass": lambda: times_for_mass(mix, _read(typed, "g")),
        "litres": lambda: times_for_litres(mix, _read(typed, "l") / 1000, kept),
        "portions": lambda: times_for_portions(mix, _count(typed), each_ml, kept),
        "guests": lambda: times_for_portions(mix, _count(typed) * question.per_guest, each_ml, kept),
        "runs": lambda: _times_of_runs(mix, _count(typed), machine),
    }
    return ways[question.by]()


def _times_of_runs(mix: Mix, runs: float, machine: Machine | None) -> float:
    if machine is None:
        raise ScalingError("Choose the machine first; then it can be filled.")
    return times_for_runs(mix, runs, machine)


def _times_of_line(kitchen: Kitchen, question: ScaleQuestion, mix: Mix, numbers: Sequence[int]) -> float:
    if question.line is None or question.line not in numbers:
        raise ScalingError("Say of which line there is so much; it must have an amount in the mix.")
    number = numbers.index(question.line)
    goods = mix.lines[number].goods
    if goods is None:
        raise ScalingError("That line is not on the shelf.")
    try:
        grams = read_amount(question.amount, "g", goods.measures, spoons_of(kitchen)).grams
    except AmountError as error:
        raise ScalingError(f"{goods.composition.name}: {error}") from None
    return times_for_line(mix, number, grams)


_AS_WATER = Measures(density_kg_l=1.0)


def _read(typed: str, unit: str) -> float:
    """Read an amount in g, or a volume in ml, which is g of water."""
    try:
        return read_amount(typed, unit, _AS_WATER).grams
    except AmountError as error:
        raise ScalingError(str(error)[:1].upper() + str(error)[1:]) from None


def _count(typed: str) -> float:
    """Read a number of portions, guests or runs."""
    if any(letter.isalpha() for letter in typed):
        raise ScalingError(f"“{typed}” is not a number. Write one like 12.")
    return _read(typed, "g")


def _pieces(mix: Mix, read: Sequence[ReadLine]) -> dict[int, Piece]:
    """Return the lines of the mix that come in whole pieces."""
    wanted = ((number, line.line.whole, mix.lines[number].goods) for number, line in enumerate(read))
    return {
        number: Piece(name, goods.measures.pieces[name])
        for number, name, goods in wanted
        if name and goods and name in goods.measures.pieces
    }


def _lines(
    found: Scaled, read: Sequence[ReadLine], numbers: Sequence[int], pieces: dict[int, Piece]
) -> list[ScaledLine]:
    return [
        ScaledLine(
            line=numbers[number],
            name=line.ingredient.name,
            typed=_typed(line, read[number], pieces.get(number), found.counts.get(number)),
            unit=read[number].line.unit if read[number].share is not None else "g",
            before_g=read[number].grams or 0.0,
            after_g=line.grams,
        )
        for number, line in enumerate(found.mix.lines)
    ]


def _typed(line: Line, read: ReadLine, piece: Piece | None, count: int | None) -> str:
    """Return how a line would be typed: whole pieces counted, shares of the mix as they are, the rest in g."""
    if piece is not None and count is not None:
        return piece.counted(count)
    return read.line.typed if read.share is not None else f"{line.grams:.10g}"


def _mind(before: Mix, after: Mix, machine: Machine | None) -> list[str]:
    if machine is None:
        return []
    fill = fill_of(after, machine)
    said = [class_change(fill_of(before, machine), fill, machine), machine.kind.before if fill.runs > 1 else None]
    return [sentence for sentence in (*said, machine.kind.caution) if sentence]
