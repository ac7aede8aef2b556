"""Judging a mix: a word, a band and a reason for each outcome of how it will eat."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from math import isfinite
from typing import Any, Final

import numpy as np

from .components import COMPONENTS, INDEX, POD, FloatArray, mask
from .composition import components_of, total_solids
from .firmness import air_factor
from .freezing import frozen_pct, liquid
from .freezing_power import freezing_power_per_100g_water
from .mix import Mix
from .outcomes import Eating, eating, fat_hold, gum_hold, milk_solids_share
from .styles import Band, Style, styles
from .tracks import Track, tracks

_SLACK: Final = 0.05
"""A figure this close to its band counts as inside: it is shown with one decimal."""
_ONLY_WHERE_THERE_IS: Final = {"grit": 0.05, "slip": 0.005, "sand": 0.5, "butter": -1.0}
"""Outcomes that are not shown below this value: nothing there could cause them."""


_WITHOUT_FAT: Final = ("sorbet", "sherbet")


@dataclass(frozen=True, slots=True)
class Term:
    """One of the quantities that an outcome comes from."""

    name: str
    value: float
    unit: str


@dataclass(frozen=True, slots=True)
class Outcome:
    """One outcome of a mix.

    ``band`` is usual for its style; ``state`` is low, in or high against it; ``rule`` names the function that
    computes the value.
    """

    key: str
    name: str
    value: float
    unit: str
    band: Band
    scale: Band
    ends: tuple[str, str]
    word: str
    state: str
    terms: tuple[Term, ...]
    reason: str
    rule: str


def outcomes_of(mix: Mix, freezer_c: float) -> tuple[Outcome, ...]:
    """Judge a mix for its style at a freezer's temperature; what nothing in it could cause is left out."""
    row, overrun = mix.row(), np.array(mix.overrun_used_pct)
    found = eating(row, overrun, freezer_c)
    style = styles().get(mix.style or "")
    return tuple(
        _judged(track, found, row, mix, style, freezer_c)
        for key, track in tracks().items()
        if float(getattr(found, key)) > _ONLY_WHERE_THERE_IS.get(key, -1.0)
    )


def _judged(track: Track, found: Eating, row: FloatArray, mix: Mix, style: Style | None, freezer_c: float) -> Outcome:
    value, band = float(getattr(found, track.key)), track.band_for(style)
    state = "low" if value < band[0] - _SLACK else "high" if value > band[1] + _SLACK else "in"
    word = track.word_for(value, band)
    terms, because = _REASONS[track.key](row, mix, freezer_c)
    unit = f" {track.unit}" if track.unit else ""
    usual = "" if state == "in" or style is None else f" A {style.name} usually has {band[0]:g} to {band[1]:g}."
    reason = f"{word.capitalize()}: {value:.1f}{unit}. {because}{usual if track.style_band else ''}"
    return Outcome(
        track.key, track.name, value, track.unit, band, track.scale, track.ends, word, state, terms, reason, track.rule
    )


Reason = tuple[tuple[Term, ...], str]


def missing_pillars(mix: Mix) -> tuple[str, ...]:
    """Return what a mix has none of although its style stands on it, as sentences."""
    row = mix.row()
    style = styles().get(mix.style or "")
    parts = components_of(row)
    sweet = float(parts @ (mask(family="sugar") + mask(family="polyol"))) - float(parts[INDEX["lactose"]])
    said = []
    if style and style.bands.get("sweetness_pod") and sweet < _LEAST_SWEETENER_G:
        said.append(
            f"There is hardly any sugar in it: a {style.name} sets like stone without something that dissolves."
        )
    if style and style.bands.get("fat", (0, 0))[0] > 0 and float(parts @ mask(family="fat")) < _LEAST_FAT_G:
        said.append(f"There is hardly any fat in it: a {style.name} without fat eats watery and melts fast.")
    if float(parts[INDEX["water"]]) <= 0:
        said.append("There is no water in it.")
    return tuple(said)


_LEAST_SWEETENER_G: Final = 4.0
_LEAST_FAT_G: Final = 1.0


def _firmness(row: FloatArray, mix: Mix, freezer_c: float) -> Reason:
    frozen = float(frozen_pct(liquid(row), np.array([freezer_c]))[0])
    power = float(freezing_power_per_100g_water(row))
    air = float(air_factor(np.array(mix.overrun_used_pct)))
    terms = (
        Term("water that is ice", frozen, "%"),
        Term("freezing power in 100 g of water", power, "g as sugar"),
        Term("softening by air", air, "×"),
    )
    at = f"{freezer_c:.0f} °C".replace("-", "−")
    carried = f", because 100 g of its water carry {power:.0f} g of freezing power" if isfinite(power) else ""
    return terms, f"{frozen:.0f} % of its water is ice at {at}{carried}; its air counts × {air:.2f}."


