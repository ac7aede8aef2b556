"""`physics`: the tables of docs/physics.md that come from the core, written anew so that none can drift."""

from __future__ import annotations

import ast
import csv
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Final

import numpy as np

from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.model import constants
from jalebi_core.model.components import COMPONENTS
from jalebi_core.model.composition import Composition
from jalebi_core.model.figures import quantities
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.freezing import frozen_pct, initial_freezing_c, liquid, temperature_at_frozen_c
from jalebi_core.physics.solubility import ERYTHRITOL, LACTOSE
from jalebi_core.physics.sucrose_equivalents import freezing_point_c
from jalebi_core.shelf.catalogue import find

from .places import ROOT

DOCUMENT: Final = ROOT / "docs/physics.md"
_REFERENCE: Final = ROOT / "core/tests/reference"
_MIXES: Final = {
    "milk, cream, sugar": (("whole-milk", 550), ("cream-36", 220), ("skim-milk-powder", 40), ("sugar", 160)),
    "the same, a third of the sugar as dextrose": (
        ("whole-milk", 550), ("cream-36", 220), ("skim-milk-powder", 40), ("sugar", 107), ("dextrose", 58),
    ),
    "with yolk": (("whole-milk", 430), ("cream-36", 380), ("skim-milk-powder", 30), ("sugar", 150), ("egg-yolk", 60)),
}  # fmt: skip


def main() -> int:
    """Write the tables."""
    DOCUMENT.write_text(with_tables(DOCUMENT.read_text(encoding="utf-8")), encoding="utf-8")
    print(DOCUMENT.relative_to(ROOT))
    return 0


def with_tables(text: str) -> str:
    """Return the document with every table between its marks made anew."""
    for name, table in _TABLES.items():
        head, mark, rest = text.partition(f"<!-- {name} -->\n")
        if mark:
            _, end, tail = rest.partition("<!-- end -->")
            text = f"{head}{mark}{table()}\n{end}{tail}"
    return text


def _table(heads: tuple[str, ...], rows: Sequence[tuple[str, ...]]) -> str:
    lines = [heads, tuple("---" for _ in heads), *rows]
    return "\n".join(f"| {' | '.join(cells)} |" for cells in lines)


def _reference(name: str) -> list[dict[str, str]]:
    lines = (_REFERENCE / name).read_text(encoding="utf-8").splitlines()
    return list(csv.DictReader(line for line in lines if not line.startswith("#")))


def _first_ice(parts: dict[str, float]) -> float:
    return float(initial_freezing_c(liquid(Composition("solution", parts).row)))


def _errors() -> str:
    """Return how far the core is from each reference table."""
    found: dict[str, list[tuple[float, str]]] = {}
    for row in _reference("binary_freezing.csv"):
        pct, expected = float(row["mass_pct"]), -float(row["depression_c"])
        error = _first_ice({row["solute"]: pct, "water": 100 - pct}) - expected
        found.setdefault(f"{row['solute']} in water", []).append((error, f"{pct:g} %, {expected:.2f} °C"))
    for row in _reference("nacl_freezing.csv"):
        pct, expected = float(row["mass_pct"]), float(row["freezing_point_c"])
        error = _first_ice({"sodium_chloride": pct, "water": 100 - pct}) - expected
        found.setdefault("sodium chloride in water", []).append((error, f"{pct:g} %, {expected:.2f} °C"))
    rows = [_error_row(name, errors, "°C") for name, errors in found.items()]
    rows += [_line_row(name, lines) for name, lines in _MIXES.items()]
    milk = float(initial_freezing_c(liquid(find("whole-milk").row)))
    rows.append(("plain milk, −0.52 to −0.55 °C", "1", f"{milk:.3f} °C".replace("-", "−"), "inside", ""))
    return _table(("reference", "points", "mean error", "largest error", "at"), rows)


def _error_row(name: str, errors: list[tuple[float, str]], unit: str) -> tuple[str, ...]:
    worst, at = max(errors, key=lambda error: abs(error[0]))
    mean = float(np.mean([abs(error) for error, _ in errors]))
    signed = f"{worst:+.2f} {unit}".replace("-", "−")
    return name, str(len(errors)), f"{mean:.2f} {unit}", signed, at.replace("-", "−")


