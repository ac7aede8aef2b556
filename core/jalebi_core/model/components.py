"""The fixed list of components that every ingredient and mix is a row over."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.data import read_text

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Component:
    """One component and its constants; a constant that does not apply is 0.

    ``ions`` counts the particles one molecule gives in water; ``norrish_k`` is the natural-log
    Norrish constant; ``osmotic_mmol_g`` stands for minerals of unknown make-up; ``kj_g`` and ``kcal_g`` are the
    energy factors of Regulation (EU) 1169/2011, annex XIV. Working conventions among them: nonfat cocoa solids as
    the mean of their protein, starch and fibre without the ash, gums and unnamed solids as fibre, emulsifiers as fat,
    allulose 0.4 kcal.
    """

    key: str
    name: str
    family: str
    stratum: str
    molar_mass_g_mol: float
    ions: float
    norrish_k: float
    pod: float
    osmotic_mmol_g: float
    bound_water_g_g: float
    kj_g: float
    kcal_g: float
    source: str


def _load() -> tuple[Component, ...]:
    text = read_text("components.csv")
    return tuple(_component(row) for row in csv.DictReader(text.splitlines()))


def _component(row: dict[str, str]) -> Component:
    return Component(
        key=row["key"],
        name=row["name"],
        family=row["family"],
        stratum=row["stratum"],
        molar_mass_g_mol=float(row["molar_mass_g_mol"] or 0),
        ions=float(row["ions"] or 0),
        norrish_k=float(row["norrish_k"] or 0),
        pod=float(row["pod"] or 0),
        osmotic_mmol_g=float(row["osmotic_mmol_g"] or 0),
        bound_water_g_g=float(row["bound_water_g_g"] or 0),
        kj_g=float(row["kj_g"]),
        kcal_g=float(row["kcal_g"]),
        source=row["source"],
    )


COMPONENTS: Final = _load()
KEYS: Final = tuple(component.key for component in COMPONENTS)
INDEX: Final = {key: position for position, key in enumerate(KEYS)}


def _column(values: list[float]) -> FloatArray:
    column = np.array(values, dtype=np.float64)
    column.setflags(write=False)
    return column


def mask(*, family: str) -> FloatArray:
    """Return the 0/1 column, shape (components,), of the components of one family."""
    return _column([float(component.family == family) for component in COMPONENTS])


def selection(*keys: str) -> FloatArray:
    """Return the 0/1 column, shape (components,), of the named components."""
    return _column([float(key in keys) for key in KEYS])


POD: Final = _column([component.pod for component in COMPONENTS])
"""Sweetness per g, sucrose = 100."""

MOL_PER_G: Final = _column([component.ions and 1 / component.molar_mass_g_mol for component in COMPONENTS])
"""Moles of molecules per g of each component of known molar mass that dissolves."""

IONS: Final = _column([component.ions for component in COMPONENTS])
ROOT_NORRISH_K: Final = _column([component.norrish_k**0.5 for component in COMPONENTS])
OSMOTIC_MOL_PER_G: Final = _column([component.osmotic_mmol_g / 1000 for component in COMPONENTS])
BOUND_WATER: Final = _column([component.bound_water_g_g for component in COMPONENTS])
KJ_PER_G: Final = _column([component.kj_g for component in COMPONENTS])
KCAL_PER_G: Final = _column([component.kcal_g for component in COMPONENTS])
FAT: Final = mask(family="fat")
PROTEIN: Final = mask(family="protein")
MSNF: Final = selection("milk_protein", "lactose", "milk_salts")
SUGARS: Final = mask(family="sugar") - selection("lactose")
"""Added and fruit sugars; milk's lactose is counted with the milk solids."""
SOLIDS: Final = _column([float(key not in ("water", "ethanol")) for key in KEYS])
"""All that is neither water nor alcohol."""
