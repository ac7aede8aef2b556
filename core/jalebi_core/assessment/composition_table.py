"""The cook's table: what each line of a mix brings to the whole, in g, and to sweetness and freezing power."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import fat, msnf, sugars, total_solids
from jalebi_core.model.mix import Mix
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod


@dataclass(frozen=True, slots=True)
class Column:
    """A column: its key, its head, and its unit, none for what has none."""

    key: str
    name: str
    unit: str


COLUMNS: Final = (
    Column("grams", "Weight", "g"),
    Column("pct", "Share", "%"),
    Column("per_kg", "Per kg", "g"),
    Column("water", "Water", "g"),
    Column("fat", "Fat", "g"),
    Column("msnf", "MSNF", "g"),
    Column("sugars", "Sugars", "g"),
    Column("total_solids", "Solids", "g"),
    Column("pod", "POD", ""),
    Column("pac", "PAC", ""),
)
"""POD and PAC are what a line adds to those of 100 g of the mix."""


def _water(row: FloatArray) -> FloatArray:
    return row[..., INDEX["water"]]


_GRAMS_OF: Final[tuple[Callable[[FloatArray], FloatArray], ...]] = (_water, fat, msnf, sugars, total_solids)
_POINTS_OF: Final[tuple[Callable[[FloatArray], FloatArray], ...]] = (sweetness_pod, freezing_power_pac)


@dataclass(frozen=True, slots=True)
class Table:
    """A row of each line that is part of the mix, shape (lines, COLUMNS), and their sum, shape (COLUMNS,)."""

    rows: FloatArray
    total: FloatArray


def table_of(mix: Mix) -> Table:
    """Return the cook's table of a mix; what stands beside the mix is not in it."""
    grams = np.array([line.grams for line in mix.base])
    rows = np.array([line.ingredient.row for line in mix.base])
    share = grams / grams.sum()
    columns = [grams, 100 * share, 1000 * share]
    columns += [of(rows) * grams / 100 for of in _GRAMS_OF]
    columns += [of(rows) * share for of in _POINTS_OF]
    cells = np.stack(columns, axis=-1)
    return Table(cells, cells.sum(axis=0))
