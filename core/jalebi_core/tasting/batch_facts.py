"""What is known of the mix of a batch as made, by the keys that diagnosis reads."""

from __future__ import annotations

from math import log
from typing import Final

import numpy as np

from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.assessment.gums import gums_of
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat, hydrocolloids, msnf, protein, sugars, total_solids, yolk_solids
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import firmness
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.freezing_power import freezing_power_per_100g_water
from jalebi_core.physics.sweetness import sweetness_pod

_OUTCOMES: Final = ("iciness", "sand", "grit", "butter", "snow", "melt")
_COMPONENTS: Final = {
    "alcohol": "ethanol",
    "acids": "acids",
    "milk_protein": "milk_protein",
    "fibre": "fibre",
    "cocoa_solids": "cocoa_solids",
    "emulsifiers": "emulsifiers",
    "sodium_chloride": "sodium_chloride",
    "starch": "starch",
}
_POLYOLS: Final = ("glycerol", "erythritol", "xylitol", "sorbitol", "maltitol")
_LOCUST_OR_GUAR: Final = ("locust-bean-gum", "guar-gum")
_CARRAGEENAN: Final = ("iota-carrageenan", "kappa-carrageenan", "carrageenan")
_SCALE_G: Final = 0.01
_LEAST_G: Final = 1e-6
_FREEZER_C: Final = -18.0


def mix_facts(
    made: Mix,
    planned: Mix | None = None,
    served_c: float | None = None,
    scoop_firmness: float = 70.0,
    liked_sweetness: float | None = None,
) -> dict[str, float]:
    """Return the quantities of a mix as it was made.

    Parameters
    ----------
    planned : the mix as it was meant, lines in the same order
    served_c : where it was tasted
    scoop_firmness : where a clean scoop begins for this kitchen; liked_sweetness : what is sweet enough for it
    """
    row = made.row()
    sweet = float(sweetness_pod(row))
    found: dict[str, float] = {
        "fat": float(fat(row)),
        "msnf": float(msnf(row)),
        "protein": float(protein(row)),
        "total_solids": float(total_solids(row)),
        "yolk_solids": float(yolk_solids(row)),
        "hydrocolloids": float(hydrocolloids(row)),
        "freezing_power_in_water": float(freezing_power_per_100g_water(row)),
        **{key: float(row[INDEX[component]]) for key, component in _COMPONENTS.items()},
        "polyols": sum(float(row[INDEX[one]]) for one in _POLYOLS),
        "locust_or_guar": _of(made, _LOCUST_OR_GUAR),
        "carrageenan": _of(made, _CARRAGEENAN),
    }
    found |= dict.fromkeys(("grit", "butter", "sand"), 0.0)
    found |= {one.key: one.value for one in outcomes_of(made, _FREEZER_C) if one.key in _OUTCOMES}
    gums = gums_of(made, _SCALE_G).gums
    if gums:
        found["gum_pct_top"] = max(gum.dose_pct / gum.usual_pct[1] for gum in gums)
        found["gum_works"] = float(all(gum.works is not False for gum in gums))
    if found["acids"] > 0:
        found["sweet_acid"] = sweet / found["acids"]
    if sweet > 0:
        found["intense_share"] = _intense(made) / sweet
        if liked_sweetness:
            found["sweet_over"] = log(sweet / liked_sweetness)
    sugar = float(sugars(row))
    if sugar > 0:
        found["dextrose_share"] = float(row[INDEX["glucose"]]) / sugar
    doses = doses_of(made)
    if doses:
        found["flavour_up"] = doses[0].up_pct
    if served_c is not None:
        found["f_served"] = float(firmness(row, frozen_at(row, served_c), np.array(made.overrun_used_pct)))
        found["f_excess"] = found["f_served"] - scoop_firmness
    if planned is not None and len(planned.lines) == len(made.lines):
        pairs = [(one.grams, other.grams) for one, other in zip(planned.lines, made.lines, strict=True)]
        found["off_plan_pct"] = max((100 * abs(b - a) / a for a, b in pairs if a > _LEAST_G), default=0.0)
        found["water_off"] = float(row[INDEX["water"]] - planned.row()[INDEX["water"]])
    return found


def _of(mix: Mix, slugs: tuple[str, ...]) -> float:
    return 100 * sum(line.grams for line in mix.base if line.ingredient.slug in slugs) / mix.mass_g


def _intense(mix: Mix) -> float:
    """Return the sweetness, g in 100 g, that intense sweeteners bring."""
    lines = [line for line in mix.base if line.ingredient.kind == "sweetener"]
    return sum(line.grams * float(sweetness_pod(line.ingredient.row)) for line in lines) / mix.mass_g
