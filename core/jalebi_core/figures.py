"""The figures behind the outcomes: what each is called, what it is made of, and its value for one mix."""

from __future__ import annotations

import tomllib
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from math import isfinite
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from .components import INDEX, FloatArray
from .composition import bulk_sweetener, hydrocolloids, plant_solids, protein, yolk_solids
from .energy import energy_kcal
from .styles import Band

if TYPE_CHECKING:
    from .analysis import Analysis
    from .phases import Phases


@dataclass(frozen=True, slots=True)
class Quantity:
    """One figure as ``data/figures.toml`` explains it; ``only_with_band`` is shown where a band is set for it."""

    key: str
    name: str
    unit: str
    said: str
    scale: Band
    formula: str
    source: str
    rule: str
    digits: int = 1
    aim: bool = True
    only_with_band: bool = False


@dataclass(frozen=True, slots=True)
class Figure:
    """A quantity's value in one mix, and the band that is wanted of it, None where none is."""

    quantity: Quantity
    value: float
    band: Band | None


@cache
def quantities() -> dict[str, Quantity]:
    """Return the quantities by key, in the order they are shown."""
    text = files(__package__).joinpath("data/figures.toml").read_text(encoding="utf-8")
    return {key: _quantity(key, fields) for key, fields in tomllib.loads(text).items()}


def _quantity(key: str, fields: dict[str, Any]) -> Quantity:
    low, high = fields.pop("scale")
    return Quantity(key=key, scale=(float(low), float(high)), **fields)


_VALUES: Final[dict[str, Callable[[Analysis, Phases], FloatArray]]] = {
    "fat": lambda found, _: found.fat,
    "msnf": lambda found, _: found.msnf,
    "sugars": lambda found, _: found.sugars,
    "bulk_sweetener": lambda found, _: bulk_sweetener(found.row),
    "total_solids": lambda found, _: found.total_solids,
    "plant_solids": lambda found, _: plant_solids(found.row),
    "sweetness": lambda found, _: found.sweetness_pod,
    "freezing_power": lambda found, _: found.freezing_power_pac,
    "freezing_power_in_water": lambda found, _: found.freezing_power_per_100g_water,
    "protein": lambda found, _: protein(found.row),
    "hydrocolloids": lambda found, _: hydrocolloids(found.row),
    "yolk_solids": lambda found, _: yolk_solids(found.row),
    "strength": lambda _, cold: cold.strength_pct,
    "ice_volume": lambda _, cold: cold.ice_volume_pct,
    "density": lambda found, _: found.density_kg_l,
    "energy": lambda found, _: energy_kcal(found.row),
    "first_ice": lambda found, _: found.initial_c,
    "scoop": lambda found, _: found.scoop_c,
    "frozen": lambda found, cold: 100 * cold.ice_g / np.maximum(found.row[..., INDEX["water"]], 1e-9),
    "volume": lambda found, _: found.volume_l,
}


def figures_of(found: Analysis, cold: Phases, bands: Mapping[str, Band]) -> list[Figure]:
    """Return the figures of one mix, analysed and at a temperature; those that make no sense are left out."""
    shown = (quantity for key, quantity in quantities().items() if key in bands or not quantity.only_with_band)
    valued = ((quantity, float(_VALUES[quantity.key](found, cold))) for quantity in shown)
    return [Figure(quantity, value, bands.get(quantity.key)) for quantity, value in valued if isfinite(value)]
