"""What is changed against a cause: something in the work, or the mix as made, by Balance and the levers."""

from __future__ import annotations

from typing import Final

from jalebi_core.advice.adjustments import help_for
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.balance.job_context import JobContext, alone
from jalebi_core.balance.quantities import FLAVOUR, quantity_of
from jalebi_core.balance.request import Aim
from jalebi_core.balance.solving import balance
from jalebi_core.balance.summary import summary
from jalebi_core.model.errors import BalanceError
from jalebi_core.tasting.diagnosis import Cause
from jalebi_core.wording.message import Message

_ROOM: Final = 0.02
_SWEET_ROOM: Final = 0.03
_LEAST_ROOM: Final = {"hydrocolloids": 0.01, "total_solids": 0.3, "fat": 0.3}
_SWEETNESS_WITHOUT_LIKING: Final = {"too_sweet": 0.9, "not_sweet": 1.1}


def remedy(cause: Cause, context: JobContext, sweetness_ideal: float | None = None) -> Message:
    """Return what is done against a cause in the next batch.

    Parameters
    ----------
    context : the mix as it was made, its freezer and shelf
    sweetness_ideal : what is sweet enough for this kitchen, None where nobody knows
    """
    change = cause.change
    if change["do"] in ("process", "shelf"):
        return Message("said", {"text": change["said"]})
    if change["do"] == "aim":
        return _by_aim(cause, context, sweetness_ideal)
    return _by_exchange(str(change["outcome"]), context)


def _by_aim(cause: Cause, context: JobContext, sweetness_ideal: float | None) -> Message:
    aim = _aim(cause, context, sweetness_ideal)
    if aim is None:
        return Message("remedy-none")
    try:
        found = balance(alone(context, (aim,)))
    except BalanceError as error:
        return Message("remedy-refused", {"because": error.message})
    return summary(found, asked=False) if found.changed else Message("remedy-none")


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
    elif "factor" in cause.change:
        wanted = now * cause.change["factor"]
    else:
        wanted = sweetness_ideal or now * _SWEETNESS_WITHOUT_LIKING[cause.key]
    room = max((_SWEET_ROOM if of == "sweetness" else _ROOM) * wanted, _LEAST_ROOM.get(of, 0.0))
    return Aim(of, max(0.0, wanted - room), wanted + room)


def _by_exchange(outcome: str, context: JobContext) -> Message:
    helps = help_for(context.mix, context.freezer_c, context.shelf, context.restrictions)
    found = next((one for one in helps if one.key == outcome), None)
    if found is None:
        return Message("remedy-not-in-mix")
    if found.found:
        return found.found[0].said
    return found.none or Message("remedy-none")
