"""One measured figure beside its limit, and how samples become one."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure that is good when it is at most, or at least, its limit."""

    name: str
    value: float
    limit: float
    unit: str
    at_least: bool = False

    @property
    def good(self) -> bool:
        """Whether the figure is what is asked."""
        return self.value >= self.limit if self.at_least else self.value <= self.limit

    def line(self) -> str:
        """Return the figure as a line of the report."""
        wanted = f"{'at least' if self.at_least else 'at most'} {self.limit:g} {self.unit}"
        return f"  {self.name:<58} {self.value:>9.2f} {self.unit:<5} {wanted:<18} {'good' if self.good else 'SHORT'}"


def median_ms(job: Callable[[], object], runs: int, warm_up: int = 3) -> float:
    """Return the median duration of a job in ms."""
    for _ in range(warm_up):
        job()
    samples = []
    for _ in range(runs):
        began = time.perf_counter()
        job()
        samples.append(1000 * (time.perf_counter() - began))
    return statistics.median(samples)


def p95(samples: Sequence[float]) -> float:
    """Return the 95th percentile."""
    return statistics.quantiles(samples, n=100)[94]
