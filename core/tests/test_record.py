"""Records of a thermometer as people type and paste them."""

from __future__ import annotations

import re
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.heat.record import read_record
from jalebi_core.model.errors import HeatError


@pytest.mark.parametrize(
    "text",
    [
        "0 69\n30 71.5",
        "0;69\n30;71,5",
        "0\t69\n30\t71.5",
        "0:00 69 °C\n30:00 71,5 °C",
        "\n0 min 69\n\n30 min 71.5C\n",
        "0, 69\n30, 71.5",
    ],
)
def test_a_record_is_read_as_it_is_pasted(text: str) -> None:
    assert read_record(text) == ((0, 69), (30, 71.5))


def test_fahrenheit_is_read_where_the_kitchen_writes_it() -> None:
    read = read_record("0 156.2\n1 176", fahrenheit=True)
    assert [celsius for _, celsius in read] == pytest.approx([69, 80])


def test_nothing_typed_is_no_record() -> None:
    assert read_record("  \n ") == ()


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("0 69\nhot", "Line 2 of the record is “hot”"),
        ("0 69\n0 70", "Line 2 of the record is at 0 min"),
        ("0 69\n5 900", "Line 2 of the record is at 900 °C"),
        ("0 69", "two lines at least"),
        ("69", "Line 1 of the record is “69”"),
    ],
)
def test_what_is_wrong_with_a_record_is_named_by_its_line(text: str, said: str) -> None:
    with pytest.raises(HeatError, match=re.escape(said)):
        read_record(text)


@given(st.text())
def test_any_text_is_read_or_refused(text: str) -> None:
    with suppress(HeatError):
        read_record(text)
