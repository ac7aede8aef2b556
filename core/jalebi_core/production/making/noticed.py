"""By how much each line may be weighed wrong before anybody tastes it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import flavourings_of
from jalebi_core.assessment.gums import working_gum_pct, working_gum_shares
from jalebi_core.assessment.outcomes import eating
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.noticeable import HALF, noticeable
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.freezing import frozen_at

_ERRORS: Final = np.array([-0.2, -0.1, -0.05, -0.02, 0.02, 0.05, 0.1, 0.2])
MOST: Final = 0.2
"""A fifth is the most that is let pass: the errors of several lines come together."""

_FELT: Final = {
    "firmness": ("firmness", "harder or softer"),
    "sweetness": ("sweetness", "sweeter or less sweet"),
    "richness": ("fat", "richer or leaner"),
    "body": ("total_solids", "thicker or thinner"),
    "iciness": ("iciness", "icier or smoother"),
    "sand": ("lactose", "sandier or less so"),
    "grit": ("erythritol", "grittier or less so"),
    "butter": ("unguarded_fat", "more or less apt to churn to butter"),
    "slip": ("hydrocolloids", "more or less slippery"),
    "melt": ("half_melted_min", "slower or faster to melt"),
}
"""By outcome: the step in which it is noticed, and what is noticed."""
_SHARP: Final = INDEX["acids"]
_SALT: Final = INDEX["sodium_chloride"]
_SHARP_G: Final = 1.0
_SALTY_G: Final = 50.0
"""Of 100 g, from which something is there for its acid or its salt."""


@dataclass(frozen=True, slots=True)
class Noticed:
    """How many g a line may be off, at most a fifth of it, and what is noticed beyond that; empty where nothing is."""

    grams: float
    what: str


def noticed_by_line(mix: Mix, freezer_c: float) -> tuple[Noticed | None, ...]:
    """Return it for every line of a mix; None for those beside it and those that weigh nothing."""
    numbers = [at for at, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES and line.grams > 0]
    steps = _steps(mix, [mix.lines[at] for at in numbers], freezer_c)
    found: list[Noticed | None] = [None] * len(mix.lines)
    for at, moved in zip(numbers, steps, strict=True):
        found[at] = _noticed(mix, mix.lines[at], moved)
    return tuple(found)


def _steps(mix: Mix, lines: list[Line], freezer_c: float) -> list[dict[str, FloatArray]]:
    """Return by line and outcome how many steps each error moves it, shape (errors,)."""
    grams = np.array([line.grams for line in lines])
    rows = np.array([line.ingredient.row for line in lines])
    moved = grams[:, None] * _ERRORS
    mass = np.maximum(mix.mass_g + moved, 1e-9)
    tried = (mix.mass_g * mix.row() + moved[..., None] * rows[:, None, :]) / mass[..., None]
    every = np.concatenate((mix.row()[None], tried.reshape(-1, rows.shape[1])))
    shares = {id(line): share for line, share in zip(mix.base, working_gum_shares(mix), strict=True)}
    share = np.array([shares[id(line)] for line in lines])
    whole = working_gum_pct(mix)
    working = np.concatenate(([whole], ((mix.mass_g * whole + moved * share[:, None]) / mass).reshape(-1)))
    overrun = np.full(len(every), mix.overrun_used_pct)
    found = eating(every, overrun, frozen_at(every, freezer_c), freezer_c, working)
    shape = moved.shape
    by_outcome = {
        key: np.abs(noticeable()[step].steps(values[0], values[1:])).reshape(shape)
        for key, (step, _) in _FELT.items()
        for values in (getattr(found, key),)
    }
    return [{key: steps[at] for key, steps in by_outcome.items()} for at in range(len(lines))]


def _noticed(mix: Mix, line: Line, moved: dict[str, FloatArray]) -> Noticed:
    """Return the least error, of either side, at which any outcome moves by half a step."""
    least, what, half = MOST, "", len(_ERRORS) // 2
    for key, steps in moved.items():
        for side in (slice(half - 1, None, -1), slice(half, None)):
            errors = np.concatenate(([0.0], np.abs(_ERRORS[side])))
            at = np.maximum.accumulate(np.concatenate(([0.0], steps[side])))
            if at[-1] >= HALF:
                error = float(np.interp(HALF, at, errors))
                if error < least:
                    least, what = error, _FELT[key][1]
    by_taste = _by_taste(mix, line)
    if by_taste is not None and by_taste.grams < least * line.grams:
        return by_taste
    return Noticed(least * line.grams, what)


def _by_taste(mix: Mix, line: Line) -> Noticed | None:
    """Return what is noticed of a flavouring, an acid or salt by its own share of what there is in the mix."""
    parts, all_of_it = line.ingredient.row, mix.row() * mix.mass_g
    if flavourings_of(line.ingredient) and line.ingredient.kind not in ("fruit", "dairy"):
        return _ratio(line, "flavour_g_kg", 1.0, "stronger or weaker")
    if parts[_SHARP] > _SHARP_G:
        return _ratio(
            line, "acid_sweetness", float(parts[_SHARP] * line.grams / all_of_it[_SHARP]), "sharper or flatter"
        )
    if parts[_SALT] > _SALTY_G:
        return _ratio(line, "flavour_g_kg", float(parts[_SALT] * line.grams / all_of_it[_SALT]), "saltier or flatter")
    return None


def _ratio(line: Line, step: str, share: float, what: str) -> Noticed:
    """Return what half a step of a ratio is of a line that brings a share of all there is."""
    ratio = HALF * (noticeable()[step].ratio or 0.0) / share
    return Noticed(min(ratio, MOST) * line.grams, what)
