"""Questions about cold as a file: what is answered, what is refused, and that the schema says the same."""

from __future__ import annotations

import json
import os
import re
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jalebi_core.formats.cold_answers import answer
from jalebi_core.formats.cold_file import KINDS, Choice, Field, Flag, Group, Number, Numbers, Record, read_question
from jalebi_core.model.errors import JalebiError

SCHEMA_FILE = Path(__file__).parents[2] / "docs/cold.schema.json"
SCHEMA = json.loads(SCHEMA_FILE.read_text(encoding="utf-8"))
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
    {"kind": "churn", "machine": {"kind": "canister", "bowl_l": 1.5}, "mass_g": 800},
    {"kind": "churn", "machine": {"kind": "canister", "gel_kg": 0.6}, "mass_g": 800, "prefreeze_h": 6},
    {"kind": "churn", "machine": {"kind": "compressor", "factor": 0.8}, "mass_g": 900, "precool_min": 0, "draw_c": -4},
    {"kind": "churn", "machine": {"kind": "bag"}, "mass_g": 200, "bath": {"ice_g": 800, "salt_g": 160}},
    {"kind": "watch", "machine": {"kind": "compressor"}, "mass_g": 900, "readings": [[6, -1.4], [8, -2.6], [10, -3]]},
    {"kind": "tub", "diameter_mm": 110, "height_mm": 85, "start_c": -5, "place": "blast", "minutes": [30, 60, 120]},
    {
        "kind": "tub",
        "shape": "box",
        "length_mm": 160,
        "width_mm": 110,
        "height_mm": 60,
        "start_c": -18,
        "place": "room",
    },
    {"kind": "tub", "diameter_mm": 110, "height_mm": 85, "start_c": -18, "air_c": 4, "h_w_m2k": 8, "lid": False},
    {
        "kind": "tub",
        "diameter_mm": 160,
        "height_mm": 120,
        "start_c": -5,
        "place": "brine",
        "bath": {"ice_g": 4000, "salt_g": 800},
        "hours": 2,
        "emptying_min": 4,
        "wall_kg": 0.4,
        "wall_start_c": -5,
    },
    {"kind": "pot", "mass_g": 1000, "start_c": 85, "place": "ice-bath", "before": [[0, 69], [30, 69]]},
    {"kind": "pot", "mass_g": 1000, "start_c": 85, "place": "fridge", "cold": {"mass_g": 250, "c": 4}},
    {"kind": "pot", "mass_g": 1000, "start_c": 85, "ua_w_k": 2, "air_c": 12, "stirred": False},
    {"kind": "reduce", "mass_g": 1000, "to_g": 500, "watts": 2000, "tare_g": 850, "diameter_mm": 220},
    {"kind": "reduce", "mass_g": 1000, "to_depth_mm": 12, "watts": 2000, "diameter_mm": 220, "hob": "induction"},
    {"kind": "reduce", "mass_g": 1000, "to_c": 102, "watts": 800, "hob": "microwave"},
]


def asked(ask: object, mix: object = PLAIN) -> dict[str, Any]:
    question = {"format": "jalebi.cold", "version": 1, "ask": ask, **({} if mix is None else {"mix": mix})}
    return answer(read_question(json.dumps(question).encode()))


CANISTER: dict[str, Any] = {"kind": "churn", "machine": {"kind": "canister"}, "mass_g": 800}
TUB: dict[str, Any] = {"kind": "tub", "diameter_mm": 110, "height_mm": 85, "start_c": -5, "place": "blast"}
POT: dict[str, Any] = {"kind": "pot", "mass_g": 1000, "start_c": 85, "place": "ice-bath"}
REDUCE: dict[str, Any] = {"kind": "reduce", "mass_g": 1000, "to_g": 500, "watts": 800}


