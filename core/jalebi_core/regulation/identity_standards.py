"""Names that the law protects, as advisory checks: what a mix may be called where, and the figure that decides.

Guidance as of 2026, not advice: United States 21 CFR 135.110 and 135.140, Canada Food and Drug Regulations B.08.062,
United Kingdom code of practice. Chocolate, fruit and nuts relieve what is asked as far as lines come from them;
what is hidden in a preparation is not counted. Defer to local codes and to those who are licensed to answer.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import components_of, msnf, total_solids, trait_of
from jalebi_core.model.mix import Mix
from jalebi_core.physics.density import density_kg_l

_MILK_FAT: Final = INDEX["milk_fat"]
_BULKY_KINDS: Final = frozenset(("cocoa", "fruit", "nut"))
_LEAST_MILK_SOLIDS_PCT: Final = 16.0
_LEAST_SOLIDS_G_L: Final = 192.0
_LEAST_MASS_G_L: Final = 539.0
_LEAST_SHERBET_MASS_G_L: Final = 719.0
"""1.6 lb of food solids, 4.5 lb and 6 lb in a US gallon."""


@dataclass(frozen=True, slots=True)
class IdentityStandard:
    """A name in a region: whether the mix may bear it by its figures, and the one that decides."""

    region: str
    name: str
    fits: bool
    because: str


def identity_standards_of(mix: Mix) -> tuple[IdentityStandard, ...]:
    """Return the protected names that a mix with milk fat or yolk comes into question for."""
    row = mix.row()
    parts = components_of(row)
    if float(parts[_MILK_FAT]) < c.LEAST_MILK_FAT_TO_NAME_G and float(trait_of(row, "yolk_solids")) <= 0:
        return ()
    litre_g = 1000 * float(np.nan_to_num(density_kg_l(row))) / (1 + mix.overrun_used_pct / 100)
    bulky_g = sum(line.grams for line in mix.base if line.ingredient.kind in _BULKY_KINDS)
    checked = _Checked(row, litre_g, bulky_g / mix.mass_g)
    return tuple(_named(region, name, rules, checked) for region, name, rules in _RULES)


@dataclass(frozen=True, slots=True)
class _Checked:
    """What rules look at: a mix's row, g of a litre with its air, and the share of its chocolate, fruit and nuts."""

    row: FloatArray
    litre_g: float
    bulky: float

    @property
    def milk_fat(self) -> float:
        return float(components_of(self.row)[_MILK_FAT])

    @property
    def beside(self) -> str:
        return f" beside {100 * self.bulky:.0f} % of chocolate, fruit or nuts" if self.bulky > 0 else ""


Rule = Callable[[_Checked], tuple[bool, str]]


def _named(region: str, name: str, rules: tuple[Rule, ...], checked: _Checked) -> IdentityStandard:
    found = [rule(checked) for rule in rules]
    failing = [because for fits, because in found if not fits]
    return IdentityStandard(region, name, not failing, "; ".join(failing) if failing else found[0][1])


def _milk_fat(least: float, most: float = 100.0, relieved: float | None = None) -> Rule:
    """Bulky flavours lower what is asked in proportion to their share in the United States, to a fixed limit."""

    def rule(checked: _Checked) -> tuple[bool, str]:
        asked = least if relieved is None else max(relieved, least * (1 - checked.bulky))
        wanted = f"at least {asked:.3g}" if most == 100 else f"{asked:g} to {most:g}"
        message = f"{checked.milk_fat:.1f} % milk fat, {wanted} is asked{checked.beside if asked < least else ''}"
        return asked <= checked.milk_fat <= most, message

    return rule


def _canadian_milk_fat(checked: _Checked) -> tuple[bool, str]:
    return _milk_fat(8.0 if checked.bulky > 0 else 10.0)(checked)


def _nonfat_milk_solids(checked: _Checked) -> tuple[bool, str]:
    """From 10 % at 10 % milk fat the least sinks by as much as the milk fat rises, down to 6 %; bulky flavours
    lower it in proportion, as long as milk fat and nonfat milk solids together are 16 %."""
    has, fat = float(msnf(checked.row)), checked.milk_fat
    least = max(6.0, min(10.0, 20.0 - fat)) * (1 - checked.bulky)
    if checked.bulky > 0 and has + fat < _LEAST_MILK_SOLIDS_PCT:
        return False, f"{has + fat:.1f} % milk solids, at least {_LEAST_MILK_SOLIDS_PCT:g} is asked{checked.beside}"
    message = f"{has:.1f} % nonfat milk solids, {least:.1f} is asked beside {fat:.1f} % milk fat"
    return has >= least, message


def _yolk(*, custard: bool) -> Rule:
    def rule(checked: _Checked) -> tuple[bool, str]:
        has = float(trait_of(checked.row, "yolk_solids"))
        fits = has >= c.CUSTARD_YOLK_SOLIDS_G if custard else has < c.CUSTARD_YOLK_SOLIDS_G
        asked = "at least" if custard else "less than"
        return fits, f"{has:.2f} % yolk solids, {asked} {c.CUSTARD_YOLK_SOLIDS_G:g} is asked"

    return rule


def _heavy(least_g: float, solids_g: float = 0.0) -> Rule:
    def rule(checked: _Checked) -> tuple[bool, str]:
        solids = checked.litre_g * float(total_solids(checked.row)) / 100
        if solids_g and solids < solids_g:
            return False, f"{solids:.0f} g of solids in a litre with its air, {solids_g:.0f} is asked"
        return (
            checked.litre_g >= least_g,
            f"a litre with its air weighs {checked.litre_g:.0f} g, {least_g:.0f} is asked",
        )

    return rule


def _solids(least: float, bulky_least: float) -> Rule:
    def rule(checked: _Checked) -> tuple[bool, str]:
        asked = bulky_least if checked.bulky > 0 else least
        has = float(total_solids(checked.row))
        return has >= asked, f"{has:.1f} % solids, {asked:g} is asked{checked.beside}"

    return rule


def _milk_solids(least: float, most: float) -> Rule:
    def rule(checked: _Checked) -> tuple[bool, str]:
        has = float(msnf(checked.row)) + checked.milk_fat
        return least <= has <= most, f"{has:.1f} % milk solids, {least:g} to {most:g} is asked"

    return rule


def _milk_protein(least: float) -> Rule:
    def rule(checked: _Checked) -> tuple[bool, str]:
        has = float(components_of(checked.row)[INDEX["milk_protein"]])
        return has >= least, f"{has:.1f} % milk protein, {least:g} is asked"

    return rule


_AS_ICE_CREAM: Final = (_milk_fat(10, relieved=8), _nonfat_milk_solids, _heavy(_LEAST_MASS_G_L, _LEAST_SOLIDS_G_L))
_RULES: Final[tuple[tuple[str, str, tuple[Rule, ...]], ...]] = (
    ("United States", "ice cream", (*_AS_ICE_CREAM, _yolk(custard=False))),
    ("United States", "frozen custard", (*_AS_ICE_CREAM, _yolk(custard=True))),
    ("United States", "sherbet", (_milk_fat(1, 2), _milk_solids(2, 5), _heavy(_LEAST_SHERBET_MASS_G_L))),
    ("Canada", "ice cream", (_canadian_milk_fat, _solids(36, 33))),
    ("United Kingdom", "dairy ice cream", (_milk_fat(5), _milk_protein(2.5))),
)
