"""A label asked for in a mix file, and its draft as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from math import isfinite
from typing import Any, Final

from jalebi_core.formats.mix_file import json_object, read_mix_file
from jalebi_core.model.errors import CompositionError, MixError
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.allergens import checked_allergens
from jalebi_core.regulation.identity_standards import identity_standards_of
from jalebi_core.regulation.ingredient_list import Listed
from jalebi_core.regulation.label import DRAFT, REGIONS, Label, LabelRow, LabelWish, label_of

_KEYS: Final = (
    "region", "language", "finished_g", "serving_g", "serving_ml", "net_ml", "quid", "may_contain",
)  # fmt: skip
_NUMBERS: Final = ("finished_g", "serving_g", "serving_ml", "net_ml")
_LONGEST_LIST: Final = 60


def label_report(data: bytes) -> dict[str, Any]:
    """Return the draft of the label that a mix file asks for; raises MixError naming what in it cannot be used."""
    content = json_object(data)
    mix, as_made = mix_as_made(read_mix_file(data).mix, content)
    wish = _wish(content.get("label", {}))
    found = label_of(mix, wish)
    return {
        "name": mix.name,
        "region": wish.region,
        "language": "en",
        "as_made": as_made,
        "draft": DRAFT,
        "put_in_g": found.put_in_g,
        "finished_g": found.finished_g,
        "litre_g": found.litre_g,
        "serving": asdict(found.serving) if found.serving else None,
        "nutrition": [_row(row) for row in found.rows],
        "ingredients": {"text": found.list_text, "items": [_item(one) for one in found.listed]},
        "allergens": {
            "contains": list(found.contains),
            "may_contain": list(found.may_contain),
            "not_stated": list(found.not_stated),
            "statement": found.statement,
            "may_contain_statement": found.may_contain_statement,
        },
        "statements": [{"code": code, "text": text} for code, text in found.statements],
        "net_quantity": _net(found),
        "names": [asdict(name) for name in identity_standards_of(mix)],
        "cautions": list(found.cautions),
    }


def mix_as_made(mix: Mix, content: Mapping[str, Any]) -> tuple[Mix, bool]:
    """Return a mix with what was weighed in the place of what was planned, and whether anything was."""
    lines, as_made = list(mix.lines), False
    for number, raw in enumerate(content["lines"]):
        grams = raw.get("as_made_g")
        if grams is None:
            continue
        if isinstance(grams, bool) or not isinstance(grams, int | float) or not isfinite(grams) or grams < 0:
            raise MixError("as-made-number", number + 1, value=str(grams)[:40])
        lines[number] = replace(lines[number], grams=float(grams))
        as_made = True
    return replace(mix, lines=tuple(lines)), as_made


def _wish(data: object) -> LabelWish:
    if not isinstance(data, Mapping) or not data.keys() <= set(_KEYS):
        raise MixError("label-malformed", known=", ".join(_KEYS))
    region, language = data.get("region", "eu"), data.get("language", "en")
    if region not in REGIONS:
        raise MixError("label-region-unknown", region=str(region)[:40], known=", ".join(REGIONS))
    if language != "en":
        raise MixError("label-language-unknown", language=str(language)[:40])
    if data.get("serving_g") is not None and data.get("serving_ml") is not None:
        raise MixError("label-two-servings")
    numbers = {key: _number(key, data[key]) for key in _NUMBERS if data.get(key) is not None}
    try:
        may_contain = checked_allergens(data.get("may_contain", []), "may_contain")
    except CompositionError as error:
        raise MixError.of(error.message) from None
    return LabelWish(region=region, quid=_texts("quid", data.get("quid", [])), may_contain=may_contain, **numbers)


def _number(key: str, value: object) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value) or value <= 0:
        raise MixError("label-number", key=key, value=str(value)[:40])
    return float(value)


def _texts(key: str, value: object) -> tuple[str, ...]:
    if not isinstance(value, list) or len(value) > _LONGEST_LIST or any(not isinstance(one, str) for one in value):
        raise MixError("label-texts", key=key)
    return tuple(value)


def _row(row: LabelRow) -> dict[str, Any]:
    return {
        "key": row.row.key,
        "raw": dict(row.raw),
        "printed": dict(row.printed),
        "dv": row.dv,
        "missing": list(row.row.missing),
        "at_least": row.row.at_least,
    }


def _item(one: Listed) -> dict[str, Any]:
    return {
        "name": one.name,
        "grams": one.grams,
        "share_pct": one.share_pct,
        "class": one.additive_class,
        "quid": one.quid,
        "allergens": list(one.allergens),
        "text": one.text,
    }


def _net(found: Label) -> dict[str, Any] | None:
    if found.net is None:
        return None
    ml, grams, text = found.net
    return {"ml": ml, "g": grams, "text": text}
