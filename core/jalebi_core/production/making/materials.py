"""What each line of a mix is to whoever makes it: what must be heated, melted, steeped or kept for the end."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from typing import Any, Final

from jalebi_core.data import read_toml
from jalebi_core.model.components import INDEX
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line
from jalebi_core.model.styles import MIX_IN_STAGES

_LIQUID_PCT: Final = 40.0
_DRY_PCT: Final = 10.0
_FAT_PCT: Final = 80.0
_WHIPS_PCT: Final = (18.0, 60.0)
_SPIRIT_G: Final = 2.5
_SHARP_G: Final = 4.0
_SYRUP_PCT: Final = 55.0
_RAW: Final = frozenset(("raw-egg", "raw-milk"))
_FATS: Final = ("milk_fat", "egg_fat", "cocoa_fat", "other_fat")
_SUGARY: Final = ("sugar", "polyol", "sweetener")

_SMOOTH: Final = frozenset(("puree", "pulp", "juice", "jam", "concentrate", "powder"))
"""How goods are called that a sieve or a mill has been through."""


class Role(StrEnum):
    """What a line is to whoever makes it."""

    LIQUID = "liquid"
    SUGAR = "sugar"
    DRY = "dry"
    FAT = "fat"
    GUM = "gum"
    GELATIN = "gelatin"
    STARCH = "starch"
    COCOA = "cocoa"
    MELT = "melt"
    PASTE = "paste"
    STEEP = "steep"
    EGG = "egg"
    SHARP = "sharp"
    CULTURED = "cultured"
    SPIRIT = "spirit"
    ESSENCE = "essence"
    FRUIT = "fruit"


LATE: Final = frozenset((Role.SHARP, Role.CULTURED, Role.SPIRIT, Role.ESSENCE))
"""What goes in cold whatever its line says: heat would curdle it, drive it off or kill it."""


@dataclass(frozen=True, slots=True)
class Steeping:
    """How something is steeped: °C and minutes where it is steeped hot, and hours in the cold."""

    t_c: float | None
    minutes: tuple[float, float] | None
    cold_h: float


def role_of(line: Line) -> Role:
    """Return what a line of a mix is."""
    one = line.ingredient
    row = one.row
    known = _known().get(one.slug)
    if known is not None:
        return known
    if one.kind == "egg":
        return Role.EGG if row[INDEX["water"]] > _LIQUID_PCT else Role.DRY
    if row[INDEX["ethanol"]] > _SPIRIT_G or one.kind == "spirit":
        return Role.SPIRIT
    if one.kind in ("starch", "gum"):
        return Role.STARCH if one.kind == "starch" else Role.GUM
    if one.kind == "fruit":
        return Role.FRUIT
    if not one.slug and row[INDEX["acids"]] > _SHARP_G:
        return Role.SHARP
    if one.kind in _SUGARY and row[INDEX["water"]] < _DRY_PCT:
        return Role.SUGAR
    if sum(float(row[INDEX[fat]]) for fat in _FATS) > _FAT_PCT:
        return Role.FAT
    return Role.LIQUID if row[INDEX["water"]] > _LIQUID_PCT or is_syrup(one) else Role.DRY


def steeping_kind(ingredient: Ingredient) -> str | None:
    """Return as what an ingredient is steeped, such as tea; None for what stays in."""
    return next((kind for kind, one in _materials()["steep"].items() if ingredient.slug in one["of"]), None)


def steeping_of(ingredient: Ingredient) -> Steeping | None:
    """Return how an ingredient is steeped and sieved out again; None for what stays in."""
    kind = steeping_kind(ingredient)
    if kind is None:
        return None
    found = _materials()["steep"][kind]
    minutes = found.get("minutes")
    return Steeping(found.get("t_c"), (minutes[0], minutes[1]) if minutes else None, float(found["cold_h"]))


def is_raw(ingredient: Ingredient) -> bool:
    """Tell whether it comes from an animal and was not pasteurised."""
    return ingredient.facts.sold == "raw" or not _RAW.isdisjoint(ingredient.facts.cautions)


def is_syrup(ingredient: Ingredient) -> bool:
    """Tell whether it flows and is mostly sugar."""
    water = float(ingredient.row[INDEX["water"]])
    return ingredient.kind in _SUGARY and _DRY_PCT <= water <= 100 - _SYRUP_PCT


def whips(ingredient: Ingredient) -> bool:
    """Tell whether it is a cream that takes up air by itself."""
    fat = sum(float(ingredient.row[INDEX[one]]) for one in _FATS)
    creamy = "cream" in ingredient.slug or "cream" in ingredient.name.lower()
    low, high = _WHIPS_PCT
    return creamy and low <= fat <= high and not set(ingredient.slug.split("-")) & {"cheese", "liqueur", "sour"}


def boil_min(ingredient: Ingredient) -> float:
    """Return for how long a starch is kept at the boil: some thin out again where it is longer."""
    return 1.0 if ingredient.slug in _materials()["boils_briefly"] else 2.0


def needs_heat(line: Line) -> bool:
    """Tell whether something of a line only works, or is only safe, once it was hot."""
    hydrates = line.ingredient.facts.hydrates
    role = role_of(line)
    if role is Role.MELT:
        return line.stage != "churn"
    if role in (Role.STARCH, Role.COCOA, Role.GELATIN):
        return True
    return is_raw(line.ingredient) or (role is Role.GUM and hydrates is not None and hydrates.from_c is not None)


def stays_raw(line: Line) -> bool:
    """Tell whether it is fruit that its line does not send into the pot."""
    return role_of(line) is Role.FRUIT and line.stage not in ("pot", "yolks")


def needs_looking_through(line: Line) -> bool:
    """Tell whether it may bring stones, shell or stalks with it."""
    role = role_of(line)
    whole = role in (Role.FRUIT, Role.STEEP) or (line.ingredient.kind == "nut" and role is not Role.PASTE)
    return whole and _SMOOTH.isdisjoint(line.ingredient.slug.split("-"))


def is_beside(line: Line) -> bool:
    """Tell whether a line is no part of the base: a mix-in or a layer."""
    return line.stage in MIX_IN_STAGES


@cache
def _known() -> dict[str, Role]:
    """Return the role of each slug that is listed."""
    found = {"gelatin": Role.GELATIN}
    for key, role in (
        ("cocoa", Role.COCOA), ("melts", Role.MELT), ("pastes", Role.PASTE), ("cultured", Role.CULTURED),
        ("sharp", Role.SHARP), ("essences", Role.ESSENCE),
    ):  # fmt: skip
        found |= dict.fromkeys(_materials()[key], role)
    for steep in _materials()["steep"].values():
        found |= dict.fromkeys(steep["of"], Role.STEEP)
    return found


@cache
def _materials() -> dict[str, Any]:
    return read_toml("materials.toml")
