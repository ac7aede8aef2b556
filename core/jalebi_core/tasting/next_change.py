"""The one change for the next batch: the mark that costs most in liking, as an aim for which the rest stays."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import doses_of
from jalebi_core.balance.job_context import JobContext, alone
from jalebi_core.balance.quantities import FLAVOUR, quantity_of
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.model.mix import Mix
from jalebi_core.tasting.card import Card, attributes
from jalebi_core.tasting.liking import Liked, Penalty, penalties_of
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import counted

_FROM: Final = 0.5
"""A mean mark nearer to just right than this asks for nothing."""

_SWEET_ROOM: Final = 0.03
_FIRMNESS_A_MARK: Final = 4.0
_FAT_A_MARK_G: Final = 2.5
_SOLIDS_A_MARK_G: Final = 2.0
_FLAVOUR_A_MARK: Final = 1.25
_ACID_A_MARK: Final = 1.15
_AIR_A_MARK_PCT: Final = 8.0
_ROOM: Final = {"fat": 0.3, "total_solids": 0.3, "firmness": 1.0}
_OF_AIM: Final = {
    "sweetness": "sweetness",
    "firmness": "firmness",
    "richness": "fat",
    "body": "total_solids",
    "flavour": FLAVOUR,
    "tartness": "acids",
}


@dataclass(frozen=True, slots=True)
class Marked:
    """What tasters marked of an attribute on the cards of one mix.

    mark : their mean, drawn in to n/(n+1) of it; n : how many marked it
    weight : what it costs in liking, None where nobody found it just right or nobody said how much he likes it
    """

    attribute: str
    mark: float
    n: int
    weight: float | None


@dataclass(frozen=True, slots=True)
class NextChange:
    """One change: what was marked, and the aim that answers it, or the air that the machine is to beat in."""

    marked: Marked
    aim: Aim | None
    overrun_pct: float | None
    said: Message

    def times(self, mix: Mix, by: float, serve_c: float) -> float:
        """Return the aim's middle for so many times the change, 0 for today's."""
        if self.aim is None:
            return mix.overrun_used_pct + by * ((self.overrun_pct or 0.0) - mix.overrun_used_pct)
        now = _now(mix, self.aim.of, serve_c)
        return now + by * ((self.aim.low + self.aim.high) / 2 - now)


def marked_on(cards: Sequence[tuple[str, Card]]) -> list[Marked]:
    """Return what cards mark, those that cost most in liking first, then those farthest from just right.

    Parameters
    ----------
    cards : the taster and the card, all of one mix
    """
    found = []
    penalties = _penalties(cards)
    for key, attribute in attributes().items():
        marks = [card.marks[key] for _, card in cards if key in card.marks]
        if attribute.kind == "wanted" and marks:
            n = len(marks)
            mean = float(np.mean(marks)) * n / (n + 1)
            side = "too much" if mean > 0 else "too little"
            found.append(Marked(key, mean, n, penalties.get((key, side))))
    return sorted(found, key=lambda one: (-(one.weight or 0.0), -abs(one.mark)))


def _penalties(cards: Iterable[tuple[str, Card]]) -> dict[tuple[str, str], float]:
    liked = [Liked(who, "", card.liking, card.marks) for who, card in cards if card.liking is not None]
    found: list[Penalty] = penalties_of(liked, ("",))
    return {(one.attribute, one.side): one.weight for one in found if one.weight is not None}


def next_change(
    mix: Mix, cards: Sequence[tuple[str, Card]], serve_c: float, sweetness_ideal: float | None = None
) -> NextChange | None:
    """Return the change to offer, None where every mark is near just right, or nothing can be aimed at."""
    for marked in marked_on(cards):
        if abs(marked.mark) >= _FROM and (found := _change(mix, marked, serve_c, sweetness_ideal)) is not None:
            return found
    return None


def _change(mix: Mix, marked: Marked, serve_c: float, sweetness_ideal: float | None) -> NextChange | None:
    attribute = attributes()[marked.attribute]
    assert attribute.off is not None
    end = attribute.off[1 if marked.mark > 0 else 0]
    said = {"name": attribute.name, "end": end, "marks": counted(marked.n, "mark", "marks")}
    if marked.attribute == "air":
        air = max(0.0, mix.overrun_used_pct - _AIR_A_MARK_PCT * marked.mark)
        return NextChange(
            marked, None, air, Message("change-air", {**said, "before": mix.overrun_used_pct, "after": air})
        )
    aim = _aim(mix, marked, serve_c, sweetness_ideal)
    if aim is None:
        return None
    quantity = quantity_of(aim.of, aim.at_c, mix, ())
    now = _now(mix, aim.of, serve_c)
    middle = (aim.low + aim.high) / 2
    unit = f" {quantity.unit}" if quantity.unit else ""
    facts = {**said, "what": quantity.name, "before": now, "after": middle, "unit": unit}
    return NextChange(marked, aim, None, Message("change-aim", facts))


def _aim(mix: Mix, marked: Marked, serve_c: float, sweetness_ideal: float | None) -> Aim | None:
    of = _OF_AIM.get(marked.attribute)
    if of is None:
        return None
    at_c = serve_c if of == "firmness" else None
    if of == FLAVOUR:
        doses = doses_of(mix)
        if not doses:
            return None
        wanted = doses[0].g_per_kg * _FLAVOUR_A_MARK**-marked.mark
        return Aim(FLAVOUR + doses[0].flavouring, 0.98 * wanted, 1.02 * wanted)
    now = _now(mix, of, serve_c)
    if of == "sweetness":
        middle = sweetness_ideal if sweetness_ideal is not None else now * float(np.exp(-0.12 * marked.mark))
        return Aim(of, (1 - _SWEET_ROOM) * middle, (1 + _SWEET_ROOM) * middle)
    if of == "acids":
        if now <= 0:
            return None
        wanted = now * _ACID_A_MARK**-marked.mark
        return Aim(of, 0.98 * wanted, 1.02 * wanted)
    by = {"firmness": _FIRMNESS_A_MARK, "fat": _FAT_A_MARK_G, "total_solids": _SOLIDS_A_MARK_G}[of]
    middle = max(0.0, now - by * marked.mark)
    return Aim(of, max(0.0, middle - _ROOM[of]), middle + _ROOM[of], at_c=at_c)


def _now(mix: Mix, of: str, serve_c: float) -> float:
    return quantity_of(of, serve_c if of == "firmness" else None, mix, ()).of_mix(mix)


def request_of(change: NextChange, context: JobContext, pins: Mapping[int, Limits]) -> BalanceRequest | None:
    """Return what Balance is asked for a change of composition, all else as it eats today; None where it is of air."""
    if change.aim is None:
        return None
    request = alone(context, (change.aim,))
    return replace(request, limits={**request.limits, **pins})


def balanced(change: NextChange, context: JobContext, pins: Mapping[int, Limits]) -> Balanced | None:
    """Return the balance that a change comes to."""
    request = request_of(change, context, pins)
    return None if request is None else balance(request)


@dataclass(frozen=True, slots=True)
class Afterwards:
    """Whether the last change was right: the mark before and after it, and in words."""

    attribute: str
    before: float
    after: float
    said: Message


def afterwards(attribute: str, before: Sequence[int], after: Sequence[int]) -> Afterwards | None:
    """Return whether a change of an attribute did what it was made for, None where nobody marked it since."""
    if not before or not after or attribute not in attributes():
        return None
    was, now = float(np.mean(before)), float(np.mean(after))
    if not (isfinite(was) and isfinite(now)):
        return None
    name = attributes()[attribute].name
    if was * now < 0 and abs(now) >= _FROM:
        code = "afterwards-too-far"
    elif abs(now) < _FROM:
        code = "afterwards-right"
    elif abs(now) < abs(was) - 0.25:
        code = "afterwards-nearer"
    else:
        code = "afterwards-not"
    return Afterwards(attribute, was, now, Message(code, {"name": name, "before": was, "after": now}))
