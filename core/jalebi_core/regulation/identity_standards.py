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
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import NEVER_CHURNED
from jalebi_core.physics.density import density_kg_l
from jalebi_core.regulation.cautions import REGIONS

_MILK_FAT: Final = INDEX["milk_fat"]
_OTHER_FAT: Final = INDEX["other_fat"]
_BULKY: Final = {"cocoa": (2.5, 1.5), "fruit": (1.4, 5.0), "nut": (1.4, 2.0)}
"""By kind: the factor of 21 CFR 135.110(a)(2), which allows for the sugar that goes with it, and the least share of the
mix in % that counts as a bulky flavour at all, a working convention."""

_FLAVOUR_FAT: Final = frozenset(("cocoa", "nut", "egg", "dairy", "flavour", "infusion", "fruit", "mix-in", "gum"))
"""Kinds whose fat comes along with what they are; fat of others takes the place of milk fat."""

_LEAST_OTHER_FAT_G: Final = 0.1
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


def identity_standards_of(mix: Mix, region: str | None = None) -> tuple[IdentityStandard, ...]:
    """Return the protected names that a mix with milk fat or yolk comes into question for, of one region or of all.

    Regions are those of kitchens: us, ca, uk; others have none here.
    """
    row = mix.row()
    parts = components_of(row)
    if float(parts[_MILK_FAT]) < c.LEAST_MILK_FAT_TO_NAME_G and float(trait_of(row, "yolk_solids")) <= 0:
        return ()
    litre_g = 1000 * float(np.nan_to_num(density_kg_l(row))) / (1 + mix.overrun_used_pct / 100)
    other_fat = sum(_other_fat_g(line) for line in mix.base) / mix.mass_g
    checked = _Checked(row, litre_g, _bulky_share(mix), 100 * other_fat, mix.style not in NEVER_CHURNED)
    return tuple(_named(REGIONS[key], name, rules, checked) for key, name, rules in _RULES if region in (None, key))


def _bulky_share(mix: Mix) -> float:
    """Return the share of bulky flavours with the sugar that goes with them, 0 to 1; crumbs of one do not count."""
    grams = dict.fromkeys(_BULKY, 0.0)
    for line in mix.base:
        if line.ingredient.kind in grams:
            grams[line.ingredient.kind] += line.grams
    counted = (
        mass * _BULKY[kind][0]
        for kind, mass in grams.items()
        if mass > 0 and 100 * mass >= _BULKY[kind][1] * mix.mass_g
    )
    return min(sum(counted) / mix.mass_g, 1.0)


def _other_fat_g(line: Line) -> float:
    """Return the g of fat in a line that stands in the place of milk fat."""
    if line.ingredient.kind in _FLAVOUR_FAT:
        return 0.0
    row = line.ingredient.row
    return line.grams * max(float(row[_OTHER_FAT] - trait_of(row, "nut_fat")), 0.0) / 100


@dataclass(frozen=True, slots=True)
class _Checked:
    """What rules look at.

    Of a mix: its row, g of a litre with its air, the share of its chocolate, fruit and nuts, g per 100 g of fat in the
    place of milk fat, and whether it is stirred while it freezes.
    """

    row: FloatArray
    litre_g: float
    bulky: float
    other_fat: float
    churned: bool

    @property
    def milk_fat(self) -> float:
        return float(components_of(self.row)[_MILK_FAT])

    @property
    def beside(self) -> str:
        return (
            f" beside {100 * self.bulky:.0f} % of chocolate, fruit or nuts with their sugar" if self.bulky > 0 else ""
        )


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


def _only_milk_fat(checked: _Checked) -> tuple[bool, str]:
    fits = checked.other_fat < _LEAST_OTHER_FAT_G
    return fits, f"{checked.other_fat:.1f} % fat that is neither of milk nor of egg or flavour, none is allowed"


def _stirred(checked: _Checked) -> tuple[bool, str]:
    return checked.churned, "it freezes at rest, stirring while it freezes is asked"


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


_AS_ICE_CREAM: Final = (
    _milk_fat(10, relieved=8),
    _nonfat_milk_solids,
    _heavy(_LEAST_MASS_G_L, _LEAST_SOLIDS_G_L),
    _only_milk_fat,
    _stirred,
)
_RULES: Final[tuple[tuple[str, str, tuple[Rule, ...]], ...]] = (
    ("us", "ice cream", (*_AS_ICE_CREAM, _yolk(custard=False))),
    ("us", "frozen custard", (*_AS_ICE_CREAM, _yolk(custard=True))),
    ("us", "sherbet", (_milk_fat(1, 2), _milk_solids(2, 5), _heavy(_LEAST_SHERBET_MASS_G_L), _only_milk_fat, _stirred)),
    ("ca", "ice cream", (_canadian_milk_fat, _solids(36, 33), _only_milk_fat)),
    ("uk", "dairy ice cream", (_milk_fat(5), _milk_protein(2.5), _only_milk_fat)),
)
