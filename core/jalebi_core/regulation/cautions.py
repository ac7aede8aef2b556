"""What guests, and those who sell to them, must be told of a mix: each with its figure, threshold and source.

Guidance only: local codes and licensed practice go before it. A caution is there only where it applies: egg that goes
through the heat is none, and what a region does not regulate is not held against it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Final, Literal

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.components import INDEX, FloatArray, mask, selection
from jalebi_core.model.components import SUGARS as WITHOUT_LACTOSE
from jalebi_core.model.composition import components_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import HEATED
from jalebi_core.physics.density import density_kg_l

REGIONS: Final = {"eu": "European Union", "uk": "United Kingdom", "us": "United States", "ca": "Canada"}
"""Where a kitchen sells; each has rules of its own."""

Place = Literal["bench", "sheet", "label"]
PORTION_G: Final = 100.0
GLYCEROL_MG_PER_KG: Final = 125.0
"""Of body weight within an hour: EFSA Journal 2017;15(3):4720."""
_ETHANOL_KG_L: Final = 0.789
_POLYOLS: Final = mask(family="polyol")
_SUGARS: Final = WITHOUT_LACTOSE - selection("allulose", "higher_saccharides")
_POLYOLS_WITHOUT_GLYCEROL: Final = _POLYOLS - selection("glycerol")
_RAW: Final = frozenset({"raw-egg", "raw-milk", "frozen-berries", "raw-flour"})
"""Cautions that heat takes away."""


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution that applies to a mix.

    short, said : the words of a list, and the sentence with its figure and threshold
    label : what a label must say, None where it need not
    value, least : the figure and the least that matters, in the unit that ``said`` names; None where being there is it
    places : where it is shown
    source : the rule or advice, of the region
    """

    key: str
    short: str
    said: str
    label: str | None
    value: float | None
    least: float | None
    places: tuple[Place, ...]
    source: str


@dataclass(frozen=True, slots=True)
class _Rule:
    short: str
    said: str
    places: tuple[Place, ...]
    source: Mapping[str, str]
    label: str | None = None
    least: float | None = None


@cache
def _rules() -> dict[str, _Rule]:
    return {
        key: _Rule(**{**entry, "places": tuple(entry["places"])}) for key, entry in read_toml("cautions.toml").items()
    }


def checked_region(region: object) -> str:
    """Return a region's key; raises MixError for what is none."""
    if not isinstance(region, str) or region not in REGIONS:
        raise MixError("unknown-region", region=str(region)[:20], regions=tuple(REGIONS))
    return region


def cautions_of(mix: Mix, region: str = "eu", place: Place | None = None) -> tuple[Caution, ...]:
    """Return the cautions that apply to a mix with all that stands beside it, in a region.

    Parameters
    ----------
    region : a key of `REGIONS`
    place : only those that are shown there; all of them where it is None

    Raises
    ------
    MixError : an unknown region
    """
    checked_region(region)
    product = _Product(mix)
    found = []
    for key, rule in _rules().items():
        if region not in rule.source or (place is not None and place not in rule.places):
            continue
        applies = _FINDERS.get(key, _by_row(key))(product)
        if applies is None or (rule.least is not None and (applies.value or 0) < rule.least):
            continue
        facts = {"names": _listed(applies.names), "value": applies.value or 0.0, "mass_kg": applies.mass_kg}
        found.append(
            Caution(
                key,
                rule.short.format(**facts),
                _begun(rule.said.format(**facts)),
                rule.label and rule.label.format(**facts),
                applies.value,
                rule.least,
                rule.places,
                rule.source[region],
            )
        )
    return tuple(found)


@dataclass(frozen=True, slots=True)
class _Applies:
    """That a caution may apply: its figure, and the names of what it comes from."""

    value: float | None = None
    names: tuple[str, ...] = ()
    mass_kg: float = 0.0


