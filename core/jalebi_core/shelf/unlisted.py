"""Ingredients that are on no shelf: a composition, and the allergens that a file states for it."""

from __future__ import annotations

from collections.abc import Sequence

from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.allergens import allergens_of


def unlisted(
    composition: Composition, allergens: Sequence[str] | None = None, may_hold: Sequence[str] = ()
) -> Ingredient:
    """Return a composition as an ingredient that is on no shelf; ``allergens`` are None where nobody states them."""
    return Ingredient(
        composition,
        measures=measures_of(composition),
        allergens=allergens_of(composition, allergens or ()),
        allergens_stated=allergens is not None,
        may_hold=tuple(may_hold),
    )
