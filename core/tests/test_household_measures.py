"""Grams said in cups, spoons and pieces, and read back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.model.measures import Measures
from jalebi_core.quantities.amounts import read_amount
from jalebi_core.quantities.household_measures import household_measure

WATER = Measures(density_kg_l=1.0)


@pytest.mark.parametrize(
    ("grams", "measures", "message"),
    [
        (250, WATER, "1 cup"),
        (375, WATER, "1½ cups"),
        (83, WATER, "⅓ cup"),
        (30, WATER, "2 tbsp"),
        (5, WATER, "1 tsp"),
        (0.31, WATER, "1 pinch"),
        (471, WATER, "1¾ cups + 2 tbsp"),
        (118, WATER, "⅓ cup + 2½ tbsp"),
        (24, WATER, "1½ tbsp + ¼ tsp"),
        (1.6, WATER, "¼ tsp + 1 pinch"),
        (68, Measures(1.0, {"yolk": 17}), "4 yolks"),
        (25, Measures(None, {"egg": 50}), "½ egg"),
        (397, Measures(1.3, {"tin": 397}), "1 tin"),
        (10, Measures(), None),
        (0, WATER, None),
        (0.0001, WATER, None),
        (0.16, WATER, "1 pinch"),
        (3, Measures(1.0, {"leaf": 1.5}), "2 leaves"),
    ],
)
def test_said_as_a_cook_measures(grams: float, measures: Measures, message: str | None) -> None:
    assert household_measure(grams, measures) == message


@given(grams=st.floats(5, 5000), density=st.floats(0.3, 1.5))
def test_what_is_said_reads_back_to_nearly_the_same(grams: float, density: float) -> None:
    measures = Measures(density)
    message = household_measure(grams, measures)
    assert message is not None
    assert read_amount(message, "g", measures).grams == pytest.approx(grams, rel=0.13)


def test_a_us_cup_is_another_cup() -> None:
    assert household_measure(236.6, WATER, "us") == "1 cup"
