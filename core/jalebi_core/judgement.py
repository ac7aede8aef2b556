"""Judging a mix: a word, a band and a reason for each outcome of how it will eat."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from math import isfinite
from typing import Any, Final

import numpy as np

from . import constants as c
from .components import COMPONENTS, INDEX, POD, FloatArray, mask
from .composition import components_of, total_solids
from .firmness import air_factor
from .freezing_power import freezing_power_per_100g_water
from .mix import Mix
from .outcomes import Eating, eating, fat_hold, frozen_at, gum_hold, milk_solids_share
from .styles import Band, Style, styles
from .tracks import Track, tracks

_ONLY_WHERE_THERE_IS: Final = {"grit": 0.05, "slip": 0.005, "sand": 0.5}
"""Outcomes that are not shown below this value: nothing there could cause them."""

_WITHOUT_FAT: Final = ("sorbet", "sherbet")
_LEAST_SWEETENER_G: Final = 4.0
_LEAST_FAT_G: Final = 1.0
_PROTEIN_FOR_BODY_G: Final = 3.0
_CRUMB: Final = 0.05
_FAMILIES: Final = {family: mask(family=family) for family in ("fat", "protein", "sugar", "polyol")}


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


@dataclass(frozen=True, slots=True)
class _Facts:
    """What reasons are made of: a mix's row, its parts, how it stands at the freezer, and what was asked."""

    mix: Mix
    row: FloatArray
    parts: FloatArray
    frozen_pct: float
    freezer_c: float

    @property
    def ice_g(self) -> float:
        return self.frozen_pct * float(self.parts[INDEX["water"]]) / 100

    def grams(self, key: str) -> float:
        return float(self.parts[INDEX[key]])

    def family(self, family: str) -> float:
        return float(self.parts @ _FAMILIES[family])


def outcomes_of(mix: Mix, freezer_c: float) -> tuple[Outcome, ...]:
    """Judge a mix for its style at a freezer's temperature; what nothing in it could cause is left out."""
    row = mix.row()
    return judge(mix, row, frozen_at(row, freezer_c), freezer_c)


def judge(mix: Mix, row: FloatArray, frozen: FloatArray, freezer_c: float) -> tuple[Outcome, ...]:
    """Do what `outcomes_of` does for a mix whose row and ice at the freezer's temperature are known already."""
    found = eating(row, np.array(mix.overrun_used_pct), frozen)
    facts = _Facts(mix, row, components_of(row), float(frozen), freezer_c)
    style = styles().get(mix.style or "")
    return tuple(
        _judged(track, found, facts, style)
        for key, track in tracks().items()
        if float(getattr(found, key)) > _ONLY_WHERE_THERE_IS.get(key, -1.0)
    )


def _judged(track: Track, found: Eating, facts: _Facts, style: Style | None) -> Outcome:
    value, band = float(getattr(found, track.key)), track.band_for(style)
    state = "low" if value < band[0] - c.BAND_SLACK else "high" if value > band[1] + c.BAND_SLACK else "in"
    word = track.word_for(value, band)
    terms, because = _REASONS[track.key](facts)
    unit = f" {track.unit}" if track.unit else ""
    usual = "" if state == "in" or style is None else f" A {style.name} usually has {band[0]:g} to {band[1]:g}."
    reason = f"{word.capitalize()}: {value:.1f}{unit}. {because}{usual if track.style_band else ''}"
    return Outcome(
        track.key, track.name, value, track.unit, band, track.scale, track.ends, word, state, terms, reason, track.rule
    )


Reason = tuple[tuple[Term, ...], str]


def missing_pillars(row: FloatArray, style_key: str | None) -> tuple[str, ...]:
    """Return what a mix's row, shape (WIDTH,), has none of although its style stands on it, as sentences."""
    style = styles().get(style_key or "")
    parts = components_of(row)
    sweet = float(parts @ (_FAMILIES["sugar"] + _FAMILIES["polyol"])) - float(parts[INDEX["lactose"]])
    said = []
    if style and style.bands.get("sweetness_pod") and sweet < _LEAST_SWEETENER_G:
        said.append(
            f"There is hardly any sugar in it: a {style.name} sets like stone without something that dissolves."
        )
    if style and style.bands.get("fat", (0, 0))[0] > 0 and float(parts @ _FAMILIES["fat"]) < _LEAST_FAT_G:
        said.append(f"There is hardly any fat in it: a {style.name} without fat eats watery and melts fast.")
    if float(parts[INDEX["water"]]) <= 0:
        said.append("There is no water in it.")
    return tuple(said)


