"""A kitchen's log as learning reads it: what was made, measured and tasted. Days are ISO days, temperatures °C."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Final

import numpy as np

from jalebi_core.assessment.analysis import WHOLE_DEGREES_C, analyse_mix
from jalebi_core.model.components import FloatArray
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import styles
from jalebi_core.physics.firmness import air_factor, hardening
from jalebi_core.tasting.overrun import CupWeighed

USUAL_OVERRUN_PCT: Final = 30.0
_AIR_LIMITS: Final = (-10.0, 150.0)


@dataclass(frozen=True, slots=True)
class Freezer:
    """A freezer, and what its dial or its maker says; None where the dial has marks only."""

    name: str
    dial_c: float | None


@dataclass(frozen=True, slots=True)
class LogMachine:
    """A machine, and the air that its kind beats in, %."""

    name: str
    air_pct: tuple[float, float]


@dataclass(frozen=True, slots=True)
class Reading:
    """What a thermometer showed overnight in a freezer, in a tub or in its air."""

    id: str
    at: date
    freezer: str
    t_c: float
    in_tub: bool


@dataclass(frozen=True, slots=True)
class Facts:
    """What is known of a batch's mix: the curve, % of all water frozen at °C from warm to cold, and the rest.

    hardened : points of firmness that cocoa, nuts and solid fat add to ice
    churn_min : how long a run was forecast to take
    """

    t_c: FloatArray
    frozen_pct: FloatArray
    sweetness_pod: float | None = None
    overrun_pct: float | None = None
    churn_min: float | None = None
    hardened: float = 0.0

    @classmethod
    def of_mix(cls, mix: Mix, churn_min: float | None = None) -> Facts:
        """Return the facts of a mix by its analysis."""
        found = analyse_mix(mix)
        return cls(
            WHOLE_DEGREES_C,
            found.frozen_pct,
            float(found.sweetness_pod),
            mix.overrun_used_pct,
            churn_min,
            float(hardening(found.row)),
        )

    def firmness(self, t_c: FloatArray, overrun_pct: float) -> FloatArray:
        """Return the firmness at temperatures, shape (...): straight between the points of the curve."""
        frozen = np.interp(-t_c, -self.t_c, self.frozen_pct)
        return np.asarray(
            frozen * air_factor(np.array(overrun_pct)) + np.where(frozen > 0, self.hardened, 0.0), dtype=np.float64
        )


@dataclass(frozen=True, slots=True)
class Made:
    """What a batch came to: air measured or by one cup weighed twice, minutes, g in and out, ice at the draw."""

    overrun_pct: float | None = None
    cup: CupWeighed | None = None
    churn_min: float | None = None
    in_g: float | None = None
    out_g: float | None = None
    draw_ice_g: float | None = None

    @property
    def air_pct(self) -> float | None:
        """The measured air, None where nobody measured it."""
        if self.overrun_pct is not None:
            return self.overrun_pct
        return None if self.cup is None else self.cup.overrun_pct


@dataclass(frozen=True, slots=True)
class Tasting:
    """What somebody said of a batch: a firmness word, a mark for sweetness from −2 to 2; straight out of a freezer or
    at a measured temperature, which counts where both are known."""

    id: str
    at: date
    by: str = ""
    freezer: str | None = None
    t_c: float | None = None
    firmness: str | None = None
    sweetness_mark: int | None = None


@dataclass(frozen=True, slots=True)
class Batch:
    """A batch with what was measured and tasted of it."""

    id: str
    at: date
    facts: Facts
    machine: str | None = None
    style: str | None = None
    made: Made = Made()
    tastings: tuple[Tasting, ...] = ()

    @property
    def served_overrun_pct(self) -> float:
        """The air that its firmness is reckoned with: measured where that is believable, else planned, else usual."""
        air = self.made.air_pct
        if air is not None and _AIR_LIMITS[0] <= air <= _AIR_LIMITS[1]:
            return air
        return USUAL_OVERRUN_PCT if self.facts.overrun_pct is None else self.facts.overrun_pct

    @property
    def sweetness_band(self) -> tuple[float, float] | None:
        """The sweetness that its style usually has, None where it has none."""
        return None if self.style is None else styles()[self.style].bands.get("sweetness")


@dataclass(frozen=True, slots=True)
class FruitLot:
    """A lot of fruit as it was read with a refractometer."""

    id: str
    at: date
    fruit: str
    brix: float
    usual_brix: float
    supplier: str | None = None
    season: str | None = None


@dataclass(frozen=True, slots=True)
class PieceWeighing:
    """Some pieces weighed together."""

    id: str
    at: date
    ingredient: str
    piece: str
    usual_g: float
    pieces: float
    grams: float


@dataclass(frozen=True, slots=True)
class Log:
    """All that a kitchen has noted.

    ice_water_c : what its thermometer shows in ice water, None where nobody looked
    left_out : ids that do not count; since : by parameter the first day that counts
    """

    freezers: tuple[Freezer, ...] = ()
    ice_water_c: float | None = None
    machines: tuple[LogMachine, ...] = ()
    readings: tuple[Reading, ...] = ()
    batches: tuple[Batch, ...] = ()
    lots: tuple[FruitLot, ...] = ()
    weighings: tuple[PieceWeighing, ...] = ()
    left_out: frozenset[str] = frozenset()
    since: Mapping[str, date] = field(default_factory=dict)

    def counts(self, key: str, id: str, at: date) -> bool:
        """Tell whether an entry counts for a parameter."""
        first = self.since.get(key)
        return id not in self.left_out and (first is None or at >= first)
