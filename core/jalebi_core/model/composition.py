"""Ingredients and mixes as rows over the component list; everything else is a function of such a row.

A row holds the grams of each component per 100 g and, behind them, the traits: quantities that
belong to an ingredient rather than to a component, written per 100 g so that they add up like grams.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import isfinite
from typing import Any, Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import (
    FAT,
    INDEX,
    KEYS,
    MOL_PER_G,
    MSNF,
    POD,
    PROTEIN,
    SOLIDS,
    SUGARS,
    FloatArray,
    mask,
)
from jalebi_core.model.errors import CompositionError

TRAITS: Final = (
    "chain_mol",
    "chain_root_k_mol",
    "soluble_fibre",
    "pod_adjustment",
    "yolk_solids",
    "acid_adjustment",
    "nut_fat",
)
"""Moles of saccharide and fibre chains; the same times √K (Norrish); g of fibre that dissolves and
holds no water; g sucrose equivalents by which the handbook sweetness differs from the sum of
species; g of yolk solids; moles of acid molecules by which its own acids differ from citric acid; g of fat of
nuts and seeds, whose particles harden."""

WIDTH: Final = len(KEYS) + len(TRAITS)
_FIBRE: Final = INDEX["fibre"]
_HIGHER: Final = INDEX["higher_saccharides"]
_POLYOLS: Final = mask(family="polyol")
_ACIDS: Final = INDEX["acids"]
_LEAST_MOLAR_MASS: Final = {
    "higher_saccharides_molar_mass": c.GLUCOSE_MOLAR_MASS_G_MOL,
    "soluble_fibre_molar_mass": c.GLUCOSE_MOLAR_MASS_G_MOL,
    "acid_molar_mass": c.LEAST_ACID_MOLAR_MASS_G_MOL,
}
_STATED_TRAITS: Final = (*_LEAST_MOLAR_MASS, "pod", "yolk_solids", "nut_fat")
_SIGNED: Final = ("pod_adjustment", "acid_adjustment")
_COUNTED_LATER: Final = frozenset({"acid_adjustment", "nut_fat"})
"""Traits that compositions kept before they were counted do not name; they are 0 there."""
_NUMBERS: Final = (*_STATED_TRAITS, "density_kg_l")
_OPTIONAL: Final = (*_NUMBERS, "pieces", "forms", "traits")
FORMS: Final = ("whole", "chopped", "flaked", "grated", "ground", "sifted", "packed", "puree")
"""How ingredients lie in a cup; each may have a bulk density of its own."""
_LONGEST_NAME: Final = 200


@dataclass(frozen=True, eq=False)
class Composition:
    """A closed mass balance with the traits that a sum of components cannot tell.

    Parameters
    ----------
    name : what a cook calls it
    per_100g : g of each component per 100 g; parts not named are 0; sums to 100 ± 0.5
    higher_saccharides_molar_mass : g/mol, mean of its chains; DE 42 chains where not stated
    soluble_fibre_molar_mass : g/mol; states that the fibre dissolves
    acid_molar_mass : g/mol of its acids; citric acid where not stated
    pod : handbook sweetness, g sucrose equivalents per 100 g, where the sum of species misses it
    yolk_solids : g of egg-yolk solids per 100 g
    nut_fat : g of its fat per 100 g that is of nuts and seeds
    density_kg_l : as it lies in a spoon; liquids without one have that of their composition
    forms : kg/L as it lies in a cup in another of `FORMS`
    pieces : g of one piece by its name, the usual piece first
    traits : all of `TRAITS` per 100 g, for what was made from other ingredients; in the place of the four above them

    Raises
    ------
    CompositionError : unknown part, negative or non-finite part, or parts that do not close
    """

    name: str
    per_100g: Mapping[str, float]
    higher_saccharides_molar_mass: float | None = None
    soluble_fibre_molar_mass: float | None = None
    acid_molar_mass: float | None = None
    pod: float | None = None
    yolk_solids: float | None = None
    nut_fat: float | None = None
    density_kg_l: float | None = None
    pieces: Mapping[str, float] | None = None
    forms: Mapping[str, float] | None = None
    traits: Mapping[str, float] | None = None

    def __post_init__(self) -> None:
        total = sum(_checked_part(self.name, key, grams) for key, grams in self.per_100g.items())
        if abs(total - 100) > c.CLOSURE_TOLERANCE_G:
            raise CompositionError("composition-open", name=self.name, total=total)
        for trait in _NUMBERS:
            value = getattr(self, trait)
            if value is not None:
                _checked_part(self.name, trait, value)
        self._check_measures()
        self._check_traits()
        for trait, least in _LEAST_MOLAR_MASS.items():
            value = getattr(self, trait)
            if value is not None and value < least:
                raise CompositionError("molar-mass-impossible", name=self.name, trait=trait, value=value)

    def _check_measures(self) -> None:
        self._check_forms()
        if self.density_kg_l is not None and not 0.02 <= self.density_kg_l <= 3:
            raise CompositionError("density-impossible", name=self.name, density_kg_l=self.density_kg_l)
        if self.pieces is None:
            return
        if not isinstance(self.pieces, Mapping) or len(self.pieces) > 10:
            raise CompositionError("pieces-malformed", name=self.name)
        for piece, grams in self.pieces.items():
            if not piece.isalpha() or len(piece) > 20 or not _is_number(grams) or grams <= 0:
                raise CompositionError("piece-unusable", name=self.name, piece=str(piece)[:20])

    def _check_forms(self) -> None:
        if self.forms is None:
            return
        if not isinstance(self.forms, Mapping) or not self.forms.keys() <= set(FORMS):
            raise CompositionError("forms-malformed", name=self.name, forms=tuple(FORMS))
        for density in self.forms.values():
            if not _is_number(density) or not 0.02 <= density <= 3:
                raise CompositionError("density-impossible", name=self.name, density_kg_l=density)

    def _check_traits(self) -> None:
        if self.traits is None:
            return
        needed = set(TRAITS) - _COUNTED_LATER
        if not isinstance(self.traits, Mapping) or not needed <= self.traits.keys() <= set(TRAITS):
            raise CompositionError("traits-incomplete", name=self.name, traits=tuple(TRAITS))
        if any(getattr(self, stated) is not None for stated in _STATED_TRAITS):
            raise CompositionError("traits-twice", name=self.name)
        for trait, value in self.traits.items():
            if not _is_number(value) or (value < 0 and trait not in _SIGNED) or abs(value) > 100_000:
                raise CompositionError("trait-impossible", name=self.name, trait=trait, value=str(value)[:40])

    @cached_property
    def row(self) -> FloatArray:
        """The row, shape (WIDTH,), scaled to close to 100 g exactly."""
        row = np.zeros(WIDTH)
        for key, grams in self.per_100g.items():
            row[INDEX[key]] = grams
        row[: len(KEYS)] *= 100 / row[: len(KEYS)].sum()
        row[len(KEYS) :] = self._traits(row[: len(KEYS)])
        row.setflags(write=False)
        return row

    def _traits(self, grams: FloatArray) -> tuple[float, ...]:
        if self.traits is not None:
            return tuple(self.traits.get(trait, 0.0) for trait in TRAITS)
        chains = [
            (
                grams[_HIGHER],
                self.higher_saccharides_molar_mass or c.DEFAULT_HIGHER_SACCHARIDES_MOLAR_MASS_G_MOL,
            )
        ]
        soluble_fibre = 0.0
        if self.soluble_fibre_molar_mass is not None:
            soluble_fibre = float(grams[_FIBRE])
            chains.append((soluble_fibre, self.soluble_fibre_molar_mass))
        moles = [mass / molar_mass for mass, molar_mass in chains]
        root_k = [
            (c.NORRISH_K_PER_GLUCOSE_UNIT * molar_mass / c.CHAIN_UNIT_MOLAR_MASS_G_MOL) ** 0.5
            for _, molar_mass in chains
        ]
        by_species, acids = float(grams @ POD) / 100, float(grams[_ACIDS])
        return (
            sum(moles),
            sum(n * k for n, k in zip(moles, root_k, strict=True)),
            soluble_fibre,
            0.0 if self.pod is None else self.pod - by_species,
            self.yolk_solids or 0.0,
            0.0 if self.acid_molar_mass is None else acids * (1 / self.acid_molar_mass - float(MOL_PER_G[_ACIDS])),
            self.nut_fat or 0.0,
        )

    @classmethod
    def from_row(cls, name: str, row: FloatArray, density_kg_l: float | None = None) -> Composition:
        """Return the composition of what was made from others: its row, shape (WIDTH,), kept with all its traits."""
        parts = {key: round(float(grams), 6) for key, grams in zip(KEYS, components_of(row), strict=True) if grams > 0}
        traits = {trait: float(trait_of(row, trait)) for trait in TRAITS}
        return cls(checked_name(name, "an ingredient"), parts, density_kg_l=density_kg_l, traits=traits)

    def as_dict(self) -> dict[str, Any]:
        """Return the plain data that `from_dict` reads back."""
        stated = {key: value for key in _OPTIONAL if (value := getattr(self, key)) is not None}
        return {"name": self.name, "per_100g": dict(self.per_100g), **stated}

    @classmethod
    def from_dict(cls, data: Mapping[str, Any]) -> Composition:
        """Read plain data; raises CompositionError where a key is missing, unknown or of the wrong kind."""
        name = checked_name(data.get("name"), "an ingredient")
        unknown = sorted(str(key) for key in data.keys() - {"name", "per_100g", *_OPTIONAL})
        if unknown:
            raise CompositionError("composition-unknown-key", name=name, unknown=unknown[0][:40])
        per_100g = data.get("per_100g")
        if not isinstance(per_100g, Mapping):
            raise CompositionError("composition-without-parts", name=name)
        return cls(name, dict(per_100g), **{key: data[key] for key in _OPTIONAL if key in data})


def checked_name(name: object, of_what: str) -> str:
    """Return a usable name; raises CompositionError when it is missing, too long or unprintable."""
    if not isinstance(name, str) or not name.strip():
        raise CompositionError("name-missing", of_what=of_what)
    if len(name) > _LONGEST_NAME:
        raise CompositionError("name-too-long", of_what=of_what, count=len(name), longest_name=_LONGEST_NAME)
    if not name.isprintable():
        raise CompositionError("name-hidden-characters", of_what=of_what)
    return name.strip()


def _checked_part(name: str, key: str, grams: object) -> float:
    if key not in INDEX and key not in _NUMBERS:
        raise CompositionError("unknown-component", name=name, key=str(key)[:40])
    if not _is_number(grams):
        raise CompositionError("component-not-a-number", name=name, key=key, grams=str(grams)[:40])
    assert isinstance(grams, int | float)
    if grams < 0:
        raise CompositionError("component-negative", name=name, key=key, grams=grams)
    return float(grams)


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and isfinite(value)


def blend(grams: FloatArray, rows: FloatArray) -> FloatArray:
    """Blend ingredients into mixes.

    Parameters
    ----------
    grams : shape (..., lines), amount of each line in g
    rows : shape (lines, WIDTH), one ingredient row a line

    Returns
    -------
    shape (..., WIDTH), per 100 g of each mix; all zero where a mix weighs nothing
    """
    mass = grams.sum(axis=-1, keepdims=True)
    blended: FloatArray = np.divide(
        grams @ rows, mass, out=np.zeros((*grams.shape[:-1], rows.shape[-1])), where=mass > 0
    )
    return blended


def components_of(row: FloatArray) -> FloatArray:
    """Return the component part, shape (..., components), of rows of shape (..., WIDTH)."""
    return row[..., : len(KEYS)]


def trait_of(row: FloatArray, trait: str) -> FloatArray:
    """Return one trait, shape (...), of rows of shape (..., WIDTH)."""
    return row[..., len(KEYS) + TRAITS.index(trait)]


def fat(row: FloatArray) -> FloatArray:
    """Total fat of any origin, g per 100 g."""
    return components_of(row) @ FAT


def msnf(row: FloatArray) -> FloatArray:
    """Milk solids not fat: milk protein + lactose + milk salts, g per 100 g."""
    return components_of(row) @ MSNF


def sugars(row: FloatArray) -> FloatArray:
    """Added and fruit sugars without milk lactose and without polyols, g per 100 g."""
    return components_of(row) @ SUGARS


def total_solids(row: FloatArray) -> FloatArray:
    """All that is neither water nor alcohol, g per 100 g."""
    return components_of(row) @ SOLIDS


def bulk_sweetener(row: FloatArray) -> FloatArray:
    """Sugars without milk lactose, and polyols, g per 100 g."""
    return components_of(row) @ (SUGARS + _POLYOLS)


def plant_solids(row: FloatArray) -> FloatArray:
    """Solids that are neither fat, sweetener nor milk solids, g per 100 g; what gives body without dairy."""
    solids: FloatArray = total_solids(row) - fat(row) - bulk_sweetener(row) - msnf(row)
    return np.maximum(solids, 0.0)


def protein(row: FloatArray) -> FloatArray:
    """Protein of any origin, g per 100 g."""
    return components_of(row) @ PROTEIN


def hydrocolloids(row: FloatArray) -> FloatArray:
    """Gums as pure hydrocolloid, g per 100 g."""
    return components_of(row)[..., INDEX["hydrocolloids"]]


def yolk_solids(row: FloatArray) -> FloatArray:
    """Solids of egg yolk, g per 100 g."""
    return trait_of(row, "yolk_solids")