def _firmness(facts: _Facts) -> Reason:
    power = float(freezing_power_per_100g_water(facts.row))
    air = float(air_factor(np.array(facts.mix.overrun_used_pct)))
    terms = (
        Term("water that is ice", facts.frozen_pct, "%"),
        Term("freezing power in 100 g of water", power if isfinite(power) else 0.0, "g as sugar"),
        Term("softening by air", air, "×"),
    )
    at = f"{facts.freezer_c:.0f} °C".replace("-", "−")
    carried = f", because 100 g of its water carry {power:.0f} g of freezing power" if isfinite(power) else ""
    return terms, f"{facts.frozen_pct:.0f} % of its water is ice at {at}{carried}; its air counts × {air:.2f}."


def _sweetness(facts: _Facts) -> Reason:
    terms = _terms(facts.parts * POD / 100, "g as sugar")
    return (
        terms,
        f"It comes from {_named(terms)}. Cold, acid and bitterness dull it." if terms else "Nothing sweetens it.",
    )


def _richness(facts: _Facts) -> Reason:
    terms = _terms(facts.parts * _FAMILIES["fat"], "g")
    return terms, f"Its fat is {_named(terms)}." if terms else "There is no fat in it."


def _body(facts: _Facts) -> Reason:
    protein = facts.family("protein")
    solids = float(total_solids(facts.row))
    terms = (Term("solids", solids, "g"), Term("protein", protein, "g"), Term("water", facts.grams("water"), "g"))
    firm = "enough to stand" if protein >= _PROTEIN_FOR_BODY_G else "little to stand on: 3 g and more give body"
    return terms, f"{protein:.1f} g of it is protein, {firm}."


def _iciness(facts: _Facts) -> Reason:
    by_gum, by_fat = 100 * float(gum_hold(facts.row)), 100 * float(fat_hold(facts.row))
    terms = (Term("ice", facts.ice_g, "g"), Term("held by gum", by_gum, "%"), Term("held by fat", by_fat, "%"))
    lean = facts.mix.style not in _WITHOUT_FAT and by_gum > 15 > 2 * by_fat
    mended = " A gum mends the look of a lean mix, not its watery feel." if lean else ""
    held = f"gum holds back {by_gum:.0f} % of its growth, fat {by_fat:.0f} %"
    return terms, f"{facts.ice_g:.0f} g of ice in 100 g; {held}.{mended}"


def _sand(facts: _Facts) -> Reason:
    share = float(milk_solids_share(facts.row))
    terms = (
        Term("lactose", facts.grams("lactose"), "g"),
        Term("water", facts.grams("water"), "g"),
        Term("milk solids in milk solids and water", share, "g/g"),
    )
    return (
        terms,
        f"Milk solids are {share:.3f} of themselves and the water; 0.15 stays smooth for weeks, 0.18 for days.",
    )


def _grit(facts: _Facts) -> Reason:
    terms = (Term("erythritol", facts.grams("erythritol"), "g"),)
    return terms, "About 10 g stay dissolved at 0 °C and less below; the rest crystallises."


def _butter(facts: _Facts) -> Reason:
    fats, protein = facts.family("fat"), facts.family("protein")
    emulsifier = facts.grams("emulsifiers")
    terms = (Term("fat", fats, "g"), Term("protein", protein, "g"), Term("emulsifier", emulsifier, "g"))
    return terms, f"{protein:.1f} g of protein and {emulsifier:.1f} g of emulsifier guard its {fats:.1f} g of fat."


def _slip(facts: _Facts) -> Reason:
    terms = (Term("gums", facts.grams("hydrocolloids"), "g"),)
    return terms, "From 0.1 to 0.5 g of gum in 100 g is usual; more is slippery, then slimy."


def _snow(facts: _Facts) -> Reason:
    solids, overrun = float(total_solids(facts.row)), facts.mix.overrun_used_pct
    terms = (Term("overrun", overrun, "%"), Term("solids", solids, "g"))
    return terms, f"{solids:.0f} g of solids carry {overrun:.0f} % of air; more than twice as much turns snowy."


def _melt(facts: _Facts) -> Reason:
    terms = (Term("ice", facts.ice_g, "g"), Term("overrun", facts.mix.overrun_used_pct, "%"))
    taken = f"the {facts.ice_g:.0f} g of ice in 100 g take up the heat, and air makes the scoop lighter"
    return terms, f"Of a scoop of 65 ml in still air {taken}."


_REASONS: Final[dict[str, Callable[[_Facts], Reason]]] = {
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
    most = sorted(((value, at) for at, value in enumerate(brought.tolist()) if value >= _CRUMB), reverse=True)
    return tuple(Term(COMPONENTS[at].name, value, unit) for value, at in most[:5])


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
