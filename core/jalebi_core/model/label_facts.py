"""What a label wants to know of an ingredient beside its composition: nutrients, its name there, what it is made of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import isfinite
from typing import Any, Final

from jalebi_core.model.errors import CompositionError

NUTRIENTS: Final = (
    "saturates_g", "trans_g", "cholesterol_mg", "sodium_mg", "calcium_mg", "iron_mg", "potassium_mg", "vitamin_d_ug",
    "added_sugars_g", "protein_g", "fibre_g",
)  # fmt: skip
"""Per 100 g; added sugars in the sense of US law, protein and fibre where components cannot tell."""
_MOST: Final = {key: 100.0 if key.endswith("_g") else 100_000.0 for key in NUTRIENTS}
_REGION_NAMES: Final = ("eu", "us")
_MOST_PARTS: Final = 60
_LONGEST: Final = 200
_SPARE_G: Final = 0.5
"""By how much figures of two sources may differ."""


@dataclass(frozen=True, slots=True)
class LabelPart:
    """A part of a compound ingredient: its name on a label, % of the whole, additive class and own allergens."""

    name: str
    pct: float
    additive_class: str | None = None
    allergens: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class OnLabel:
    """How an ingredient stands in a list of ingredients.

    names : by region, eu for uk too; empty where it is called as in the kitchen
    additive_class : singular, such as stabiliser; None for a food
    parts : heaviest first; ``spread`` ones stand in the list one by one
    allergen_words : the word that an allergen is named by, such as hazelnuts for nuts
    """

    names: Mapping[str, str] = field(default_factory=dict)
    additive_class: str | None = None
    parts: tuple[LabelPart, ...] = ()
    spread: bool = False
    allergen_words: Mapping[str, str] = field(default_factory=dict)


CALLED_AS_HERE: Final = OnLabel()
"""An ingredient of which nothing is stated for a label."""


def read_nutrients(data: object, name: str, fat_g: float, sugars_g: float) -> dict[str, float]:
    """Read nutrients per 100 g; raises CompositionError for what is unknown or more than the composition can hold."""
    if not isinstance(data, Mapping):
        raise CompositionError("nutrients-malformed", name=name)
    unknown = sorted(map(str, data.keys() - set(NUTRIENTS)))
    if unknown:
        raise CompositionError("unknown-nutrient", name=name, unknown=unknown[0][:40], known=", ".join(NUTRIENTS))
    found = {}
    for key, value in data.items():
        if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
            raise CompositionError("nutrient-not-a-number", name=name, key=key, value=str(value)[:40])
        if not 0 <= value <= _MOST[key]:
            raise CompositionError("nutrient-out-of-range", name=name, key=key, value=value, most=_MOST[key])
        found[key] = float(value)
    if found.get("saturates_g", 0.0) > fat_g + _SPARE_G:
        raise CompositionError("more-saturates-than-fat", name=name, saturates_g=found["saturates_g"], fat_g=fat_g)
    if found.get("added_sugars_g", 0.0) > sugars_g + _SPARE_G:
        added = found["added_sugars_g"]
        raise CompositionError("more-added-than-sugars", name=name, added_g=added, sugars_g=sugars_g)
    return found


def read_on_label(data: object, name: str) -> OnLabel:
    """Read how an ingredient stands on a label; raises CompositionError naming what in it cannot be used."""
    known = {"name", "class", "parts", "spread", "allergen_words"}
    if not isinstance(data, Mapping) or not data.keys() <= known:
        raise CompositionError("on-label-malformed", name=name, known=", ".join(sorted(known)))
    parts = data.get("parts", [])
    if not isinstance(parts, list) or len(parts) > _MOST_PARTS:
        raise CompositionError("on-label-malformed", name=name, known=", ".join(sorted(known)))
    words = data.get("allergen_words", {})
    if not isinstance(words, Mapping) or not isinstance(data.get("spread", False), bool):
        raise CompositionError("on-label-malformed", name=name, known=", ".join(sorted(known)))
    return OnLabel(
        names=_names(data.get("name"), name),
        additive_class=_optional(data.get("class"), name),
        parts=tuple(_part(part, name) for part in parts),
        spread=data.get("spread", False),
        allergen_words={_text(key, name): _text(value, name) for key, value in words.items()},
    )


def _names(value: object, name: str) -> dict[str, str]:
    if value is None:
        return {}
    if isinstance(value, Mapping):
        if not value.keys() <= {*_REGION_NAMES, "uk"}:
            raise CompositionError("label-name-malformed", name=name)
        return {region: _text(text, name) for region, text in value.items()}
    text = _text(value, name)
    return dict.fromkeys(_REGION_NAMES, text)


def _part(value: object, name: str) -> LabelPart:
    if not isinstance(value, Mapping) or not value.keys() <= {"name", "pct", "class", "allergens"}:
        raise CompositionError("label-part-malformed", name=name)
    pct = value.get("pct", 0.0)
    if isinstance(pct, bool) or not isinstance(pct, int | float) or not 0 <= pct <= 100:
        raise CompositionError("label-part-malformed", name=name)
    allergens: Any = value.get("allergens", [])
    if not isinstance(allergens, list):
        raise CompositionError("label-part-malformed", name=name)
    return LabelPart(
        _text(value.get("name"), name),
        float(pct),
        _optional(value.get("class"), name),
        tuple(_text(one, name) for one in allergens),
    )


def _optional(value: object, name: str) -> str | None:
    return None if value is None else _text(value, name)


def _text(value: object, name: str) -> str:
    if not isinstance(value, str) or not value.strip() or not value.isprintable() or len(value) > _LONGEST:
        raise CompositionError("label-text-malformed", name=name, longest=_LONGEST)
    return value.strip()
