"""Advice on a mix as plain data: what ``jalebi analyse --json --advice`` prints beside the analysis."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from jalebi_core.advice.adjustments import Adjustment, help_for
from jalebi_core.assessment.analysis import HOME_FREEZER_C, number
from jalebi_core.model.mix import Mix
from jalebi_core.shelf.catalogue import ingredients


def advice_report(mix: Mix, restrictions: Sequence[str] = ()) -> list[dict[str, Any]]:
    """Return the adjustments for each fault of a mix from a freezer at −18 °C, with the shelf that ships."""
    return [
        {
            "fault": found.key,
            "found": [_adjustment_data(one) for one in found.found],
            "none": None if found.none is None else str(found.none),
        }
        for found in help_for(mix, HOME_FREEZER_C, ingredients(), restrictions)
    ]


def _adjustment_data(adjustment: Adjustment) -> dict[str, Any]:
    lines = [
        {"line": one.line, "ingredient": one.slug or None, "stage": one.stage, "grams": number(np.array(one.grams))}
        for one in adjustment.lines
    ]
    return {"lines": lines, "overrun_pct": adjustment.overrun_pct, "said": str(adjustment.said)}
