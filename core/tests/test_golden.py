"""Recorded analyses and balances of 38 mixes: a figure changes only where `golden/changes.md` says why."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from jalebi_core.balance.request import checked
from jalebi_core.balance.solving import balance
from jalebi_core.formats.balance_file import read_request
from jalebi_core.formats.balance_report import balance_report
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.formats.report import report
from jalebi_core.shelf.catalogue import ingredients

GOLDEN = Path(__file__).parent / "golden"
TARGETS = json.loads((GOLDEN / "targets.json").read_text(encoding="utf-8"))
NAMES = sorted(path.stem for path in (GOLDEN / "mixes").glob("*.json"))
LAST_DIGIT = 1e-9
"""Figures are printed to ten digits; another processor may round the last one otherwise."""


def mix_bytes(name: str) -> bytes:
    return (GOLDEN / "mixes" / f"{name}.json").read_bytes()


def analysed(name: str) -> dict[str, Any]:
    return report(read_mix(mix_bytes(name)))


def balanced(name: str) -> dict[str, Any]:
    request = checked(read_request(json.dumps(json.loads(mix_bytes(name)) | TARGETS[name]).encode()))
    data = balance_report(balance(request), ingredients(), 0.0)
    del data["seconds"]
    return data


def same(recorded: Any, found: Any, where: str = "") -> None:
    """Compare plain data; raises AssertionError that says where the first difference stands."""
    if isinstance(recorded, dict):
        assert list(recorded) == list(found), where
        for key, value in recorded.items():
            same(value, found[key], f"{where}.{key}")
    elif isinstance(recorded, list):
        assert len(recorded) == len(found), where
        for number, (one, other) in enumerate(zip(recorded, found, strict=True)):
            same(one, other, f"{where}[{number}]")
    elif isinstance(recorded, float):
        assert found == pytest.approx(recorded, rel=LAST_DIGIT, abs=LAST_DIGIT), where
    else:
        assert recorded == found, where


def test_there_are_38_mixes_of_all_styles() -> None:
    styles = {json.loads(mix_bytes(name))["style"] for name in NAMES}
    assert len(NAMES) == len(TARGETS) == 38
    assert len(styles) == 9


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("what", ["analyse", "balance"])
def test_figures_are_as_recorded(name: str, what: str, request: pytest.FixtureRequest) -> None:
    found = json.loads(json.dumps(analysed(name) if what == "analyse" else balanced(name)))
    path = GOLDEN / what / f"{name}.json"
    if request.config.getoption("--write-golden"):
        rows = ",\n".join(f"{json.dumps(key)}: {json.dumps(value, ensure_ascii=False)}" for key, value in found.items())
        path.write_text(f"{{\n{rows}\n}}\n", encoding="utf-8")
    same(json.loads(path.read_text(encoding="utf-8")), found, name)
