"""Names that the law protects, as advisory checks: what a mix may be called where, and the figure that decides.

Guidance as of 2026, not advice: United States 21 CFR 135.110 and 135.140, Canada Food and Drug Regulations B.08.062,
United Kingdom code of practice. The relief for bulky flavours (chocolate, fruit, nuts) is not counted. Defer to local
codes and to those who are licensed to answer.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from . import constants as c
from .components import INDEX, FloatArray
from .composition import components_of, msnf, total_solids, trait_of
from .mix import Mix
from .volume import density_kg_l

_MILK_FAT: Final = INDEX["milk_fat"]
_LEAST_SOLIDS_G_L: Final = 192.0
_LEAST_MASS_G_L: Final = 539.0
_LEAST_SHERBET_MASS_G_L: Final = 719.0
"""1.6 lb of food solids, 4.5 lb and 6 lb in a US gallon."""


@dataclass(frozen=True, slots=True)
class ProtectedName:
    """A name in a region: whether the mix may bear it by its figures, and the one that decides."""

    region: str
    name: str
    fits: bool
    because: str


def names_of(mix: Mix) -> tuple[ProtectedName, ...]:
    """Return the protected names that a mix with milk fat or yolk comes into question for."""
    row = mix.row()
    parts = components_of(row)
    if float(parts[_MILK_FAT]) < c.LEAST_MILK_FAT_TO_NAME_G and float(trait_of(row, "yolk_solids")) <= 0:
        return ()
    litre_g = 1000 * float(np.nan_to_num(density_kg_l(row))) / (1 + mix.overrun_used_pct / 100)
    return tuple(_checked(region, name, rules, row, litre_g) for region, name, rules in _RULES)


Rule = Callable[[FloatArray, float], tuple[bool, str]]


def _checked(region: str, name: str, rules: tuple[Rule, ...], row: FloatArray, litre_g: float) -> ProtectedName:
    found = [rule(row, litre_g) for rule in rules]
    failing = [because for fits, because in found if not fits]
    return ProtectedName(region, name, not failing, "; ".join(failing) if failing else found[0][1])


def _milk_fat(least: float, most: float = 100.0) -> Rule:
    def rule(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
        has = float(components_of(row)[_MILK_FAT])
        wanted = f"at least {least:g}" if most == 100 else f"{least:g} to {most:g}"
        return least <= has <= most, f"{has:.1f} % milk fat, {wanted} is asked"

    return rule


def _nonfat_milk_solids(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
    """From 10 % at 10 % milk fat the least sinks by as much as the milk fat rises, down to 6 %."""
    has, fat = float(msnf(row)), float(components_of(row)[_MILK_FAT])
    least = max(6.0, min(10.0, 20.0 - fat))
    return has >= least, f"{has:.1f} % nonfat milk solids, {least:.1f} is asked beside {fat:.1f} % milk fat"


def _yolk(*, custard: bool) -> Rule:
    def rule(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
        has = float(trait_of(row, "yolk_solids"))
        fits = has >= c.CUSTARD_YOLK_SOLIDS_G if custard else has < c.CUSTARD_YOLK_SOLIDS_G
        asked = "at least" if custard else "less than"
        return fits, f"{has:.2f} % yolk solids, {asked} {c.CUSTARD_YOLK_SOLIDS_G:g} is asked"

    return rule


def _heavy(least_g: float, solids_g: float = 0.0) -> Rule:
    def rule(row: FloatArray, litre_g: float) -> tuple[bool, str]:
        solids = litre_g * float(total_solids(row)) / 100
        if solids_g and solids < solids_g:
            return False, f"{solids:.0f} g of solids in a litre with its air, {solids_g:.0f} is asked"
        return litre_g >= least_g, f"a litre with its air weighs {litre_g:.0f} g, {least_g:.0f} is asked"

    return rule


def _solids(least: float) -> Rule:
    def rule(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
        has = float(total_solids(row))
        return has >= least, f"{has:.1f} % solids, {least:g} is asked"

    return rule


def _milk_solids(least: float, most: float) -> Rule:
    def rule(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
        has = float(msnf(row)) + float(components_of(row)[_MILK_FAT])
        return least <= has <= most, f"{has:.1f} % milk solids, {least:g} to {most:g} is asked"

    return rule


def _milk_protein(least: float) -> Rule:
    def rule(row: FloatArray, _litre_g: float) -> tuple[bool, str]:
        has = float(components_of(row)[INDEX["milk_protein"]])
        return has >= least, f"{has:.1f} % milk protein, {least:g} is asked"

    return rule


_AS_ICE_CREAM: Final = (_milk_fat(10), _nonfat_milk_solids, _heavy(_LEAST_MASS_G_L, _LEAST_SOLIDS_G_L))
_RULES: Final[tuple[tuple[str, str, tuple[Rule, ...]], ...]] = (
    ("United States", "ice cream", (*_AS_ICE_CREAM, _yolk(custard=False))),
    ("United States", "frozen custard", (*_AS_ICE_CREAM, _yolk(custard=True))),
    ("United States", "sherbet", (_milk_fat(1, 2), _milk_solids(2, 5), _heavy(_LEAST_SHERBET_MASS_G_L))),
    ("Canada", "ice cream", (_milk_fat(10), _solids(36))),
    ("United Kingdom", "dairy ice cream", (_milk_fat(5), _milk_protein(2.5))),
)
