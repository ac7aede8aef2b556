"""Own ingredients from what is at hand: a nutrition label, or a °Brix reading of a fruit."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.model.components import COMPONENTS, INDEX, KEYS, FloatArray, mask
from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import CompositionError
from jalebi_core.physics.energy import energy_kcal

LIKE_NOTHING: Final = {"fat": "other_fat", "sugars": "sucrose", "protein": "other_protein", "carbohydrate": "starch"}
"""What the parts of a label are taken for where nothing is said of what the ingredient is like."""

ENERGY_TOLERANCE: Final = 0.12
_LEAST_KCAL: Final = 8.0
_FRUIT_BRIX_RANGE: Final = (0.4, 2.0)
"""A fruit has between 0.4 and 2 times the °Brix of its usual row; beyond that it is another fruit or a syrup."""
_MILK_PROTEIN_SALTS: Final = 0.7 / 3.25
"""Milk salts come with milk protein in the proportion of whole milk."""
_DISSOLVED: Final = sum(mask(family=family) for family in ("sugar", "polyol", "acid", "mineral"))


@dataclass(frozen=True, slots=True)
class Label:
    """A nutrition label, g per 100 g; ``alcohol_vol`` in % by volume, ``energy_kcal`` as printed."""

    fat: float = 0.0
    carbohydrate: float = 0.0
    sugars: float = 0.0
    polyols: float = 0.0
    fibre: float = 0.0
    protein: float = 0.0
    salt: float = 0.0
    alcohol_vol: float = 0.0
    water: float | None = None
    energy_kcal: float | None = None

    def per_100g_of(self, serving_g: float) -> Label:
        """Return a label that was printed per serving as per 100 g; raises CompositionError for no serving."""
        if not 0 < serving_g <= 100_000:
            raise CompositionError("serving-weighs-nothing")
        scale = 100 / serving_g
        grams = {
            key: None if (value := getattr(self, key)) is None else value * scale
            for key in ("fat", "carbohydrate", "sugars", "polyols", "fibre", "protein", "salt", "water", "energy_kcal")
        }
        return Label(**grams, alcohol_vol=self.alcohol_vol)  # type: ignore[arg-type]


@dataclass(frozen=True, slots=True)
class FromLabel:
    """The ingredient that a label describes, and what does not fit in it."""

    composition: Composition
    doubts: tuple[str, ...]


def from_label(name: str, label: Label, like: Composition | None = None) -> FromLabel:
    """Make an ingredient of a nutrition label.

    Parameters
    ----------
    label : per 100 g
    like : an ingredient whose kinds of fat, protein and sugars it shares; the label gives their amounts

    Raises
    ------
    CompositionError : a negative figure, sugars above the carbohydrate, or more than 100 g in 100 g
    """
    _check(name, label)
    parts = _labelled_parts(label, None if like is None else like.row[: len(KEYS)])
    known = float(parts.sum())
    water = 100 - known if label.water is None else label.water
    if water < 0 or known + water > 100.5:
        raise CompositionError("label-adds-up-over", name=name, known=known + max(water, 0))
    parts[INDEX["water"]] = water
    parts[INDEX["other_solids"]] += max(100 - known - water, 0)
    made = Composition(
        name,
        {key: round(float(grams), 4) for key, grams in zip(KEYS, parts, strict=True) if grams > 0},
        None if like is None else like.higher_saccharides_molar_mass,
        None if like is None else like.soluble_fibre_molar_mass,
        density_kg_l=None if like is None else like.density_kg_l,
    )
    doubts = _energy_doubts(label, made)
    if label.water is None and like is None and water > 3:
        doubts.append(f"What the label leaves open, {water:.1f} g, is taken for water.")
    return FromLabel(made, tuple(doubts))


def _labelled_parts(label: Label, shape: FloatArray | None) -> FloatArray:
    """Return g per 100 g of what the label names, split by kind as the like ingredient has it; no water yet."""
    parts = np.zeros(len(KEYS))
    starch = label.carbohydrate - label.sugars - label.polyols
    _spread(parts, shape, "fat", label.fat, LIKE_NOTHING["fat"])
    _spread(parts, shape, "protein", label.protein, LIKE_NOTHING["protein"])
    _spread(parts, shape, "sugar", label.sugars, LIKE_NOTHING["sugars"], without="higher_saccharides")
    _spread(parts, shape, "polyol", label.polyols, "maltitol")
    chains = shape is not None and shape[INDEX["higher_saccharides"]] > shape[INDEX["starch"]]
    parts[INDEX["higher_saccharides" if chains else LIKE_NOTHING["carbohydrate"]]] += starch
    parts[INDEX["fibre"]] = label.fibre
    parts[INDEX["sodium_chloride"]] = label.salt
    parts[INDEX["ethanol"]] = label.alcohol_vol * 0.789
    if shape is not None:
        _add_unlabelled(parts, shape)
    parts[INDEX["milk_salts"]] = parts[INDEX["milk_protein"]] * _MILK_PROTEIN_SALTS
    return parts


def _energy_doubts(label: Label, made: Composition) -> list[str]:
    if label.energy_kcal is None:
        return []
    derived = float(energy_kcal(made.row))
    if abs(derived - label.energy_kcal) <= max(ENERGY_TOLERANCE * label.energy_kcal, _LEAST_KCAL):
        return []
    return [
        f"The label says {label.energy_kcal:.0f} kcal, its parts give {derived:.0f}. One of the figures may be wrong."
    ]


def _check(name: str, label: Label) -> None:
    for key in label.__dataclass_fields__:
        value = getattr(label, key)
        if value is not None and (not isfinite(value) or not 0 <= value <= 1000):
            raise CompositionError("label-value-impossible", name=name, key=key.replace("_", " "), value=value)
    if label.sugars + label.polyols > label.carbohydrate + 0.05:
        raise CompositionError(
            "label-sugars-over-carbohydrate",
            name=name,
            sugars=label.sugars + label.polyols,
            carbohydrate=label.carbohydrate,
        )


def _spread(
    parts: FloatArray, shape: FloatArray | None, family: str, grams: float, otherwise: str, without: str = ""
) -> None:
    """Spread a label's figure over the components of a family as the like ingredient has them."""
    members = [k.key for k in COMPONENTS if k.family == family and k.key != without]
    total = 0.0 if shape is None else float(sum(shape[INDEX[key]] for key in members))
    if shape is None or total <= 0:
        parts[INDEX[otherwise]] += grams
        return
    for key in members:
        parts[INDEX[key]] += grams * float(shape[INDEX[key]]) / total


