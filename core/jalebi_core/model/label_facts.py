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
_MOST_PCT: Final = 100.0
_MOST_BOILED_DOWN_PCT: Final = 10_000.0
"""Of parts that stand one by one, for a whole that was boiled down to a hundredth."""
_LONGEST: Final = 200
_SPARE_G: Final = 0.5
"""By how much figures of two sources may differ."""


@dataclass(frozen=True, slots=True)
class LabelPart:
    """A part of a compound ingredient: its name on a label, g in 100 g of the whole, additive class and own allergens.

    ``names`` are those of regions that call it otherwise; what was reduced can hold more than 100 g of parts.
    """

    name: str
    pct: float
    additive_class: str | None = None
    allergens: tuple[str, ...] = ()
    names: Mapping[str, str] = field(default_factory=dict)

    def name_in(self, region: str) -> str:
        """Return what it is called on the labels of a region."""
        return self.names.get(region, self.name)


@dataclass(frozen=True, slots=True)
class OnLabel:
    """How an ingredient stands in a list of ingredients.

    names : by region, eu for uk too; empty where it is called as in the kitchen
    additive_class : singular, such as stabiliser; None for a food
    parts : heaviest first; ``spread`` ones stand in the list one by one
    allergen_words : the word that an allergen is named by, such as hazelnuts for nuts
    compound : made of several ingredients, whether or not its parts are known
    """

    names: Mapping[str, str] = field(default_factory=dict)
    additive_class: str | None = None
    parts: tuple[LabelPart, ...] = ()
    spread: bool = False
    allergen_words: Mapping[str, str] = field(default_factory=dict)
    compound: bool = False

    def name_in(self, region: str) -> str | None:
        """Return its name on the labels of a region, None where it has none of its own."""
        return self.names.get(region) or (self.names.get("eu") if region == "uk" else None)

    def as_data(self) -> dict[str, Any]:
        """Return it as the plain data that `read_on_label` reads back."""
        written: dict[str, Any] = {
            "name": dict(self.names),
            "class": self.additive_class,
            "parts": [_part_data(part) for part in self.parts],
            "spread": self.spread,
            "allergen_words": dict(self.allergen_words),
        }
        return {key: value for key, value in written.items() if value}


def _part_data(part: LabelPart) -> dict[str, Any]:
    name = {"eu": part.name, **part.names} if part.names else part.name
    written = {"name": name, "pct": part.pct, "class": part.additive_class, "allergens": list(part.allergens)}
    return {key: value for key, value in written.items() if value}


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
    words, spread = data.get("allergen_words", {}), data.get("spread", False)
    if not isinstance(words, Mapping) or not isinstance(spread, bool):
        raise CompositionError("on-label-malformed", name=name, known=", ".join(sorted(known)))
    return OnLabel(
        names=_names(data.get("name"), name),
        additive_class=_optional(data.get("class"), name),
        parts=tuple(_part(part, name, _MOST_BOILED_DOWN_PCT if spread else _MOST_PCT) for part in parts),
        spread=spread,
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


def _part(value: object, name: str, most_pct: float) -> LabelPart:
    if not isinstance(value, Mapping) or not value.keys() <= {"name", "pct", "class", "allergens"}:
        raise CompositionError("label-part-malformed", name=name)
    pct = value.get("pct", 0.0)
    if isinstance(pct, bool) or not isinstance(pct, int | float) or not 0 <= pct <= most_pct:
        raise CompositionError("label-part-malformed", name=name)
    allergens: Any = value.get("allergens", [])
    if not isinstance(allergens, list):
        raise CompositionError("label-part-malformed", name=name)
    called = _names(value.get("name"), name)
    if "eu" not in called:
        raise CompositionError("label-part-malformed", name=name)
    return LabelPart(
        called["eu"],
        float(pct),
        _optional(value.get("class"), name),
        tuple(_text(one, name) for one in allergens),
        {region: text for region, text in called.items() if text != called["eu"]},
    )


def _optional(value: object, name: str) -> str | None:
    return None if value is None else _text(value, name)


def _text(value: object, name: str) -> str:
    if not isinstance(value, str) or not value.strip() or not value.isprintable() or len(value) > _LONGEST:
        raise CompositionError("label-text-malformed", name=name, longest=_LONGEST)
    return value.strip()
