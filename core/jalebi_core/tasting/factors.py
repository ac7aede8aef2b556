"""What a ladder varies: a line in g, a line's share as other goods, or a figure that lines are balanced for."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import isfinite
from typing import Final, Protocol

from jalebi_core.balance.pulls import half_step
from jalebi_core.balance.quantities import Quantity, quantity_of
from jalebi_core.balance.reasons import reasons_for
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.balance.solving import balance
from jalebi_core.model.errors import BalanceError, TastingError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.noticeable import noticeable
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_NEAR: Final = 0.05
"""An aim of a rung is met within so much."""

_NOTHING_G: Final = 1e-9
_SAME_G: Final = 1e-6
_AT_A_TEMPERATURE: Final = ("firmness", "frozen_pct")


class Factor(Protocol):
    """One thing that a ladder varies, in steps."""

    @property
    def steps(self) -> tuple[float, ...]: ...

    def check(self, mix: Mix) -> None:
        """Raise TastingError where it cannot vary this mix."""

    def vary(self, mix: Mix, step: float, serve_c: float | None) -> Mix:
        """Return the mix at one step; raises TastingError where it cannot be made."""

    def called(self, mix: Mix, step: float) -> Message:
        """Return what a step is called beside the others."""

    def change(self, mix: Mix) -> Message:
        """Return what alone changes."""

    def held(self, mix: Mix) -> Message:
        """Return what “all else” means."""


@dataclass(frozen=True, slots=True)
class ByGrams:
    """A line in so many g; another line takes up the difference, or all others give way in proportion."""

    line: int
    grams: tuple[float, ...]
    take_up: int | None = None

    @property
    def steps(self) -> tuple[float, ...]:
        return self.grams

    def check(self, mix: Mix) -> None:
        _check_steps(self.grams)
        _check_lines(mix, (self.line,) if self.take_up is None else (self.line, self.take_up))
        if self.take_up == self.line:
            raise TastingError("ladder-takes-up-itself")
        if min(self.grams) < 0:
            raise TastingError("ladder-below-nothing", name=_named(mix, self.line), grams=min(self.grams))

    def vary(self, mix: Mix, step: float, serve_c: float | None) -> Mix:  # noqa: ARG002
        line = mix.lines[self.line]
        more = step - line.grams
        weighed = list(mix.lines)
        weighed[self.line] = replace(line, grams=step)
        if self.take_up is not None:
            taker = mix.lines[self.take_up]
            if taker.grams < more - _NOTHING_G:
                raise TastingError(
                    "ladder-taker-empty",
                    grams=step,
                    name=in_sentence(line.ingredient.name),
                    taker=_named(mix, self.take_up),
                )
            weighed[self.take_up] = replace(taker, grams=max(0.0, taker.grams - more))
            return replace(mix, lines=tuple(weighed))
        others_g = mix.mass_g - line.grams
        if others_g <= more + _NOTHING_G:
            raise TastingError("ladder-all-of-it", grams=step, name=in_sentence(line.ingredient.name))
        by = (others_g - more) / others_g
        for at, one in enumerate(mix.lines):
            if at != self.line and one.stage not in MIX_IN_STAGES:
                weighed[at] = replace(one, grams=one.grams * by)
        return replace(mix, lines=tuple(weighed))

    def called(self, mix: Mix, step: float) -> Message:
        if abs(mix.lines[self.line].grams - step) < _SAME_G:
            return Message("rung-as-it-is")
        return Message("rung-grams", {"grams": step, "name": _named(mix, self.line)})

    def change(self, mix: Mix) -> Message:
        return Message("ladder-grams", {"name": _named(mix, self.line), "steps": _said(self.grams)})

    def held(self, mix: Mix) -> Message:
        if self.take_up is None:
            return Message("held-mass-all")
        return Message("held-mass", {"taker": _named(mix, self.take_up)})


@dataclass(frozen=True, slots=True)
class ByShare:
    """So many % of a line as other goods, gram for gram, at the same stage."""

    line: int
    by: Ingredient
    share_pct: tuple[float, ...]

    @property
    def steps(self) -> tuple[float, ...]:
        return self.share_pct

    def check(self, mix: Mix) -> None:
        _check_steps(self.share_pct)
        _check_lines(mix, (self.line,))
        if not 0 <= min(self.share_pct) <= max(self.share_pct) <= 100:
            raise TastingError("ladder-share")

    def vary(self, mix: Mix, step: float, serve_c: float | None) -> Mix:  # noqa: ARG002
        line = mix.lines[self.line]
        moved = line.grams * step / 100
        lines = list(mix.lines)
        lines[self.line] = replace(line, grams=line.grams - moved)
        more = (Line(self.by, moved, line.stage),) if moved > 0 else ()
        return replace(mix, lines=(*lines, *more))

    def called(self, mix: Mix, step: float) -> Message:  # noqa: ARG002
        if step == 0:
            return Message("rung-as-it-is")
        return Message("rung-share", {"share_pct": step, "name": in_sentence(self.by.name)})

    def change(self, mix: Mix) -> Message:
        names = {"name": _named(mix, self.line), "by": in_sentence(self.by.name)}
        return Message("ladder-share-of", {**names, "steps": _said(self.share_pct)})

    def held(self, mix: Mix) -> Message:  # noqa: ARG002
        return Message("held-gram-for-gram")


@dataclass(frozen=True, slots=True)
class ByAim:
    """A figure at so many values: some lines move, the figures that are held stay within what nobody notices."""

    aim: str
    values: tuple[float, ...]
    moving: tuple[int, ...]
    hold: tuple[str, ...] = ()

    @property
    def steps(self) -> tuple[float, ...]:
        return self.values

    def check(self, mix: Mix) -> None:
        _check_steps(self.values)
        if not self.moving:
            raise TastingError("ladder-with-missing", aim=self.aim[:40])
        _check_lines(mix, self.moving)
        unknown = next((key for key in self.hold if key not in noticeable() or key == self.aim), None)
        if unknown is not None:
            raise TastingError("ladder-hold", key=unknown[:40])
        for key in (self.aim, *self.hold):
            _quantity(mix, key, None)

    def vary(self, mix: Mix, step: float, serve_c: float | None) -> Mix:
        aims = [Aim(self.aim, step - _NEAR, step + _NEAR, at_c=_at_c(self.aim, serve_c))]
        for key in self.hold:
            now = _quantity(mix, key, serve_c).of_mix(mix)
            room = half_step(key, now)
            aims.append(Aim(key, now - room, now + room, at_c=_at_c(key, serve_c)))
        pins = {
            number: Limits.pinned(line.grams)
            for number, line in enumerate(mix.lines)
            if number not in self.moving and line.stage not in MIX_IN_STAGES
        }
        found = balance(BalanceRequest(mix, tuple(aims), pins))
        if not all(found.met):
            unmet = reasons_for(found, {})[0]
            name = _quantity(mix, unmet.aim.of, None).name
            raise TastingError("ladder-out-of-reach", rung=self.called(mix, step), name=name, because=unmet.because)
        lines = list(mix.lines)
        for number, grams in zip(found.problem.numbers, found.grams.tolist(), strict=False):
            lines[number] = replace(lines[number], grams=grams)
        return replace(mix, lines=tuple(lines))

    def called(self, mix: Mix, step: float) -> Message:
        quantity = _quantity(mix, self.aim, None)
        if abs(quantity.of_mix(mix) - step) <= quantity.within:
            return Message("rung-as-it-is")
        return Message("rung-aim", {"name": in_sentence(quantity.name), "value": step, "unit": _unit(quantity)})

    def change(self, mix: Mix) -> Message:
        quantity = _quantity(mix, self.aim, None)
        name = in_sentence(quantity.name)
        return Message("ladder-aim", {"name": name, "steps": _said(self.values), "unit": _unit(quantity)})

    def held(self, mix: Mix) -> Message:
        moving = [_named(mix, number) for number in self.moving]
        if not self.hold:
            return Message("held-moving", {"moving": moving})
        return Message(
            "held-figures",
            {"held": [in_sentence(_quantity(mix, key, None).name) for key in self.hold], "moving": moving},
        )


def _check_steps(steps: tuple[float, ...]) -> None:
    if not steps:
        raise TastingError("ladder-no-steps")
    if any(not isfinite(step) for step in steps) or len(set(steps)) < len(steps):
        raise TastingError("ladder-steps-twice")


def _check_lines(mix: Mix, lines: tuple[int, ...]) -> None:
    for number in lines:
        if not 0 <= number < len(mix.lines) or mix.lines[number].stage in MIX_IN_STAGES:
            raise TastingError("ladder-no-line", number=number)


def _quantity(mix: Mix, key: str, serve_c: float | None) -> Quantity:
    try:
        found = quantity_of(key, _at_c(key, serve_c), mix, ())
    except BalanceError as error:
        raise TastingError.of(error.message) from None
    if found.value is None:
        raise TastingError("ladder-aim-unknown", key=key[:40])
    return found


def _at_c(key: str, serve_c: float | None) -> float | None:
    return serve_c if key in _AT_A_TEMPERATURE else None


def _named(mix: Mix, number: int) -> str:
    return in_sentence(mix.lines[number].ingredient.name)


def _unit(quantity: Quantity) -> str:
    return f" {quantity.unit}" if quantity.unit else ""


def _said(steps: tuple[float, ...]) -> list[str]:
    return [f"{step:g}".replace("-", "−") for step in steps]
