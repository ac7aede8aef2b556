"""The mix file: its shape, and a sentence for everything that is not."""

from __future__ import annotations

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.line_constraints import LineConstraints
from jalebi_core.formats.mix_file import (
    MOST_RESTRICTIONS,
    MOST_STEPS,
    MOST_TAGS,
    Step,
    read_mix,
    read_mix_file,
    write_mix,
)
from jalebi_core.model.errors import MixError

SCHEMA = json.loads((Path(__file__).parents[2] / "docs" / "mix.schema.json").read_text(encoding="utf-8"))

EXAMPLE: dict[str, Any] = {
    "format": "jalebi.mix",
    "version": 1,
    "name": "Tea custard",
    "style": "frozen-custard",
    "overrun_pct": 25,
    "lines": [
        {"ingredient": "whole-milk", "amount": 480, "unit": "g", "stage": "pot"},
        {"ingredient": {"name": "Tea syrup", "per_100g": {"water": 35, "sucrose": 65}}, "amount": 50, "unit": "g"},
    ],
}


def changed(**changes: Any) -> bytes:
    return json.dumps({**EXAMPLE, **changes}).encode()


def with_line(**changes: Any) -> bytes:
    data = deepcopy(EXAMPLE)
    data["lines"][1].update(changes)
    return json.dumps(data).encode()


def test_the_documented_example_is_read_and_fits_the_schema() -> None:
    jsonschema.validate(EXAMPLE, SCHEMA)
    mix = read_mix(json.dumps(EXAMPLE).encode())
    assert mix.mass_g == 530
    assert mix.lines[0].stage == "pot" and mix.lines[1].stage is None
    assert mix.overrun_pct == 25


def test_optional_parts_may_be_missing() -> None:
    mix = read_mix(
        json.dumps(
            {
                **{key: EXAMPLE[key] for key in ("format", "version", "name")},
                "lines": [{"ingredient": {"per_100g": {"fructose": 100}}, "amount": "1 1/2", "unit": "oz"}],
            }
        ).encode()
    )
    assert mix.style is None and mix.overrun_pct is None
    assert mix.mass_g == pytest.approx(42.52, abs=0.01)


def test_cups_and_pieces_are_weighed_by_the_ingredients_own_measures() -> None:
    yolks = {"ingredient": "egg-yolk", "amount": 4, "unit": "yolk"}
    sugar = {"ingredient": "sugar", "amount": "1/2", "unit": "cup"}
    mix = read_mix(changed(lines=[yolks, sugar]))
    assert [line.grams for line in mix.lines] == pytest.approx([68, 106.25])


def test_what_is_written_is_read_back_and_fits_the_schema() -> None:
    written = write_mix("Tea custard", None, 25.0, [{"ingredient": "sugar", "amount": 10, "unit": "g"}])
    jsonschema.validate(written, SCHEMA)
    assert read_mix(json.dumps(written).encode()).name == "Tea custard"


def handlings() -> st.SearchStrategy[LineConstraints]:
    words = st.text(st.characters(exclude_categories=("C", "Z")), max_size=20)
    mass = st.none() | st.just(0.0) | st.floats(0.1, 1000)
    return st.builds(
        lambda typed, pin, masses, step, note: LineConstraints(typed, pin, *masses, step or None, None, note),
        words,
        st.booleans(),
        st.tuples(mass, mass).map(lambda pair: sorted(pair) if None not in pair else pair),  # type: ignore[type-var]
        mass,
        words,
    )


@given(handlings(), st.lists(st.sampled_from(["tea", "summer", "kiosk"]), unique=True))
def test_how_a_line_is_handled_and_what_is_noted_comes_back_as_it_was(
    constraints: LineConstraints, tags: list[str]
) -> None:
    line = {"ingredient": "egg-yolk", "amount": 34.0, "unit": "g", **constraints.as_dict()}
    method = (Step("Warm the milk.", "pot"), Step("Serve."))
    written = write_mix("M", None, None, [line], restrictions=["vegan", "without:guar-gum"], tags=tags, method=method)
    jsonschema.validate(written, SCHEMA)
    read = read_mix_file(json.dumps(written).encode())
    assert read.constraints == (constraints,)
    assert (read.restrictions, read.tags, read.method) == (("vegan", "without:guar-gum"), tuple(sorted(tags)), method)