def _add_unlabelled(parts: FloatArray, shape: FloatArray) -> None:
    """Add what no label names as the like ingredient has it; dry cocoa is what is not fat, sugar or milk of it."""
    for key in ("acids", "other_ash", "hydrocolloids", "emulsifiers"):
        parts[INDEX[key]] += shape[INDEX[key]]
    if shape[INDEX["cocoa_solids"]] > 0:
        for key in ("other_protein", "starch", "fibre"):
            parts[INDEX["cocoa_solids"]] += parts[INDEX[key]]
            parts[INDEX[key]] = 0.0


def brix_of(ingredient: Composition) -> float:
    """Return the °Brix of an ingredient: g dissolved per 100 g, as a refractometer reads it, within a degree or so."""
    return float(ingredient.row[: len(KEYS)] @ _DISSOLVED)


def at_brix(ingredient: Composition, brix: float, name: str | None = None) -> Composition:
    """Adjust a fruit to a refractometer reading.

    What dissolves is scaled to the reading, what does not stays as it was, water takes the rest.

    Raises
    ------
    CompositionError : a reading that this fruit cannot have
    """
    usual = brix_of(ingredient)
    if usual <= 0:
        raise CompositionError("brix-of-nothing", name=ingredient.name)
    low, high = (usual * factor for factor in _FRUIT_BRIX_RANGE)
    if not isfinite(brix) or not low <= brix <= min(high, 90):
        raise CompositionError(
            "brix-unlike-fruit", brix=brix, name=ingredient.name, usual=usual, low=low, high=min(high, 90)
        )
    parts = ingredient.row[: len(KEYS)].copy()
    dissolved = parts * _DISSOLVED
    parts += dissolved * (brix / usual - 1)
    parts[INDEX["water"]] = 0
    parts[INDEX["water"]] = 100 - float(parts.sum())
    if parts[INDEX["water"]] < 0:
        raise CompositionError("brix-without-water", brix=brix, name=ingredient.name)
    return Composition(
        name or f"{ingredient.name}, {brix:g} °Brix",
        {key: round(float(grams), 4) for key, grams in zip(KEYS, parts, strict=True) if grams > 0},
        ingredient.higher_saccharides_molar_mass,
        ingredient.soluble_fibre_molar_mass,
        ingredient.acid_molar_mass,
        density_kg_l=ingredient.density_kg_l,
        pieces=ingredient.pieces,
    )
