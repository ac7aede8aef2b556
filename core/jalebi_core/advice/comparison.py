"""What a change does to a mix: the same figures before and after, and a sentence of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import isfinite, isnan
from typing import Final

import numpy as np

from jalebi_core.assessment.analysis import Analysis, analyse
from jalebi_core.assessment.outcomes import per_100g_water
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import protein
from jalebi_core.model.mix import Mix
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


def effects_of(before: Mix, after: Sequence[Mix]) -> list[Effect]:
    """Compare a mix with others, all worked out at once."""
    mixes = (before, *after)
    mass_g = np.array([mix.mass_g for mix in mixes])
    overrun_pct = np.array([mix.overrun_used_pct for mix in mixes])
    found = analyse(np.array([mix.row() for mix in mixes]), mass_g, overrun_pct, _NO_CURVE)
    figures = _figures(found)
    each = [{key: float(values[at]) for key, values in figures.items()} for at in range(len(mixes))]
    return [
        Effect(
            **{key: now[key] - each[0][key] for key in now},
            mass_g=float(mass_g[at] - mass_g[0]),
            message=_message(each[0], now),
        )
        for at, now in enumerate(each[1:], start=1)
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


_LEAST_FELT_C: Final = 0.3
_LEAST_FELT_TARTER: Final = 0.1
_TART_FROM_G: Final = 0.05
_FELT: Final = {
    "sweetness_pod": (0.3, "sweeter", "less-sweet"),
    "fat": (0.3, "richer", "leaner"),
    "total_solids": (0.3, "fuller", "thinner"),
    "protein": (0.4, "more-protein", "less-protein"),
    "lactose_in_water": (0.8, "sandier", "less-sandy"),
}
"""From where a taster notices, and what is said of more and of less.

Working conventions, as are the degrees and that acid is felt against sweetness, from a tenth more of the ratio.
"""


def _message(was: dict[str, float], now: dict[str, float]) -> Message:
    parts = [*_colder(was["scoop_c"], now["scoop_c"]), *_tarter(was, now)]
    for key, (least_felt, more, less) in _FELT.items():
        moved = now[key] - was[key]
        if abs(moved) >= least_felt:
            parts.append(Message(more if moved > 0 else less, {"by": moved}))
    return Message("felt", {"parts": parts}) if parts else Message("nothing-felt")


def _colder(before: float, after: float) -> Iterator[Message]:
    if isfinite(before) and not isfinite(after):
        yield Message("sets-no-more")
    elif isfinite(after) and not isfinite(before):
        yield Message("sets-now", {"scoop_c": after})
    elif isfinite(after) and abs(after - before) >= _LEAST_FELT_C:
        code = "scoops-warmer" if after > before else "scoops-colder"
        yield Message(code, {"by_c": abs(after - before), "scoop_c": after})


def _tarter(was: dict[str, float], now: dict[str, float]) -> Iterator[Message]:
    if max(was["acids"], now["acids"]) < _TART_FROM_G:
        return
    before, after = was["acids"] * now["sweetness_pod"], now["acids"] * was["sweetness_pod"]
    if abs(after - before) > _LEAST_FELT_TARTER * min(before, after):
        yield Message("tarter" if after > before else "less-tart")
