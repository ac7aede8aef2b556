"""How an ingredient is measured other than by weight."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final


@dataclass(frozen=True, slots=True)
class Measures:
    """How an ingredient is measured other than by weight: kg/L as it lies in a spoon, and g of one piece by name."""

    density_kg_l: float | None = None
    pieces: Mapping[str, float] = field(default_factory=dict)


BY_WEIGHT_ONLY: Final = Measures()
