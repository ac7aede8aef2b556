"""Thermal properties of components: heat capacity, conductivity and density as polynomials of temperature."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.data import read_text
from jalebi_core.model.components import COMPONENTS, FloatArray

HEAT_OF_CRYSTALLISATION_KJ_KG: Final = {"milk_fat": 78.0, "cocoa_fat": 120.0, "other_fat": 40.0}
"""kJ per kg of fat that turns solid; egg fat and the oil of nuts stay liquid, others vary from oil to coconut."""


@dataclass(frozen=True, slots=True)
class Polynomial:
    """a0 + a1·T + a2·T² of several components at once; T in °C, coefficients of shape (3, components)."""

    coefficients: FloatArray

    def at(self, celsius: FloatArray) -> FloatArray:
        """Return the values, shape (temperatures, components)."""
        values: FloatArray = np.vander(celsius, 3, increasing=True) @ self.coefficients
        return values

    def from_zero(self, celsius: FloatArray) -> FloatArray:
        """Return the integrals from 0 °C to each temperature, shape (temperatures, components)."""
        powers = np.vander(celsius, 4, increasing=True)[:, 1:] / np.array([1.0, 2.0, 3.0])
        values: FloatArray = powers @ self.coefficients
        return values


@dataclass(frozen=True, slots=True)
class Properties:
    """Heat capacity kJ/kg K, conductivity W/m K and density kg/m³, the last for shares of volume only."""

    heat_capacity: Polynomial
    conductivity: Polynomial
    density: Polynomial


@cache
def _rows() -> dict[str, dict[str, str]]:
    """Return the rows of the table by each component, each family of components and ice that they are for."""
    lines = [line for line in read_text("thermal_properties.csv").splitlines() if not line.startswith("#")]
    return {name.strip(): row for row in csv.DictReader(lines) for name in row["used_for"].split(";")}


def _properties(rows: list[dict[str, str]]) -> Properties:
    def polynomial(letter: str) -> Polynomial:
        return Polynomial(np.array([[float(row[f"{letter}{power}"]) for row in rows] for power in range(3)]))

    return Properties(polynomial("c"), polynomial("k"), polynomial("r"))


@cache
def of_components() -> Properties:
    """Return the properties of all components in their order, water as liquid."""
    rows = _rows()
    return _properties([rows[one.key if one.key in rows else one.family] for one in COMPONENTS])


@cache
def of_ice() -> Properties:
    """Return the properties of ice, as of one component."""
    return _properties([_rows()["ice"]])


@cache
def _crystals() -> tuple[FloatArray, dict[str, FloatArray]]:
    lines = [line for line in read_text("fat_crystals.csv").splitlines() if not line.startswith("#")]
    rows = list(csv.DictReader(lines))
    columns = {fat: np.array([float(row[fat]) for row in rows]) for fat in HEAT_OF_CRYSTALLISATION_KJ_KG}
    return np.array([float(row["t_c"]) for row in rows]), columns


def solid_share(fat: str, celsius: FloatArray) -> FloatArray:
    """Return the share of an aged fat that is solid, 0 to 1, same shape; linear between the rows of its table."""
    degrees, columns = _crystals()
    return np.interp(celsius, degrees, columns[fat]) / 100
