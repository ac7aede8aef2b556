"""The strata in which a mix is drawn: what a cook sees a thing bring."""

from __future__ import annotations

from typing import Final

import numpy as np

from jalebi_core.model.components import COMPONENTS, FloatArray
from jalebi_core.model.composition import components_of

STRATA: Final = {
    "gums": "Gums",
    "other": "Other solids",
    "spirit": "Spirit",
    "milk-fat": "Milk fat",
    "egg": "Egg",
    "sugars": "Sugars",
    "milk-solids": "Milk solids",
    "water": "Water",
}
"""Names by key, from the top of the tub down; `components.csv` says which component is in which."""

_MEMBERSHIP: Final = np.array([[float(component.stratum == stratum) for stratum in STRATA] for component in COMPONENTS])


def by_stratum(row: FloatArray) -> FloatArray:
    """Return what rows bring, g per 100 g, shape (..., strata) in the order of `STRATA`."""
    brought: FloatArray = components_of(row) @ _MEMBERSHIP
    return brought
