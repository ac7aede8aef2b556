"""What a change does to a mix: the same figures before and after, and a sentence of what a taster would notice."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import isfinite, isnan
from typing import Final

import numpy as np

from jalebi_core.assessment.analysis import Analysis, analyse
from jalebi_core.assessment.cautions import free_glucose_most
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.assessment.outcomes import per_100g_water
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import bulk_sweetener, hydrocolloids, protein
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF, noticeable
from jalebi_core.wording.message import Message


@dataclass(frozen=True, slots=True)
class Effect:
    """Differences after − before; NaN where there is none.

    g per 100 g of mix, sweetness in g sucrose equivalents, lactose in g per 100 g of water, °C.
    """

    fat: float
    total_solids: float
    protein: float
    lactose_in_water: float
    acids: float
    sweetness_pod: float
    scoop_c: float
    mass_g: float
    message: Message

    @property
    def size(self) -> float:
        """How far the mix moves, in steps that a taster would notice; working convention, used to rank only."""
        cold = 5.0 if isnan(self.scoop_c) else abs(self.scoop_c)
        body = abs(self.fat) / 2 + abs(self.total_solids) / 2 + abs(self.protein) + abs(self.lactose_in_water) / 2
        return body + abs(self.sweetness_pod) / 1.5 + cold


def effects_of(before: Mix, after: Sequence[Mix], leave_out: Sequence[Iterable[str]] = ()) -> list[Effect]:
    """Compare a mix with others, all worked out at once.

    Parameters
    ----------
    leave_out : for each of the others, the figures that are not spoken of, such as the one that a change is made for
    """
    if not after:
        return []
    mixes = (before, *after)
    mass_g = np.array([mix.mass_g for mix in mixes])
    overrun_pct = np.array([mix.overrun_used_pct for mix in mixes])
    found = analyse(np.array([mix.row() for mix in mixes]), mass_g, overrun_pct, _NO_CURVE)
    figures = _figures(found)
    each = [{key: float(values[at]) for key, values in figures.items()} for at in range(len(mixes))]
    silent = leave_out or [()] * len(after)
    return [
        Effect(
            **{key: now[key] - each[0][key] for key in now},
            mass_g=float(mass_g[at] - mass_g[0]),
            message=_message(_Change(before, mix, each[0], now), frozenset(silent[at - 1])),
        )
        for at, (mix, now) in enumerate(zip(after, each[1:], strict=True), start=1)
    ]


_NO_CURVE: Final = np.array([])


def _figures(found: Analysis) -> dict[str, FloatArray]:
    return {
        "fat": found.fat,
        "total_solids": found.total_solids,
        "protein": protein(found.row),
        "lactose_in_water": per_100g_water(found.row, "lactose"),
        "acids": found.row[..., INDEX["acids"]],
        "sweetness_pod": found.sweetness_pod,
        "scoop_c": found.scoop_c,
    }


@dataclass(frozen=True, slots=True)
class _Change:
    """A mix before and after, with the figures of both."""

    before: Mix
    after: Mix
    was: dict[str, float]
    now: dict[str, float]


_TART_FROM_G: Final = 0.2
_FELT: Final = {
    "sweetness_pod": ("sweetness", "sweeter", "less-sweet"),
    "fat": ("fat", "richer", "leaner"),
    "total_solids": ("total_solids", "fuller", "thinner"),
    "protein": ("protein", "more-protein", "less-protein"),
    "lactose_in_water": ("lactose", "sandier", "less-sandy"),
}
"""Figures with their step, and what is said of more and of less."""

Felt = tuple[float, Message]
"""How many steps it is, and what is said of it."""


def _message(change: _Change, leave_out: frozenset[str]) -> Message:
    """Return what a taster would notice, the biggest first; nothing under half a step."""
    found = [felt for key, tell in _TOLD.items() if key not in leave_out for felt in tell(change)]
    steps = noticeable()
    for key, (step, more, less) in _FELT.items():
        if key not in leave_out:
            moved = float(steps[step].steps(change.was[key], change.now[key]))
            by = change.now[key] - change.was[key]
            found.append((abs(moved), Message(more if by > 0 else less, {"by": by})))
    felt = sorted((one for one in found if one[0] >= HALF), key=lambda one: -one[0])
    return Message("felt", {"parts": [message for _, message in felt]}) if felt else Message("nothing-felt")


_FIRST: Final = 100.0
"""Steps of what is told before all else."""


def _colder(change: _Change) -> Iterator[Felt]:
    before, after = change.was["scoop_c"], change.now["scoop_c"]
    if isfinite(before) and not isfinite(after):
        yield _FIRST, Message("sets-no-more")
    elif isfinite(after) and not isfinite(before):
        yield _FIRST, Message("sets-now", {"scoop_c": after})
    elif isfinite(after):
        code = "scoops-warmer" if after > before else "scoops-colder"
        steps = abs(float(noticeable()["scoop_c"].steps(before, after)))
        yield steps, Message(code, {"by_c": abs(after - before), "scoop_c": after})


def _tarter(change: _Change) -> Iterator[Felt]:
    """Acid is felt against sweetness."""
    was, now = change.was, change.now
    if max(was["acids"], now["acids"]) < _TART_FROM_G:
        return
    before, after = was["acids"] * now["sweetness_pod"], now["acids"] * was["sweetness_pod"]
    steps = float(noticeable()["acid_sweetness"].steps(before, after))
    yield min(abs(steps), _FIRST / 2), Message("tarter" if steps > 0 else "less-tart")


def _flavour(change: _Change) -> Iterator[Felt]:
    doses = {dose.flavouring: dose.g_per_kg for dose in doses_of(change.after)}
    for dose in doses_of(change.before)[:1]:
        steps = float(noticeable()["flavour_g_kg"].steps(dose.g_per_kg, doses.get(dose.flavouring, 0.0)))
        yield min(abs(steps), _FIRST / 2), Message("stronger" if steps > 0 else "weaker", {"name": dose.flavouring})


def _air(change: _Change) -> Iterator[Felt]:
    before, after = change.before.overrun_used_pct, change.after.overrun_used_pct
    steps = float(noticeable()["overrun"].steps(before, after))
    yield abs(steps), Message("airier" if steps > 0 else "denser")


def _gum(change: _Change) -> Iterator[Felt]:
    before, after = (float(hydrocolloids(mix.row())) for mix in (change.before, change.after))
    steps = float(noticeable()["hydrocolloids"].steps(before, after))
    yield abs(steps), Message("more-gum" if steps > 0 else "less-gum", {"by": after - before})


def _glucose(change: _Change) -> Iterator[Felt]:
    """Much free glucose cools the tongue and tastes thin."""
    before, after = (_free_glucose(mix) for mix in (change.before, change.after))
    most = free_glucose_most(change.after)
    if after > max(most, before + 0.01):
        yield 1.0, Message("cooling", {"share_pct": 100 * after})


def _free_glucose(mix: Mix) -> float:
    row = mix.row()
    sweet = float(bulk_sweetener(row))
    return float(row[INDEX["glucose"]]) / sweet if sweet > 0 else 0.0


_TOLD: Final = {
    "scoop_c": _colder,
    "tartness": _tarter,
    "flavour": _flavour,
    "overrun": _air,
    "gum": _gum,
    "glucose": _glucose,
}
"""What is told beside the figures of `_FELT`, by the name under which it is left out."""
