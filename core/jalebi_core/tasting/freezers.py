"""How cold freezers are and what firm feels like, from words, readings and tastings together.

Out of the freezer alone a warm freezer and a taste for hard ice cream say the same thing. Firmness as it is felt is
F(T) − δ; δ is the kitchen's, T the freezer's. Both are carried on a grid; given δ freezers are independent.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cache, partial
from typing import Final

import numpy as np
from scipy.special import logsumexp, ndtr, ndtri

from jalebi_core.model.components import FloatArray
from jalebi_core.physics.firmness import FIRMNESS_WORDS
from jalebi_core.tasting.learning import TAIL_SD, Interval, Posterior, conventions, fit_linear, normal
from jalebi_core.tasting.log import Batch, Freezer, Log, Reading, Tasting

WORDS: Final = ("liquid", "slushy", *(word for _, word in reversed(FIRMNESS_WORDS)))
"""The words for firmness, softest first."""

_LIMITS: Final = (-np.inf, 1e-9, *(least for least, _ in reversed(FIRMNESS_WORDS)), np.inf)
_SHIFTS: Final = np.arange(-14.0, 14.25, 0.5)
_FROM_DIAL: Final = np.arange(-9.0, 9.125, 0.25)
_FELT: Final = np.arange(-80.0, 180.0, 0.05)
"""Firmness as it is felt, at which the chance of each word is worked out once."""

_NOTHING: Final = np.zeros(len(_SHIFTS))
_SLOPE_C: Final = 0.5
_STRAY_WEIGHT: Final = 0.25
_BATCHES_TO_TELL: Final = 3
_LEAST_SHARE: Final = 1e-15


@dataclass(frozen=True, slots=True)
class Colder:
    """What is known of one freezer.

    t_c : its temperature; firmer : how much firmer a tub from there eats than computed at its dial, None without words
    """

    freezer: Freezer
    t_c: Posterior
    firmer: Posterior | None


@dataclass(frozen=True, slots=True)
class Felt:
    """What a kitchen calls firm, and its freezers; None where no word was said of a known temperature or freezer."""

    scoops_at: Posterior | None
    freezers: tuple[Colder, ...]


@dataclass(frozen=True, slots=True)
class _Words:
    """The tastings of one batch that say a word, all at known temperatures or all out of one freezer.

    of_batch : how many words were said of the batch in all
    """

    batch: Batch
    tastings: tuple[Tasting, ...]
    of_batch: int

    def log_likelihood(self, felt: FloatArray) -> FloatArray:
        """Return the log of how likely the words are where that firmness is felt, shape of the firmness.

        Several words of one batch are not as many witnesses: they taste the same tub.
        """
        said = sum((_log_chances(str(one.firmness)) for one in self.tastings), np.zeros(len(_FELT)))
        return np.asarray(np.interp(felt, _FELT, said / (1 + 0.5 * (self.of_batch - 1))))

    def firmness(self, t_c: FloatArray) -> FloatArray:
        return self.batch.facts.firmness(t_c, self.batch.served_overrun_pct)

    def strays(self, felt: float) -> list[str]:
        """Return the ids of the tastings whose word nobody would say where that firmness is felt."""
        return [one.id for one in self.tastings if _chances(str(one.firmness), np.array(felt)) < 2 * _stray()]


def _chances(word: str, felt: FloatArray) -> FloatArray:
    """Return how likely a word is by the firmness that is felt: within its limits, or astray."""
    at, said = WORDS.index(word), conventions("scoop_firmness")
    inside = ndtr((_LIMITS[at + 1] - felt) / said["word_sd"]) - ndtr((_LIMITS[at] - felt) / said["word_sd"])
    return np.asarray((1 - said["stray_share"]) * inside + _stray())


@cache
def _log_chances(word: str) -> FloatArray:
    return np.asarray(np.log(_chances(word, _FELT)))


def _stray() -> float:
    return conventions("scoop_firmness")["stray_share"] / len(WORDS)


def feel(log: Log) -> Felt:
    """Return what a log says of firmness and of freezers."""
    known = list(_words(log, "scoop_firmness", lambda one: one.t_c is not None))
    by_known = _log_normal(_SHIFTS, 0.0, conventions("scoop_firmness")["prior_sd"])
    for own in known:
        for one in own.tastings:
            alone = _Words(own.batch, (one,), own.of_batch)
            by_known = by_known + alone.log_likelihood(float(own.firmness(np.array(one.t_c))) - _SHIFTS)
    tables = [
        _Table.of(
            freezer,
            [one for one in log.readings if one.freezer == freezer.name and log.counts("freezer_c", one.id, one.at)],
            list(_words(log, "freezer_c", partial(_is_out_of, freezer.name))),
            log.ice_water_c,
        )
        for freezer in log.freezers
    ]
    shift = _smooth_quantiles(_SHIFTS, _weights(by_known + sum((one.log_shift for one in tables), _NOTHING)))
    freezers = tuple(_colder(table, tables, by_known, shift.value, len(known)) for table in tables)
    tasted = {own.batch.id for own in (*known, *(one for table in tables for one in table.words))}
    if not tasted:
        return Felt(None, freezers)
    by_reading = any(table.readings and len(table.words) >= _BATCHES_TO_TELL for table in tables)
    prior, sd = conventions("scoop_firmness")["prior"], conventions("scoop_firmness")["prior_sd"]
    strays = [id for own in known for id in _strays_at_known(own, shift.value)]
    for table, found in zip(tables, freezers, strict=True):
        strays += [id for id in found.t_c.strays if id not in table.odd_readings]
    scoops_at = Posterior(
        prior + shift.value,
        prior + shift.low,
        prior + shift.high,
        normal(prior, sd),
        len(tasted),
        identified=len(known) >= _BATCHES_TO_TELL or by_reading,
        strays=tuple(strays),
    )
    return Felt(scoops_at, freezers)


def as_cold_as(log: Log, freezer: Freezer, firmer: float) -> float:
    """Return the °C at which a freezer's tubs, on the mean, are so much firmer than computed at its dial.

    It stands for the freezer where words alone cannot tell how cold it is from what its people call firm.
    """
    dial = conventions("freezer_c")["prior"] if freezer.dial_c is None else freezer.dial_c
    t_c = dial + _FROM_DIAL
    tasted = list(_words(log, "freezer_c", partial(_is_out_of, freezer.name)))
    mean = np.mean([one.firmness(t_c) for one in tasted], axis=0)
    at_dial = float(np.interp(dial, t_c, mean))
    return float(np.interp(at_dial + firmer, mean[::-1], t_c[::-1]))


def _is_out_of(freezer: str, tasting: Tasting) -> bool:
    return tasting.t_c is None and tasting.freezer == freezer


def _words(log: Log, key: str, wanted: Callable[[Tasting], bool]) -> Iterable[_Words]:
    """Return the words of each batch that are wanted and count for a parameter."""
    for batch in log.batches:
        if batch.id in log.left_out:
            continue
        said = [
            one
            for one in batch.tastings
            if one.firmness is not None and one.id not in log.left_out and (one.t_c is not None or one.freezer)
        ]
        counted = tuple(one for one in said if wanted(one) and log.counts(key, one.id, one.at))
        if counted:
            yield _Words(batch, counted, len(said))


def _strays_at_known(own: _Words, shift: float) -> Iterable[str]:
    for one in own.tastings:
        yield from _Words(own.batch, (one,), own.of_batch).strays(float(own.firmness(np.array(one.t_c))) - shift)


@dataclass(frozen=True, slots=True)
class _Table:
    """A freezer's temperatures against shifts: log weights, shape (shifts, temperatures), and what they rest on."""

    freezer: Freezer
    prior: Interval
    t_c: FloatArray
    log_weights: FloatArray
    readings: tuple[Reading, ...]
    odd_readings: tuple[str, ...]
    words: tuple[_Words, ...]

    @classmethod
    def of(
        cls, freezer: Freezer, readings: Sequence[Reading], words: Sequence[_Words], ice_water_c: float | None
    ) -> _Table:
        said = conventions("freezer_c")
        dial = said["prior"] if freezer.dial_c is None else freezer.dial_c
        sd = said["mark_sd"] if freezer.dial_c is None else said["dial_sd"]
        t_c = dial + _FROM_DIAL
        by_reading = _log_normal(t_c, dial, sd)
        odd: tuple[str, ...] = ()
        if readings:
            mean, spread, odd = _read(readings, dial, sd, ice_water_c)
            by_reading = by_reading + _log_normal(t_c, mean, spread)
        log_weights = np.tile(by_reading, (len(_SHIFTS), 1))
        for one in words:
            log_weights = log_weights + one.log_likelihood(one.firmness(t_c)[None, :] - _SHIFTS[:, None])
        return cls(freezer, normal(dial, sd), t_c, log_weights, tuple(readings), odd, tuple(words))

    @property
    def log_shift(self) -> FloatArray:
        """What it says of the shift, summed over its temperatures, shape (shifts,)."""
        return np.asarray(logsumexp(self.log_weights, axis=1))

    def strays(self, t_c: float, shift: float) -> list[str]:
        return [id for one in self.words for id in one.strays(float(one.firmness(np.array(t_c))) - shift)]


