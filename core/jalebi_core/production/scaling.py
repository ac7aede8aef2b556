"""Scaling a mix to a size, as a kitchen can weigh it: whole pieces stay whole, and the rest makes up for them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import floor, isfinite
from typing import Final

from jalebi_core.advice.comparison import effects_of
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.balance.job_context import as_now, pins_of_taste
from jalebi_core.balance.request import BalanceRequest, Limits
from jalebi_core.balance.solving import balance
from jalebi_core.model.errors import BalanceError, ScalingError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.production.machines import Machine, full_run_g
from jalebi_core.production.mix_ins import product_of
from jalebi_core.quantities.household_measures import plural
from jalebi_core.wording.message import Message

SCOOP_ML: Final = 65.0
LOSS_PCT: Final = 4.0
MOST_LOSS_PCT: Final = 50.0
"""A scoop of 60–70 ml, and what stays in pot, sieve and machine, 2–6 %: defaults of a kitchen's own constants."""

_WEIGHABLE: Final = 20.0
"""An amount this many times the step of a scale is weighed to 5 % with it."""

_SPARE: Final = 0.01
"""What a full run is short of the most, so that whole grams never make it one run more."""

_LEAST_G: Final = 10.0
_MOST_G: Final = 1_000_000.0
_NEAR_WHOLE: Final = 0.02
_NEAREST: Final = 2
_FURTHEST: Final = 0.25


@dataclass(frozen=True, slots=True)
class KitchenConstants:
    """What a kitchen's scales can tell apart, g, and the % of a mix that stays in pot, sieve and machine."""

    scale_g: float = 1.0
    fine_scale_g: float = 0.1
    loss_pct: float = LOSS_PCT

    def step_g(self, ingredient: Ingredient | None, grams: float) -> float:
        """Return the step of the scale on which an amount is weighed: gums, and what is little, on the fine one."""
        fine = grams < _WEIGHABLE * self.scale_g or (ingredient is not None and ingredient.kind == "gum")
        return min(self.scale_g, self.fine_scale_g) if fine else self.scale_g


@dataclass(frozen=True, slots=True)
class Piece:
    """A line that comes in whole pieces: what one is called and weighs."""

    name: str
    grams: float

    def counted(self, count: int) -> str:
        return f"{count} {self.name if count == 1 else plural(self.name)}"


@dataclass(frozen=True, slots=True)
class Deviation:
    """What one figure of a scaled mix is beside that of the mix as it was."""

    name: str
    unit: str
    before: float
    after: float


@dataclass(frozen=True, slots=True)
class WholeSize:
    """A size near the one asked for at which pieces come out whole without moving anything."""

    mass_g: float
    message: Message


@dataclass(frozen=True, slots=True)
class Scaled:
    """A scaled mix.

    times : size beside the mix as it was
    counts : whole pieces by number of the line
    rounded : what whole counts and the scales' steps alone would do to it, as `effects_of` says it
    effect : what is left of that once the rest has made up for it
    deviations : figures before and after
    nearest : sizes near it that need no making up
    """

    mix: Mix
    times: float
    counts: Mapping[int, int]
    rounded: Message
    effect: Message
    deviations: tuple[Deviation, ...]
    nearest: tuple[WholeSize, ...]


def times_for_mass(mix: Mix, grams: float) -> float:
    """Return how many times a mix weighs so many g."""
    return _times(grams, mix.mass_g, f"{grams:g} g")


def times_for_litres(mix: Mix, litres: float, constants: KitchenConstants) -> float:
    """Return how many times a mix gives so many litres in the tub, with its air and mix-ins, after losses."""
    return _times(litres, litres_of(mix, constants), f"{litres:g} L")


def times_for_portions(mix: Mix, count: float, each_ml: float, constants: KitchenConstants) -> float:
    """Return how many times a mix gives so many tubs or scoops of so many ml."""
    if not isfinite(each_ml) or not 1 <= each_ml <= 100_000:
        raise ScalingError("portion-impossible", each_ml=each_ml)
    return times_for_litres(mix, count * each_ml / 1000, constants)


def times_for_line(mix: Mix, number: int, grams: float) -> float:
    """Return how many times a mix uses up so many g of one of its lines."""
    line = mix.lines[number]
    if line.grams <= 0:
        raise ScalingError("scaled-line-weighs-nothing", name=line.ingredient.name)
    return _times(grams, line.grams, f"{grams:g} g of {line.ingredient.name}")


def times_for_runs(mix: Mix, runs: float, machine: Machine) -> float:
    """Return how many times a mix fills a machine to its most in so many runs, with room for what rounding adds."""
    return _times(runs * full_run_g(mix, machine) * (1 - _SPARE), mix.mass_g, f"{runs:g} runs")


def _times(wanted: float, now: float, message: str) -> float:
    if not isfinite(wanted) or wanted <= 0:
        raise ScalingError("size-impossible", size=message)
    return wanted / now


def litres_of(mix: Mix, constants: KitchenConstants) -> float:
    """Return the L that land in the tub: the mix with its air and mix-ins, after losses."""
    return product_of(mix).volume_l * (1 - constants.loss_pct / 100)


def portions_of(mix: Mix, each_ml: float, constants: KitchenConstants) -> int:
    """Return how many whole portions of so many ml a mix gives after losses."""
    return floor(litres_of(mix, constants) * 1000 / each_ml + 1e-9)


