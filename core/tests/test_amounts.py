"""Typed amounts: what cooks write, and what cannot be meant."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.model.composition import Composition
from jalebi_core.model.errors import AmountError
from jalebi_core.model.measures import Measures
from jalebi_core.quantities.amounts import GRAMS_PER_UNIT, MOST_GRAMS, Spoons, read_amount, to_grams
from jalebi_core.quantities.measures import measures_of
from jalebi_core.shelf.catalogue import catalogue, find


@pytest.mark.parametrize(
    ("typed", "grams"),
    [
        ("480", 480), ("480 g", 480), ("480g", 480), ("1,5", 1.5), ("1.5", 1.5), (".5", 0.5), ("5.", 5), ("½", 0.5),
        ("1½", 1.5), ("1 ½", 1.5), ("1 1/2", 1.5), ("3/4", 0.75), ("3⁄4", 0.75), ("1½ kg", 1500), ("2 oz", 56.699046),
        ("1 000", 1000), ("1\u202f000,5 g", 1000.5), ("0", 0), ("0,125", 0.125), ("0.250 kg", 250),
        ("2 Ounces", 56.699046), ("1 lb + 2 oz", 510.2914125), ("1 to 2 kg", 1500), ("2 bars 100 g each", 200),
    ],
)  # fmt: skip
def test_amounts_are_read_as_cooks_write_them(typed: str, grams: float) -> None:
    assert read_amount(typed).grams == pytest.approx(grams)


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("", "no amount"), ("   ", "no amount"), ("-3", "negative"), ("−3", "negative"), ("12 g g", "not a unit"),
        ("1e9", "not"), ("9999999", "more than one line"), ("12 cups of", "without its density"),
        ("5 parsec", "not a unit"),
        ("1/0", "divides by zero"), ("1,000", "thousands or a decimal"), ("1,000 g", "thousands or a decimal"),
        ("1 1/", "not an amount"), ("g", "not an amount"), ("4 yolks", "not a unit"), ("٣", "not an amount"),
        ("½½", "not an amount"),
        ("9" * 5000, "too long"),
        ("²", "not an amount"), ("nan", "not an amount"), ("1\x00", "not an amount"),
    ],
)  # fmt: skip
def test_what_cannot_be_meant_is_refused_in_a_sentence(typed: str, says: str) -> None:
    with pytest.raises(AmountError, match=says):
        read_amount(typed)


SUGAR = Measures(0.85)
YOLK = Measures(1.03, {"yolk": 17.0})
MILK_TIN = Measures(1.3, {"tin": 397.0})


@pytest.mark.parametrize(
    ("typed", "measures", "spoons", "grams", "assumed"),
    [
        ("1 cup", SUGAR, "us", 201.1, "cup of 236.6 ml, 0.85 kg/L"),
        ("1 cup", SUGAR, "metric", 212.5, "cup of 250 ml, 0.85 kg/L"),
        ("1½ cups of", SUGAR, "metric", 318.75, "cup of 250 ml, 0.85 kg/L"),
        ("2 tbsp.", SUGAR, "metric", 25.5, "tbsp of 15 ml, 0.85 kg/L"),
        ("2–3 tsp", SUGAR, "metric", 10.625, "the middle of 2 and 3; tsp of 5 ml, 0.85 kg/L"),
        ("1-1/2 tsp", SUGAR, "metric", 6.375, "tsp of 5 ml, 0.85 kg/L"),
        ("1 to 2 fl oz", SUGAR, "us", 37.71, "the middle of 1 and 2; fl oz of 29.57 ml, 0.85 kg/L"),
        ("2 dl", SUGAR, "metric", 170, "0.85 kg/L"),
        ("1 lb", SUGAR, "metric", 453.59, None),
        ("4 yolks", YOLK, "metric", 68, "yolk 17 g"),
        ("1 piece", YOLK, "metric", 17, "yolk 17 g"),
        ("1 tin", MILK_TIN, "metric", 397, "tin 397 g"),
        ("2 tins (300 g)", MILK_TIN, "metric", 600, "tins 300 g each"),
        ("1 jar 12 oz", MILK_TIN, "metric", 340.19, "jar 340.194 g each"),
        ("3 leaves", Measures(None, {"leaf": 2.0}), "metric", 6, "leaf 2 g"),
    ],
)
def test_measures_are_weighed_and_say_what_they_assume(
    typed: str, measures: Measures, spoons: Spoons, grams: float, assumed: str | None
) -> None:
    amount = read_amount(typed, "g", measures, spoons)
    assert amount.grams == pytest.approx(grams, rel=1e-3)
    assert amount.assumed == assumed


@pytest.mark.parametrize("slug", sorted(catalogue()))
def test_densities_and_pieces_of_the_shelf_are_plausible(slug: str) -> None:
    measures = catalogue()[slug].ingredient.measures
    assert measures.density_kg_l is None or 0.05 <= measures.density_kg_l <= 1.6
    assert all(0.001 <= grams <= 1500 for grams in measures.pieces.values())


def test_liquids_have_the_density_of_their_composition_and_powders_only_a_stated_one() -> None:
    assert find("whole-milk").measures.density_kg_l == pytest.approx(1.03, abs=0.01)
    assert find("honey").measures.density_kg_l == pytest.approx(1.43, abs=0.02)
    assert measures_of(Composition("powder", {"sucrose": 100})).density_kg_l is None


@given(st.floats(0.001, 900), st.sampled_from(sorted(GRAMS_PER_UNIT)))
def test_units_round_trip(value: float, unit: str) -> None:
    grams = read_amount(f"{value:.10f} {unit}").grams
    assert grams / GRAMS_PER_UNIT[unit] == pytest.approx(value, abs=1e-9)


@given(st.text(max_size=50))
def test_any_text_is_read_or_refused(typed: str) -> None:
    with suppress(AmountError):
        assert 0 <= read_amount(typed).grams <= MOST_GRAMS


@pytest.mark.parametrize(("value", "unit"), [(-1, "g"), (1e9, "g"), (float("inf"), "g"), (1, "parsec")])
def test_numbers_out_of_reason_are_refused(value: float, unit: str) -> None:
    with pytest.raises(AmountError):
        to_grams(value, unit)
