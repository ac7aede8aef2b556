"""The cook's table on the Bench."""

from __future__ import annotations

from analysis.kitchen_drafts import read_in_kitchen
from analysis.scale_schemas import Cell, TableOut, TableRow
from analysis.schemas import DraftToAnalyse
from jalebi_core.assessment.composition_table import COLUMNS, table_of
from kitchens.models import Kitchen


def composition_table(kitchen: Kitchen, draft: DraftToAnalyse) -> TableOut | None:
    """Return the cook's table of a draft; None while nothing in it weighs anything."""
    read = read_in_kitchen(kitchen, draft)
    mix = read.mix
    if mix is None:
        return None
    numbers = [at for at, line in enumerate(read.lines) if line.in_mix]
    table = table_of(mix)
    return TableOut(
        columns=[Cell(key=column.key, name=column.name, unit=column.unit) for column in COLUMNS],
        rows=[
            TableRow(line=at, name=line.ingredient.name, cells=cells)
            for at, line, cells in zip(numbers, mix.base, table.rows.tolist(), strict=True)
        ],
        total=TableRow(line=None, name="The mix", cells=table.total.tolist()),
    )