def scaled(mix: Mix, times: float, constants: KitchenConstants, pieces: Mapping[int, Piece] | None = None) -> Scaled:
    """Return a mix of another size as it can be weighed.

    Parameters
    ----------
    times : size beside the mix as it is
    pieces : lines, by number, that come in whole pieces; the other lines then make up for what that shifts

    Raises
    ------
    ScalingError : a size that no kitchen makes
    """
    pieces = pieces or {}
    mass_g = mix.mass_g * times
    if not _LEAST_G <= mass_g <= _MOST_G:
        raise ScalingError("scaled-mass-impossible", mass_g=mass_g, least_g=_LEAST_G)
    counts = {number: max(1, round(mix.lines[number].grams * times / piece.grams)) for number, piece in pieces.items()}
    whole = {number: counts[number] * piece.grams for number, piece in pieces.items()}
    exact = [whole.get(number, line.grams * times) for number, line in enumerate(mix.lines)]
    rounded = replace(mix, lines=_weighed(mix.lines, exact, whole, constants))
    best = _made_up(mix, rounded, mass_g, whole, constants) if whole else rounded
    effects = effects_of(mix, [rounded, best])
    return Scaled(
        best,
        times,
        counts,
        effects[0].message,
        effects[1].message,
        _deviations(mix, best),
        _nearest(mix, times, pieces),
    )


def _weighed(
    lines: tuple[Line, ...], grams: list[float], whole: Mapping[int, float], constants: KitchenConstants
) -> tuple[Line, ...]:
    return tuple(
        replace(line, grams=amount if number in whole else _to_step(amount, constants.step_g(line.ingredient, amount)))
        for number, (line, amount) in enumerate(zip(lines, grams, strict=True))
    )


def _to_step(grams: float, step: float) -> float:
    return round(max(1, round(grams / step)) * step, 6) if grams > 0 else 0.0


def _made_up(mix: Mix, rounded: Mix, mass_g: float, whole: Mapping[int, float], constants: KitchenConstants) -> Mix:
    """Return the rounded mix with its unpinned lines moved so that it eats as it did; as it is where none can."""
    limits = pins_of_taste(rounded) | {
        number: Limits.pinned(grams)
        for number, grams in whole.items()
        if rounded.lines[number].stage not in MIX_IN_STAGES
    }
    aims = as_now(mix, "scoop_c", "sweetness", "fat", "total_solids", "protein")
    whole_g = round(mass_g / constants.scale_g) * constants.scale_g
    try:
        found = balance(BalanceRequest(rounded, aims, limits, mass_g=whole_g, scale_g=constants.scale_g))
    except BalanceError:
        return rounded
    moved = dict(zip(found.problem.numbers, found.grams.tolist(), strict=True))
    return replace(
        rounded,
        lines=tuple(replace(line, grams=moved.get(number, line.grams)) for number, line in enumerate(rounded.lines)),
    )


_SHOWN: Final = (("fat", "Fat", "%"), ("total_solids", "Solids", "%"), ("sweetness_pod", "Sweetness", ""))


def _deviations(before: Mix, after: Mix) -> tuple[Deviation, ...]:
    one, other = analyse_mix(before), analyse_mix(after)
    shown = (*_SHOWN, ("scoop_c", "Scooping temperature", "°C"))
    return tuple(
        Deviation(name, unit, float(getattr(one, key)), float(getattr(other, key)))
        for key, name, unit in shown
        if isfinite(getattr(one, key)) and isfinite(getattr(other, key))
    )


def _nearest(mix: Mix, times: float, pieces: Mapping[int, Piece]) -> tuple[WholeSize, ...]:
    """Return the sizes closest to the one asked for at which all pieces come whole by themselves."""
    if not pieces:
        return ()
    first, piece = min(pieces.items(), key=lambda one: mix.lines[one[0]].grams / one[1].grams)
    each = piece.grams / mix.lines[first].grams
    around = range(max(1, floor(times / each) - 3), floor(times / each) + 5)
    found = [count * each for count in around if _all_whole(mix, count * each, pieces)]
    near = sorted((one for one in found if abs(one / times - 1) <= _FURTHEST), key=lambda one: abs(one - times))
    return tuple(
        WholeSize(
            mix.mass_g * one, Message("whole-size", {"counted": _counted(mix, one, pieces), "mass_g": mix.mass_g * one})
        )
        for one in sorted(near[:_NEAREST])
        if abs(one / times - 1) > 1e-6
    )


def _whole_size(mix: Mix, times: float, pieces: Mapping[int, Piece]) -> WholeSize:
    mass_g = mix.mass_g * times
    return WholeSize(mass_g, Message("whole-size", {"counted": _counted(mix, times, pieces), "mass_g": mass_g}))


def _all_whole(mix: Mix, times: float, pieces: Mapping[int, Piece]) -> bool:
    counts = (mix.lines[number].grams * times / piece.grams for number, piece in pieces.items())
    return all(abs(count - round(count)) <= _NEAR_WHOLE * count and round(count) >= 1 for count in counts)


def _counted(mix: Mix, times: float, pieces: Mapping[int, Piece]) -> str:
    counts = (piece.counted(round(mix.lines[number].grams * times / piece.grams)) for number, piece in pieces.items())
    return " and ".join(counts)
