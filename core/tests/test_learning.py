"""Learning from a log: reference posteriors, and what no log does."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from conftest import REFERENCE
from jalebi_core.data import read_toml
from jalebi_core.formats.log_file import learn_report, read_log
from jalebi_core.model.errors import TastingError
from jalebi_core.production.machines import machine_kinds
from jalebi_core.tasting.freezers import WORDS, as_cold_as
from jalebi_core.tasting.learning import learn_one
from jalebi_core.tasting.overrun import CupWeighed
from jalebi_core.tasting.parameters import learn, parameter

CASES = json.loads((REFERENCE / "taste/outliers.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: str(case["y"]))
def test_strays_count_for_little(case: dict[str, Any]) -> None:
    found = learn_one(np.array(case["y"], dtype=float), 25.0, 7.803, 5.0)
    assert found.mean == pytest.approx(case["value"], abs=1e-3)
    assert found.sd == pytest.approx(case["sd"], abs=1e-3)
    assert found.weights == pytest.approx(np.array(case["weights"]), abs=1e-4)


@given(st.lists(st.floats(-2, 2), min_size=1, max_size=8), st.randoms())
def test_the_order_of_a_log_does_not_matter_and_it_never_says_less_than_the_prior(
    log: list[float], random: Any
) -> None:
    shuffled = random.sample(log, len(log))
    first, second = (learn_one(np.array(one), 0.0, 0.35, 0.15) for one in (log, shuffled))
    assert first.mean == pytest.approx(second.mean, abs=1e-9)
    assert 0 < first.sd <= 0.35


# ---- a kitchen's log

SCHEMA = json.loads((Path(__file__).parents[2] / "docs/log.schema.json").read_text(encoding="utf-8"))
LOGS = json.loads((REFERENCE / "taste/learning.json").read_text(encoding="utf-8"))
TOGETHER = next(case["log"] for case in LOGS if case["name"].startswith("freezer and threshold together"))
SWEET = next(case["log"] for case in LOGS if case["name"].startswith("palate"))
_TOLERANCE = 1e-6
CURVE = [{"t_c": 0, "frozen_pct": 0}, {"t_c": -9, "frozen_pct": 60}]
PLAIN = {"id": "b", "at": "2026-04-01", "facts": {"frozen": CURVE}}


def learnt(log: dict[str, Any], **more: Any) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = learn_report(json.dumps({**log, **more}).encode())["parameters"]
    return found


def of(found: list[dict[str, Any]], key: str) -> dict[str, Any]:
    return next(one for one in found if one["key"] == key)


@pytest.mark.parametrize("case", LOGS, ids=lambda case: case["name"])
def test_logs_teach_what_the_reference_says(case: dict[str, Any]) -> None:
    found = learnt(case["log"])
    if "keys" in case:
        assert {one["key"] for one in found} == set(case["keys"])
    for said in case["expect"]:
        (one,) = (one for one in found if all(one.get(key) == value for key, value in said["where"].items()))
        for path, value in said["fields"].items():
            got = one["prior"][path.removeprefix("prior.")] if path.startswith("prior.") else one[path]
            exact = isinstance(value, bool | list | str) or value is None
            assert got == (value if exact else pytest.approx(value, abs=said.get("tol", _TOLERANCE))), path


@pytest.mark.parametrize("case", LOGS, ids=lambda case: case["name"])
def test_the_schema_takes_what_the_command_takes(case: dict[str, Any]) -> None:
    Draft202012Validator(SCHEMA).validate(case["log"])


def test_the_schema_names_the_same_words_and_parameters() -> None:
    tasting = SCHEMA["properties"]["batches"]["items"]["properties"]["tastings"]["items"]["properties"]
    assert tasting["firmness"]["enum"] == list(WORDS)
    assert set(SCHEMA["properties"]["since"]["properties"]) == set(read_toml("learning.toml"))
    assert SCHEMA["properties"]["machines"]["items"]["properties"]["kind"]["enum"] == list(machine_kinds())


def test_the_order_of_a_log_does_not_matter() -> None:
    turned = {**TOGETHER, "batches": TOGETHER["batches"][::-1]}
    for one, other in zip(learnt(TOGETHER), learnt(turned), strict=True):
        assert one["value"] == pytest.approx(other["value"], abs=1e-9)


def test_leaving_an_entry_out_is_as_if_it_had_never_been() -> None:
    without = {**SWEET, "batches": SWEET["batches"][:2]}
    last = SWEET["batches"][2]["id"]
    assert learnt(SWEET, left_out=[last]) == learnt(without)


def test_forgetting_before_a_day_lets_only_later_entries_count() -> None:
    assert learnt(SWEET, since={"sweetness_factor": "2027-01-01"}) == []
    assert len(learnt(SWEET, since={"sweetness_factor": "2026-01-01"})) == 2


def test_words_out_of_the_freezer_alone_do_not_tell_a_warm_freezer_from_a_firm_taste() -> None:
    found = learnt({**TOGETHER, "readings": []})
    assert not of(found, "freezer_c")["identified"] and not of(found, "freezer_c")["in_use"]
    assert not of(found, "scoop_firmness")["in_use"]
    assert of(found, "freezer_firmness")["in_use"]
    assert "thermometer in a tub" in of(found, "freezer_firmness")["said"]


def test_a_freezer_whose_dial_has_marks_only_begins_wide() -> None:
    found = of(learnt({**TOGETHER, "freezers": [{"name": "chest"}]}), "freezer_c")
    assert found["prior"]["value"] == -18
    assert found["prior"]["high"] - found["prior"]["low"] > 10
    assert "no degrees" in found["said"]


def test_a_stray_word_is_named_and_counts_for_little() -> None:
    log = json.loads(json.dumps(TOGETHER))
    log["batches"].append(
        {
            **log["batches"][0],
            "id": "odd",
            "tastings": [{"id": "odd-word", "at": "2026-04-09", "freezer": "chest", "firmness": "liquid"}],
        }
    )
    odd, even = of(learnt(log), "freezer_c"), of(learnt(TOGETHER), "freezer_c")
    assert odd["strays"] == ["odd-word"]
    assert odd["value"] == pytest.approx(even["value"], abs=0.4)


def test_hundreds_of_words_stay_finite() -> None:
    log = json.loads(json.dumps(TOGETHER))
    one = log["batches"][0]
    log["batches"] = [
        {
            **one,
            "id": f"b{at}",
            "tastings": [{"id": f"t{at}", "at": "2026-04-09", "freezer": "chest", "firmness": "rock"}],
        }
        for at in range(300)
    ]
    assert all(np.isfinite(one["value"]) for one in learnt(log))


def test_a_mix_in_the_place_of_facts_is_analysed() -> None:
    lines = [{"ingredient": "whole-milk", "amount": 600}, {"ingredient": "sugar", "amount": 120}]
    mix = {"format": "jalebi.mix", "version": 1, "name": "Milk ice", "style": "gelato", "lines": lines}
    batch = {
        "id": "b",
        "at": "2026-04-01",
        "mix": mix,
        "tastings": [{"id": "t", "t_c": -12, "firmness": "scoops", "sweetness_jar": 0}],
    }
    found = learnt({"format": "jalebi.log", "version": 1, "batches": [batch]})
    assert {one["key"] for one in found} == {"scoop_firmness", "sweetness_factor", "sweetness_ideal"}


def test_draws_are_learnt_where_batches_carry_them() -> None:
    log = {**SWEET, "batches": [{**one, "made": {"draw_ice_g": 31}} for one in SWEET["batches"]]}
    found = of(learnt(log), "draw_ice_g")
    assert 29 < found["value"] < 31 and found["prior"]["value"] == 27


def test_a_parameter_is_found_by_what_it_is_about() -> None:
    found = learn(read_log(json.dumps(TOGETHER).encode()))
    assert parameter(found, "freezer_c", "chest") is not None
    assert parameter(found, "freezer_c", "shed") is None


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"beauty": 1}, "a key “beauty”"),
        ({"freezers": [{"name": "chest"}, {"name": "chest"}]}, "stands there twice"),
        ({"machines": [{"name": "bowl", "kind": "spoon"}]}, "Use one of canister"),
        ({"readings": [{"id": "r", "at": "2026-04-01", "freezer": "shed", "t_c": -18, "in": "tub"}]}, "names “shed”"),
        ({"readings": [{"id": "r", "at": "April", "freezer": "chest", "t_c": -18, "in": "tub"}]}, "a day is written"),
        (
            {
                "weighings": [
                    {
                        "id": "w",
                        "at": "2026-04-01",
                        "ingredient": "egg",
                        "piece": "yolk",
                        "usual_g": 17,
                        "pieces": 0,
                        "grams": 9,
                    }
                ]
            },
            "it is 0.001 to",
        ),
        ({"since": {"beauty": "2026-04-01"}}, "a key “beauty”"),
        ({"batches": [{"id": "b", "at": "2026-04-01"}]}, "either a mix or facts"),
        ({"batches": [{"id": "b", "at": "2026-04-01", "facts": {"frozen": []}}]}, "two temperatures at least"),
        (
            {
                "batches": [
                    {
                        **PLAIN,
                        "tastings": [{"id": "b", "firmness": "squishy"}],
                    }
                ]
            },
            "Use one of liquid",
        ),
        (
            {
                "batches": [
                    {
                        **PLAIN,
                        "tastings": [{"id": "b", "sweetness_jar": 3}],
                    }
                ]
            },
            "it is −2 to 2",
        ),
        (
            {
                "batches": [
                    {
                        **PLAIN,
                        "tastings": [{"id": "b", "sweetness_jar": 1}],
                    }
                ]
            },
            "“b” stands there twice",
        ),
        (
            {
                "batches": [
                    {
                        **PLAIN,
                        "made": {"cup": {"tare_g": 35, "mix_g": 300, "frozen_g": 340}},
                    }
                ]
            },
            "far heavier",
        ),
    ],
)
def test_what_makes_no_log_is_refused_in_one_line(more: dict[str, Any], said: str) -> None:
    with pytest.raises(TastingError) as refused:
        learnt({"format": "jalebi.log", "version": 1, "freezers": [{"name": "chest", "dial_c": -18}], **more})
    assert said in str(refused.value)


@given(st.floats(1, 500), st.floats(10, 2000), st.floats(-9, 150))
def test_a_cup_weighed_twice_gives_its_air_back(tare: float, mix: float, air: float) -> None:
    cup = CupWeighed(tare, tare + mix, tare + mix / (1 + air / 100))
    assert cup.overrun_pct == pytest.approx(air, abs=1e-6)


@pytest.mark.parametrize("weights", [(35, 35, 200), (35, 300, 30), (35, 300, 340)])
def test_a_cup_that_cannot_be_is_refused(weights: tuple[float, float, float]) -> None:
    with pytest.raises(TastingError):
        CupWeighed(*weights)


def test_a_freezer_that_eats_softer_stands_for_a_warmer_one() -> None:
    log = read_log(json.dumps(TOGETHER).encode())
    (freezer,) = log.freezers
    assert as_cold_as(log, freezer, 0.0) == pytest.approx(-18.0)
    assert -18 < as_cold_as(log, freezer, -3.0) < -14
    assert as_cold_as(log, freezer, 3.0) < -18
