"""What people will be able to tell of two mixes: the steps of noticing between their figures, as one d′."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite, sqrt
from typing import Final

from jalebi_core.assessment.analysis import HOME_FREEZER_C, analyse_mix
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import hydrocolloids
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import noticeable
from jalebi_core.tasting.discrimination import LUCK, share_right, tastings_needed

STEPS: Final = {
    "sweetness": "sweetness",
    "firmness": "firmness",
    "fat": "fat",
    "total_solids": "total_solids",
    "hydrocolloids": "hydrocolloids",
    "overrun_pct": "overrun",
    "flavour_g_kg": "flavour_g_kg",
    "acid_sweetness": "acid_sweetness",
}
"""The figures of a variant that are tasted, with the step of each in noticeable.toml."""

_TART_FROM_G: Final = 0.2
"""Less acid than this in 100 g nobody tastes as such."""

_LEAST_D: Final = 0.2
"""So near to nothing no number of tastings is worth naming."""

Figures = Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Expected:
    """What two variants have between them.

    by : steps of each figure, b against a, the largest first; d_prime : all of them together
    pc, needs : share right and tastings needed by a kind of test; None where it is none, or too many are needed
    """

    a: str
    b: str
    d_prime: float
    by: tuple[tuple[str, float], ...]
    pc: float | None
    needs: int | None


def steps_between(a: Figures, b: Figures, attribute: str | None = None) -> dict[str, float]:
    """Return the steps of noticing from one to the other, of the figures that both have, or of one alone."""
    sizes = noticeable()
    return {
        figure: float(sizes[step].steps(a[figure], b[figure]))
        for figure, step in STEPS.items()
        if figure in a and figure in b and (attribute is None or attribute == figure)
    }


def expected(
    kind: str, a: tuple[str, Figures], b: tuple[str, Figures], attribute: str | None, alpha: float, power: float
) -> Expected:
    """Return what people will be able to tell of two variants, each a key with its figures."""
    steps = steps_between(a[1], b[1], attribute)
    d = sqrt(sum(by**2 for by in steps.values()))
    by = tuple(sorted(steps.items(), key=lambda one: -abs(one[1])))
    if kind not in LUCK:
        return Expected(a[0], b[0], d, by, None, None)
    share = share_right(kind, d)
    needs = tastings_needed(kind, share, alpha, power).tastings if d > _LEAST_D else None
    return Expected(a[0], b[0], d, by, share, needs)


def best_kind(figures: Mapping[str, float], few_cups: bool = False) -> str:
    """Return the test to propose: a named question where one figure leads, a tetrad where none does.

    Parameters
    ----------
    figures : steps of noticing by figure
    few_cups : whether no more than three cups may be poured
    """
    sizes = sorted((abs(by) for by in figures.values()), reverse=True)
    leads = bool(sizes) and sizes[0] > 0 and sizes[0] ** 2 >= sum(by**2 for by in sizes) / 2
    if leads:
        return "2-afc"
    return "triangle" if few_cups else "tetrad"


def figures_as_tasted(mix: Mix, serve_c: float | None) -> dict[str, float]:
    """Return the figures of a mix that are tasted at a temperature; at its own scooping one firmness says nothing."""
    found = analyse_mix(mix, freezer_c=HOME_FREEZER_C if serve_c is None else serve_c)
    acids = float(found.row[INDEX["acids"]])
    sweet = float(found.sweetness_pod)
    doses = doses_of(mix)
    figures = {
        "sweetness": sweet,
        "fat": float(found.fat),
        "total_solids": float(found.total_solids),
        "hydrocolloids": float(hydrocolloids(found.row)),
        "overrun_pct": mix.overrun_used_pct,
    }
    if serve_c is not None:
        figures["firmness"] = float(found.firmness)
    if doses:
        figures["flavour_g_kg"] = doses[0].g_per_kg
    if acids > _TART_FROM_G and sweet > 0:
        figures["acid_sweetness"] = acids / sweet
    if isfinite(float(found.scoop_c)):
        figures["scoop_c"] = float(found.scoop_c)
    return figures


_WORDS: Final = {
    "sweetness": ("sweeter", "less sweet"),
    "firmness": ("firmer", "softer"),
    "fat": ("richer", "leaner"),
    "total_solids": ("fuller", "thinner"),
    "hydrocolloids": ("more gum", "less gum"),
    "overrun_pct": ("airier", "denser"),
    "flavour_g_kg": ("stronger", "weaker"),
    "acid_sweetness": ("tarter", "less tart"),
}
NOT_TOLD: Final = 0.1
"""Fewer steps than this nobody speaks of."""

_MOST: Final = 0.6
_SOME: Final = 0.35


@dataclass(frozen=True, slots=True)
class Felt:
    """How two variants differ in one figure: in a word, in steps, and how many people tell."""

    figure: str
    word: str
    steps: float
    told_by: str


def felt_between(a: Figures, b: Figures) -> list[Felt]:
    """Return how b differs from a, what most people tell first; nothing of less than a tenth of a step.

    Of those who are asked which of the two has more, 2 · share right − 1 tell; the others guess.
    """
    steps = sorted(steps_between(a, b).items(), key=lambda one: -abs(one[1]))
    return [
        Felt(figure, _WORDS[figure][0 if by > 0 else 1], by, _told_by(2 * share_right("2-afc", abs(by)) - 1))
        for figure, by in steps
        if abs(by) >= NOT_TOLD
    ]


def _told_by(share: float) -> str:
    if share >= _MOST:
        return "most"
    return "some" if share >= _SOME else f"1 in {min(99, round(1 / share))}"


def proposed(figures: Mapping[str, float], alpha: float, power: float) -> tuple[str, str | None, int | None]:
    """Return the test to propose for steps of noticing by figure: its kind, what it asks, and the tastings it takes."""
    kind = best_kind(figures)
    if kind == "2-afc":
        asked = max(figures, key=lambda figure: abs(figures[figure]))
        d = abs(figures[asked])
        return kind, asked, tastings_needed(kind, share_right(kind, d), alpha, power).tastings if d > _LEAST_D else None
    d = sqrt(sum(by**2 for by in figures.values()))
    return kind, None, tastings_needed(kind, share_right(kind, d), alpha, power).tastings if d > _LEAST_D else None
