"""What can be aimed at: quantities of a mix, most of them linear in its lines, those of the cold not."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.assessment.flavour import flavourings_of
from jalebi_core.model import constants as c
from jalebi_core.model.components import COMPONENTS, INDEX, FloatArray
from jalebi_core.model.composition import (
    bulk_sweetener,
    components_of,
    fat,
    hydrocolloids,
    msnf,
    plant_solids,
    protein,
    sugars,
    total_solids,
    yolk_solids,
)
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.energy import energy_kcal
from jalebi_core.physics.firmness import firmness, scooping_frozen_pct
from jalebi_core.physics.freezing import frozen_at, liquid, temperature_at_frozen_c
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod

FLAVOUR: Final = "flavour:"
"""An aim ``flavour:NAME`` is about the g of a flavouring in a kg."""

FREE_GLUCOSE: Final = "glucose-over:"
"""An aim ``glucose-over:0.3`` is about the g of free glucose in 100 g beyond that share of the sweeteners."""

Value = Callable[[FloatArray], FloatArray]
"""From rows of shape (..., WIDTH) to values of shape (...)."""


@dataclass(frozen=True, slots=True)
class Quantity:
    """A quantity of a mix.

    scale : how big a miss is felt as one; makes misses of unlike quantities comparable, a working convention
    value : of rows; linear quantities of a mix are the mean of their lines' values
    per_line : where the value is not one of rows: what each line and each of the ingredients that may come in counts
    shown_to : the last digit that is shown of it
    """

    key: str
    name: str
    unit: str
    scale: float
    linear: bool
    value: Value | None = None
    per_line: FloatArray | None = None
    shown_to: float = 0.1

    @property
    def within(self) -> float:
        """A miss that does not show: half of the last digit."""
        return self.shown_to / 2

    def of_mix(self, mix: Mix) -> float:
        """Return the value of a mix, of which the quantity is one."""
        if self.value is not None:
            return float(self.value(mix.row()))
        grams = np.array([line.grams for line in mix.base])
        return float(self._counts[: len(grams)] @ grams / grams.sum())

    def brought_by(self, mix: Mix) -> list[float]:
        """Return how much 100 g of each line of a mix bring of it, in their order; 0 of one that is not linear."""
        if not self.linear:
            return [0.0] * len(mix.lines)
        if self.value is not None:
            return [float(self.value(line.ingredient.row)) for line in mix.lines]
        counts = iter(self._counts.tolist())
        return [next(counts) if line.stage not in MIX_IN_STAGES else 0.0 for line in mix.lines]

    @property
    def _counts(self) -> FloatArray:
        return np.zeros(0) if self.per_line is None else self.per_line


_LINEAR: Final[dict[str, tuple[str, str, float, Value]]] = {
    "fat": ("Fat", "%", 1.0, fat),
    "msnf": ("MSNF", "%", 1.0, msnf),
    "protein": ("Protein", "%", 0.5, protein),
    "sugars": ("Sugars", "%", 1.0, sugars),
    "bulk_sweetener": ("Bulk sweetener", "%", 1.0, bulk_sweetener),
    "total_solids": ("Total solids", "%", 1.0, total_solids),
    "plant_solids": ("Other solids", "%", 1.0, plant_solids),
    "sweetness": ("Sweetness", "", 1.0, sweetness_pod),
    "freezing_power": ("Freezing power", "", 1.0, freezing_power_pac),
    "hydrocolloids": ("Gums", "%", 0.05, hydrocolloids),
    "yolk_solids": ("Yolk solids", "%", 0.3, yolk_solids),
    "energy_kcal": ("Energy", "kcal", 10.0, energy_kcal),
}
_COMPONENT_SCALES: Final = {"hydrocolloids": 0.05, "emulsifiers": 0.05, "sodium_chloride": 0.1, "acids": 0.1}
_SHOWN_TO: Final = {
    "hydrocolloids": 0.01,
    "emulsifiers": 0.01,
    "sodium_chloride": 0.01,
    "acids": 0.01,
    "yolk_solids": 0.01,
    "energy_kcal": 1.0,
}
"""The last digit that is shown of a figure, a tenth where none is named."""

_COLD: Final = ("first_ice_c", "scoop_c", "frozen_pct", "firmness")
_NEVER_C: Final = 2 * c.COLDEST_ICE_C
"""What stands for a temperature that is never reached: colder than all. Down to it temperatures are extrapolated, so
that the solver feels which way it gets better."""


def keys() -> list[str]:
    """Return all that can be aimed at beside single lines."""
    return [*_LINEAR, *_COLD, "cost_per_kg", *(key for key in INDEX if key not in _LINEAR)]


def aimable() -> list[tuple[str, str, str]]:
    """Return key, name and unit of what is aimed at on a screen: all that needs no price and is no component."""
    cold = [
        ("scoop_c", "Scooping temperature", "°C"),
        ("first_ice_c", "First ice", "°C"),
        ("frozen_pct", "Ice", "% of its water"),
    ]
    return [*((key, name, unit) for key, (name, unit, _, _) in _LINEAR.items()), *cold, ("firmness", "Firmness", "")]


def quantity_of(of: str, at_c: float | None, mix: Mix, may_add: Sequence[Ingredient]) -> Quantity:
    """Return what an aim is about; raises BalanceError for what is unknown or cannot be said of this mix."""
    if at_c is not None and not c.COLDEST_ICE_C <= at_c <= 0:
        raise BalanceError("temperature-without-ice", of=of, at_c=at_c, coldest_ice_c=c.COLDEST_ICE_C, melts_c=0.0)
    if of in _LINEAR:
        name, unit, scale, value = _LINEAR[of]
        return Quantity(of, name, unit, scale, True, value, shown_to=_SHOWN_TO.get(of, 0.1))
    if of.startswith(FREE_GLUCOSE):
        return _glucose_over(of, float(of.removeprefix(FREE_GLUCOSE)))
    if of.startswith(FLAVOUR):
        return _flavour(of, mix, may_add)
    stratum = of.removeprefix("stratum-")
    if stratum != of and stratum in STRATA:
        place = list(STRATA).index(stratum)
        return Quantity(of, STRATA[stratum], "%", 1.0, True, lambda row: by_stratum(row)[..., place])
    if of in INDEX:
        name, at = COMPONENTS[INDEX[of]].name, INDEX[of]
        scale = _COMPONENT_SCALES.get(of, 1.0)
        shown = _SHOWN_TO.get(of, 0.1)
        return Quantity(of, name, "%", scale, True, lambda row: components_of(row)[..., at], shown_to=shown)
    if of in _COLD:
        return _cold(of, at_c, mix)
    if of == "cost_per_kg":
        return Quantity(of, "Cost", "a kg", 0.5, True, per_line=_prices(mix, may_add), shown_to=0.01)
    here = _of_line(of, mix, may_add)
    if here is not None:
        return here
    raise BalanceError("unknown-target", of=of[:40], keys=tuple(keys()[:18]))


def _cold(of: str, at_c: float | None, mix: Mix) -> Quantity:
    overrun = np.array(mix.overrun_used_pct)
    if of == "first_ice_c":
        return Quantity(of, "First ice", "°C", 0.3, False, lambda row: _cold_at(row, np.array(0.0)))
    if of == "scoop_c":

        def scoops_at(row: FloatArray) -> FloatArray:
            return _cold_at(row, scooping_frozen_pct(row, overrun, mix.scoop_firmness))

        return Quantity(of, "Scooping temperature", "°C", 0.5, False, scoops_at)
    celsius = -18.0 if at_c is None else at_c
    at = f"{celsius:.0f} °C".replace("-", "−")
    if of == "frozen_pct":
        return Quantity(of, f"Ice at {at}", "% of its water", 1.0, False, lambda row: frozen_at(row, celsius))

    def firmness_there(row: FloatArray) -> FloatArray:
        return firmness(row, frozen_at(row, celsius), overrun)

    return Quantity(of, f"Firmness at {at}", "", 1.0, False, firmness_there)


def _cold_at(row: FloatArray, share: FloatArray) -> FloatArray:
    return np.nan_to_num(temperature_at_frozen_c(liquid(row), share, extrapolated=True), nan=_NEVER_C)


def _glucose_over(of: str, most: float) -> Quantity:
    def over(row: FloatArray) -> FloatArray:
        glucose: FloatArray = components_of(row)[..., INDEX["glucose"]] - most * bulk_sweetener(row)
        return glucose

    return Quantity(of, "Free glucose", "%", 1.0, True, over)


def _flavour(of: str, mix: Mix, may_add: Sequence[Ingredient]) -> Quantity:
    name = of.removeprefix(FLAVOUR)
    ingredients = [line.ingredient for line in mix.base] + list(may_add)
    per_line = [sum(10 * one.share_pct for one in flavourings_of(each) if one.name == name) for each in ingredients]
    return Quantity(of, name, "g per kg", 1.0, True, per_line=np.array(per_line, dtype=np.float64))


def _prices(mix: Mix, may_add: Sequence[Ingredient]) -> FloatArray:
    """Return prices per kg of lines and of ingredients that may come in; raises BalanceError where one is missing."""
    ingredients = [line.ingredient for line in mix.base] + list(may_add)
    missing = [one.name for one in ingredients if one.price_per_kg is None]
    if missing:
        raise BalanceError("cost-unknown", missing=tuple(missing[:3]))
    return np.array([one.used_price_per_kg for one in ingredients], dtype=np.float64)


def _of_line(of: str, mix: Mix, may_add: Sequence[Ingredient]) -> Quantity | None:
    slugs = [line.ingredient.slug or line.ingredient.name for line in mix.base]
    slugs += [ingredient.slug for ingredient in may_add]
    if of not in slugs:
        return None
    names = [line.ingredient.name for line in mix.base] + [ingredient.name for ingredient in may_add]
    per_line = np.array([100.0 * (slug == of) for slug in slugs])
    return Quantity(of, names[slugs.index(of)], "%", 1.0, True, per_line=per_line, shown_to=0.01)
