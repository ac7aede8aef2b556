"""How an ingredient is measured other than by weight."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Final


@dataclass(frozen=True, slots=True)
class Measures:
    """How an ingredient is measured other than by weight: kg/L as it lies in a spoon, g of one piece by name.

    ``forms`` are kg/L where it is whole, chopped, sifted and so on.
    """

    density_kg_l: float | None = None
    pieces: Mapping[str, float] = field(default_factory=dict)
    forms: Mapping[str, float] = field(default_factory=dict)

    def in_form(self, form: str | None) -> Measures:
        """Return the measures of the ingredient whole, chopped and so on; as they are where that form has none."""
        if form is None or form not in self.forms:
            return self
        return replace(self, density_kg_l=self.forms[form])


BY_WEIGHT_ONLY: Final = Measures()
