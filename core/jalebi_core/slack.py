"""Slack: by how much one line may be weighed wrong before a word that the cook reads changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from .components import FloatArray
from .mix import Mix
from .outcomes import Eating, eating, frozen_at
from .styles import BESIDE, Band
from .tracks import Track, tracks

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
    bands = mix.bands
    words = [(track, _words(track, found, track.band_for(bands))) for track in tracks().values()]
    words = [(track, number) for track, number in words if number is not None]
    half = len(_ERRORS)
    return tuple(
        Slack(at, *_first_change(words, index * 2 * half, half, abs(moved[index, :half])),
              *_first_change(words, index * 2 * half + half, half, moved[index, half:]))
        for index, at in enumerate(numbers)
    )  # fmt: skip


def _words(track: Track, found: Eating, band: Band) -> FloatArray | None:
    values = getattr(found, track.key, None)
    return None if values is None else np.digitize(values, track.limits(band)).astype(float)


def _first_change(
    words: list[tuple[Track, FloatArray]], start: int, count: int, grams: FloatArray
) -> tuple[float | None, str]:
    """Return the least error of a line at which a word is another than the mix's own, and which."""
    for step in range(count):
        for track, numbers in words:
            if numbers[1 + start + step] != numbers[0]:
                return float(grams[step]), track.name.lower()
    return None, ""
