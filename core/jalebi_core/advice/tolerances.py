"""Tolerances: by how much one line may be weighed wrong before a word that the cook reads changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.assessment.gums import working_gum_pct, working_gum_shares
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import eating
from jalebi_core.model.components import FloatArray
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.freezing import frozen_at

_ERRORS: Final = np.array([0.01, 0.02, 0.03, 0.05, 0.07, 0.1, 0.14, 0.2, 0.3, 0.5])
"""Errors that are tried, as shares of the line; what stays below half of it has no need of care."""


@dataclass(frozen=True, slots=True)
class Tolerance:
    """One line's tolerance: g short and g over until a word changes, each with that change; None where none does."""

    line: int
    short_g: float | None
    short: str
    over_g: float | None
    over: str


def tolerances_of(mix: Mix, freezer_c: float) -> tuple[Tolerance, ...]:
    """Return the tolerance of each line of the mix, errors up to half of it; lines beside the mix have none."""
    numbers = [at for at, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES]
    grams = np.array([mix.lines[at].grams for at in numbers])
    rows = np.array([mix.lines[at].ingredient.row for at in numbers])
    factors = np.concatenate((-_ERRORS, _ERRORS))
    moved = grams[:, None] * factors
    mass = mix.mass_g + moved
    tried = (mix.mass_g * mix.row() + moved[..., None] * rows[:, None, :]) / np.maximum(mass, 1e-9)[..., None]
    every = np.concatenate((mix.row()[None], tried.reshape(-1, rows.shape[1])))
    share, whole = working_gum_shares(mix), working_gum_pct(mix)
    gum = (mix.mass_g * whole + moved * share[:, None]) / np.maximum(mass, 1e-9)
    working = np.concatenate(([whole], gum.reshape(-1)))
    overrun = np.full(len(every), mix.overrun_used_pct)
    found = eating(every, overrun, frozen_at(every, freezer_c), freezer_c, working)
    words = []
    for outcome_scale in (one.felt_by(mix.scoop_firmness) for one in outcome_scales().values()):
        values: FloatArray | None = getattr(found, outcome_scale.key, None)
        if values is not None:
            words.append(
                (outcome_scale.name.lower(), np.digitize(outcome_scale.rounded(values), outcome_scale.limits()))
            )
    return tuple(_tolerance(at, index, words, moved[index]) for index, at in enumerate(numbers))


Words = list[tuple[str, NDArray[np.intp]]]
"""Outcomes by name, each with the number of its word: the mix's own first, then those of all errors."""


def _tolerance(line: int, index: int, words: Words, moved: FloatArray) -> Tolerance:
    half = len(_ERRORS)
    start = 1 + 2 * half * index
    short_g, short = _first_change(words, range(start, start + half), -moved[:half])
    over_g, over = _first_change(words, range(start + half, start + 2 * half), moved[half:])
    return Tolerance(line, short_g, short, over_g, over)


def _first_change(words: Words, tried: range, grams: FloatArray) -> tuple[float | None, str]:
    """Return the least error at which a word is another than the mix's own, and of which outcome."""
    for step, at in enumerate(tried):
        for name, numbers in words:
            if numbers[at] != numbers[0]:
                return float(grams[step]), name
    return None, ""