def test_a_line_in_whole_pieces_says_which() -> None:
    yolks = {"ingredient": "egg-yolk", "amount": 4, "unit": "yolk", "typed": "4 yolks", "piece": "yolk"}
    read = read_mix_file(changed(lines=[yolks], tags=[" Tea ", "tea"]))
    assert read.constraints[0] == LineConstraints("4 yolks", piece="yolk")
    assert read.tags == ("tea",)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"not json", "not JSON"),
        (b"\xff\xfe\x00", "not UTF-8"),
        (b"[1, 2]", "JSON object"),
        (b"[" * 100_000, "nests too deeply|not JSON"),
        (b'{"a": NaN}', "NaN is not a number"),
        (changed(overrun_pct=10**400), "overrun_pct is inf"),
        (b" " * 1_000_001, "at most 1 MB"),
        (changed(format="other"), "not a mix file"),
        (changed(version=2), "version 2"),
        (changed(name="x" * 10_000), "10000 characters"),
        (changed(name="a\x00b"), "cannot be shown"),
        (changed(name=""), "needs a name"),
        (changed(style="stew"), "not a style"),
        (changed(overrun_pct=-5), "overrun_pct is −5"),
        (changed(overrun_pct="much"), "not a number"),
        (changed(lines=[]), "no lines"),
        (changed(lines=EXAMPLE["lines"] * 101), "202 lines"),
        (changed(lines=["milk"]), "Line 1: this is not a line"),
        (changed(colour="red"), "not a key"),
        (with_line(ingredient="hole-milk"), "Line 2: there is no ingredient “hole-milk”.*whole-milk"),
        (with_line(ingredient={"name": "Odd", "per_100g": {"water": 50}}), "Line 2: “Odd” does not close"),
        (with_line(ingredient={"name": "Odd", "per_100g": {"water": 110, "sucrose": -10}}), "Line 2: .*negative"),
        (with_line(ingredient=7), "Line 2: an ingredient is"),
        (with_line(amount=-3), "Line 2: an amount cannot be negative"),
        (with_line(amount=1e9), "Line 2: .*more than one line"),
        (with_line(amount="12 g g"), "Line 2: “g g” is not a unit"),
        (with_line(amount=""), "Line 2: there is no amount"),
        (with_line(amount=None), "Line 2: there is no amount"),
        (with_line(amount=[1]), "Line 2: “\\[1\\]” is not an amount"),
        (with_line(unit="parsec"), "Line 2: “parsec” is not a unit"),
        (
            with_line(unit="cup", ingredient={"name": "Dust", "per_100g": {"sucrose": 100}}),
            "Line 2: without its density",
        ),
        (with_line(ingredient={"name": "Odd", "per_100g": {"water": 100}, "pieces": {"x1": 2}}), "Line 2: .*piece"),
        (with_line(ingredient={"name": "Odd", "per_100g": {"water": 100}, "density_kg_l": 90}), "Line 2: .*kg/L"),
        (with_line(unit=3), "Line 2: “3” is not a unit"),
        (with_line(stage="oven"), "Line 2: “oven” is not a stage"),
        (with_line(colour="x"), "Line 2: “colour” is not a key"),
        (with_line(note=7), "Line 2: note is 7, which is not text"),
        (with_line(note="x" * 201), "Line 2: note has 201 characters"),
        (with_line(typed="1\n2"), "Line 2: typed holds characters that cannot be shown"),
        (with_line(pin="yes"), "Line 2: pin is true or false"),
        (with_line(min_g="1"), "Line 2: min_g is 1, which is not a number"),
        (with_line(max_g=-1), "Line 2: max_g is −1; it is a mass from 0"),
        (with_line(min_g=2, max_g=1), "Line 2: at least 2 g and at most 1 g cannot both be"),
        (with_line(step_g=0), "Line 2: step_g is 0"),
        (with_line(piece="slab"), "Line 2: “slab” is not a piece that it comes in. It has none"),
        (with_line(ingredient="egg-yolk", piece="white"), "Line 2: “white” is not a piece.*Known are yolk"),
        (with_line(ingredient="egg-yolk", piece="yolk", step_g=1), "Line 2: it comes in steps or in pieces"),
        (changed(restrictions="vegan"), "restrictions is vegan, which is not a list"),
        (changed(restrictions=["thin"]), "“thin” is not a restriction"),
        (changed(restrictions=["vegan"] * (MOST_RESTRICTIONS + 1)), "21 restrictions; 20 is the most"),
        (changed(tags=["", "tea"]), "A tag is a word or two"),
        (changed(tags=[3]), "A tag is a word or two"),
        (changed(tags=["t"] * (MOST_TAGS + 1)), "21 tags"),
        (changed(method=["stir"]), "a sentence of the method is"),
        (changed(method=[{"text": " "}]), "1 to 2000 characters"),
        (changed(method=[{"text": "stir", "stage": "oven"}]), "“oven” is not a stage"),
        (changed(method=[{"text": "stir"}] * (MOST_STEPS + 1)), "401 method"),
        (changed(lines=[{"ingredient": "sugar", "amount": 0}]), "Line 1: the amount is 0"),
    ],
)
def test_what_is_wrong_is_said_in_a_sentence(data: bytes, says: str) -> None:
    with pytest.raises(MixError, match=says):
        read_mix(data)


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(),
        lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
        max_leaves=10,
    )
)
def test_any_json_is_read_or_refused(content: object) -> None:
    with pytest.raises(MixError):
        read_mix(json.dumps(content).encode("utf-8", "surrogatepass"))


@pytest.mark.parametrize("gum", [{"amount": 0.3, "unit": "%"}, {"amount": "0,3 %"}, {"amount": 3000, "unit": "ppm"}])
def test_a_line_may_be_a_share_of_the_whole_mix(gum: dict[str, Any]) -> None:
    lines = [{"ingredient": "whole-milk", "amount": 997}, {"ingredient": "guar-gum", "stage": "dry", **gum}]
    mix = read_mix(changed(lines=lines))
    assert mix.lines[1].grams == pytest.approx(3)
    assert mix.mass_g == pytest.approx(1000)


def test_a_share_of_the_mix_that_is_folded_in_adds_nothing_to_the_mix() -> None:
    lines = [
        {"ingredient": "whole-milk", "amount": 1000},
        {"ingredient": "honeycomb", "amount": "10 %", "stage": "mix-in"},
    ]
    mix = read_mix(changed(lines=lines))
    assert (mix.mass_g, mix.mix_ins[0].grams) == (1000, pytest.approx(100))


def test_shares_that_leave_no_room_are_refused() -> None:
    lines = [{"ingredient": "sugar", "amount": "60 %"}, {"ingredient": "water", "amount": "40 %"}]
    with pytest.raises(MixError, match="leaves no room"):
        read_mix(changed(lines=lines))
