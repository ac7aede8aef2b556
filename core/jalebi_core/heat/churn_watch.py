"""A run that is watched: how fast the machine and how cold its bowl really are, by what is measured, and how it ends.

Runs of the machine, faster and slower than it is taken to be, with less of its gel frozen, and begun later, are laid
beside what a thermometer shows; each counts by how near it comes to that, and by how likely it was before anything was
measured. A real bowl loads, films over and shows late: what is read before first ice counts little, and the last third
most. Where no run comes near what is shown, nothing is said but that.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import exp
from typing import Final

import numpy as np

from jalebi_core.heat.churn import Churner, Conditions, churn, gel_frozen_pct
from jalebi_core.heat.enthalpy import Thermal
from jalebi_core.model.components import FloatArray
from jalebi_core.wording.message import Message

_SPEEDS: Final = 9
_WIDEST_SD: Final = 2.0
_GEL_LESS_PCT: Final = (0.0, 12.0, 24.0, 36.0, 48.0)
_GEL_SD_PCT: Final = 18.0
_LEAST_GEL_PCT: Final = 10.0
_BETWEEN: Final = 6
"""Runs between two that were computed, straight from one to the other."""
_BIN_MIN: Final = 0.5
_FIRST_MIN: Final = 1.0
"""Before that a thermometer still shows what it came from."""
_NOISE_K: Final = 0.15
"""Of one half minute: the thermometer, its place in the bowl, and what the forecast itself does not know."""
_OFFSET_K: Final = 0.2
"""What a thermometer may be wrong by."""
_LATE_MIN: Final = (0.0, 1.0, 2.0, 3.0, 4.0, 5.0, 6.0)
_LATE_USUAL_MIN: Final = 4.0
"""By how much a run may be behind its forecast from the start, and how much is usual."""
_BEFORE_ICE: Final = 0.1
_LAST_THIRD: Final = 2.0
"""What a half minute counts before first ice and in the last third, beside any other."""
_MOST_COUNTED: Final = 24.0
"""Half minutes of one run are not strangers to each other: no more than so many count."""
_USUAL: Final = (_SPEEDS - 1) * _BETWEEN // 2
"""The guess that nothing is otherwise than it is taken to be."""
_POOR_K: Final = 0.4
_POOR_BEFORE_ICE_K: Final = 3.0
_LEAST_ICY: Final = 2
"""Farther than so many K from the likeliest run nothing is told; nor before so many half minutes with ice."""
_TREND_MIN: Final = 3.0
_FALLING_K_MIN: Final = 0.03
_MUCH_LATER: Final = 2.0
"""By how many minutes a trend goes, what still is a fall, and within how many times the forecast it is on course."""
_GRID_MIN: Final = 0.25
_SETTLED_MIN: Final = (0.4, 1.6)
_LEAST_SETTLED: Final = 4
_PAST_THE_DRAW_G: Final = 10.0
_STANDS_K: Final = 0.05
_TAILS: Final = (0.1, 0.5, 0.9)
_NOW_MIN: Final = 0.5
_LATER_MIN: Final = 1.0
_WARM_K: Final = 2.0
"""How it went in is known to a degree or so: the mix falls faster than a thermometer follows."""


@dataclass(frozen=True, slots=True)
class Expected:
    """What a run may look like, one row for each guess at machine and bowl.

    factor, gel_pct, prior : shape (guesses,); gel NaN for a machine without gel; prior adds up to 1
    minute : shape (minutes,); t_c : shape (guesses, minutes)
    drawn_min, ends_c : shape (guesses,); minutes until it is drawn, infinite where it stalls, and how cold it gets
    draw_c : where it is drawn; first_ice_c : where its first ice forms
    """

    factor: FloatArray
    gel_pct: FloatArray
    prior: FloatArray
    minute: FloatArray
    t_c: FloatArray
    drawn_min: FloatArray
    ends_c: FloatArray
    draw_c: float
    first_ice_c: float

    @property
    def planned_min(self) -> float:
        """How long the run was taken to last; infinite where it stalls."""
        return float(self.drawn_min[_USUAL])


@dataclass(frozen=True, slots=True)
class Watched:
    """How a run stands and goes on, by what was measured.

    t_c, frozen_pct : now; draw_c : where it is taken out
    can_tell : whether what is shown after first ice looks like a run at all
    left_min, earliest_min, latest_min : until it is drawn, the middle and the 80 % around it; None where it stalls
    stalls_c, stalls_in_min : where it gets no colder, and in how many minutes; None where it is drawn
    stalls_chance : how likely that is
    factor : how fast the machine is beside its kind
    planned, ahead : (minute, °C), as it was forecast, and from now on
    """

    minute: float
    t_c: float
    frozen_pct: float
    draw_c: float
    can_tell: bool
    left_min: float | None
    earliest_min: float | None
    latest_min: float | None
    stalls_c: float | None
    stalls_in_min: float | None
    stalls_chance: float
    factor: float
    planned: tuple[tuple[float, float], ...]
    ahead: tuple[tuple[float, float], ...]


def began_at(measured: Sequence[tuple[float, float]]) -> float | None:
    """Return the °C at which a run began, by how it falls once the thermometer has come to it; None before that."""
    settled = np.array([one for one in measured if _SETTLED_MIN[0] <= one[0] <= _SETTLED_MIN[1]], dtype=np.float64)
    if len(settled) < _LEAST_SETTLED or np.ptp(settled[:, 0]) <= 0 or max(one for one, _ in measured) < _SETTLED_MIN[1]:
        return None
    return float(np.polyval(np.polyfit(settled[:, 0], settled[:, 1], 2), 0.0))


def expect(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions, factor_sd: float) -> Expected:
    """Return what a run may look like in a machine, the first guess being that it is as it is taken to be.

    Parameters
    ----------
    factor_sd : how sure the machine's factor is, the standard deviation of its logarithm
    """
    draw_c = _draw_c(mix, machine, conditions)
    sds = np.linspace(-_WIDEST_SD, _WIDEST_SD, _SPEEDS)
    speeds = [machine.factor * exp(factor_sd * float(sd)) for sd in sds]
    gels = _gels(machine, conditions)
    minute = np.arange(0.0, machine.max_min + _LATE_MIN[-1] + _GRID_MIN, _GRID_MIN)
    curves = np.array(
        [
            _curve(mix, mass_g, replace(machine, factor=speed), replace(conditions, gel_frozen_pct=gel), minute)
            for gel, speed in product([given for given, _, _ in gels], speeds)
        ]
    ).reshape(len(gels), _SPEEDS, -1)
    at = np.linspace(0, _SPEEDS - 1, (_SPEEDS - 1) * _BETWEEN + 1)
    low = np.minimum(at.astype(int), _SPEEDS - 2)
    share = (at - low)[:, np.newaxis]
    between = curves[:, low] * (1 - share) + curves[:, low + 1] * share
    t_c = between.reshape(-1, minute.size)
    fine = np.interp(at, np.arange(_SPEEDS), sds)
    prior = np.outer([weight for _, _, weight in gels], np.exp(-(fine**2) / 2))
    later = np.concatenate([_begun_later(t_c, one) for one in _LATE_MIN])
    prior = np.concatenate([prior.ravel() * exp(-one / _LATE_USUAL_MIN) for one in _LATE_MIN])
    drawn = later <= draw_c
    return Expected(
        factor=np.tile(machine.factor * np.exp(factor_sd * fine), len(gels) * len(_LATE_MIN)),
        gel_pct=np.tile(np.repeat([known for _, known, _ in gels], at.size), len(_LATE_MIN)),
        prior=prior / prior.sum(),
        minute=minute,
        t_c=later,
        drawn_min=np.where(drawn.any(axis=1), minute[drawn.argmax(axis=1)], np.inf),
        ends_c=later[:, -1],
        draw_c=draw_c,
        first_ice_c=float(mix.t_c[mix.ice_g > 0].max(initial=mix.t_c.min())),
    )


def _begun_later(t_c: FloatArray, late_min: float) -> FloatArray:
    """Return runs that stay as they went in for so long, shape of t_c (guesses, minutes)."""
    steps = round(late_min / _GRID_MIN)
    return t_c if steps == 0 else np.concatenate([np.repeat(t_c[:, :1], steps, axis=1), t_c[:, :-steps]], axis=1)


def watch(mix: Thermal, expected: Expected, measured: Sequence[tuple[float, float]]) -> Watched:
    """Return how a run stands by (minute, °C) measured from its start on, at least one of them."""
    minutes, celsius = _in_bins(measured)
    minute, t_c = max(one for one, _ in measured), float(celsius[-1])
    weight, miss_k = _weights(expected, minutes, celsius)
    icy = int(((celsius < expected.first_ice_c) & (minutes >= _FIRST_MIN)).sum())
    stalls = np.isinf(expected.drawn_min)
    chance = float(weight[stalls].sum())
    left = expected.drawn_min - minute
    mean = weight @ expected.t_c
    is_poor = miss_k > (_POOR_K if icy >= _LEAST_ICY else _POOR_BEFORE_ICE_K)
    stays = chance > 0.5 and t_c > expected.draw_c
    can_tell = icy >= _LEAST_ICY and not is_poor and not (stays and _is_on_course(expected, minutes, celsius))
    earliest = middle = latest = stalls_c = stalls_in = None
    if t_c <= expected.draw_c and can_tell:
        earliest, middle, latest = 0.0, 0.0, 0.0
    elif stays and can_tell:
        of_stalling = weight * stalls / chance
        stalls_c = float(of_stalling @ expected.ends_c)
        stalls_in = max(0.0, _stands_from(expected, of_stalling) - minute)
    elif can_tell or not (is_poor or stays):
        drawn = weight * ~stalls
        if drawn.any():
            earliest, middle, latest = (max(0.0, one) for one in _quantiles(np.where(stalls, 0.0, left), drawn))
    return Watched(
        minute=minute,
        t_c=t_c,
        frozen_pct=float(mix.frozen_at(np.array(t_c))),
        draw_c=expected.draw_c,
        can_tell=can_tell,
        left_min=middle,
        earliest_min=earliest,
        latest_min=latest,
        stalls_c=stalls_c,
        stalls_in_min=stalls_in,
        stalls_chance=chance,
        factor=float(np.exp(weight @ np.log(expected.factor))),
        planned=_points(expected.minute, _usual(expected)),
        ahead=() if is_poor else _ahead(expected, mean, minute, t_c),
    )


def say_watched(found: Watched, kind: str) -> Message:
    """Say what to do now: when to take it out, or that it will not get there."""
    facts = {"t_c": found.draw_c, "minutes": found.left_min, "stalls_c": found.stalls_c}
    if found.left_min is None and found.stalls_c is None:
        return say_untold(found)
    if found.left_min is None:
        return Message("watch-stalls-canister" if kind == "canister" else "watch-stalls", facts)
    return Message("watch-now" if found.left_min < _NOW_MIN else "watch-out", facts)


def say_untold(found: Watched) -> Message:
    """Say that it cannot be told yet, and what there is: the reading and the target."""
    return Message("watch-untold", {"now_c": found.t_c, "t_c": found.draw_c})


def say_apart(found: Watched, started_c: float, planned_c: float) -> Message | None:
    """Say what is otherwise than planned: how it went in, and by how much it is late; None where nothing is."""
    if found.left_min is None or not found.planned:
        return None
    planned_min = next((minute for minute, t_c in found.planned if t_c <= found.draw_c), None)
    if planned_min is None:
        return None
    late = found.minute + found.left_min - planned_min
    if abs(late) < _LATER_MIN:
        return None
    warmer = started_c - planned_c
    by = "later" if late > 0 else "earlier"
    if warmer * late > 0 and abs(warmer) >= _WARM_K:
        how = "warm" if warmer > 0 else "cold"
        return Message("watch-apart-began", {"by": abs(warmer), "how": how, "minutes": abs(late), "than": by})
    return Message("watch-apart", {"minutes": abs(late), "than": by})


def _draw_c(mix: Thermal, machine: Churner, conditions: Conditions) -> float:
    if conditions.draw_c is not None:
        return conditions.draw_c
    return float(np.interp(machine.draw_ice_g, mix.ice_g[::-1], mix.t_c[::-1]))


def _gels(machine: Churner, conditions: Conditions) -> list[tuple[float | None, float, float]]:
    """Return guesses at a canister's gel: what to compute with, % frozen, and how likely; the first as it is known."""
    begins = gel_frozen_pct(machine, conditions)
    if machine.gel_kg <= 0:
        return [(conditions.gel_frozen_pct, begins, 1.0)]
    found: list[tuple[float | None, float, float]] = [(conditions.gel_frozen_pct, begins, 1.0)]
    for less in _GEL_LESS_PCT[1:]:
        if begins - less >= _LEAST_GEL_PCT:
            found.append((begins - less, begins - less, exp(-((less / _GEL_SD_PCT) ** 2) / 2)))
    return found


