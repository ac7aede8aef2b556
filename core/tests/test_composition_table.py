"""The cook's table adds up to the analysis of the mix."""

from __future__ import annotations

import numpy as np
import pytest

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.composition_table import COLUMNS, table_of
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import catalogue


def mix() -> Mix:
    parts = (
        ("whole-milk", 400.0, "pot"),
        ("cream-36", 180.0, "pot"),
        ("sugar", 120.0, "pot"),
        ("sugar", 50.0, "mix-in"),
    )
    return Mix("m", tuple(Line(catalogue()[slug].ingredient, grams, stage) for slug, grams, stage in parts))


def test_columns_sum_to_the_figures_of_the_mix() -> None:
    table, found = table_of(mix()), analyse_mix(mix())
    total = dict(zip((column.key for column in COLUMNS), table.total.tolist(), strict=True))
    assert total["grams"] == 700
    assert (total["pct"], total["per_kg"]) == (pytest.approx(100), pytest.approx(1000))
    for key in ("fat", "msnf", "sugars", "total_solids"):
        assert total[key] == pytest.approx(float(getattr(found, key)) * 7)
    assert total["pod"] == pytest.approx(float(found.sweetness_pod))
    assert total["pac"] == pytest.approx(float(found.freezing_power_pac))
    assert total["water"] + total["total_solids"] == pytest.approx(700)


def test_a_row_a_line_and_none_of_what_stands_beside() -> None:
    table = table_of(mix())
    assert table.rows.shape == (3, len(COLUMNS))
    assert np.all(table.rows >= 0)