def _read(
    readings: Sequence[Reading], dial: float, sd: float, ice_water_c: float | None
) -> tuple[float, float, tuple[str, ...]]:
    """Return what readings say of a freezer, with its spread, and the ids of those that are set aside."""
    said = conventions("freezer_c")
    shared = said["unchecked_sd"] if ice_water_c is None else said["checked_sd"]
    values = np.array([one.t_c for one in readings]) - (ice_water_c or 0.0)
    noise = np.array([said["tub_sd"] if one.in_tub else said["air_sd"] for one in readings])
    together = np.full((len(values), len(values)), sd**2 + shared**2)
    found = fit_linear(values - dial, together, noise)
    precision = found.weights / noise**2
    mean = float(precision @ values / precision.sum())
    odd = tuple(one.id for one, weight in zip(readings, found.weights, strict=True) if weight < _STRAY_WEIGHT)
    return mean, float((1 / precision.sum() + shared**2) ** 0.5), odd


def _colder(table: _Table, tables: Sequence[_Table], by_known: FloatArray, shift: float, at_known_c: int) -> Colder:
    """Return what is known of one freezer, over all shifts and given what the other freezers say of these."""
    by_others = by_known + sum((one.log_shift for one in tables if one is not table), _NOTHING)
    joint = _weights(table.log_weights + by_others[:, None])
    found = _smooth_quantiles(table.t_c, joint.sum(axis=0))
    tasted = table.words
    strays = [*table.odd_readings, *table.strays(found.value, shift)]
    enough = len(tasted) >= _BATCHES_TO_TELL and at_known_c >= _BATCHES_TO_TELL
    t_c = Posterior(
        found.value, found.low, found.high, table.prior, len(tasted) + len(table.readings),
        identified=bool(table.readings) or enough, strays=tuple(strays), measured=bool(table.readings),
    )  # fmt: skip
    return Colder(
        table.freezer, t_c, _firmer(table, joint, tuple(table.strays(found.value, shift))) if tasted else None
    )