class _Product:
    """A mix and what stands beside it, per 100 g."""

    def __init__(self, mix: Mix) -> None:
        self.lines = tuple(line for line in mix.lines if line.grams > 0)
        self.grams = sum(line.grams for line in self.lines)
        rows = np.array([line.ingredient.row for line in self.lines])
        self.row: FloatArray = np.array([line.grams for line in self.lines]) @ rows / self.grams
        self.parts = components_of(self.row)

    def part(self, key: str) -> float:
        return float(self.parts[INDEX[key]])

    def trace_mg(self, key: str) -> float:
        """Return mg of a trace in 100 g."""
        return sum(line.ingredient.facts.traces_mg.get(key, 0.0) * line.grams for line in self.lines) / self.grams

    def names(self, wanted: Callable[[Line], bool]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(line.ingredient.name for line in self.lines if wanted(line)))


def _by_row(key: str) -> Callable[[_Product], _Applies | None]:
    """Return a finder of the ingredients that state a caution; heat takes some away."""

    def find(product: _Product) -> _Applies | None:
        names = product.names(lambda line: key in line.ingredient.facts.cautions and not _heated_away(key, line))
        return _Applies(names=names) if names else None

    return find


def _heated_away(key: str, line: Line) -> bool:
    return key in _RAW and line.stage in HEATED


def _alcohol(product: _Product) -> _Applies:
    litres = product.part("ethanol") / 1000 / _ETHANOL_KG_L
    return _Applies(100 * litres / (0.1 / float(density_kg_l(product.row))))


def _glycerol(product: _Product) -> _Applies:
    grams = product.part("glycerol") * PORTION_G / 100
    return _Applies(grams, mass_kg=grams * 1000 / GLYCEROL_MG_PER_KG)


def _liquorice(product: _Product) -> _Applies | None:
    found = _by_row("liquorice")(product)
    return found and _Applies(10 * product.trace_mg("glycyrrhizin"), found.names)


def _polyols(product: _Product) -> _Applies:
    return _Applies(float(product.parts @ _POLYOLS))


def _xylitol(product: _Product) -> _Applies | None:
    grams = product.part("xylitol")
    return _Applies(grams) if grams > 0 else None


def _sweeteners(product: _Product) -> _Applies | None:
    names = product.names(
        lambda line: (
            "intense-sweeteners" in line.ingredient.facts.cautions
            or float(components_of(line.ingredient.row) @ _POLYOLS_WITHOUT_GLYCEROL) > _MOSTLY_PCT
        )
    )
    return _Applies(names=names) if names else None


def _intense(product: _Product) -> _Applies | None:
    found = _by_row("intense-sweeteners")(product)
    return found and _Applies(float(product.parts @ _SUGARS), found.names)


_MOSTLY_PCT: Final = 30.0
"""From how much polyol on an ingredient counts as a sweetener: syrups do, prunes do not."""

_FINDERS: Final[Mapping[str, Callable[[_Product], _Applies | None]]] = {
    "alcohol": _alcohol,
    "glycerol": _glycerol,
    "caffeine": lambda product: _Applies(product.trace_mg("caffeine")),
    "coumarin": lambda product: _Applies(10 * product.trace_mg("coumarin")),
    "liquorice": _liquorice,
    "polyols": _polyols,
    "xylitol": _xylitol,
    "sweeteners": _sweeteners,
    "intense-sweeteners": _intense,
}


def caution_keys() -> frozenset[str]:
    """Return the keys of all cautions there are."""
    return frozenset(_rules())


def cautions_together(ingredients: Iterable[Ingredient], *, heated: bool) -> tuple[str, ...]:
    """Return the cautions of what something was made with, without those that heat took away."""
    found = {key for ingredient in ingredients for key in ingredient.facts.cautions}
    return tuple(sorted(found - _RAW if heated else found))


def traces_together(ingredients: Iterable[tuple[Ingredient, float]], yield_g: float) -> dict[str, float]:
    """Return mg per 100 g of the traces of what something was made with; what is steeped gives all it has."""
    found: dict[str, float] = {}
    for ingredient, grams in ingredients:
        for key, milligrams in ingredient.facts.traces_mg.items():
            found[key] = found.get(key, 0.0) + milligrams * grams / yield_g
    return {key: round(milligrams, 4) for key, milligrams in found.items()}


def _listed(names: tuple[str, ...]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}" if names else ""


def _begun(sentence: str) -> str:
    return sentence[:1].upper() + sentence[1:]
