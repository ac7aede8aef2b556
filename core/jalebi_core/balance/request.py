"""What is wished of a balance: aims with bands and weights, limits of lines, what may come in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import inf, isfinite
from typing import Final

from jalebi_core.balance.quantities import Quantity, quantity_of
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.wording.message import Message

MISS_COSTS: Final = 1000.0
"""A miss felt as one counts as much as moving the whole mix a thousand times over: aims come first."""

MOST_AIMS: Final = 40
MOST_NEW: Final = 10


@dataclass(frozen=True, slots=True)
class Aim:
    """A band for one quantity; an end that is not asked is infinite. ``at_c`` where the quantity has a temperature."""

    of: str
    low: float = -inf
    high: float = inf
    weight: float = 1.0
    at_c: float | None = None


@dataclass(frozen=True, slots=True)
class Limits:
    """Limits of one line in g: least, most, and the step or weight of a whole piece that it comes in.

    ``by_rule`` says that a job or the craft set them, not the cook: nobody is asked to lift those.
    """

    low_g: float = 0.0
    high_g: float = inf
    step_g: float | None = None
    by_rule: bool = False

    @classmethod
    def pinned(cls, grams: float, *, by_rule: bool = False) -> Limits:
        """Return the limits of a line that stays as it is."""
        return cls(grams, grams, by_rule=by_rule)

    @property
    def is_pin(self) -> bool:
        return self.low_g == self.high_g


@dataclass(frozen=True, slots=True)
class Share:
    """Lines by number whose sum stays between two shares of the mix, in %."""

    lines: tuple[int, ...]
    low_pct: float = 0.0
    high_pct: float = 100.0


@dataclass(frozen=True, slots=True)
class BalanceRequest:
    """All that is wished of a balance of one mix.

    limits : by number of the line; a line without any may weigh anything
    shares : sums of lines between two shares of the mix
    ratios : pairs of lines that keep the ratio they have
    may_add : ingredients that may come in, at most ``max_new`` of them
    cost_first : whether the price comes before the least change
    mass_g : of the balanced mix; that of the mix where none is given
    scale_g : what the scale can tell apart: changed amounts are whole multiples of it
    fine_scale_g : what the finest scale can tell apart, for gums and what the other one weighs badly
    origin : the mix that was asked about, where a job begins from another one of the same lines; else the mix itself
    pulls : aims of little weight that hold what the aims do not speak of; they are never among what is met or missed
    firm : bands of one step for what nobody aims at, which count for more than any aim
    loose : whether those are let go, where the aims cannot be met otherwise
    caps_give : whether the usual most of ingredients may be passed where the aims cannot be met otherwise
    lifted : whether it is passed; what no aim is worth is kept even then
    most_moved : the most of the mix that moves, as a share of it
    notes : what is to be said beside the proposal
    """

    mix: Mix
    aims: tuple[Aim, ...]
    limits: Mapping[int, Limits] = field(default_factory=dict)
    shares: tuple[Share, ...] = ()
    ratios: tuple[tuple[int, int], ...] = ()
    may_add: tuple[Ingredient, ...] = ()
    max_new: int = 2
    cost_first: bool = False
    mass_g: float | None = None
    scale_g: float = 0.01
    fine_scale_g: float = 0.01
    origin: Mix | None = None
    pulls: tuple[Aim, ...] = ()
    firm: tuple[Aim, ...] = ()
    loose: bool = False
    caps_give: bool = False
    lifted: bool = False
    most_moved: float | None = None
    notes: tuple[Message, ...] = ()

    @property
    def goals(self) -> tuple[Aim, ...]:
        """The aims, and behind them what is held."""
        return (*self.aims, *self.pulls, *(() if self.loose else self.firm))

    @property
    def whole_g(self) -> float:
        return self.mix.mass_g if self.mass_g is None else self.mass_g

    def quantity(self, aim: Aim) -> Quantity:
        """Return what an aim is about; raises BalanceError for what cannot be aimed at."""
        return quantity_of(aim.of, aim.at_c, self.mix, self.may_add)


def checked(request: BalanceRequest) -> BalanceRequest:
    """Return a request that can be tried; raises BalanceError with the sentence that says what cannot be."""
    if not request.aims:
        raise BalanceError("no-targets")
    if len(request.aims) > MOST_AIMS:
        raise BalanceError("too-many-targets", count=len(request.aims), most_aims=MOST_AIMS)
    if not 0 <= request.max_new <= MOST_NEW:
        raise BalanceError("too-many-new-lines", max_new=request.max_new, most_new=MOST_NEW)
    for aim in request.aims:
        _check_aim(request, aim)
    for number, limits in request.limits.items():
        _check_limits(request, number, limits)
    _check_mass(request)
    return request


def _check_aim(request: BalanceRequest, aim: Aim) -> None:
    name = request.quantity(aim).name
    if aim.low == -inf and aim.high == inf:
        raise BalanceError("target-without-ends", name=name)
    if aim.low > aim.high:
        raise BalanceError("target-ends-reversed", name=name, low=aim.low, high=aim.high)
    if not isfinite(aim.weight) or aim.weight <= 0:
        raise BalanceError("weight-impossible", name=name, weight=aim.weight)


def _check_limits(request: BalanceRequest, number: int, limits: Limits) -> None:
    if not 0 <= number < len(request.mix.lines):
        raise BalanceError("no-such-line", number=number + 1)
    line = request.mix.lines[number]
    name = f"Line {number + 1}, {line.ingredient.name}"
    if line.stage in MIX_IN_STAGES:
        raise BalanceError("line-beside-mix", name=name)
    if limits.low_g < 0 or limits.low_g > limits.high_g:
        raise BalanceError("limits-reversed", name=name, low_g=limits.low_g, high_g=limits.high_g)
    if limits.step_g is None:
        return
    if not isfinite(limits.step_g) or limits.step_g <= 0:
        raise BalanceError("step-impossible", name=name, step_g=limits.step_g)
    first = -(-limits.low_g // limits.step_g) * limits.step_g
    if first > min(limits.high_g, request.whole_g):
        raise BalanceError(
            "step-too-wide",
            name=name,
            step_g=limits.step_g,
            low_g=limits.low_g,
            high_g=min(limits.high_g, request.whole_g),
        )


def _check_mass(request: BalanceRequest) -> None:
    base = [number for number, line in enumerate(request.mix.lines) if line.stage not in MIX_IN_STAGES]
    limits = [request.limits.get(number, Limits()) for number in base]
    least, most = sum(one.low_g for one in limits), sum(one.high_g for one in limits)
    whole = request.whole_g
    if not request.may_add and all(one.is_pin and not one.by_rule for one in limits):
        raise BalanceError("all-pinned")
    if least > whole + 1e-6:
        raise BalanceError("least-amounts-too-much", least=least, whole=whole)
    if most < whole - 1e-6 and not request.may_add:
        raise BalanceError("most-amounts-too-little", most=most, whole=whole)
