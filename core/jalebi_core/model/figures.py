"""The figures of a mix: what each is called, what it is made of and which rule computes it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

from jalebi_core.data import read_toml
from jalebi_core.model.styles import Band


@dataclass(frozen=True, slots=True)
class Quantity:
    """One figure as ``data/figures.toml`` explains it; ``only_with_band`` is shown where a band is set for it."""

    key: str
    name: str
    unit: str
    note: str
    scale: Band
    formula: str
    source: str
    rule: str
    digits: int = 1
    aim: bool = True
    only_with_band: bool = False


@cache
def quantities() -> dict[str, Quantity]:
    """Return the quantities by key, in the order they are shown."""
    return {key: _quantity(key, fields) for key, fields in read_toml("figures.toml").items()}


def _quantity(key: str, fields: dict[str, Any]) -> Quantity:
    low, high = fields.pop("scale")
    return Quantity(key=key, scale=(float(low), float(high)), **fields)