def _curve(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions, minute: FloatArray) -> FloatArray:
    """Return the °C of a run at minutes, also past where it is drawn; then it stays as it is."""
    further = replace(machine, draw_ice_g=machine.draw_ice_g + _PAST_THE_DRAW_G)
    seen = churn(mix, mass_g, further, replace(conditions, draw_c=None)).seen
    return np.interp(minute, [one[0] for one in seen], [one[1] for one in seen])


def _in_bins(measured: Sequence[tuple[float, float]]) -> tuple[FloatArray, FloatArray]:
    """Return the mean minute and °C of every half minute: noise goes, and no device counts more for speaking more."""
    rows = np.array(measured, dtype=np.float64)
    _, where = np.unique(np.floor(rows[:, 0] / _BIN_MIN), return_inverse=True)
    counts = np.bincount(where)
    return np.bincount(where, rows[:, 0]) / counts, np.bincount(where, rows[:, 1]) / counts


def _weights(expected: Expected, minutes: FloatArray, celsius: FloatArray) -> tuple[FloatArray, float]:
    """Return how likely each guess is, shape (guesses,), and how far the likeliest is from what is shown, K."""
    counts = np.where(minutes < _FIRST_MIN, 0.0, np.where(celsius < expected.first_ice_c, 1.0, _BEFORE_ICE))
    counts *= np.where(minutes > minutes[-1] * 2 / 3, _LAST_THIRD, 1.0)
    if not counts.any():
        return expected.prior, 0.0
    counts *= min(1.0, _MOST_COUNTED / counts.sum())
    step = np.clip(np.searchsorted(expected.minute, minutes), 1, expected.minute.size - 1)
    share = (minutes - expected.minute[step - 1]) / _GRID_MIN
    off = celsius - (expected.t_c[:, step - 1] * (1 - share) + expected.t_c[:, step] * share)
    # All half minutes share what the thermometer is wrong by, so that it is taken out of their sum.
    shared = (_OFFSET_K * (off @ counts)) ** 2 / (_NOISE_K**2 + counts.sum() * _OFFSET_K**2)
    likely = -((off**2) @ counts - shared) / (2 * _NOISE_K**2)
    weight = expected.prior * np.exp(likely - likely.max())
    weight = np.asarray(weight / weight.sum(), dtype=np.float64)
    best = off[int(weight.argmax())]
    by_probe = float(np.clip(best @ counts / counts.sum(), -_OFFSET_K, _OFFSET_K))
    return weight, float(np.sqrt((best - by_probe) ** 2 @ counts / counts.sum()))


