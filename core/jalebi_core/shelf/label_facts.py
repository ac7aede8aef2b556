"""Nutrients and label names of ingredients: those that a file states, and those that ship with the shelf."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from dataclasses import replace
from functools import cache

from jalebi_core.data import read_text
from jalebi_core.model.composition import components_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.label_facts import NUTRIENTS, OnLabel, read_nutrients, read_on_label
from jalebi_core.regulation.nutrition import FATS, SUGARS


def with_label_facts(ingredient: Ingredient, nutrients: object, on_label: object) -> Ingredient:
    """Return an ingredient with what a file states for its label; raises CompositionError for what cannot be used."""
    parts = components_of(ingredient.row)
    fat, sugars = float(parts @ FATS), float(parts @ SUGARS)
    return replace(
        ingredient,
        nutrients=None if nutrients is None else read_nutrients(nutrients, ingredient.name, fat, sugars),
        on_label=OnLabel() if on_label is None else read_on_label(on_label, ingredient.name),
    )


def with_shipped_label_facts(ingredient: Ingredient) -> Ingredient:
    """Return an ingredient of the shelf with its typical nutrients and its names on labels, where they ship."""
    row = _shipped().get(ingredient.slug)
    if row is None:
        return ingredient
    nutrients = {key: float(row[key]) for key in NUTRIENTS if row.get(key)}
    on_label = {
        "name": {region: row[f"label_{region}"] for region in ("eu", "us") if row[f"label_{region}"]},
        **({"class": row["class_eu"]} if row["class_eu"] else {}),
    }
    return replace(ingredient, nutrients=nutrients, on_label=read_on_label(on_label, ingredient.name))


@cache
def _shipped() -> Mapping[str, Mapping[str, str]]:
    rows = csv.DictReader(line for line in read_text("label_facts.csv").splitlines() if not line.startswith("#"))
    return {row["slug"]: row for row in rows}
