"""The figures behind the outcomes: what each is called, what it is made of, and its value for one mix."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import isfinite
from typing import TYPE_CHECKING, Final

import numpy as np

from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import bulk_sweetener, hydrocolloids, plant_solids, protein, yolk_solids
from jalebi_core.model.figures import Quantity, quantities
from jalebi_core.model.styles import Band
from jalebi_core.physics.energy import energy_kcal

if TYPE_CHECKING:
    from jalebi_core.assessment.analysis import Analysis
    from jalebi_core.physics.phases import Phases


@dataclass(frozen=True, slots=True)
class Figure:
    """A quantity's value in one mix, and the band that is wanted of it, None where none is."""

    quantity: Quantity
    value: float
    band: Band | None


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
