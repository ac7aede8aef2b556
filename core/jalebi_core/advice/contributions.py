"""What each line has its share in: of what a mix is, sweetens with and freezes by."""

from __future__ import annotations

from typing import Final

import numpy as np

from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import components_of, fat, total_solids
from jalebi_core.model.mix import Mix
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod

CONTRIBUTIONS: Final = ("mass", "freezing", "sweetness", "richness", "body", "iciness", "sand", "slip")
"""What is shared out: the whole, freezing power, and by outcome its sweetness, fat, solids, water, lactose and gum."""


def contributions_of(mix: Mix) -> FloatArray:
    """Return the shares of the lines of the mix in %, shape (lines, len(SHARES)); 0 where there is nothing to share.

    Lines beside the mix are left out; the others stand in their order.
    """
    rows = np.array([line.ingredient.row for line in mix.base])
    grams = np.array([line.grams for line in mix.base])
    parts = components_of(rows)
    each = np.stack(
        (
            np.full(len(rows), 100.0),
            freezing_power_pac(rows),
            np.maximum(sweetness_pod(rows), 0.0),
            fat(rows),
            total_solids(rows),
            parts[:, INDEX["water"]],
            parts[:, INDEX["lactose"]],
            parts[:, INDEX["hydrocolloids"]],
        ),
        axis=-1,
    )
    brought = each * grams[:, None]
    whole = brought.sum(axis=0)
    shares: FloatArray = np.divide(100 * brought, whole, out=np.zeros_like(brought), where=whole > 0)
    return shares
