"""The adding-up school: freezing power per kg of mix, and the serving temperature that it reads off the sum.

Its sums differ by what is counted. Beside the core's own sum stand two customs: salt as one undissociated particle,
and syrups counted as if they were dextrose. The bands are those of dairy gelato; the school uses others for sorbet.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, IONS, MOL_PER_G, SUGARS, FloatArray
from jalebi_core.model.composition import components_of
from jalebi_core.model.mix import Mix
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.wording.message import Message

SERVING_BANDS: Final = ((240.0, 260.0, -11.0), (260.0, 280.0, -12.0), (280.0, 300.0, -13.0), (300.0, 320.0, -14.0))
"""Freezing power per kg from, to, and the °C of service; teaching of the adding-up school for dairy gelato."""

_SALT: Final = INDEX["sodium_chloride"]
_HIGHER: Final = INDEX["higher_saccharides"]
_A_SYRUP_HAS_CHAINS_PCT: Final = 15.0
_DEXTROSE_PAC: Final = c.SUCROSE_MOLAR_MASS_G_MOL / c.GLUCOSE_MOLAR_MASS_G_MOL


@dataclass(frozen=True, slots=True)
class ServingSum:
    """One way to add up: what is counted, freezing power per kg of mix, and °C of service, None outside the bands."""

    counted: str
    per_kg: float
    serve_c: float | None
    message: Message


def serving_sums(mix: Mix) -> tuple[ServingSum, ...]:
    """Return the sums of a mix: all that dissolves, then salt as one particle, then syrups as dextrose.

    The customs are only returned where they count anything otherwise.
    """
    row = mix.row()
    power = float(freezing_power_pac(row))
    salt = float(components_of(row)[_SALT] * MOL_PER_G[_SALT]) * c.SUCROSE_MOLAR_MASS_G_MOL
    whole = _sum("both particles of salt, syrups by their chains", power)
    one = [_sum("salt as one particle", power - salt * float(IONS[_SALT] - 1))] if salt > 0 else []
    as_dextrose = _with_syrups_as_dextrose(mix)
    syrups = [_sum("syrups as if they were dextrose", as_dextrose)] if as_dextrose != power else []
    return (whole, *one, *syrups)


def _with_syrups_as_dextrose(mix: Mix) -> float:
    """Return the freezing power when the sugars of each syrup, a line with long chains, count as glucose."""
    rows = np.array([line.ingredient.row for line in mix.base])
    grams = np.array([line.grams for line in mix.base])
    power = freezing_power_pac(rows)
    parts: FloatArray = components_of(rows)
    syrups = parts[:, _HIGHER] >= _A_SYRUP_HAS_CHAINS_PCT
    if not syrups.any():
        return float(freezing_power_pac(mix.row()))
    counted = np.where(syrups, _DEXTROSE_PAC * (parts @ SUGARS), power)
    return float(grams @ counted / grams.sum())


def _sum(counted: str, power: float) -> ServingSum:
    per_kg = 10 * power
    serve = next((celsius for low, high, celsius in SERVING_BANDS if low <= per_kg < high), None)
    least, most = SERVING_BANDS[0][0], SERVING_BANDS[-1][1]
    if serve is not None:
        message = Message("sum-served", {"per_kg": per_kg, "serve_c": serve})
    elif per_kg < least:
        message = Message("sum-below", {"per_kg": per_kg, "least": least, "warmest_c": SERVING_BANDS[0][2]})
    else:
        message = Message("sum-above", {"per_kg": per_kg, "most": most, "coldest_c": SERVING_BANDS[-1][2]})
    return ServingSum(counted, per_kg, serve, message)