def _is_on_course(expected: Expected, minutes: FloatArray, celsius: FloatArray) -> bool:
    """Tell whether it falls so that it is drawn within twice the time it was taken to last."""
    planned = expected.planned_min if np.isfinite(expected.planned_min) else float(expected.minute[-1]) / _MUCH_LATER
    lately = minutes >= min(minutes[-1] * 2 / 3, minutes[-1] - _TREND_MIN)
    lately[-2:] = True
    if lately.sum() < 2 or np.ptp(minutes[lately]) <= 0:
        return True
    falls = -float(np.polyfit(minutes[lately], celsius[lately], 1)[0])
    left = float(celsius[-1]) - expected.draw_c
    return falls > _FALLING_K_MIN and float(minutes[-1]) + left / falls <= _MUCH_LATER * planned


def _quantiles(values: FloatArray, weight: FloatArray) -> tuple[float, float, float]:
    order = np.argsort(values[weight > 0])
    sorted_values, shares = values[weight > 0][order], weight[weight > 0][order]
    upto = (np.cumsum(shares) - shares / 2) / shares.sum()
    low, middle, high = (float(np.interp(tail, upto, sorted_values)) for tail in _TAILS)
    return low, middle, high


def _stands_from(expected: Expected, weight: FloatArray) -> float:
    """Return the minute from which a run that stalls hardly gets colder."""
    stands = expected.t_c <= expected.ends_c[:, np.newaxis] + _STANDS_K
    return float(weight @ expected.minute[stands.argmax(axis=1)])


def _usual(expected: Expected) -> FloatArray:
    return np.asarray(expected.t_c[_USUAL], dtype=np.float64)


def _points(minute: FloatArray, t_c: FloatArray) -> tuple[tuple[float, float], ...]:
    every = slice(None, None, round(1 / _GRID_MIN))
    return tuple(zip(minute[every].tolist(), t_c[every].tolist(), strict=True))


def _ahead(expected: Expected, mean: FloatArray, minute: float, t_c: float) -> tuple[tuple[float, float], ...]:
    """Return how it goes on from what is measured now, its distance to the forecast kept."""
    later = expected.minute > minute
    apart = t_c - float(np.interp(minute, expected.minute, mean))
    return ((minute, t_c), *_points(expected.minute[later], mean[later] + apart))
