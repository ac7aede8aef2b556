"""Roles: the part that ingredients play in building a mix, told by what they are made of and not by their names."""

from __future__ import annotations

from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat, protein, trait_of
from jalebi_core.model.ingredient import Ingredient

STRUCTURE: Final = frozenset(
    (
        "sugar", "dextrose", "glucose-syrup", "polyol", "glycerol", "milk", "cream", "milk-powder",
        "water", "plant-drink", "plant-cream", "plant-fat", "yolk", "fibre",
    )
)  # fmt: skip
"""Roles that build the body of a mix; all else is there for its taste, or holds in small doses."""

LIQUIDS: Final = (("milk", "plant-drink", "water"), ("plant-cream",), ("cream",))
"""What gives way to other ingredients and fills up for them, the thinner before the richer."""


def role_of(ingredient: Ingredient) -> str | None:
    """Return the part ingredients play, one of `STRUCTURE`, fruit, gum or spirit; None for all others."""
    if ingredient.kind == "fruit":
        return "fruit" if ingredient.facts.strength_g_kg else None
    if ingredient.facts.strength_g_kg or ingredient.facts.flavourings:
        return None
    finders = {"dairy": _dairy, "plant": _plant, "sugar": _sweet, "polyol": _sweet}
    if ingredient.kind in finders:
        return finders[ingredient.kind](ingredient)
    if ingredient.kind == "gum":
        return "gum" if _part(ingredient, "hydrocolloids") > 50 else None
    if ingredient.kind == "egg":
        return "yolk" if float(trait_of(ingredient.row, "yolk_solids")) > 40 else None
    if ingredient.kind == "spirit":
        return "spirit" if _part(ingredient, "ethanol") >= 20 else None
    return ingredient.kind if ingredient.kind in ("water", "fibre") else None


def _part(ingredient: Ingredient, key: str) -> float:
    return float(ingredient.row[INDEX[key]])


def _dairy(ingredient: Ingredient) -> str | None:
    water, fats = _part(ingredient, "water"), float(fat(ingredient.row))
    proteins, added = float(protein(ingredient.row)), _part(ingredient, "sucrose")
    if _part(ingredient, "acids") > 0.3 or added > 1:
        return None
    if water > 80 and fats < 7.5:
        return "milk"
    if water > 40 and fats >= 9 and proteins < 4:
        return "cream"
    return "milk-powder" if water < 6 and fats < 3 and 25 < proteins < 45 else None


def _plant(ingredient: Ingredient) -> str | None:
    if _part(ingredient, "water") > 80:
        return "plant-drink"
    if float(fat(ingredient.row)) < 12 or _part(ingredient, "sucrose") >= 5:
        return None
    return "plant-cream" if _part(ingredient, "water") > 40 else "plant-fat"


def _sweet(ingredient: Ingredient) -> str | None:
    if _part(ingredient, "sucrose") > 99:
        return "sugar"
    if _part(ingredient, "glucose") > 85:
        return "dextrose"
    if _part(ingredient, "glycerol") > 85:
        return "glycerol"
    if ingredient.kind == "polyol" or _part(ingredient, "allulose") > 85:
        return "polyol"
    return "glucose-syrup" if ingredient.slug.startswith(("glucose-syrup", "glucose-powder")) else None
