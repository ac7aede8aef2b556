"""Messages: every code has its sentence and the facts it wants, and quantities follow the kitchen's units."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path
from string import Formatter

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import mix_of
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.verdict import verdict
from jalebi_core.model.errors import BalanceError, JalebiError, MixError
from jalebi_core.wording.message import Message, templates, words
from jalebi_core.wording.notation import LOCALES, Notation

IMPERIAL = Notation("F", "oz")
COMMA = Notation(decimal=",")
ROOT = Path(__file__).parents[2]
SOURCES = (ROOT / "core/jalebi_core", ROOT / "server", ROOT / "devices")
ERRORS = {error.__name__ for error in JalebiError.__subclasses__()} - {"UnknownIngredientError"}


def raised() -> Iterator[tuple[str, ast.Call]]:
    """Yield where core, server and stand-ins make an error, and how."""
    paths = (path for folder in SOURCES for path in folder.rglob("*.py") if "tests" not in path.parts)
    for path in paths:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in ERRORS:
                yield f"{path.name}:{node.lineno}", node


def wanted(code: str) -> set[str]:
    """Return the facts that the sentence of a code wants."""
    return {field for _, field, _, _ in Formatter().parse(templates()[code]) if field}


def test_every_error_has_its_sentence_and_the_facts_it_wants() -> None:
    found = list(raised())
    assert len(found) > 200
    for place, call in found:
        code = call.args[0]
        assert isinstance(code, ast.Constant), place
        assert wanted(str(code.value)) == {keyword.arg for keyword in call.keywords}, place


BUILT = re.compile(r"^line-of-|^making-|^process-|^rescue-|^help-|^then-|^pot-in-|-none$|-c$|-to$")
"""Codes that are put together of another and what sets them apart."""


def test_every_sentence_is_said_somewhere() -> None:
    source = "".join(path.read_text(encoding="utf-8") for folder in SOURCES for path in folder.rglob("*.py"))
    assert [code for code in templates() if f'"{code}"' not in source and not BUILT.search(code)] == []


def test_a_freezer_is_said_in_the_kitchens_units() -> None:
    mix = mix_of(("whole-milk", 600), ("cream-36", 200), ("sugar", 160))
    found = analyse_mix(mix, freezer_c=-18.0)
    assert "From your −18 °C freezer" in str(verdict(found, -18.0))
    assert "From your 0 °F freezer" in words(verdict(found, -18.0), IMPERIAL)


@pytest.mark.parametrize(
    ("celsius", "spec", "says", "in_fahrenheit"),
    [
        (-18.0, ".0f", "−18 °C", "0 °F"),
        (-0.2, ".0f", "0 °C", "32 °F"),
        (83.0, "g", "83 °C", "181.4 °F"),
        (-40.0, ".1f", "−40.0 °C", "−40.0 °F"),
    ],
)
def test_temperatures(celsius: float, spec: str, says: str, in_fahrenheit: str) -> None:
    assert Notation().temperature_at(celsius, spec) == says
    assert IMPERIAL.temperature_at(celsius, spec) == in_fahrenheit


def test_a_step_of_temperature_has_no_zero_of_its_own() -> None:
    assert IMPERIAL.temperature_step(5.0, ".1f") == "9.0 °F"


@pytest.mark.parametrize(
    ("grams", "says"),
    [(2.0, "0.071 oz"), (28.349523125, "1.00 oz"), (454.0, "16.0 oz"), (4540.0, "160 oz"), (0.5, "0.018 oz")],
)
def test_masses_in_ounces(grams: float, says: str) -> None:
    assert IMPERIAL.mass_of(grams, ".0f") == says


@given(st.floats(0.5, 20_000))
def test_ounces_say_the_mass_within_a_percent_of_what_a_scale_shows(grams: float) -> None:
    said = float(IMPERIAL.mass_of(grams, ".1f").removesuffix(" oz"))
    assert said * 28.349523125 == pytest.approx(grams, rel=0.05, abs=0.15)


def test_decimals_follow_the_region() -> None:
    assert words(Message("part", {"name": "lactose", "value": 3.25}), COMMA) == "lactose 3,2"
    assert LOCALES["de-DE"][1] == ","


def test_an_error_carries_code_facts_and_place() -> None:
    error = BalanceError("step-impossible", name="Table sugar", step_g=0.0)
    assert (error.code, error.facts["step_g"], error.pointer) == ("step-impossible", 0.0, None)
    refused = MixError.of(error.message, 3)
    assert str(refused) == "Line 3: Table sugar: a step of 0 g is none."
    assert refused.pointer == "/lines/2"
    assert refused.words(IMPERIAL) == "Line 3: Table sugar: a step of 0.000 oz is none."


def test_a_message_within_a_message_is_written_in_the_same_units() -> None:
    inner = Message("limits-reversed-g", {"least_g": 100.0, "most_g": 50.0})
    said = words(Message("line-unreadable", {"name": "Milk", "reason": inner}), IMPERIAL)
    assert said == "Milk: at least 3.53 oz and at most 1.76 oz cannot both be."


def test_texts_that_ship_say_temperatures_as_the_kitchen_does() -> None:
    assert IMPERIAL.text("Hold 69 °C, or 80–85 °C; −15 °C freezes skin.") == (
        "Hold 156 °F, or 176–185 °F; 5 °F freezes skin."
    )
    assert Notation().text("Hold 69 °C.") == "Hold 69 °C."