def _firmer(table: _Table, joint: FloatArray, strays: tuple[str, ...]) -> Posterior:
    dial = np.array(table.prior.value)
    at_each = np.mean([one.firmness(table.t_c) for one in table.words], axis=0)
    at_dial = float(np.mean([float(one.firmness(dial)) for one in table.words]))
    firmer = (at_each - at_dial)[None, :] - _SHIFTS[:, None]
    order = np.argsort(firmer, axis=None)
    found = _quantiles(firmer.ravel()[order], joint.ravel()[order])
    around = [np.mean([float(one.firmness(dial + by)) for one in table.words]) for by in (-_SLOPE_C, _SLOPE_C)]
    slope = float(around[1] - around[0]) / (2 * _SLOPE_C)
    sd_c = (table.prior.high - table.prior.low) / 2 / TAIL_SD
    sd = (conventions("scoop_firmness")["prior_sd"] ** 2 + (sd_c * slope) ** 2) ** 0.5
    return Posterior(found.value, found.low, found.high, normal(0.0, sd), len(table.words), strays=strays)


def _log_normal(values: FloatArray, mean: float, sd: float) -> FloatArray:
    return np.asarray(-(((values - mean) / sd) ** 2) / 2)


def _weights(logs: FloatArray) -> FloatArray:
    found = np.exp(logs - logs.max())
    return np.asarray(found / found.sum())


def _quantiles(values: FloatArray, weights: FloatArray) -> Interval:
    """Return the quantiles of a distribution in cells, values rising, by what lies below the middle of each.

    Between middles they are straight in normal deviates, so that cells as wide as half a deviation lose nothing.
    """
    shares = weights / weights.sum()
    return _interval(values, np.cumsum(shares) - shares / 2)


def _smooth_quantiles(values: FloatArray, weights: FloatArray) -> Interval:
    """Return the quantiles of a smooth density at equal steps; the sum's first error, rise / 12, is taken off."""
    shares = weights / weights.sum()
    rise = np.gradient(shares)
    return _interval(values, np.cumsum(shares) - shares / 2 - rise / 12)


def _interval(values: FloatArray, below: FloatArray) -> Interval:
    deviates = ndtri(np.clip(below, _LEAST_SHARE, 1 - _LEAST_SHARE))
    low, value, high = (float(at) for at in np.interp((-TAIL_SD, 0.0, TAIL_SD), deviates, values))
    return Interval(value, low, high)
