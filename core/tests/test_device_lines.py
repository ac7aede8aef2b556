"""What devices say, line by line."""

from __future__ import annotations

import json
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.device_lines import KINDS, Hello, Shown, read_hello, read_shown, write_hello, write_shown
from jalebi_core.model.errors import DeviceError

HELLO = {"jalebi": "device", "version": 1, "kind": "probe", "name": "Long probe", "step": 0.1}


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_written_is_read(kind: str) -> None:
    hello = Hello(kind, "One", 0.5, 60.0, stand_in=True)
    assert read_hello(write_hello(hello)) == hello
    assert read_shown(write_shown(Shown(1.5, 20.25, steady=True)), hello.unit) == Shown(1.5, 20.25, steady=True)
    assert read_shown(write_shown(Shown(2.0, -3.1, wall_c=-17.5)), "°C").wall_c == -17.5


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"jalebi": "kettle"}, "does not say first"),
        ({"version": 2}, "does not say first"),
        ({"kind": "oven"}, "“oven” is no kind of device"),
        ({"name": ""}, "printable name"),
        ({"name": "a\nb"}, "printable name"),
        ({"name": 7}, "printable name"),
        ({"step": "fine"}, "step has to be a number"),
        ({"step": 0}, "step is out of range"),
        ({"speed": True}, "speed has to be a number"),
    ],
)
def test_what_is_no_device_is_refused_by_name(change: dict[str, object], said: str) -> None:
    with pytest.raises(DeviceError, match=said):
        read_hello(json.dumps({**HELLO, **change}))


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("", "no JSON object"),
        ("[1]", "no JSON object"),
        ("{", "no JSON object"),
        ('{"t": 1}', "value has to be a number"),
        ('{"t": 1, "value": NaN}', "value has to be a number"),
        ('{"t": 1, "value": "12"}', "value has to be a number"),
        ('{"t": -1, "value": 12}', "t is out of range"),
        ('{"t": 1, "value": 1e9}', "value is out of range"),
        ('{"t": 1, "value": 4, "wall_c": 900}', "wall_c is out of range"),
    ],
)
def test_what_it_shows_is_a_number_that_can_be(line: str, said: str) -> None:
    with pytest.raises(DeviceError, match=said):
        read_shown(line, "°C")


@given(st.text(max_size=200))
def test_any_text_is_read_or_refused(text: str) -> None:
    for read in (read_hello, lambda line: read_shown(line, "g")):
        with suppress(DeviceError):
            assert read(text)
