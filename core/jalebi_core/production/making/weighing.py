"""Weighing out: what goes into which bowl, in which order, how exactly, and why."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.flow import Take, Work
from jalebi_core.production.making.layout import VESSELS, Layout, Portion
from jalebi_core.production.making.materials import Role, role_of
from jalebi_core.production.making.noticed import Noticed, noticed_by_line
from jalebi_core.production.making.steps import MakingBench, MakingStep, Weighing, say
from jalebi_core.production.scaling import KitchenConstants
from jalebi_core.wording.message import Message

_WET_PCT: Final = 40.0
_FEW_READINGS: Final = 5
_TENTHS_BELOW_G: Final = 10.0
CLOSE_SHARE: Final = 0.02
GUM_SHARE: Final = 0.05
"""How far off a line may be so that all lines together stay within one step that anybody notices; gums do most."""
_WATER: Final = INDEX["water"]
_STAYS: Final = frozenset(("pot", "blender", "rest"))
"""What is weighed in here is not poured anywhere."""
_KEPT_COLD: Final = frozenset(("cold", "jug", "cream"))


def weighing_steps(mix: Mix, bench: MakingBench, layout: Layout) -> Iterator[MakingStep]:
    """Yield one step for each line that weighs something, in the order of the work; a parted line is weighed once."""
    noticed = noticed_by_line(mix, bench.freezer_c)
    first: dict[str, float] = {}
    for at in _order(mix, layout):
        parts = [one for one in layout.portions if one.line == at]
        main = max(parts, key=lambda one: one.grams)
        alone = all(first.get(one.vessel, 0.0) == 0 for one in parts)
        for one in parts:
            first[one.vessel] = first.get(one.vessel, 0.0) + one.grams
        yield _step(mix, bench, parts, main, noticed[at], first[main.vessel], alone=alone)


def _order(mix: Mix, layout: Layout) -> list[int]:
    """Return the lines by vessel: what lends to the gums first, sugar before gum, wet before dry, yolks last."""
    order = list(VESSELS)

    def rank(at: int) -> tuple[int, int, int, int]:
        vessels = [order.index(one.vessel) for one in layout.portions if one.line == at]
        line = mix.lines[at]
        role = role_of(line)
        onto = 1 if role in (Role.GUM, Role.GELATIN, Role.STARCH, Role.COCOA, Role.EGG) else 0
        wet = 0 if float(line.ingredient.row[_WATER]) >= _WET_PCT else 1
        return min(vessels), onto, wet, at

    return sorted({one.line for one in layout.portions}, key=rank)


def _step(
    mix: Mix,
    bench: MakingBench,
    parts: list[Portion],
    main: Portion,
    noticed: Noticed | None,
    held_g: float,
    *,
    alone: bool,
) -> MakingStep:
    at = main.line
    line = mix.lines[at]
    step_g = bench.constants.step_g(line.ingredient, line.grams)
    fine = step_g < bench.constants.scale_g
    slack = slack_g(line, step_g)
    piece = bench.pieces.get(at)
    count = piece.counted(max(round(line.grams / piece.grams), 1)) if piece else None
    bowl = VESSELS[main.vessel]
    return step(
        "weigh",
        name=f"weigh.{at}",
        plan="weigh",
        facts={"name": line.ingredient.name},
        do=list(_do(line, count, parts, main, alone=alone)),
        why=_why(line, noticed),
        mind=list(_mind(line, step_g, fine=fine)),
        lines=(at,),
        weighing=Weighing(
            at, line.grams, max(line.grams - slack, 0.0), line.grams + slack, step_g, fine, bowl, held_g, count
        ),
        work=Work(main.vessel, takes=tuple(Take(at, one.grams, one.vessel) for one in parts)),
    )


@dataclass(frozen=True, slots=True)
class Tolerance:
    """How far off a line may be beside all others, g, and from how many g by itself something is noticed, and what."""

    line: int
    close_g: float
    noticed_g: float | None
    what: str


def tolerances_of(mix: Mix, constants: KitchenConstants, freezer_c: float) -> tuple[Tolerance, ...]:
    """Return the tolerance of each line of the mix, the same by which it is weighed; lines beside it have none."""
    found = []
    for at, noticed in enumerate(noticed_by_line(mix, freezer_c)):
        if noticed is not None:
            line = mix.lines[at]
            close_g = slack_g(line, constants.step_g(line.ingredient, line.grams))
            found.append(Tolerance(at, close_g, noticed.grams if noticed.what else None, noticed.what))
    return tuple(found)


def slack_g(line: Line, step_g: float) -> float:
    """Return how far off a line may be, g: its share of what nobody notices, and never less than the scale shows."""
    return max((GUM_SHARE if role_of(line) is Role.GUM else CLOSE_SHARE) * line.grams, step_g)


def _do(line: Line, count: str | None, parts: list[Portion], main: Portion, *, alone: bool) -> Iterator[Message]:
    bowl, role = VESSELS[main.vessel], role_of(line)
    if count is not None:
        yield say("weigh", "do-pieces", count=count)
    if len(parts) > 1:
        for one in parts:
            if one is not main:
                yield say("weigh", "do-part", grams=one.grams, bowl=VESSELS[one.vessel])
        yield say("weigh", "do-rest", bowl=bowl)
        return
    if role is Role.GUM and not alone:
        yield say("weigh", "do-gum", bowl=bowl)
    elif role is Role.EGG and main.vessel == "yolks" and not alone:
        yield say("weigh", "do-yolks", bowl=bowl)
    else:
        yield say("weigh", "do-alone" if alone else "do-with", bowl=bowl)
    if main.vessel in _KEPT_COLD:
        yield say("weigh", "do-cold")
    elif not alone and main.vessel not in _STAYS:
        yield say("weigh", "do-scrape")


def _why(line: Line, noticed: Noticed | None) -> Message:
    role = role_of(line)
    if role is Role.GUM:
        return say("weigh", "why-gum")
    if line.stage == "yolks" and role is Role.EGG:
        return say("weigh", "why-yolks")
    if noticed is None or not noticed.what:
        return say("weigh", "why-loose")
    tenths = 0 if noticed.grams >= _TENTHS_BELOW_G else 1
    return say("weigh", "why-noticed", noticed_g=round(noticed.grams, tenths), what=noticed.what)


def _mind(line: Line, step_g: float, *, fine: bool) -> Iterator[Message]:
    if fine:
        yield say("weigh", "mind-fine")
    if line.grams < _FEW_READINGS * step_g:
        yield say("weigh", "mind-too-little")