@pytest.mark.parametrize("ask", ASKS, ids=lambda ask: str(ask["kind"]))
def test_every_kind_is_answered_in_data_and_in_words(ask: dict[str, Any]) -> None:
    jsonschema.validate({"format": "jalebi.cold", "version": 1, "mix": PLAIN, "ask": ask}, SCHEMA)
    found = asked(ask)
    assert found["kind"] == ask["kind"]
    assert found["said"].endswith(".")
    assert not re.search(r"-\d", found["said"])
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
        ({"kind": "melt"}, "Use one of enthalpy, churn, watch, bath, ice, tub, pot, reduce, shock"),
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
        ({**CANISTER, "mass_g": 0}, "mass_g is 0; it is 1 to 1000000"),
        ({**CANISTER, "machine": {"kind": "no-churn"}}, "no-churn is not stirred in a machine: ask for a tub"),
        ({**CANISTER, "machine": {"kind": "freezer"}}, "machine.kind is freezer; it is one of canister"),
        ({**CANISTER, "machine": {"kind": "compressor", "gel_kg": 1}}, "“gel_kg” is not a constant of a compressor"),
        ({**CANISTER, "machine": {"kind": "bag"}}, "Say bath"),
        ({**CANISTER, "machine": {}}, "Say machine.kind"),
        ({**CANISTER, "machine": "canister"}, "Say machine in ask"),
        ({**TUB, "height_mm": 0}, "height_mm is 0; it is 5 to 3000"),
        ({**TUB, "diameter_mm": None}, "Say diameter_mm"),
        ({**TUB, "place": "garden"}, "place is garden; it is one of still-freezer"),
        ({**TUB, "place": None}, "Say place"),
        ({**TUB, "place": "brine"}, "Say bath"),
        ({**TUB, "lid": "no"}, "lid is no; it is one of true, false"),
        ({**POT, "cold": {"mass_g": 1000, "c": 4}}, "Say less of it"),
        ({**POT, "place": "salt-bath"}, "Say bath"),
        ({**POT, "before": [[5, 80], [5, 70]]}, "the minutes of before rise"),
        ({**POT, "before": [[5]]}, "pairs of a minute and a temperature"),
        ({**REDUCE, "to_g": 100}, "cannot be boiled down to 100 g"),
        ({**REDUCE, "to_g": 2000}, "boiling makes it lighter"),
        ({**REDUCE, "to_c": 102}, "Say one of to_g, to_c and to_depth_mm"),
        ({**REDUCE, "to_g": None, "to_c": 90}, "Say another to_c"),
        ({**REDUCE, "to_g": None, "to_depth_mm": 12}, "Say diameter_mm"),
        ({**REDUCE, "to_g": None, "to_depth_mm": 900, "diameter_mm": 200}, "Say another to_depth_mm"),
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


def strange(wanted: Field) -> st.SearchStrategy[Any]:
    """Generate values for a field: most of them fair, some absurd or of another kind."""
    absurd = st.one_of(st.none(), st.floats(-50, 150), st.text(max_size=5), st.booleans(), st.just(10**400))
    match wanted:
        case Number():
            fair: st.SearchStrategy[Any] = st.floats(wanted.least, min(wanted.most, 2000.0))
        case Choice():
            fair = st.sampled_from(wanted.of)
        case Flag():
            fair = st.booleans()
        case Numbers():
            fair = st.lists(strange(wanted.each), max_size=4)
        case Record():
            fair = st.lists(st.tuples(st.floats(0, 100), st.floats(0, 90)).map(list), max_size=4)
        case Group():
            fair = st.fixed_dictionaries({}, optional={key: strange(of) for key, of in wanted.fields.items()})
    return st.one_of(fair, fair, fair, fair, absurd)


@given(
    st.sampled_from(sorted(KINDS)).flatmap(
        lambda kind: st.fixed_dictionaries(
            {"kind": st.just(kind)}, optional={key: strange(wanted) for key, wanted in KINDS[kind].items()}
        )
    )
)
@settings(max_examples=150)
def test_any_question_is_answered_or_refused(ask: dict[str, Any]) -> None:
    with suppress(JalebiError):
        json.dumps(asked(ask), allow_nan=False)


def schema_of(wanted: Field) -> dict[str, Any]:
    """Return the JSON Schema of a field."""
    match wanted:
        case Number():
            usual = {} if wanted.usual is None else {"default": wanted.usual}
            return {"type": "number", "minimum": wanted.least, "maximum": wanted.most, **usual}
        case Choice():
            return {"enum": list(wanted.of), **({"default": wanted.usual} if wanted.usual else {})}
        case Flag():
            return {"type": "boolean", "default": wanted.usual}
        case Numbers():
            return {"type": "array", "minItems": 1, "maxItems": 1000, "items": schema_of(wanted.each)}
        case Record():
            pair = {"type": "array", "minItems": 2, "maxItems": 2, "items": {"type": "number"}}
            return {"type": "array", "minItems": wanted.least or 2, "maxItems": 1000, "items": pair}
        case Group():
            return schema_of_fields(wanted.fields)


