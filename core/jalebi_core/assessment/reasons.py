"""Reasons: the terms that an outcome comes from, and the sentence that says so."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import doses_of
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import fat_hold, gum_hold, milk_solids_share, per_100g_water
from jalebi_core.model.components import COMPONENTS, INDEX, POD, FloatArray, mask
from jalebi_core.model.composition import total_solids
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import air_factor
from jalebi_core.physics.freezing_power import freezing_power_per_100g_water
from jalebi_core.physics.phases import Phases
from jalebi_core.physics.sweetness import sweetness_pod

_WITHOUT_FAT: Final = ("sorbet", "sherbet")
_PROTEIN_FOR_BODY_G: Final = 3.0
CRUMB_G: Final = 0.05
_FAT_MUTES_G: Final = 12.0
_SWEET_MUTES: Final = 18.0
"""From about here fat and sweetness noticeably mute a flavour; working conventions, named and not counted."""

_FAMILIES: Final = {family: mask(family=family) for family in ("fat", "protein", "sugar", "polyol")}


@dataclass(frozen=True, slots=True)
class Term:
    """One of the quantities that an outcome comes from."""

    name: str
    value: float
    unit: str


@dataclass(frozen=True, slots=True)
class Facts:
    """What reasons are made of: a mix's row, its parts, how it stands at the freezer, and what was asked."""

    mix: Mix
    row: FloatArray
    parts: FloatArray
    frozen_pct: float
    freezer_c: float
    cold: Phases

    @property
    def at(self) -> str:
        return f"{self.freezer_c:.0f} °C".replace("-", "−")

    @property
    def ice_g(self) -> float:
        return self.frozen_pct * float(self.parts[INDEX["water"]]) / 100

    def grams(self, key: str) -> float:
        return float(self.parts[INDEX[key]])

    def family(self, family: str) -> float:
        return float(self.parts @ _FAMILIES[family])


Reason = tuple[tuple[Term, ...], str]


def _firmness(facts: Facts) -> Reason:
    power = float(freezing_power_per_100g_water(facts.row))
    air = float(air_factor(np.array(facts.mix.overrun_used_pct)))
    terms = (
        Term("water that is ice", facts.frozen_pct, "%"),
        Term("freezing power in 100 g of water", power if isfinite(power) else 0.0, "g as sugar"),
        Term("softening by air", air, "×"),
    )
    carried = f", because 100 g of its water carry {power:.0f} g of freezing power" if isfinite(power) else ""
    return terms, f"{facts.frozen_pct:.0f} % of its water is ice at {facts.at}{carried}; its air counts × {air:.2f}."


def _sweetness(facts: Facts) -> Reason:
    terms = _terms(facts.parts * POD / 100, "g as sugar")
    return (
        terms,
        f"It comes from {_named(terms)}. Cold, acid and bitterness dull it." if terms else "Nothing sweetens it.",
    )


def _richness(facts: Facts) -> Reason:
    terms = _terms(facts.parts * _FAMILIES["fat"], "g")
    return terms, f"Its fat is {_named(terms)}." if terms else "There is no fat in it."


def _body(facts: Facts) -> Reason:
    protein = facts.family("protein")
    solids = float(total_solids(facts.row))
    terms = (Term("solids", solids, "g"), Term("protein", protein, "g"), Term("water", facts.grams("water"), "g"))
    firm = "enough to stand" if protein >= _PROTEIN_FOR_BODY_G else "little to stand on: 3 g and more give body"
    return terms, f"{protein:.1f} g of it is protein, {firm}."


def _iciness(facts: Facts) -> Reason:
    by_gum, by_fat = 100 * float(gum_hold(facts.row)), 100 * float(fat_hold(facts.row))
    terms = (Term("ice", facts.ice_g, "g"), Term("held by gum", by_gum, "%"), Term("held by fat", by_fat, "%"))
    lean = facts.mix.style not in _WITHOUT_FAT and by_gum > 15 > 2 * by_fat
    mended = " A gum mends the look of a lean mix, not its watery feel." if lean else ""
    held = f"gum holds back {by_gum:.0f} % of its growth, fat {by_fat:.0f} %"
    return terms, f"{facts.ice_g:.0f} g of ice in 100 g; {held}.{mended}"


