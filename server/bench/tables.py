"""The cook's table on the Bench."""

from __future__ import annotations

from jalebi_core.styles import BESIDE
from jalebi_core.table import COLUMNS, table_of
from kitchens.models import Kitchen

from .drafts import mix_of, read_lines
from .scale_schemas import Cell, TableOut, TableRow
from .schemas import DraftToAnalyse


def table_drawn(kitchen: Kitchen, draft: DraftToAnalyse) -> TableOut | None:
    """Return the cook's table of a draft; None while nothing in it weighs anything."""
    read = read_lines(kitchen, draft.lines)
    mix = mix_of(kitchen, draft, read)
    if mix is None:
        return None
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams and line.line.stage not in BESIDE]
    table = table_of(mix)
    return TableOut(
        columns=[Cell(key=column.key, name=column.name, unit=column.unit) for column in COLUMNS],
        rows=[
            TableRow(line=at, name=line.ingredient.name, cells=cells)
            for at, line, cells in zip(numbers, mix.base, table.rows.tolist(), strict=True)
        ],
        total=TableRow(line=None, name="The mix", cells=table.total.tolist()),
    )
