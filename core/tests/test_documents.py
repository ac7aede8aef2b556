"""The documents say what the code has."""

from __future__ import annotations

import importlib
import json
import re
from pathlib import Path

import pytest

from jalebi_core.formats.ingredient_file import COLUMNS
from jalebi_core.formats.line_constraints import LINE_CONSTRAINT_KEYS
from jalebi_core.formats.mix_file import MOST_LINES, MOST_OVERRUN_PCT
from jalebi_core.model.aims import aim_keys
from jalebi_core.model.components import KEYS
from jalebi_core.model.ingredient import FACTS, SURE
from jalebi_core.model.styles import STAGES, styles
from jalebi_core.regulation.allergens import ALLERGENS

DOCS = Path(__file__).parents[2] / "docs"
NAMED = sorted(
    set(re.findall(r"`([a-z_]+(?:\.[a-z_]+)+)\.([A-Za-z_0-9]+)`", (DOCS / "physics.md").read_text(encoding="utf-8")))
)


@pytest.mark.parametrize(("module", "name"), NAMED)
def test_every_function_named_in_the_physics_exists(module: str, name: str) -> None:
    assert hasattr(importlib.import_module(f"jalebi_core.{module}"), name)


def test_the_schema_lists_what_the_core_knows() -> None:
    schema = json.loads((DOCS / "mix.schema.json").read_text(encoding="utf-8"))
    assert schema["$defs"]["composition"]["propertyNames"]["enum"] == list(KEYS)
    assert schema["$defs"]["stage"]["enum"] == list(STAGES)
    assert schema["$defs"]["line"]["properties"].keys() >= LINE_CONSTRAINT_KEYS
    assert schema["properties"]["style"]["enum"] == list(styles())
    assert schema["$defs"]["aim"]["properties"]["of"]["enum"] == aim_keys()
    assert schema["properties"]["overrun_pct"]["maximum"] == MOST_OVERRUN_PCT
    assert schema["properties"]["lines"]["maxItems"] == MOST_LINES


def test_the_formats_document_names_every_component() -> None:
    text = (DOCS / "file-formats.md").read_text(encoding="utf-8")
    assert all(f"`{key}`" in text for key in KEYS)


def test_the_formats_document_names_every_column_fact_and_allergen_of_ingredients() -> None:
    text = (DOCS / "file-formats.md").read_text(encoding="utf-8")
    for key in (*COLUMNS, *FACTS, *ALLERGENS, *SURE):
        assert f"`{key}`" in text, key
