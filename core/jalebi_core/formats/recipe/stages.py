"""When each line of a recipe goes in: by the clause that names it, else by what it is, else nobody knows."""

from __future__ import annotations

from typing import Final

from jalebi_core.formats.recipe.method import Method

_BASE_KINDS: Final = frozenset({"dairy", "sugar", "water", "plant", "polyol", "fibre", "egg", "spirit"})
"""What a base is made of: it is not folded in at the end, and hardly goes into the machine by itself."""
_NEVER_A_LAYER: Final = frozenset({"dairy", "water", "egg", "spirit"})
_LATE: Final = frozenset({"churn", "mix-in", "layer"})
_WITHOUT_A_METHOD: Final = {"gum": "dry", "starch": "pot", "mix-in": "mix-in"}


def stage_of_line(name: str, kind: str | None, method: Method, *, cooked: bool) -> str | None:
    """Return the stage at which a line goes in, None where that is unsure.

    Parameters
    ----------
    name, kind : what the line calls it, and its kind on the shelf
    cooked : whether the base is cooked, by its method or by what is in it
    """
    if kind == "starch":
        return "pot"
    if kind == "egg" and "white" not in name.lower():
        return "yolks" if cooked else method.stage_of(name)
    told = method.stage_of(name)
    if kind == "gum":
        return told if told in ("pot", "cold", "off-heat") else "dry"
    if kind == "mix-in":
        return "layer" if told == "layer" else "mix-in"
    if told == "layer" and kind not in _NEVER_A_LAYER:
        return told
    if told in _LATE and kind in _BASE_KINDS:
        told = "cold" if told == "mix-in" else None
    if told is not None:
        return told
    if method.steps and not cooked:
        return "cold"
    if method.is_named(name):
        return "pot" if cooked and kind in _BASE_KINDS else None
    if method.stage_of_all is not None:
        return method.stage_of_all
    if kind in ("spirit", "flavour") and method.steps:
        return "off-heat" if cooked else "cold"
    if kind in _WITHOUT_A_METHOD:
        return _WITHOUT_A_METHOD[kind]
    return "pot" if cooked and kind in _BASE_KINDS and not method.steps else None
