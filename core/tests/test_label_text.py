"""Nutrition labels as people paste them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.label_text import read_label_text
from jalebi_core.shelf.custom_ingredients import Label, from_label

EU = """Nutrition per 100 g
Energy 1540 kJ / 368 kcal, Fat 9.1 g, of which saturates 5.2 g, Carbohydrate 62 g, of which sugars 48,5 g,
Fibre 3 g, Protein 8.4 g, Salt 0.25 g"""
US = """Serving size 2 tbsp (30 g)
Calories 140
Total Fat 7g Saturated Fat 4g Sodium 50mg Total Carbohydrate 18g Dietary Fiber 1g Total Sugars 15g Protein 2g"""


def test_a_european_label_is_read() -> None:
    figures = read_label_text(EU)
    assert figures == {
        "energy_kcal": 368, "fat": 9.1, "carbohydrate": 62, "sugars": 48.5, "fibre": 3, "protein": 8.4, "salt": 0.25,
    }  # fmt: skip
    assert from_label("Spread", Label(**figures)).composition.per_100g["other_fat"] == 9.1


def test_an_american_label_is_per_serving_and_counts_sodium_as_salt() -> None:
    figures = read_label_text(US)
    assert (figures["serving_g"], figures["energy_kcal"], figures["fat"], figures["sugars"]) == (30, 140, 7, 15)
    assert figures["salt"] == pytest.approx(0.125)


def test_energy_in_kilojoules_alone_is_turned_into_kilocalories() -> None:
    assert read_label_text("Energy 1540 kJ, Fat 9.1 g") == {"energy_kcal": 368.1, "fat": 9.1}


@given(st.text(max_size=400))
def test_no_text_breaks_the_reader(text: str) -> None:
    assert all(value >= 0 for value in read_label_text(text).values())
