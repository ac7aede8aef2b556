"""A kitchen's own ladders: how much of a flavour or a colour it wants in a kg, learnt dose by dose and lot by lot."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, log
from typing import Final, Literal

import numpy as np

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.learning import TAIL_SD, alike, fit_linear
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import counted

Form = Literal["fresh", "extract", "spirit", "steeped", "colour"]
FORMS: Final[tuple[Form, ...]] = ("fresh", "extract", "spirit", "steeped", "colour")

A_MARK: Final = 1.25
"""A dose that is one mark too strong would be right a quarter lower."""

_OWN_SPAN: Final = 1.25
"""A ladder of one's own goes from so much below the dose that is right to so much above it."""

_LOT_SD: Final = 0.15
_TASTING_SD: Final = 0.20
_UNKNOWN_SD: Final = 1.0
_MOST_G_KG: Final = 1000.0
_LEAF_KEEPS: Final = 3.0
"""g of liquid that a g of leaf keeps when it is strained; a working convention, 2 to 4."""


@dataclass(frozen=True, slots=True)
class DoseTasted:
    """A dose that was tasted: g (of a colour drops) in a kg, and its mark, −2 too faint to 2 too strong.

    lot : what told this lot from others, such as season, ripeness, the day it was picked, the species
    """

    dose: float
    mark: int
    lot: str = ""

    def __post_init__(self) -> None:
        if not 0 < self.dose <= _MOST_G_KG:
            raise TastingError("dose-impossible", dose=self.dose, most=_MOST_G_KG)
        if not -2 <= self.mark <= 2:
            raise TastingError("dose-mark", mark=self.mark)


@dataclass(frozen=True, slots=True)
class OwnLadder:
    """What a kitchen wants: the dose that is right, from the weakest to the strongest that it would serve.

    lots : the same dose by lot, in the order they were tasted
    """

    right: float
    weakest: float
    strongest: float
    n: int
    lots: tuple[tuple[str, float], ...]
    said: Message


def own_ladder(tasted: Sequence[DoseTasted], usual: tuple[float, float] | None) -> OwnLadder | None:
    """Return a kitchen's own ladder, None where nothing was tasted.

    Parameters
    ----------
    usual : the weakest and the strongest usual dose, None where nobody knows

    In logarithms a lot lies around the flavour, a tasting around its lot; the usual ladder is where it begins.
    """
    if not tasted:
        return None
    wanted = np.array([log(one.dose) - one.mark * log(A_MARK) for one in tasted])
    middle = float(wanted.mean()) if usual is None else (log(usual[0]) + log(usual[1])) / 2
    sd = _UNKNOWN_SD if usual is None else log(usual[1] / usual[0]) / 2 / TAIL_SD
    lots = [one.lot for one in tasted]
    together = sd**2 + _LOT_SD**2 * alike(lots)
    fit = fit_linear(wanted - middle, together, np.full(len(wanted), _TASTING_SD))
    right = middle + fit.of(np.full(len(wanted), sd**2), sd**2).mean
    by_lot = []
    for lot in dict.fromkeys(lots):
        own = np.array([one == lot for one in lots], dtype=float)
        found = fit.of(sd**2 + _LOT_SD**2 * own, sd**2 + _LOT_SD**2)
        by_lot.append((lot, exp(middle + found.mean)))
    facts = {"right": exp(right), "entries": counted(len(tasted), "tasting", "tastings")}
    said = (
        Message("dose-own", facts)
        if usual is None
        else Message("dose-own-usual", {**facts, "low": usual[0], "high": usual[1]})
    )
    return OwnLadder(exp(right), exp(right) / _OWN_SPAN, exp(right) * _OWN_SPAN, len(tasted), tuple(by_lot), said)


def drops_in_the_frozen(drops: float, overrun_pct: float) -> Message:
    """Return roughly how many drops in a kg of mix show the shade of the base once air has paled it."""
    return Message("colour-pales", {"overrun_pct": overrun_pct, "drops": drops * (1 + overrun_pct / 100)})


def leaf_keeps(leaf_g_kg: float) -> Message:
    """Return what steeping does not hold: the liquid that stays in the leaf."""
    return Message("leaf-keeps", {"leaf_g": leaf_g_kg, "kept_g": _LEAF_KEEPS * leaf_g_kg})
