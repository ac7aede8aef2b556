"""What an ingredient says in a kitchen and what the shelf that ships says of it, field by field in words."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from ingredients.models import Ingredient
from ingredients.schemas import Difference, OfferOut
from ingredients.shipped import shelf_row
from jalebi_core.model.components import COMPONENTS

_NOTHING: Final = "nothing"
_LISTED: Final = {"also": "also called", "allergens": "allergens", "may_hold": "may hold"}
_PARTS: Final = {component.key: component.name for component in COMPONENTS}
_LONGEST: Final = 300


def offer_out(row: Ingredient) -> OfferOut:
    """Return an ingredient whose correction waits for a decision."""
    return OfferOut(slug=row.slug, name=row.name, differences=differences_from_shelf(row))


def differences_from_shelf(row: Ingredient) -> list[Difference]:
    """Return in what an ingredient differs from the shelf that ships, what matters most first."""
    shelf = shelf_row(row)
    if shelf is None:
        return []
    here = {key: getattr(row, key) for key in shelf}
    pairs = [(what, _listed(here[key]), _listed(shelf[key])) for key, what in _LISTED.items() if key != "also"]
    pairs += [("composition", *_differing_parts(here["composition"], shelf["composition"]))]
    pairs += _differing(here["composition"], shelf["composition"], {"name", "per_100g"})
    pairs += _differing(here["facts"], shelf["facts"], {"pack_g"})
    pairs += [("name", here["name"], shelf["name"]), ("also called", _listed(here["also"]), _listed(shelf["also"]))]
    pairs += [("source", here["basis"], shelf["basis"])]
    return [
        Difference(what=what, here=mine[:_LONGEST], shelf=theirs[:_LONGEST])
        for what, mine, theirs in pairs
        if mine != theirs
    ]


def _listed(names: list[str] | None) -> str:
    return "not stated" if names is None else ", ".join(names) or _NOTHING


def _differing_parts(here: Mapping[str, Any], shelf: Mapping[str, Any]) -> tuple[str, str]:
    mine, theirs = here["per_100g"], shelf["per_100g"]
    differing = [key for key in _PARTS if mine.get(key, 0) != theirs.get(key, 0)]
    said = [", ".join(f"{_PARTS[key].lower()} {one.get(key, 0):g} g" for key in differing) for one in (mine, theirs)]
    return said[0], said[1]


def _differing(here: Mapping[str, Any], shelf: Mapping[str, Any], but: set[str]) -> list[tuple[str, str, str]]:
    keys = sorted((here.keys() | shelf.keys()) - but)
    return [(_words(key), _value(here.get(key)), _value(shelf.get(key))) for key in keys]


def _words(key: str) -> str:
    return key.removesuffix("_g_kg").removesuffix("_kg_l").removesuffix("_pct").removesuffix("_kcal").replace("_", " ")


def _value(value: object) -> str:
    if value in (None, [], {}, ""):
        return _NOTHING
    if isinstance(value, Mapping):
        return ", ".join(f"{key} {part}" for key, part in sorted(value.items()))
    if isinstance(value, list | tuple):
        return " ".join(map(str, value)) if any(isinstance(part, str) for part in value) else "–".join(map(str, value))
    return f"{value:g}" if isinstance(value, float) else str(value)
