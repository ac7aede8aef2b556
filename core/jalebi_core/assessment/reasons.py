"""Reasons: the terms that an outcome comes from, and the message that says so."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import Dose
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import (
    churning_fat_g,
    fat_hold,
    guarded_fat_g,
    gum_hold,
    milk_solids_share,
    per_100g_water,
)
from jalebi_core.assessment.serving_conditions import Served
from jalebi_core.model.components import COMPONENTS, INDEX, POD, FloatArray, mask
from jalebi_core.model.composition import total_solids
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import air_factor, hardening
from jalebi_core.physics.freezing_power import freezing_power_per_100g_water
from jalebi_core.physics.phases import Phases
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.wording.message import Message

_WITHOUT_FAT: Final = ("sorbet", "sherbet", "granita")
_PROTEIN_FOR_BODY_G: Final = 3.0
CRUMB_G: Final = 0.05
_HARDENING_SAID: Final = 0.5
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
    working_gum_pct: float
    served: Served
    doses: tuple[Dose, ...]

    @property
    def ice_g(self) -> float:
        return self.frozen_pct * float(self.parts[INDEX["water"]]) / 100

    def grams(self, key: str) -> float:
        return float(self.parts[INDEX[key]])

    def family(self, family: str) -> float:
        return float(self.parts @ _FAMILIES[family])


Reason = tuple[tuple[Term, ...], Message]


def _firmness(facts: Facts) -> Reason:
    power = float(freezing_power_per_100g_water(facts.row))
    air = float(air_factor(np.array(facts.mix.overrun_used_pct)))
    hardened = float(hardening(facts.row)) if facts.frozen_pct > 0 else 0.0
    terms = (
        Term("water that is ice", facts.frozen_pct, "%"),
        Term("freezing power in 100 g of water", power if isfinite(power) else 0.0, "g as sugar"),
        Term("softening by air", air, "×"),
        *([Term("hardening by cocoa and nuts", hardened, "")] if hardened > 0 else []),
    )
    said = {"frozen_pct": facts.frozen_pct, "freezer_c": facts.freezer_c, "air": air, "power_g": power}
    message = Message("firmness-by-power" if isfinite(power) else "firmness", said)
    if hardened >= _HARDENING_SAID:
        message = Message("hardened", {"firmness": message, "by": hardened})
    served = {"served_c": facts.served.t_c, "eats": facts.served.words}
    return terms, Message("served", {"firmness": message, **served})


def _sweetness(facts: Facts) -> Reason:
    terms = _terms(facts.parts * POD / 100, "g as sugar")
    return terms, _of_parts("sweetness", terms)


def _saltiness(facts: Facts) -> Reason:
    salt = facts.grams("sodium_chloride")
    return (Term("salt", salt, "g"),), Message("salt", {"kg_g": 10 * salt})


def _tartness(facts: Facts) -> Reason:
    acids, sweet = facts.grams("acids"), float(sweetness_pod(facts.row))
    terms = (Term("acids", acids, "g"), Term("sweetness", sweet, "g as sugar"))
    return terms, Message("tartness", {"acids_g": acids, "sweet": sweet})


def _richness(facts: Facts) -> Reason:
    terms = _terms(facts.parts * _FAMILIES["fat"], "g")
    return terms, _of_parts("richness", terms)


def _body(facts: Facts) -> Reason:
    protein = facts.family("protein")
    solids = float(total_solids(facts.row))
    terms = (Term("solids", solids, "g"), Term("protein", protein, "g"), Term("water", facts.grams("water"), "g"))
    code = "body-firm" if protein >= _PROTEIN_FOR_BODY_G else "body-weak"
    return terms, Message(code, {"protein_g": protein, "enough_g": _PROTEIN_FOR_BODY_G})


def _iciness(facts: Facts) -> Reason:
    by_gum, by_fat = 100 * float(gum_hold(np.array(facts.working_gum_pct))), 100 * float(fat_hold(facts.row))
    terms = (Term("ice", facts.ice_g, "g"), Term("held by gum", by_gum, "%"), Term("held by fat", by_fat, "%"))
    lean = facts.mix.style not in _WITHOUT_FAT and by_gum > 15 > 2 * by_fat
    code = "iciness-lean" if lean else "iciness"
    return terms, Message(code, {"ice_g": facts.ice_g, "gum_pct": by_gum, "fat_pct": by_fat})


def _sand(facts: Facts) -> Reason:
    share, in_water = float(milk_solids_share(facts.row)), float(per_100g_water(facts.row, "lactose"))
    held, dissolves = float(facts.cold.lactose_in_water), float(facts.cold.lactose_soluble)
    terms = (
        Term("lactose in 100 g of water", in_water, "g"),
        Term("lactose", facts.grams("lactose"), "g"),
        Term("water", facts.grams("water"), "g"),
        Term("milk solids in milk solids and water", share, "g/g"),
        Term("lactose in 100 g of unfrozen water", held, "g"),
        Term("lactose that dissolves there", dissolves, "g"),
    )
    scale = outcome_scales()["sand"]
    warm = {"lactose_g": in_water, "smooth_g": scale.band[1], "sandy_g": scale.words[2][0]}
    if held <= 0:
        return terms, Message("sand", warm)
    cold = {**warm, "freezer_c": facts.freezer_c, "held_g": held, "dissolves_g": dissolves}
    return terms, Message("sand-over" if held > dissolves else "sand-dissolved", cold)


def _flavour(facts: Facts) -> Reason:
    doses = facts.doses
    terms = tuple(Term(dose.flavouring, dose.g_per_kg, "g per kg") for dose in doses[:5])
    lead, fats, sweet = doses[0], facts.family("fat"), float(sweetness_pod(facts.row))
    mutes = [Message("mute-fat", {"fat_g": fats})] if fats >= _FAT_MUTES_G else []
    mutes += [Message("mute-sweetness", {"sweetness_pod": sweet})] if sweet >= _SWEET_MUTES else []
    said = {
        "flavouring": lead.flavouring,
        "dose_g_kg": lead.g_per_kg,
        "least": lead.ladder[0],
        "most": lead.ladder[1],
        **dict(zip(("mute", "mute_too"), mutes, strict=False)),
    }
    return terms, Message(("flavour", "flavour-muted", "flavour-muted-twice")[len(mutes)], said)


def _grit(facts: Facts) -> Reason:
    whole, out = facts.grams("erythritol"), float(facts.cold.crystals_g)
    terms = (Term("erythritol", whole, "g"), Term("of it out of solution", out, "g"))
    said = {"whole_g": whole, "dissolved_g": whole - out, "freezer_c": facts.freezer_c}
    return terms, Message("grit", said)


def _butter(facts: Facts) -> Reason:
    fats, protein = facts.family("fat"), facts.family("protein")
    terms = (Term("fat", fats, "g"), Term("protein", protein, "g"))
    said = {"guarded_g": float(guarded_fat_g(facts.row)), "fat_g": float(churning_fat_g(facts.row))}
    return terms, Message("butter", said)


def _slip(facts: Facts) -> Reason:
    return (Term("gums", facts.grams("hydrocolloids"), "g"),), Message("slip")


def _snow(facts: Facts) -> Reason:
    solids, overrun = float(total_solids(facts.row)), facts.mix.overrun_used_pct
    terms = (Term("overrun", overrun, "%"), Term("solids", solids, "g"))
    return terms, Message("snow", {"solids_g": solids, "overrun_pct": overrun})


def _melt(facts: Facts) -> Reason:
    overrun, fats = facts.mix.overrun_used_pct, float(churning_fat_g(facts.row))
    gum = Term("gum that holds", facts.working_gum_pct, "g")
    terms = (Term("ice", facts.ice_g, "g"), Term("overrun", overrun, "%"), Term("fat that joins", fats, "g"), gum)
    said = {"ice_g": facts.ice_g, "overrun_pct": overrun, "fat_g": fats, "gum_g": facts.working_gum_pct}
    return terms, Message("melt", said)


REASONS: Final[dict[str, Callable[[Facts], Reason]]] = {
    "firmness": _firmness,
    "sweetness": _sweetness,
    "saltiness": _saltiness,
    "tartness": _tartness,
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


def _of_parts(code: str, terms: tuple[Term, ...]) -> Message:
    """Return what is said of an outcome by what it comes from, or that there is nothing of it."""
    if not terms:
        return Message(f"{code}-none")
    return Message(
        code, {"parts": [Message("part", {"name": term.name.lower(), "value": term.value}) for term in terms]}
    )
