"""Shared pieces of the core's tests, which run without Django."""

from __future__ import annotations

import csv
import os
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st

from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import catalogue, find

_ANY_MACHINE = {"deadline": None, "suppress_health_check": [HealthCheck.too_slow]}
settings.register_profile("sample", max_examples=30, derandomize=True, **_ANY_MACHINE)
settings.register_profile("thorough", max_examples=200, **_ANY_MACHINE)
settings.load_profile("thorough" if os.environ.get("JALEBI_THOROUGH") == "1" else "sample")

REFERENCE = Path(__file__).parent / "reference"


def reference_rows(name: str) -> list[dict[str, str]]:
    """Return the rows of a reference table, comments left out."""
    lines = (REFERENCE / name).read_text(encoding="utf-8").splitlines()
    return list(csv.DictReader(line for line in lines if not line.startswith("#")))


def solution(solute: str, mass_pct: float) -> Mix:
    """Return a solution of one solute in water, g per 100 g."""
    mixed = Composition(f"{solute} solution", {solute: mass_pct, "water": 100 - mass_pct})
    return Mix(mixed.name, (Line(Ingredient(mixed), 100.0),))


def mix_of(*lines: tuple[str, float], style: str | None = None, overrun_pct: float | None = 30.0) -> Mix:
    """Return a mix of shelf ingredients."""
    return staged(*((slug, grams, None) for slug, grams in lines), style=style, overrun_pct=overrun_pct)


def staged(*lines: tuple[str, float, str | None], style: str | None = None, overrun_pct: float | None = 30.0) -> Mix:
    """Return a mix of shelf ingredients, each at a stage."""
    put = tuple(Line(find(slug), grams, stage) for slug, grams, stage in lines)
    return Mix("test mix", put, style, overrun_pct)


MILK = {"lactose": 5.45, "milk_protein": 3.7, "milk_salts": 0.85}
HEAT_MIXES: dict[str, tuple[dict[str, float], float]] = {
    "plain 12/10/16": ({"milk_fat": 12, **MILK, "sucrose": 16, "water": 62}, 30),
    "dextrose gelato": ({"milk_fat": 7, **MILK, "sucrose": 12, "glucose": 5, "water": 66}, 30),
    "fruit sorbet": ({"sucrose": 20, "glucose": 6, "fructose": 2, "water": 72}, 25),
    "watery sorbet": ({"sucrose": 18, "water": 82}, 25),
}
"""g by component in 100 g, and % overrun, of the mixes that the reference tables of heat are of."""


def plain_mix(parts: dict[str, float], overrun_pct: float) -> Mix:
    """Return a mix of g by component in 100 g."""
    return Mix("test", (Line(Ingredient(Composition("test", parts)), 100.0),), overrun_pct=overrun_pct)


def heat_table(name: str) -> Thermal:
    """Return the thermal table of a mix of the reference tables of heat."""
    parts, overrun_pct = HEAT_MIXES[name]
    return thermal(plain_mix(parts, overrun_pct).row(), overrun_pct)


DAIRY = (("whole-milk", 550.0), ("cream-36", 220.0), ("skim-milk-powder", 40.0), ("sugar", 160.0))


def mixes() -> st.SearchStrategy[Mix]:
    """Generate mixes of one to eight lines from the whole shelf."""
    line = st.tuples(st.sampled_from(sorted(catalogue())), st.floats(0.5, 2000))
    lines = st.lists(line, min_size=1, max_size=8)
    return st.builds(lambda chosen, overrun: mix_of(*chosen, overrun_pct=overrun), lines, st.floats(0, 100))


@pytest.fixture(autouse=True)
def no_django() -> Iterator[None]:
    """Fail a test when anything of the server has been imported: the core stands alone."""
    yield
    assert "django" not in sys.modules


def pytest_addoption(parser: pytest.Parser) -> None:
    """Let the recorded figures be written anew, which a reason in `golden/changes.md` must go with."""
    parser.addoption("--write-golden", action="store_true", help="record the figures of the golden mixes anew")
