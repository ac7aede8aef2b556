"""Typed amounts: what cooks write, and what cannot be meant."""

from __future__ import annotations

from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.amounts import GRAMS_PER_UNIT, MOST_GRAMS, read_amount, to_grams
from jalebi_core.errors import AmountError


@pytest.mark.parametrize(
    ("typed", "grams"),
    [
        ("480", 480), ("480 g", 480), ("480g", 480), ("1,5", 1.5), ("1.5", 1.5), (".5", 0.5), ("5.", 5), ("½", 0.5),
        ("1½", 1.5), ("1 ½", 1.5), ("1 1/2", 1.5), ("3/4", 0.75), ("3⁄4", 0.75), ("1½ kg", 1500), ("2 oz", 56.699046),
        ("1 000", 1000), ("1\u202f000,5 g", 1000.5), ("0", 0), ("0,125", 0.125), ("0.250 kg", 250),
        ("2 Ounces", 56.699046),
    ],
)  # fmt: skip
def test_amounts_are_read_as_cooks_write_them(typed: str, grams: float) -> None:
    assert read_amount(typed).grams == pytest.approx(grams)


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("", "no amount"), ("   ", "no amount"), ("-3", "negative"), ("−3", "negative"), ("12 g g", "not an amount"),
        ("1e9", "not"), ("9999999", "more than one line"), ("12 cups of", "not"), ("5 parsec", "not a unit"),
        ("1/0", "divides by zero"), ("1,000", "thousands or a decimal"), ("1,000 g", "thousands or a decimal"),
        ("1 1/", "not an amount"), ("g", "not an amount"), ("٣", "not an amount"), ("½½", "not an amount"),
        ("9" * 5000, "too long"),
        ("²", "not an amount"), ("nan", "not an amount"), ("1\x00", "not an amount"),
    ],
)  # fmt: skip
def test_what_cannot_be_meant_is_refused_in_a_sentence(typed: str, says: str) -> None:
    with pytest.raises(AmountError, match=says):
        read_amount(typed)


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
