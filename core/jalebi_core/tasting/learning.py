"""What a log says of one parameter: the posterior of a linear model in which strays count for little."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.components import FloatArray

_FAR_SD: Final = 2.5
"""Beyond so many standard deviations from what all others say, an entry counts for less."""
_ROUNDS: Final = 10


@dataclass(frozen=True, slots=True)
class Learned:
    """The mean and standard deviation of a parameter, and what each entry counted for, 0 to 1, shape (entries,)."""

    mean: float
    sd: float
    weights: FloatArray


@dataclass(frozen=True, slots=True)
class Fit:
    """What a log says of y = prior mean + parts + noise, all of them normal: every parameter that is made of the parts.

    precision : (K + N)⁻¹, shape (n, n), strays widened; weights : what each entry counted for, 0 to 1, shape (n,)
    """

    deviations: FloatArray
    precision: FloatArray
    weights: FloatArray

    def of(self, cross: FloatArray, variance: float) -> Learned:
        """Return the posterior of a parameter by its covariance with the parts, k, shape (n,), and its own variance.

        The mean is kᵀ(K + N)⁻¹·deviations from its prior, the variance v − kᵀ(K + N)⁻¹k.
        """
        explained = cross @ self.precision
        return Learned(
            float(explained @ self.deviations), max(0.0, variance - float(explained @ cross)) ** 0.5, self.weights
        )


def fit_linear(deviations: FloatArray, covariance: FloatArray, noise_sd: FloatArray) -> Fit:
    """Return the fit of a log in which strays count for little.

    Parameters
    ----------
    deviations : what was logged less its prior mean, shape (n,)
    covariance : of the parts of the entries, K, shape (n, n)
    noise_sd : of each entry, shape (n,)

    An entry that lies more than 2.5 sd from what all others say of it has its noise widened, N = σ²/w with
    w = (2.5/|z|)⁴.
    """
    weights = np.ones_like(deviations)
    precision = np.linalg.inv(covariance + np.diag(noise_sd**2))
    for _ in range(_ROUNDS):
        apart = precision @ deviations / np.diag(precision)
        spread = np.sqrt(1 / np.diag(precision) - noise_sd**2 / weights + noise_sd**2)
        far = np.abs(apart / spread)
        settled = weights
        weights = np.where(far <= _FAR_SD, 1.0, (_FAR_SD / np.maximum(far, _FAR_SD)) ** 4)
        if np.array_equal(weights, settled):
            break
        precision = np.linalg.inv(covariance + np.diag(noise_sd**2 / weights))
    return Fit(deviations, np.asarray(precision, dtype=np.float64), weights)


def learn_one(values: FloatArray, prior: float, prior_sd: float, noise_sd: FloatArray | float) -> Learned:
    """Return the posterior of a parameter that every entry measures alike, by entries of shape (n,)."""
    count = len(values)
    variance = prior_sd**2
    noise = np.broadcast_to(np.asarray(noise_sd, dtype=np.float64), (count,))
    found = fit_linear(values - prior, np.full((count, count), variance), noise).of(np.full(count, variance), variance)
    return Learned(prior + found.mean, found.sd, found.weights)


LEVEL: Final = 0.8
TAIL_SD: Final = 1.2815515655446004
"""From the mean to either end of an interval of 80 %, in standard deviations."""


@cache
def conventions(key: str) -> dict[str, float]:
    """Return the priors, noises and counts of a parameter, from ``data/learning.toml``."""
    return {name: float(value) for name, value in read_toml("learning.toml")[key].items() if not isinstance(value, str)}


@dataclass(frozen=True, slots=True)
class Interval:
    """A median and the ends of its 80 % interval."""

    value: float
    low: float
    high: float


def normal(mean: float, sd: float) -> Interval:
    """Return the interval of a normal distribution."""
    return Interval(mean, mean - TAIL_SD * sd, mean + TAIL_SD * sd)


@dataclass(frozen=True, slots=True)
class Posterior:
    """What a parameter is now: median and 80 % interval, what it was before anything was logged, and on how much it
    rests.

    strays : the ids of entries that were set aside
    identified : whether the log can tell it from what looks the same; measured : whether anybody measured it itself
    """

    value: float
    low: float
    high: float
    prior: Interval
    n: int
    identified: bool = True
    strays: tuple[str, ...] = ()
    measured: bool = False


def alike(groups: Sequence[Hashable]) -> FloatArray:
    """Return 1 where two entries are of one group, 0 elsewhere, shape (n, n)."""
    numbers = {group: number for number, group in enumerate(dict.fromkeys(groups))}
    at = np.array([numbers[group] for group in groups])
    return np.asarray(at[:, None] == at[None, :], dtype=np.float64)
