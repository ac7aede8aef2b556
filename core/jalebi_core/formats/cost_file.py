"""The cost that a mix file asks for, as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from math import isfinite
from typing import Any, Final

from jalebi_core.formats.label_file import mix_as_made
from jalebi_core.formats.mix_file import json_object, read_mix_file
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.production.batch_cost import (
    BatchCost,
    Change,
    Costing,
    Purchase,
    Sold,
    batch_cost,
    changed_costs,
    sold_costs,
)
from jalebi_core.regulation.label import LabelWish, label_of

_NUMBERS: Final = {
    "loss_pct": (0.0, 99.0), "minutes": (0.0, 1e6), "per_hour": (0.0, 1e6), "energy_kwh": (0.0, 1e6),
    "energy_price": (0.0, 1e6), "vat_pct": (0.0, 1000.0),
}  # fmt: skip
_KEYS: Final = ("currency", "sold", "what_if", *_NUMBERS)
_SOLD: Final = {
    "ml": (1e-3, 1e6), "packaging": (0.0, 1e6), "price": (0.0, 1e9), "margin_pct": (-1e6, 99.9),
}  # fmt: skip
_LINE: Final = {"price": (0.0, 1e9), "pack_g": (1e-6, 1e9), "trim_pct": (0.0, 99.0)}
_CHANGE: Final = {"line": (0.0, 1e6), "price_pct": (-100.0, 1e6), "overrun_pct": (0.0, 300.0)}
_MOST: Final = 60


def cost_report(data: bytes) -> dict[str, Any]:
    """Return what a batch of a mix file costs; raises MixError naming what in it cannot be used."""
    content = json_object(data)
    mix, _ = mix_as_made(read_mix_file(data).mix, content)
    costing = _costing(content, mix)
    found = batch_cost(mix, costing)
    return {
        "name": mix.name,
        "currency": costing.currency,
        "lines": [
            {
                "number": number,
                "name": line.ingredient.name,
                "grams": line.grams,
                "bought_g": costing.purchases.get(number, Purchase()).bought_g(line.grams),
                "cost": cost,
            }
            for number, (line, cost) in enumerate(zip(mix.lines, found.lines, strict=True))
        ],
        "not_priced": list(found.not_priced),
        "ingredients": found.ingredients,
        "at_least": found.at_least,
        "labour": found.labour,
        "energy": found.energy,
        "batch": found.batch,
        "yield": {"kg": found.kg, "litres": found.litres},
        "per_kg": found.per_kg,
        "per_litre": found.per_litre,
        "sold": [asdict(one) for one in sold_costs(found, costing)],
        "what_if": [_changed(change, after, found) for change, after in changed_costs(mix, costing)],
    }


def _changed(change: Change, after: BatchCost, before: BatchCost) -> dict[str, Any]:
    known = after.per_litre is not None and before.per_litre is not None
    return {
        "what": {key: value for key, value in asdict(change).items() if value is not None},
        "batch": after.batch,
        "litres": after.litres,
        "per_kg": after.per_kg,
        "per_litre": after.per_litre,
        "change_per_litre": (after.per_litre or 0.0) - (before.per_litre or 0.0) if known else None,
    }


def _costing(content: Mapping[str, Any], mix: Mix) -> Costing:
    data = content.get("cost", {})
    if not isinstance(data, Mapping) or not data.keys() <= set(_KEYS):
        raise MixError("cost-malformed", known=", ".join(_KEYS))
    currency = data.get("currency", "€")
    if not isinstance(currency, str) or not 0 < len(currency) <= 8 or not currency.isprintable():
        raise MixError("cost-currency", value=str(currency)[:40])
    numbers = {key: _number(key, data[key], *_NUMBERS[key]) for key in _NUMBERS if data.get(key) is not None}
    label = content.get("label", {})
    finished = label.get("finished_g") if isinstance(label, Mapping) else None
    if finished is not None:
        finished = _number("finished_g", finished, 1e-6, 1e9)
        label_of(mix, LabelWish(finished_g=finished))
    return Costing(
        currency=currency,
        sold=tuple(_sold(one) for one in _listed("sold", data)),
        what_if=tuple(_change(one, mix) for one in _listed("what_if", data)),
        finished_g=finished,
        purchases={number: _purchase(line, number) for number, line in enumerate(content["lines"])},
        **numbers,
    )


def _listed(key: str, data: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    found = data.get(key, [])
    if not isinstance(found, list) or len(found) > _MOST or any(not isinstance(one, Mapping) for one in found):
        raise MixError("cost-list", key=key, most=_MOST)
    return found


def _purchase(line: Mapping[str, Any], number: int) -> Purchase:
    found = {key: _number(key, line[key], *_LINE[key], number + 1) for key in _LINE if line.get(key) is not None}
    return Purchase(**found)


def _sold(data: Mapping[str, Any]) -> Sold:
    if not data.keys() <= {"name", *_SOLD} or not isinstance(data.get("name"), str) or data.get("ml") is None:
        raise MixError("sold-malformed")
    if data.get("price") is not None and data.get("margin_pct") is not None:
        raise MixError("sold-price-and-margin", name=data["name"][:40])
    return Sold(
        data["name"], **{key: _number(key, data[key], *_SOLD[key]) for key in _SOLD if data.get(key) is not None}
    )


def _change(data: Mapping[str, Any], mix: Mix) -> Change:
    numbers = {key: _number(key, data[key], *_CHANGE[key]) for key in _CHANGE if data.get(key) is not None}
    if not data.keys() <= set(_CHANGE) or ("overrun_pct" in numbers) == ("line" in numbers):
        raise MixError("what-if-malformed")
    if "line" not in numbers:
        return Change(overrun_pct=numbers["overrun_pct"])
    line = int(numbers["line"])
    if line != numbers["line"] or line >= len(mix.lines) or "price_pct" not in numbers:
        raise MixError("what-if-malformed")
    return Change(line=line, price_pct=numbers["price_pct"])


def _number(key: str, value: object, least: float, most: float, line: int | None = None) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise MixError("cost-not-a-number", line, key=key, value=str(value)[:40])
    if not least <= value <= most:
        raise MixError("cost-out-of-range", line, key=key, value=value, least=least, most=most)
    return float(value)