def schema_of_fields(fields: Mapping[str, Field], kind: str | None = None) -> dict[str, Any]:
    """Return the JSON Schema of an object, of the question of a kind where one is named."""
    known = {} if kind is None else {"kind": {"const": kind}}
    wanted = [key for key, field in fields.items() if has_to_be_said(field)]
    return {
        "type": "object",
        "required": [*known, *wanted],
        "additionalProperties": False,
        "properties": {**known, **{key: schema_of(field) for key, field in fields.items()}},
    }


def has_to_be_said(wanted: Field) -> bool:
    match wanted:
        case Number():
            return wanted.usual is None and not wanted.optional
        case Numbers() | Group():
            return not wanted.optional
        case Record():
            return wanted.least > 0
    return False


def test_the_schema_says_what_is_read() -> None:
    """Write it anew with JALEBI_WRITE_SCHEMA=1 where what is read has changed."""
    schema = {**SCHEMA, "properties": {**SCHEMA["properties"]}}
    schema["properties"]["ask"] = {"oneOf": [schema_of_fields(fields, kind) for kind, fields in KINDS.items()]}
    if os.environ.get("JALEBI_WRITE_SCHEMA"):
        SCHEMA_FILE.write_text(json.dumps(schema, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    assert json.loads(SCHEMA_FILE.read_text(encoding="utf-8")) == schema


def test_a_bowl_that_was_not_frozen_and_one_too_full_say_so_and_what_helps() -> None:
    never = asked({**CANISTER, "prefreeze_h": 0})
    assert never["minutes"] is None
    assert "the bowl is not frozen. Freeze the bowl" in never["said"]
    full = asked({**CANISTER, "mass_g": 1400, "start_c": 20})
    assert "runs over" in full["cautions"][0]
    assert "Make 1120 g, or make it in 2 runs." in full["said"]


def test_a_watched_run_is_told_or_not() -> None:
    seen = [[minute, max(4 - 1.6 * minute, -2.4 - 0.13 * (minute - 4))] for minute in range(15)]
    told = asked({**CANISTER, "kind": "watch", "readings": seen})
    assert told["can_tell"]
    assert not told["will_stall"]
    assert told["minutes_left"]["low"] <= told["minutes_left"]["mid"] <= told["minutes_left"]["high"]
    assert told["said"].startswith("Take it out in about ")
    air = asked({**CANISTER, "kind": "watch", "readings": [[minute, -17] for minute in range(1, 9)]})
    assert (air["can_tell"], air["minutes_left"], air["will_stall"], air["stalls_at_c"]) == (False, None, False, None)
    assert air["said"].startswith("Cannot tell yet: it is at −17.0 °C, and is drawn at −")
    early = asked({**CANISTER, "kind": "watch", "readings": [[0.5, 4.2]]})
    assert (early["can_tell"], early["minutes_left"]) == (False, None)
    with pytest.raises(JalebiError, match="readings is a list of 1 to 1000 pairs"):
        asked({**CANISTER, "kind": "watch"})
    with pytest.raises(JalebiError, match="the minutes of readings rise"):
        asked({**CANISTER, "kind": "watch", "readings": [[2, 1], [1, 2]]})


def test_hardening_in_a_warm_place_is_a_sentence() -> None:
    found = asked({**TUB, "place": "cabinet"})
    assert found["when"]["core_at_target"] is None
    assert found["said"] == "Its core does not get to −15 °C in the cabinet: −14 °C is not colder."


def test_a_custard_cooled_slowly_is_named_unsafe() -> None:
    found = asked({**POT, "mass_g": 5000, "place": "fridge", "diameter_mm": 280})
    assert not found["two_stage_ok"]
    assert "Too slow to be safe" in found["cautions"][0]
    assert asked({**POT, "place": "fridge", "before": [[0, 69], [30, 69]]})["credit"]["us"] > 1


def test_a_reduction_closes_in_mass_and_watches_its_solids() -> None:
    found = asked({**REDUCE, "tare_g": 850})
    assert found["pot_reads_g"] == 1350
    boiled = found["g_per_min"] * (found["minutes"] - found["boil_after_min"])
    assert boiled == pytest.approx(500)
    jam = asked({"kind": "reduce", "mass_g": 1000, "to_c": 104, "watts": 800, "hob": "microwave"})
    assert jam["ends_at_c"] == pytest.approx(104, abs=0.05)
    assert sum(jam["intervals_s"]) == pytest.approx(60 * jam["minutes"], abs=30)
