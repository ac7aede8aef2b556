"""The verdict: what a cook would say of a mix, in one sentence made from its figures."""

from __future__ import annotations

from math import isfinite

from jalebi_core.assessment.analysis import Analysis
from jalebi_core.assessment.serving_conditions import Served
from jalebi_core.model.constants import SCOOPING_FIRMNESS
from jalebi_core.wording.message import Message


def verdict(found: Analysis, freezer_c: float, scoop_firmness: float = SCOOPING_FIRMNESS) -> Message:
    """Return what is said of one mix: where it scoops and how it is from this freezer, for those who eat it."""
    if not isfinite(found.initial_c):
        return Message("never-freezes")
    facts = {"freezer_c": freezer_c, "state": f"it {Served(freezer_c, float(found.firmness), scoop_firmness).words}"}
    if isfinite(found.scoop_c):
        return Message("scoops-and-is", {"scoop_c": float(found.scoop_c), **facts})
    return Message("never-sets-and-is", facts)
