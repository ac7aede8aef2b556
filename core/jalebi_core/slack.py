"""Slack: by how much one line may be weighed wrong before a word that the cook reads changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from .components import FloatArray
from .mix import Mix
from .outcomes import eating, frozen_at
from .styles import BESIDE
from .tracks import tracks

_ERRORS: Final = np.array([0.01, 0.02, 0.03, 0.05, 0.07, 0.1, 0.14, 0.2, 0.3, 0.5])
"""Errors that are tried, as shares of the line; what stays below half of it has no need of care."""


@dataclass(frozen=True, slots=True)
class Slack:
    """One line's slack: g short and g over until a word changes, each with that change; None where none does."""

    line: int
    short_g: float | None
    short: str
    over_g: float | None
    over: str


def slack_of(mix: Mix, freezer_c: float) -> tuple[Slack, ...]:
    """Return the slack of each line of the mix, errors up to half of it; lines beside the mix have none."""
    numbers = [at for at, line in enumerate(mix.lines) if line.stage not in BESIDE]
    grams = np.array([mix.lines[at].grams for at in numbers])
    rows = np.array([mix.lines[at].ingredient.row for at in numbers])
    factors = np.concatenate((-_ERRORS, _ERRORS))
    moved = grams[:, None] * factors
    mass = mix.mass_g + moved
    tried = (mix.mass_g * mix.row() + moved[..., None] * rows[:, None, :]) / np.maximum(mass, 1e-9)[..., None]
    every = np.concatenate((mix.row()[None], tried.reshape(-1, rows.shape[1])))
    found = eating(every, np.full(len(every), mix.overrun_used_pct), frozen_at(every, freezer_c), freezer_c)
    bands, words = mix.bands, []
    for track in tracks().values():
        values: FloatArray | None = getattr(found, track.key, None)
        if values is not None:
            words.append((track.name.lower(), np.digitize(values, track.limits(track.band_for(bands)))))
    return tuple(_slack(at, index, words, moved[index]) for index, at in enumerate(numbers))


Words = list[tuple[str, NDArray[np.intp]]]
"""Outcomes by name, each with the number of its word: the mix's own first, then those of all errors."""


def _slack(line: int, index: int, words: Words, moved: FloatArray) -> Slack:
    half = len(_ERRORS)
    start = 1 + 2 * half * index
    short_g, short = _first_change(words, range(start, start + half), -moved[:half])
    over_g, over = _first_change(words, range(start + half, start + 2 * half), moved[half:])
    return Slack(line, short_g, short, over_g, over)


def _first_change(words: Words, tried: range, grams: FloatArray) -> tuple[float | None, str]:
    """Return the least error at which a word is another than the mix's own, and of which outcome."""
    for step, at in enumerate(tried):
        for name, numbers in words:
            if numbers[at] != numbers[0]:
                return float(grams[step]), name
    return None, ""
