"""Snapshots: all that was known of an ingredient or a mix at one moment, kept for good.

A snapshot is read for ever and never rewritten. What it lacks was not stated: it is never filled from today's shelf.
``schema`` counts its shape:

- 1, without a number: an ingredient is its composition alone; a mix has neither restrictions nor the kitchen's aims
  nor the recipe it came from, and its lines say nothing of pins, limits and notes.
- 2: the whole ingredient, and all of the mix; ``may_hold``, ``made_of``, ``nutrients`` and ``on_label`` are there
  since they are known.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Final

from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Facts, Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of
from jalebi_core.shelf.label_facts import with_label_facts

SCHEMA: Final = 2


def ingredient_snapshot(ingredient: Ingredient) -> dict[str, Any]:
    """Return all that is known of an ingredient as the plain data that `read_ingredient` reads back."""
    return {
        "schema": SCHEMA,
        "slug": ingredient.slug,
        "kind": ingredient.kind,
        "composition": ingredient.composition.as_dict(),
        "allergens": list(ingredient.allergens) if ingredient.allergens_stated else None,
        "may_hold": list(ingredient.may_hold),
        "made_of": sorted(ingredient.made_of),
        "facts": ingredient.facts.as_dict(),
        "price_per_kg": ingredient.price_per_kg,
        "nutrients": None if ingredient.nutrients is None else dict(ingredient.nutrients),
        "on_label": ingredient.on_label.as_data(),
    }


def read_ingredient(data: Mapping[str, Any], slug: str = "") -> Ingredient:
    """Read an ingredient's snapshot; ``slug`` is what the line around an old one calls it.

    Raises
    ------
    CompositionError : a snapshot that this version does not understand
    """
    if "schema" not in data:
        composition = Composition.from_dict(data)
        return Ingredient(composition, slug, measures=measures_of(composition), allergens=allergens_of(composition, ()))
    composition = Composition.from_dict(data["composition"])
    stated = data.get("allergens")
    found = Ingredient(
        composition,
        data.get("slug", slug),
        data.get("kind", "own"),
        measures_of(composition),
        allergens_of(composition, stated or ()),
        allergens_stated=stated is not None,
        may_hold=tuple(data.get("may_hold", ())),
        made_of=frozenset(data.get("made_of", ())),
        facts=Facts.from_dict(data.get("facts", {})),
        price_per_kg=data.get("price_per_kg"),
    )
    return with_label_facts(found, data.get("nutrients"), data.get("on_label"))


def read_mix_snapshot(content: Mapping[str, Any], grams: Sequence[float] | None = None) -> Mix:
    """Return the mix of a snapshot, with other amounts where given; its own aims go before the kitchen's."""
    lines = content["lines"]
    amounts = [line["grams"] for line in lines] if grams is None else grams
    aims = {**content.get("kitchen_aims", {}), **content.get("aims", {})}
    return Mix(
        content["name"],
        tuple(
            Line(read_ingredient(line["ingredient"], line["slug"]), amount, line["stage"])
            for line, amount in zip(lines, amounts, strict=True)
        ),
        content["style"],
        content["overrun_pct"],
        {key: (low, high) for key, (low, high) in aims.items()},
    )