def _line_row(name: str, lines: tuple[tuple[str, float], ...]) -> tuple[str, ...]:
    row = Mix(name, tuple(Line(find(slug), grams) for slug, grams in lines)).row()
    shares = np.arange(0.0, 76.0, 5.0)
    by_table, by_curve = freezing_point_c(row, shares), temperature_at_frozen_c(liquid(row), shares)
    errors = [
        (float(curve - table), f"{share:g} % ice, {table:.1f} °C")
        for share, table, curve in zip(shares, by_table, by_curve, strict=True)
        if np.isfinite(table)
    ]
    return _error_row(f"comparison line, {name}", errors, "°C")


def _bound_water() -> str:
    """Return what water that never freezes changes of % frozen at −18 °C."""
    rows = []
    for name, lines in {**_MIXES, "with 5 % cocoa": (*_MIXES["milk, cream, sugar"], ("cocoa-powder", 51))}.items():
        of = liquid(Mix(name, tuple(Line(find(slug), grams) for slug, grams in lines)).row())
        share = 100 * float((of.water_g - of.free_water_g) / of.water_g)
        frozen = float(frozen_pct(of, np.array([-18.0]))[0])
        rows.append((name, f"{share:.1f} %", f"{frozen:.1f} %"))
    return _table(("mix", "of its water never freezes", "ice at −18 °C"), rows)


def _solubility() -> str:
    celsius = np.array([25.0, 0.0, -10.0, -18.0, -30.0])
    heads = ("g in 100 g of water at", *(f"{at:g} °C".replace("-", "−") for at in celsius))
    lines = (("erythritol", ERYTHRITOL), ("lactose", LACTOSE))
    return _table(heads, [(name, *(f"{value:.1f}" for value in line.g_per_100g(celsius))) for name, line in lines])


def _figures() -> str:
    rows = [(one.name, one.unit, one.formula, one.source, f"`{one.rule}`") for one in quantities().values()]
    return _table(("figure", "unit", "formula", "source", "function"), rows)


def _outcomes() -> str:
    rows = [
        (one.name, one.unit or "F", f"{one.band[0]:g} to {one.band[1]:g}", f"`{one.rule}`")
        for one in outcome_scales().values()
    ]
    return _table(("outcome", "quantity", "usual band without a style", "function"), rows)


def _components() -> str:
    fields = ("molar_mass_g_mol", "ions", "norrish_k", "pod", "osmotic_mmol_g", "bound_water_g_g")
    heads = ("M g/mol", "particles", "Norrish K", "POD", "mmol osmoles per g", "holds g water per g")
    rows = [
        (one.name.lower(), *(f"{value:g}" if (value := getattr(one, key)) else "" for key in fields), one.source)
        for one in COMPONENTS
    ]
    return _table(("component", *heads, "source"), rows)


def _constants() -> str:
    """Return the constants with what is said of them: a sentence stands below the ones it is about."""
    tree = ast.parse(Path(constants.__file__).read_text(encoding="utf-8"))
    rows: list[tuple[str, ...]] = []
    waiting: list[str] = []
    for node in tree.body:
        if isinstance(node, ast.AnnAssign) and isinstance(node.target, ast.Name):
            waiting.append(node.target.id)
        elif waiting and isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            message = " ".join(str(node.value.value).split())
            rows += [(f"`{name}`", _value(name), message if name == waiting[-1] else "") for name in waiting]
            waiting = []
    rows += [(f"`{name}`", _value(name), "") for name in waiting]
    return _table(("constant", "value", "what it is, and its source"), rows)


def _value(name: str) -> str:
    value = getattr(constants, name)
    return ", ".join(f"{one:g}" for one in value) if isinstance(value, tuple) else f"{value:g}"


_TABLES: Final[dict[str, Callable[[], str]]] = {
    "figures": _figures,
    "outcomes": _outcomes,
    "solubility": _solubility,
    "bound water": _bound_water,
    "errors": _errors,
    "components": _components,
    "constants": _constants,
}


if __name__ == "__main__":
    sys.exit(main())
