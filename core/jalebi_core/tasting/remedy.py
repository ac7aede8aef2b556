"""What is changed against a cause: something in the work, or the mix as made, by Balance and the levers."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

from jalebi_core.advice.adjustments import NewAmount, help_for
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.balance.job_context import JobContext, alone
from jalebi_core.balance.quantities import FLAVOUR, quantity_of
from jalebi_core.balance.request import Aim
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.balance.summary import summary
from jalebi_core.model.errors import BalanceError
from jalebi_core.tasting.batch_facts import mix_facts
from jalebi_core.tasting.diagnosis import Cause
from jalebi_core.wording.message import Message


@dataclass(frozen=True, slots=True)
class Remedy:
    """What is done against a cause: lines that weigh something else then, another overrun, or neither; and in words."""

    said: Message
    lines: tuple[NewAmount, ...] = ()
    overrun_pct: float | None = None


_BY_SEVERAL: Final = {
    "sand": ("lactose", 0.8),
    "grit": ("erythritol", 0.75),
    "butter": ("fat", 0.9),
    "iciness": ("total_solids", 1.06),
}
"""What is aimed at where no single exchange cures an outcome, and how much of it beside now."""
_ROOM: Final = 0.02
_SWEET_ROOM: Final = 0.03
_LEAST_ROOM: Final = {"hydrocolloids": 0.01, "total_solids": 0.3, "fat": 0.3}
_SWEETNESS_WITHOUT_LIKING: Final = {"too_sweet": 0.9, "not_sweet": 1.1}


def remedy(cause: Cause, context: JobContext, sweetness_ideal: float | None = None) -> Remedy:
    """Return what is done against a cause in the next batch.

    Parameters
    ----------
    context : the mix as it was made, its freezer and shelf
    sweetness_ideal : what is sweet enough for this kitchen, None where nobody knows
    """
    change = cause.change
    if change["do"] in ("process", "shelf"):
        return Remedy(Message("said", {"text": change["said"]}))
    if change["do"] == "aim":
        return _by_aim(cause, context, sweetness_ideal)
    return _by_exchange(str(change["outcome"]), context)


def _by_aim(cause: Cause, context: JobContext, sweetness_ideal: float | None) -> Remedy:
    aim = _aim(cause, context, sweetness_ideal)
    if aim is None:
        return Remedy(Message("remedy-none"))
    try:
        found = balance(alone(context, (aim,)))
    except BalanceError as error:
        return Remedy(Message("remedy-refused", {"because": error.message}))
    return Remedy(summary(found, asked=False), _amounts(found)) if found.changed else Remedy(Message("remedy-none"))


def _amounts(found: Balanced) -> tuple[NewAmount, ...]:
    problem = found.problem
    lines = problem.request.mix.lines
    moved = [
        NewAmount(
            number, lines[number].ingredient.slug, lines[number].ingredient.name, lines[number].stage, float(grams)
        )
        for number, grams, now in zip(problem.numbers, found.grams, problem.now, strict=False)
        if grams != now
    ]
    coming = zip(problem.request.may_add, found.grams[problem.lines :], strict=True)
    return (*moved, *(NewAmount(None, one.slug, one.name, None, float(grams)) for one, grams in coming if grams > 0))


def _aim(cause: Cause, context: JobContext, sweetness_ideal: float | None) -> Aim | None:
    of = str(cause.change["of"])
    mix = context.mix
    if of == "flavour":
        doses = doses_of(mix)
        if not doses:
            return None
        wanted = doses[0].g_per_kg * cause.change["factor"]
        return Aim(FLAVOUR + doses[0].flavouring, (1 - _ROOM) * wanted, (1 + _ROOM) * wanted)
    now = quantity_of(of, None, mix, ()).of_mix(mix)
    if "step" in cause.change:
        wanted = max(0.0, now + cause.change["step"])
        if cause.key == "gum_over":
            wanted = min(wanted, now / max(mix_facts(mix).get("gum_pct_top", 1.0), 1.0))
    elif "factor" in cause.change:
        wanted = now * cause.change["factor"]
    else:
        wanted = sweetness_ideal or now * _SWEETNESS_WITHOUT_LIKING[cause.key]
    room = max((_SWEET_ROOM if of == "sweetness" else _ROOM) * wanted, _LEAST_ROOM.get(of, 0.0))
    return Aim(of, max(0.0, wanted - room), wanted + room)


def _by_exchange(outcome: str, context: JobContext) -> Remedy:
    helps = help_for(context.mix, context.freezer_c, context.shelf, context.restrictions)
    found = next((one for one in helps if one.key == outcome), None)
    if found is None:
        return Remedy(Message("remedy-not-in-mix"))
    if found.found:
        first = found.found[0]
        return Remedy(first.said, first.lines, first.overrun_pct)
    instead = _instead(outcome, context)
    return instead if instead is not None else Remedy(found.none or Message("remedy-none"))


def _instead(outcome: str, context: JobContext) -> Remedy | None:
    """Return several lines at once where no single exchange cures an outcome; None where that does not help either."""
    if outcome not in _BY_SEVERAL:
        return None
    of, factor = _BY_SEVERAL[outcome]
    wanted = factor * quantity_of(of, None, context.mix, ()).of_mix(context.mix)
    aim = Aim(of, high=wanted) if factor < 1 else Aim(of, low=wanted)
    try:
        found = balance(alone(context, (aim,)))
    except BalanceError:
        return None
    return Remedy(summary(found, asked=False), _amounts(found)) if found.changed else None
