"""Nutrients and label names of ingredients: those that a file states, and those that ship with the shelf."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from dataclasses import replace
from functools import cache

from jalebi_core.data import read_text
from jalebi_core.model.composition import Composition, components_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.label_facts import CALLED_AS_HERE, NUTRIENTS, OnLabel, read_nutrients, read_on_label
from jalebi_core.regulation.nutrition import FATS, SUGARS


def with_label_facts(ingredient: Ingredient, nutrients: object, on_label: object) -> Ingredient:
    """Return an ingredient with what a file states for its label; raises CompositionError for what cannot be used."""
    stated, called = read_label_facts(ingredient.composition, nutrients, on_label)
    return replace(ingredient, nutrients=stated, on_label=called)


def read_label_facts(
    composition: Composition, nutrients: object, on_label: object
) -> tuple[Mapping[str, float] | None, OnLabel]:
    """Read what a file states for a label; raises CompositionError for what cannot be used."""
    parts = components_of(composition.row)
    fat, sugars = float(parts @ FATS), float(parts @ SUGARS)
    return (
        None if nutrients is None else read_nutrients(nutrients, composition.name, fat, sugars),
        CALLED_AS_HERE if on_label is None else read_on_label(on_label, composition.name),
    )


def with_shipped_label_facts(ingredient: Ingredient) -> Ingredient:
    """Return an ingredient of the shelf with its typical nutrients and its names on labels, where they ship."""
    shipped = _shipped().get(ingredient.slug)
    if shipped is None:
        return ingredient
    nutrients, on_label = shipped
    return replace(ingredient, nutrients=nutrients, on_label=on_label)


@cache
def _shipped() -> Mapping[str, tuple[Mapping[str, float], OnLabel]]:
    return {row["slug"]: _facts(row) for row in csv.DictReader(read_text("label_facts.csv").splitlines())}


def _facts(row: Mapping[str, str]) -> tuple[dict[str, float], OnLabel]:
    names = {region: row[f"label_{region}"] for region in ("eu", "us") if row[f"label_{region}"]}
    on_label = OnLabel(names, row["class_eu"] or None, compound=bool(row["compound"]))
    return {key: float(row[key]) for key in NUTRIENTS if row[key]}, on_label
