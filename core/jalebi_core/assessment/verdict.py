"""The verdict: what a cook would say of a mix, in one sentence made from its figures."""

from __future__ import annotations

from math import isfinite

from jalebi_core.assessment.analysis import Analysis
from jalebi_core.physics.firmness import firmness_word

_AS_SAID = {
    "scoops": "scoops cleanly",
    "soft-serve": "as soft as soft-serve",
    "rock": "like rock",
    "soft scoop": "a soft scoop",
}


def degrees(celsius: float) -> str:
    """Return a temperature as said aloud: whole degrees with a true minus sign."""
    return f"{round(celsius):d} °C".replace("-", "−")


def verdict(found: Analysis, freezer_c: float) -> str:
    """Return the sentence for one mix: where it scoops and how it is from this freezer."""
    if not isfinite(found.initial_c):
        return "Nothing freezes here: there is no water that could turn to ice."
    word = firmness_word(float(found.firmness))
    message = _AS_SAID.get(word, word)
    freezer = degrees(freezer_c)
    state = f"it {message}" if word == "scoops" else f"it is {message}"
    if isfinite(found.scoop_c):
        return f"Scoops at {degrees(float(found.scoop_c))}. From your {freezer} freezer {state}."
    return f"Never quite sets to a scoop. From your {freezer} freezer {state}."
