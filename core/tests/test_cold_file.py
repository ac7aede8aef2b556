"""Questions about cold as a file: what is answered, what is refused, and that the schema says the same."""

from __future__ import annotations

import json
import re
from contextlib import suppress
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.cold_file import answer, read_question
from jalebi_core.model.errors import JalebiError

SCHEMA = json.loads((Path(__file__).parents[2] / "docs/cold.schema.json").read_text(encoding="utf-8"))
PLAIN = {
    "format": "jalebi.mix",
    "version": 1,
    "name": "Plain",
    "lines": [
        {"ingredient": "whole-milk", "amount": 600},
        {"ingredient": "cream-36", "amount": 200},
        {"ingredient": "sugar", "amount": 160},
    ],
}
ASKS: list[dict[str, Any]] = [
    {"kind": "enthalpy", "t_c": [5, -5, -18]},
    {"kind": "bath", "ice_g": 1000, "salt_g": 300},
    {"kind": "ice", "mass_g": 1000, "from_c": 4, "to_c": -5, "bath_c": -12},
    {"kind": "shock", "from_c": -18, "to_c": -8},
]


def asked(ask: object, mix: object = PLAIN) -> dict[str, Any]:
    question = {"format": "jalebi.cold", "version": 1, "ask": ask, **({} if mix is None else {"mix": mix})}
    return answer(read_question(json.dumps(question).encode()))


@pytest.mark.parametrize("ask", ASKS, ids=lambda ask: str(ask["kind"]))
def test_every_kind_is_answered_in_data_and_in_words(ask: dict[str, Any]) -> None:
    jsonschema.validate({"format": "jalebi.cold", "version": 1, "mix": PLAIN, "ask": ask}, SCHEMA)
    found = asked(ask)
    assert found["kind"] == ask["kind"]
    assert found["said"].endswith(".")
    assert "-" not in found["said"]
    json.dumps(found, allow_nan=False)


def test_a_load_of_ice_is_the_heat_of_the_mix_and_the_losses() -> None:
    h = asked({"kind": "enthalpy", "t_c": [4, -5]})["h_kj_kg"]
    load = asked({"kind": "ice", "mass_g": 2000, "from_c": 4, "to_c": -5, "bath_c": -12, "loss": 2})
    assert load["heat_kj"] == pytest.approx(2 * 2 * (h[0] - h[1]))


def test_ice_and_salt_need_no_mix_and_warn_of_the_skin() -> None:
    found = asked({"kind": "bath", "ice_g": 1000, "salt_g": 300}, mix=None)
    assert "gloves" in found["cautions"][0]
    assert asked({"kind": "bath", "ice_g": 1000}, mix=None)["cautions"] == []


def test_what_has_melted_is_not_frozen_again() -> None:
    assert "never frozen again" in asked({"kind": "shock", "from_c": -18, "to_c": 4})["cautions"][0]
    assert asked({"kind": "shock", "from_c": 4, "to_c": 4})["melted_pct"] == 0


@pytest.mark.parametrize(
    ("ask", "said"),
    [
        ({"kind": "melt"}, "Use one of enthalpy, bath, ice, shock"),
        ({"kind": []}, "is not a kind of question"),
        ({"kind": "shock", "from_c": -18}, "Say to_c"),
        ({"kind": "shock", "from_c": -18, "to_c": "−8"}, "to_c is −8, which is not a number"),
        ({"kind": "shock", "from_c": True, "to_c": -8}, "from_c is True, which is not a number"),
        ({"kind": "shock", "from_c": -300, "to_c": -8}, "from_c is −300; it is −40 to 120"),
        ({"kind": "shock", "from_c": -18, "to_c": -8, "tub": 1}, "“tub” is not a key"),
        ({"kind": "enthalpy", "t_c": []}, "t_c is a list"),
        ({"kind": "enthalpy", "t_c": [None]}, "Say t_c"),
        ({"kind": "bath", "ice_g": 0}, "neither ice nor water"),
        ({"kind": "bath", "ice_g": 1e9}, "0 to 1000000"),
        ({"kind": "ice", "mass_g": 1000, "from_c": -5, "to_c": 4, "bath_c": -12}, "no colder"),
        ({"kind": "ice", "mass_g": 1000, "from_c": 4, "to_c": -5, "bath_c": -2}, "Say a colder bath_c"),
        ([], "“jalebi.cold”"),
    ],
)
def test_what_cannot_be_asked_is_named_with_the_way_out(ask: object, said: str) -> None:
    with pytest.raises(JalebiError, match=re.escape(said)):
        asked(ask)


def test_a_number_beyond_all_measure_is_refused() -> None:
    with pytest.raises(JalebiError, match="ice_g is inf, which is not a number"):
        asked({"kind": "bath", "ice_g": 10**400})


def test_a_mix_that_is_wanted_and_missing_is_named() -> None:
    with pytest.raises(JalebiError, match="Say mix in ask"):
        asked({"kind": "shock", "from_c": -18, "to_c": -8}, mix=None)


@given(
    st.fixed_dictionaries(
        {"kind": st.sampled_from(["enthalpy", "bath", "ice", "shock", "tub"])},
        optional={
            key: st.one_of(st.floats(-50, 150), st.none(), st.text(max_size=5), st.lists(st.floats(-50, 130)))
            for key in ("t_c", "ice_g", "salt_g", "from_c", "to_c", "bath_c", "mass_g", "hours", "loss", "heat_kj")
        },
    )
)
def test_any_question_is_answered_or_refused(ask: dict[str, Any]) -> None:
    with suppress(JalebiError):
        json.dumps(asked(ask), allow_nan=False)