def _sand(facts: Facts) -> Reason:
    share, in_water = float(milk_solids_share(facts.row)), float(per_100g_water(facts.row, "lactose"))
    smooth, sandy = outcome_scales()["sand"].band[1], outcome_scales()["sand"].words[2][0]
    held, dissolves = float(facts.cold.lactose_in_water), float(facts.cold.lactose_soluble)
    terms = (
        Term("lactose in 100 g of water", in_water, "g"),
        Term("lactose", facts.grams("lactose"), "g"),
        Term("water", facts.grams("water"), "g"),
        Term("milk solids in milk solids and water", share, "g/g"),
        Term("lactose in 100 g of unfrozen water", float(facts.cold.lactose_in_water), "g"),
        Term("lactose that dissolves there", dissolves, "g"),
    )
    cold = f" At {facts.at} the unfrozen water holds {held:.0f} g in 100 g where {dissolves:.0f} dissolve: "
    kept = "only cold, gum and time keep it from crystallising." if held > dissolves else "it stays dissolved."
    return (
        terms,
        f"{in_water:.1f} g of lactose in 100 g of its water: up to {smooth:g} stays smooth for weeks, "
        f"above {sandy:g} it turns sandy in days." + (cold + kept if held > 0 else ""),
    )


def _flavour(facts: Facts) -> Reason:
    doses = doses_of(facts.mix)
    terms = tuple(Term(dose.flavouring, dose.g_per_kg, "g per kg") for dose in doses[:5])
    lead = doses[0]
    ladder = f"its ladder goes from {lead.ladder[0]:g} to {lead.ladder[1]:g}"
    fats, sweet = facts.family("fat"), float(sweetness_pod(facts.row))
    mutes = [f"{fats:.0f} g of fat"] * (fats >= _FAT_MUTES_G) + [f"sweetness {sweet:.0f}"] * (sweet >= _SWEET_MUTES)
    muted = f" {' and '.join(['Cold', *mutes])} mute it." if mutes else " Cold mutes it."
    return terms, f"{lead.flavouring} at {lead.g_per_kg:.3g} g per kg leads; {ladder}.{muted}"


def _grit(facts: Facts) -> Reason:
    whole, out = facts.grams("erythritol"), float(facts.cold.crystals_g)
    terms = (Term("erythritol", whole, "g"), Term("of it out of solution", out, "g"))
    return (
        terms,
        f"Of {whole:.1f} g erythritol {whole - out:.1f} g stay dissolved at {facts.at}; the rest crystallises.",
    )


def _butter(facts: Facts) -> Reason:
    fats, protein = facts.family("fat"), facts.family("protein")
    emulsifier = facts.grams("emulsifiers")
    terms = (Term("fat", fats, "g"), Term("protein", protein, "g"), Term("emulsifier", emulsifier, "g"))
    return terms, f"{protein:.1f} g of protein and {emulsifier:.1f} g of emulsifier guard its {fats:.1f} g of fat."


def _slip(facts: Facts) -> Reason:
    terms = (Term("gums", facts.grams("hydrocolloids"), "g"),)
    return terms, "From 0.1 to 0.5 g of gum in 100 g is usual; more is slippery, then slimy."


def _snow(facts: Facts) -> Reason:
    solids, overrun = float(total_solids(facts.row)), facts.mix.overrun_used_pct
    terms = (Term("overrun", overrun, "%"), Term("solids", solids, "g"))
    return terms, f"{solids:.0f} g of solids carry {overrun:.0f} % of air; more than twice as much turns snowy."


def _melt(facts: Facts) -> Reason:
    terms = (Term("ice", facts.ice_g, "g"), Term("overrun", facts.mix.overrun_used_pct, "%"))
    taken = f"the {facts.ice_g:.0f} g of ice in 100 g take up the heat, and air makes the scoop lighter"
    return terms, f"Of a scoop of 65 ml in still air {taken}."


REASONS: Final[dict[str, Callable[[Facts], Reason]]] = {
    "firmness": _firmness,
    "sweetness": _sweetness,
    "richness": _richness,
    "body": _body,
    "flavour": _flavour,
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
    most = sorted(((value, at) for at, value in enumerate(brought.tolist()) if value >= CRUMB_G), reverse=True)
    return tuple(Term(COMPONENTS[at].name, value, unit) for value, at in most[:5])


def _named(terms: tuple[Term, ...]) -> str:
    return ", ".join(f"{term.name.lower()} {term.value:.1f}" for term in terms)
