"""What a log says of one parameter: the posterior of a linear model in which strays count for little."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.components import FloatArray

_FAR_SD: Final = 2.5
"""Beyond so many standard deviations from what all others say, an entry counts for less."""
_ROUNDS: Final = 10


@dataclass(frozen=True, slots=True)
class Learned:
    """The mean and standard deviation of the parameter, and what each entry counted for, 0 to 1, shape (entries,)."""

    mean: float
    sd: float
    weights: FloatArray


def learn_linear(
    deviations: FloatArray, covariance: FloatArray, noise_sd: FloatArray, cross: FloatArray, variance: float
) -> Learned:
    """Return the posterior of one parameter of y = prior mean + parts + noise, all of them normal.

    Parameters
    ----------
    deviations : what was logged less its prior mean, shape (n,)
    covariance : of the parts of the entries, K, shape (n, n)
    noise_sd : of each entry, shape (n,)
    cross : covariance of the parameter with the parts, k, shape (n,)
    variance : of the parameter before anything was logged

    The mean is its prior plus kᵀ(K + N)⁻¹·deviations, the variance v − kᵀ(K + N)⁻¹k. An entry that lies more than
    2.5 sd from what all others say of it has its noise widened, N = σ²/w with w = (2.5/|z|)⁴.
    """
    weights = np.ones_like(deviations)
    for _ in range(_ROUNDS):
        precision = np.linalg.inv(covariance + np.diag(noise_sd**2 / weights))
        apart = precision @ deviations / np.diag(precision)
        spread = np.sqrt(1 / np.diag(precision) - noise_sd**2 / weights + noise_sd**2)
        far = np.abs(apart / spread)
        weights = np.where(far <= _FAR_SD, 1.0, (_FAR_SD / np.maximum(far, _FAR_SD)) ** 4)
    precision = np.linalg.inv(covariance + np.diag(noise_sd**2 / weights))
    mean = float(cross @ precision @ deviations)
    return Learned(mean, max(0.0, variance - float(cross @ precision @ cross)) ** 0.5, weights)


def learn_one(values: FloatArray, prior: float, prior_sd: float, noise_sd: float) -> Learned:
    """Return the posterior of a parameter that every entry measures alike, by entries of shape (n,)."""
    count = len(values)
    variance = prior_sd**2
    shared = np.full(count, variance)
    found = learn_linear(values - prior, np.full((count, count), variance), np.full(count, noise_sd), shared, variance)
    return Learned(prior + found.mean, found.sd, found.weights)