def _sweetness(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    brought = components_of(row) * POD / 100
    terms = _terms(brought, "g as sugar")
    return terms, f"It comes from {_named(terms)}. Cold, acid and bitterness dull it."


def _richness(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    terms = _terms(components_of(row) * mask(family="fat"), "g")
    return terms, f"Its fat is {_named(terms)}." if terms else "There is no fat in it."


def _body(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    parts = components_of(row)
    protein = float(parts @ mask(family="protein"))
    solids = float(total_solids(row))
    terms = (
        Term("solids", solids, "g"),
        Term("protein", protein, "g"),
        Term("water", float(parts[INDEX["water"]]), "g"),
    )
    firm = "enough to stand" if protein >= 3 else "little to stand on: 3 g and more give body"
    return terms, f"{protein:.1f} g of it is protein, {firm}."


def _iciness(row: FloatArray, mix: Mix, freezer_c: float) -> Reason:
    parts = components_of(row)
    frozen = float(frozen_pct(liquid(row), np.array([freezer_c]))[0])
    ice = frozen * float(parts[INDEX["water"]]) / 100
    by_gum, by_fat = 100 * float(gum_hold(row)), 100 * float(fat_hold(row))
    terms = (Term("ice", ice, "g"), Term("held by gum", by_gum, "%"), Term("held by fat", by_fat, "%"))
    wants_fat = mix.style not in _WITHOUT_FAT
    lean = " A gum mends the look of a lean mix, not its watery feel." if wants_fat and by_gum > 15 > 2 * by_fat else ""
    return terms, f"{ice:.0f} g of ice in 100 g; gum holds back {by_gum:.0f} % of its growth, fat {by_fat:.0f} %.{lean}"


def _sand(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    parts = components_of(row)
    share = float(milk_solids_share(row))
    terms = (
        Term("lactose", float(parts[INDEX["lactose"]]), "g"),
        Term("water", float(parts[INDEX["water"]]), "g"),
        Term("milk solids in milk solids and water", share, "g/g"),
    )
    return (
        terms,
        f"Milk solids are {share:.3f} of themselves and the water; 0.15 stays smooth for weeks, 0.18 for days.",
    )


def _grit(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    grams = float(components_of(row)[INDEX["erythritol"]])
    return (Term("erythritol", grams, "g"),), "About 10 g stay dissolved at 0 °C and less below; the rest crystallises."


def _butter(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    parts = components_of(row)
    terms = (
        Term("fat", float(parts @ mask(family="fat")), "g"),
        Term("protein", float(parts @ mask(family="protein")), "g"),
        Term("emulsifier", float(parts[INDEX["emulsifiers"]]), "g"),
    )
    return (
        terms,
        f"{terms[1].value:.1f} g of protein guard {4 * terms[1].value:.0f} of its {terms[0].value:.1f} g of fat.",
    )


def _slip(row: FloatArray, _mix: Mix, _freezer_c: float) -> Reason:
    gum = float(components_of(row)[INDEX["hydrocolloids"]])
    return (Term("gums", gum, "g"),), "From 0.1 to 0.5 g of gum in 100 g is usual; more is slippery, then slimy."


def _snow(row: FloatArray, mix: Mix, _freezer_c: float) -> Reason:
    solids = float(total_solids(row))
    terms = (Term("overrun", mix.overrun_used_pct, "%"), Term("solids", solids, "g"))
    return (
        terms,
        f"{solids:.0f} g of solids carry {mix.overrun_used_pct:.0f} % of air; more than twice as much turns snowy.",
    )


def _melt(row: FloatArray, mix: Mix, freezer_c: float) -> Reason:
    frozen = float(frozen_pct(liquid(row), np.array([freezer_c]))[0])
    ice = frozen * float(components_of(row)[INDEX["water"]]) / 100
    terms = (Term("ice", ice, "g"), Term("overrun", mix.overrun_used_pct, "%"))
    return (
        terms,
        f"A scoop of 65 ml in still air: {ice:.0f} g of ice in 100 g take up the heat, air makes the scoop lighter.",
    )


_REASONS: Final[dict[str, Callable[[FloatArray, Mix, float], Reason]]] = {
    "firmness": _firmness,
    "sweetness": _sweetness,
    "richness": _richness,
    "body": _body,
    "iciness": _iciness,
    "sand": _sand,
    "grit": _grit,
    "butter": _butter,
    "slip": _slip,
    "snow": _snow,
    "melt": _melt,
}


def _terms(brought: FloatArray, unit: str) -> tuple[Term, ...]:
    """Return the components that bring most, the first first, without crumbs."""
    named = ((component.name, float(value)) for component, value in zip(COMPONENTS, brought, strict=True))
    most = sorted((pair for pair in named if pair[1] >= 0.05), key=lambda pair: -pair[1])
    return tuple(Term(name, value, unit) for name, value in most[:5])


def _named(terms: tuple[Term, ...]) -> str:
    return ", ".join(f"{term.name.lower()} {term.value:.1f}" for term in terms)


def outcomes_data(mix: Mix, freezer_c: float) -> dict[str, Any]:
    """Return the outcomes as the plain data that ``jalebi analyse --json`` prints."""
    return {
        outcome.key: {
            "value": float(f"{outcome.value:.10g}"),
            "word": outcome.word,
            "band": list(outcome.band),
            "terms": [asdict(term) for term in outcome.terms],
            "reason": outcome.reason,
        }
        for outcome in outcomes_of(mix, freezer_c)
    }
