"""Nutrition per 100 g of a finished product, by the rows of a region: Regulation (EU) 1169/2011, 21 CFR 101.9."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.components import FAT, INDEX, PROTEIN, FloatArray, selection
from jalebi_core.model.composition import components_of, trait_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.physics.energy import energy_kcal, energy_kj

_SODIUM_MG_PER_G_SALT: Final = 393.4
_SALT_PER_SODIUM: Final = 2.5
FATS: Final = FAT + selection("emulsifiers")
SUGARS: Final = selection("sucrose", "glucose", "fructose", "galactose", "lactose", "maltose", "trehalose", "allulose")
"""All mono- and disaccharides."""
_POLYOLS: Final = selection("glycerol", "erythritol", "xylitol", "sorbitol", "maltitol")
_US_POLYOLS: Final = _POLYOLS - selection("glycerol")
_COCOA_ASH: Final = 0.08
_COMPUTED_PROTEIN: Final = PROTEIN + 0.24 * selection("cocoa_solids")
_COMPUTED_FIBRE: Final = selection("fibre", "hydrocolloids") + 0.42 * selection("cocoa_solids")
_CARBOHYDRATE: Final = SUGARS + selection("higher_saccharides", "starch") + _POLYOLS + 0.26 * selection("cocoa_solids")
_SALTS: Final = selection("milk_salts", "sodium_chloride")
_NO_CARBOHYDRATE: Final = selection("water", "ethanol") + FATS
_BARE: Final = selection("water", "higher_saccharides", "ethanol", "acids", "sodium_chloride") + SUGARS + _POLYOLS
"""A row of these alone has no minerals but the sodium of its salt, no vitamin D and no cholesterol."""
_FROM_BARE: Final = ("cholesterol_mg", "calcium_mg", "iron_mg", "potassium_mg", "vitamin_d_ug")
_SHOWN_POLYOLS_G: Final = 0.5
_US_KCAL: Final = {
    "allulose": 0.4,
    "erythritol": 0.0,
    "xylitol": 2.4,
    "sorbitol": 2.6,
    "maltitol": 2.1,
    "glycerol": 4.32,
}
_KJ_PROTEIN, _KJ_FIBRE, _KCAL_PROTEIN, _KCAL_FIBRE = 17.0, 8.0, 4.0, 2.0

EU_ROWS: Final = (
    "energy_kj", "energy_kcal", "fat", "saturates", "carbohydrate", "sugars", "polyols", "fibre", "protein", "salt",
)  # fmt: skip
US_ROWS: Final = (
    "energy_kcal", "fat", "saturates", "trans", "cholesterol", "sodium", "carbohydrate", "fibre", "sugars",
    "added_sugars", "polyols", "protein", "vitamin_d", "calcium", "iron", "potassium",
)  # fmt: skip
_STATED: Final = {
    "saturates": "saturates_g", "trans": "trans_g", "cholesterol": "cholesterol_mg", "sodium": "sodium_mg",
    "added_sugars": "added_sugars_g", "vitamin_d": "vitamin_d_ug", "calcium": "calcium_mg", "iron": "iron_mg",
    "potassium": "potassium_mg", "salt": "sodium_mg",
}  # fmt: skip
"""Rows that rest on what ingredients state, by the nutrient."""

Weighed = tuple[Ingredient, float]


@dataclass(frozen=True, slots=True)
class NutritionRow:
    """A row: its figure per 100 g, None while an ingredient does not state it; who lacks it, and the least it is."""

    key: str
    per_100g: float | None
    missing: tuple[str, ...] = ()
    at_least: float | None = None


def nutrition(lines: Sequence[Weighed], finished_g: float, region: str) -> tuple[NutritionRow, ...]:
    """Return the rows of a region for what was put in, of what it weighs in the end: only water has left.

    Not stated is never zero: what an ingredient with weight does not state makes its row unknown.
    """
    lines = [(one, grams) for one, grams in lines if grams > 0]
    rows = US_ROWS if region == "us" else EU_ROWS
    found = [_row(key, lines, finished_g, us=region == "us") for key in rows]
    return tuple(row for row in found if row.key != "polyols" or (row.per_100g or 0.0) > _SHOWN_POLYOLS_G)


def stated(ingredient: Ingredient, nutrient: str) -> float | None:
    """Return what an ingredient states of a nutrient per 100 g, or what follows of its composition; None otherwise."""
    if ingredient.nutrients is not None and nutrient in ingredient.nutrients:
        return ingredient.nutrients[nutrient]
    parts = components_of(ingredient.row)
    if nutrient in ("saturates_g", "trans_g"):
        return 0.0 if float(parts @ FATS) <= 0 else None
    if nutrient == "added_sugars_g":
        return 0.0 if float(parts @ SUGARS) - float(parts[INDEX["allulose"]]) <= 0 else None
    if float(parts @ _BARE) < float(parts.sum()) - 1e-6:
        return None
    if nutrient == "sodium_mg":
        return _SODIUM_MG_PER_G_SALT * float(parts[INDEX["sodium_chloride"]])
    return 0.0 if nutrient in _FROM_BARE else None


def protein_g(ingredient: Ingredient) -> float:
    """Return the protein in 100 g, as stated where components cannot tell."""
    return _restated(ingredient, "protein_g", _COMPUTED_PROTEIN)


def fibre_g(ingredient: Ingredient) -> float:
    """Return the fibre in 100 g, as stated where components cannot tell."""
    return _restated(ingredient, "fibre_g", _COMPUTED_FIBRE)


def _restated(ingredient: Ingredient, nutrient: str, computed: FloatArray) -> float:
    known = (ingredient.nutrients or {}).get(nutrient)
    return float(components_of(ingredient.row) @ computed) if known is None else known


def _row(key: str, lines: Sequence[Weighed], finished_g: float, *, us: bool) -> NutritionRow:
    if key in _STATED:
        return _of_stated(key, lines, finished_g)
    per_ingredient = _US_FIGURES if us else _EU_FIGURES
    total = sum(grams * per_ingredient[key](one) for one, grams in lines)
    return NutritionRow(key, total / finished_g)


def _of_stated(key: str, lines: Sequence[Weighed], finished_g: float) -> NutritionRow:
    scale = _SALT_PER_SODIUM / 1000 if key == "salt" else 1.0
    values = [(one.name, grams, stated(one, _STATED[key])) for one, grams in lines]
    known = scale * sum(grams * value for _, grams, value in values if value is not None) / finished_g
    missing = tuple(dict.fromkeys(name for name, _, value in values if value is None))
    return NutritionRow(key, None, missing, known) if missing else NutritionRow(key, known)


def _by(weights: FloatArray) -> Callable[[Ingredient], float]:
    return lambda one: float(components_of(one.row) @ weights)


def _eu_kj(one: Ingredient) -> float:
    return (
        float(energy_kj(one.row))
        + _KJ_PROTEIN * _more(one, protein_g, _COMPUTED_PROTEIN)
        + _KJ_FIBRE * _more(one, fibre_g, _COMPUTED_FIBRE)
    )


def _eu_kcal(one: Ingredient) -> float:
    protein, fibre = _more(one, protein_g, _COMPUTED_PROTEIN), _more(one, fibre_g, _COMPUTED_FIBRE)
    return float(energy_kcal(one.row)) + _KCAL_PROTEIN * protein + _KCAL_FIBRE * fibre


def _more(one: Ingredient, restated: Callable[[Ingredient], float], computed: FloatArray) -> float:
    """Return by how much more is stated than the components say."""
    return restated(one) - float(components_of(one.row) @ computed)


def _us_carbohydrate(one: Ingredient) -> float:
    parts = components_of(one.row)
    rest = float(parts @ _NO_CARBOHYDRATE) + _ash(parts)
    return float(parts.sum()) - rest - protein_g(one)


def _ash(parts: FloatArray) -> float:
    """Return the ash; where that of cocoa stands apart from its solids, it is not counted in them again."""
    of_cocoa = _COCOA_ASH * float(parts[INDEX["cocoa_solids"]])
    return float(parts @ _SALTS) + max(float(parts[INDEX["other_ash"]]), of_cocoa)


def _us_kcal(one: Ingredient) -> float:
    """Return kcal by the general factors, and those of what yields less than other carbohydrate."""
    parts = components_of(one.row)
    special = {key: float(parts[INDEX[key]]) for key in _US_KCAL}
    dissolving = float(trait_of(one.row, "soluble_fibre")) + float(parts[INDEX["hydrocolloids"]])
    fibre = fibre_g(one)
    dissolving = min(dissolving, fibre)
    other = _us_carbohydrate(one) - sum(special.values()) - fibre
    return (
        9 * float(parts @ FATS)
        + 4 * protein_g(one)
        + 7 * float(parts[INDEX["ethanol"]])
        + sum(_US_KCAL[key] * grams for key, grams in special.items())
        + 2 * dissolving
        + 4 * max(other, 0.0)
    )


_EU_FIGURES: Final[Mapping[str, Callable[[Ingredient], float]]] = {
    "energy_kj": _eu_kj,
    "energy_kcal": _eu_kcal,
    "fat": _by(FATS),
    "carbohydrate": _by(_CARBOHYDRATE),
    "sugars": _by(SUGARS),
    "polyols": _by(_POLYOLS),
    "fibre": fibre_g,
    "protein": protein_g,
}
_US_FIGURES: Final[Mapping[str, Callable[[Ingredient], float]]] = {
    "energy_kcal": _us_kcal,
    "fat": _by(FATS),
    "carbohydrate": _us_carbohydrate,
    "fibre": fibre_g,
    "sugars": _by(SUGARS - selection("allulose")),
    "polyols": _by(_US_POLYOLS),
    "protein": protein_g,
}


def together(lines: Iterable[Weighed]) -> FloatArray:
    """Return the g of each component in all lines, shape (components,)."""
    rows = [grams / 100 * components_of(one.row) for one, grams in lines]
    total: FloatArray = np.sum(rows, axis=0)
    return total
