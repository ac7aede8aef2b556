"""Ingredients that are on no shelf: a composition alone."""

from __future__ import annotations

from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of


def unlisted(composition: Composition) -> Ingredient:
    """Return a composition as an ingredient that is on no shelf: nothing is known of it but what it is made of."""
    return Ingredient(composition, measures=measures_of(composition), allergens=allergens_of(composition, ()))
