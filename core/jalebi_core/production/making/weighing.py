"""Weighing out: what goes into which bowl, in which order, how exactly, and why."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from jalebi_core.assessment.gums import SUGAR_PER_GUM
from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.making.noticed import Noticed, noticed_by_line
from jalebi_core.production.making.steps import MakingBench, MakingStep, Weighing, say
from jalebi_core.wording.message import Message

_WET_PCT: Final = 40.0
_FEW_READINGS: Final = 5
_TENTHS_BELOW_G: Final = 10.0
_CLOSE_SHARE: Final = 0.05
_WATER: Final = INDEX["water"]
_BOWLS: Final = {
    "dry": "the dry bowl",
    "pot": "the pot",
    "yolks": "the bowl for the yolks",
    "off-heat": "a bowl kept cold",
    "cold": "a jug in the fridge",
    "churn": "a cup for the churn",
    "mix-in": "a box in the freezer",
    "layer": "a box beside it",
    None: "one bowl",
}
"""What holds the lines of a stage until they go in."""
_CUP: Final = "a dry cup"
_ORDER: Final = ("dry", None, "pot", "off-heat", "cold", "churn", "mix-in", "layer", "yolks")
"""Dry with dry first, while hands and spoons are dry; yolks last, because they do not wait."""
_KEPT_COLD: Final = frozenset(("off-heat", "cold"))


@dataclass(frozen=True, slots=True)
class _Lent:
    """Which sugar lends the dry blend what its gums are stirred into, where that has too little of its own."""

    sugar: int | None = None
    sugar_g: float = 0.0


def weighing_steps(mix: Mix, bench: MakingBench) -> tuple[MakingStep, ...]:
    """Return one step for each line that weighs something, in the order of the work."""
    noticed = noticed_by_line(mix, bench.freezer_c)
    return tuple(_steps(mix, bench, noticed))


def _steps(mix: Mix, bench: MakingBench, noticed: tuple[Noticed | None, ...]) -> Iterator[MakingStep]:
    lent = _lent(mix)
    if lent.sugar is not None:
        yield _step(mix, bench, lent.sugar, noticed[lent.sugar], lent, mix.lines[lent.sugar].grams, alone=True)
    for stage in _ORDER:
        numbers = [
            at for at, line in enumerate(mix.lines) if line.stage == stage and line.grams > 0 and at != lent.sugar
        ]
        held = lent.sugar_g if stage == "dry" else 0.0
        for place, at in enumerate(sorted(numbers, key=lambda at: _rank(mix.lines[at], at))):
            held += mix.lines[at].grams
            yield _step(mix, bench, at, noticed[at], lent, held, alone=place == 0)


def _rank(line: Line, at: int) -> tuple[int, int]:
    """Put sugar before the gum that goes onto it, and what is wet before what is dry."""
    if line.stage == "dry":
        return (1 if _is_gum(line) else 0, at)
    return (0 if float(line.ingredient.row[_WATER]) >= _WET_PCT else 1, at)


def _is_gum(line: Line) -> bool:
    return line.ingredient.kind == "gum"


def _lent(mix: Mix) -> _Lent:
    """Return which sugar of the pot lends the dry blend what its gums need, and how much of it."""
    gums = sum(line.grams for line in mix.base if line.stage == "dry" and _is_gum(line))
    dry = sum(line.grams for line in mix.base if line.stage == "dry" and not _is_gum(line))
    wanted = SUGAR_PER_GUM * gums - dry
    if gums <= 0 or wanted <= 0:
        return _Lent()
    sugars = [
        at
        for at, line in enumerate(mix.lines)
        if line.ingredient.kind == "sugar" and line.stage in ("pot", None, "cold") and _is_dry(line)
    ]
    most = max(sugars, key=lambda at: mix.lines[at].grams, default=None)
    if most is None:
        return _Lent()
    return _Lent(most, min(float(-(-wanted // 5) * 5), mix.lines[most].grams))


def _is_dry(line: Line) -> bool:
    return float(line.ingredient.row[_WATER]) < _WET_PCT / 4


def _step(
    mix: Mix, bench: MakingBench, at: int, noticed: Noticed | None, lent: _Lent, held_g: float, *, alone: bool
) -> MakingStep:
    line = mix.lines[at]
    step_g = bench.constants.step_g(line.ingredient, line.grams)
    fine = step_g < bench.constants.scale_g
    slack = _slack_g(line, noticed, step_g)
    piece = bench.pieces.get(at)
    count = piece.counted(max(round(line.grams / piece.grams), 1)) if piece else None
    bowl = _CUP if at == lent.sugar else _BOWLS[line.stage]
    return MakingStep(
        id=f"weigh.{at}",
        part="weigh",
        kind="weigh",
        title=say("weigh", "title", name=line.ingredient.name),
        plan_step="weigh",
        do=tuple(_do(line, count, lent.sugar_g if at == lent.sugar else 0.0, bowl, alone=alone)),
        why=_why(line, noticed, slack),
        mind=tuple(_mind(line, step_g, fine=fine)),
        lines=(at,),
        weighing=Weighing(
            at, line.grams, max(line.grams - slack, 0.0), line.grams + slack, step_g, fine, bowl, held_g, count
        ),
        method=(),
    )


def _slack_g(line: Line, noticed: Noticed | None, step_g: float) -> float:
    """Return how far off a line may be: what nobody notices, for a gum as near as its scale shows it."""
    if _is_gum(line):
        return max(step_g, _CLOSE_SHARE * line.grams)
    return max(noticed.grams if noticed else _CLOSE_SHARE * line.grams, step_g)


def _do(line: Line, count: str | None, lends_g: float, bowl: str, *, alone: bool) -> Iterator[Message]:
    if count is not None:
        yield say("weigh", "do-pieces", count=count)
    if lends_g:
        yield say("weigh", "do-lends", bowl=bowl, sugar_g=lends_g, rest=_BOWLS[line.stage])
        return
    if _is_gum(line) and line.stage == "dry":
        yield say("weigh", "do-gum", bowl=bowl)
    else:
        yield say("weigh", "do-alone" if alone else "do-with", bowl=bowl)
    if line.stage in _KEPT_COLD:
        yield say("weigh", "do-cold")
    elif not alone:
        yield say("weigh", "do-scrape")


def _why(line: Line, noticed: Noticed | None, slack_g: float) -> Message:
    if _is_gum(line):
        return say("weigh", "why-gum")
    if line.stage == "yolks" and line.ingredient.kind == "egg":
        return say("weigh", "why-yolks")
    if noticed is None or not noticed.what:
        return say("weigh", "why-loose")
    if slack_g > noticed.grams:
        return say("weigh", "why-scale")
    tenths = 0 if noticed.grams >= _TENTHS_BELOW_G else 1
    return say("weigh", "why-noticed", noticed_g=round(noticed.grams, tenths), what=noticed.what)


def _mind(line: Line, step_g: float, *, fine: bool) -> Iterator[Message]:
    if fine:
        yield say("weigh", "mind-fine")
    if line.grams < _FEW_READINGS * step_g:
        yield say("weigh", "mind-too-little")
