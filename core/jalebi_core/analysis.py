"""A mix's analysis: what it is and what it becomes in the cold, for one mix or many."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, dataclass
from math import isfinite
from typing import Any, Final

import numpy as np

from . import constants as c
from .beside import Beside, beside_of, product_of
from .components import INDEX, KEYS, FloatArray
from .composition import components_of, fat, msnf, sugars, total_solids
from .energy import energy_kcal
from .firmness import firmness, firmness_word, scooping_frozen_pct
from .freezing import ethanol_in_liquid_pct, frozen_pct, liquid, temperature_at_frozen_c
from .freezing_power import freezing_power_pac, freezing_power_per_100g_water
from .judgement import outcomes_data
from .mix import Line, Mix
from .names import names_of
from .sweetness import sweetness_pod
from .volume import density_kg_l, output_volume_l

WHOLE_DEGREES_C: Final = np.arange(0.0, -31.0, -1.0)
HOME_FREEZER_C: Final = -18.0


@dataclass(frozen=True, slots=True)
class Analysis:
    """The figures of mixes; shape (...) each, ``frozen_pct`` (..., temperatures); NaN where there is none."""

    row: FloatArray
    fat: FloatArray
    msnf: FloatArray
    sugars: FloatArray
    total_solids: FloatArray
    sweetness_pod: FloatArray
    freezing_power_pac: FloatArray
    freezing_power_per_100g_water: FloatArray
    initial_c: FloatArray
    scoop_c: FloatArray
    frozen_pct: FloatArray
    firmness: FloatArray
    density_kg_l: FloatArray
    volume_l: FloatArray


def analyse(
    row: FloatArray,
    mass_g: FloatArray,
    overrun_pct: FloatArray,
    temperatures_c: FloatArray = WHOLE_DEGREES_C,
    freezer_c: float = HOME_FREEZER_C,
) -> Analysis:
    """Analyse mixes.

    Parameters
    ----------
    row : shape (..., WIDTH), per 100 g of each mix
    mass_g, overrun_pct : shape (...)
    temperatures_c : shape (temperatures,), where the curve is wanted
    freezer_c : where firmness is wanted
    """
    in_water = liquid(row)
    curve = frozen_pct(in_water, np.concatenate((temperatures_c, [freezer_c])))
    shares = np.stack((np.zeros_like(mass_g), scooping_frozen_pct(overrun_pct)), axis=-1)
    marks_c = temperature_at_frozen_c(in_water.spread(), shares)
    density = density_kg_l(row)
    return Analysis(
        row=row,
        fat=fat(row),
        msnf=msnf(row),
        sugars=sugars(row),
        total_solids=total_solids(row),
        sweetness_pod=sweetness_pod(row),
        freezing_power_pac=freezing_power_pac(row),
        freezing_power_per_100g_water=freezing_power_per_100g_water(row),
        initial_c=marks_c[..., 0],
        scoop_c=marks_c[..., 1],
        frozen_pct=curve[..., :-1],
        firmness=firmness(curve[..., -1], overrun_pct),
        density_kg_l=density,
        volume_l=output_volume_l(mass_g, density, overrun_pct),
    )


def analyse_mix(mix: Mix, temperatures_c: FloatArray = WHOLE_DEGREES_C, freezer_c: float = HOME_FREEZER_C) -> Analysis:
    """Analyse one mix; every field is a number or, for the curve, shape (temperatures,)."""
    return analyse(mix.row(), np.array(mix.mass_g), np.array(mix.overrun_used_pct), temperatures_c, freezer_c)


def number(value: FloatArray) -> float | None:
    """Return a figure as plain data, to 10 digits, None where there is none."""
    plain = float(value)
    return float(f"{plain:.10g}") + 0.0 if isfinite(plain) else None


def report(mix: Mix) -> dict[str, Any]:
    """Return the analysis of one mix as the plain data that ``jalebi analyse --json`` prints."""
    found = analyse_mix(mix)
    curve = zip(WHOLE_DEGREES_C, found.frozen_pct, strict=True)
    parts = zip(KEYS, components_of(found.row), strict=True)
    derived = ("fat", "msnf", "sugars", "total_solids")
    return {
        "name": mix.name,
        "style": mix.style,
        "mass_g": number(np.array(mix.mass_g)),
        "overrun_pct": mix.overrun_used_pct,
        "per_100g": {
            **{key: number(grams) for key, grams in parts},
            **{key: number(getattr(found, key)) for key in derived},
        },
        "sweetness_pod": number(found.sweetness_pod),
        "freezing_power_pac": number(found.freezing_power_pac),
        "freezing_power_per_100g_water": number(found.freezing_power_per_100g_water),
        "freezing": {
            "initial_c": number(found.initial_c),
            "curve": [{"t_c": int(t), "frozen_pct": number(frozen)} for t, frozen in curve],
            "scoop_c": number(found.scoop_c),
        },
        "firmness": {
            "at_c": HOME_FREEZER_C,
            "value": number(found.firmness),
            "word": firmness_word(float(found.firmness)),
        },
        "density_kg_l": number(found.density_kg_l),
        "volume_l": number(found.volume_l),
        "outcomes": outcomes_data(mix, HOME_FREEZER_C),
        "names": [asdict(name) for name in names_of(mix)],
        "energy_kcal": number(energy_kcal(found.row)),
        "beside": [_beside_data(line.ingredient.name, found) for line, found in _beside(mix)],
        "product": {key: number(np.array(value)) for key, value in asdict(product_of(mix)).items()},
        "cautions": cautions(mix, found, HOME_FREEZER_C),
    }


def _beside(mix: Mix) -> Iterator[tuple[Line, Beside]]:
    return zip(mix.beside, beside_of(mix, HOME_FREEZER_C), strict=True)


def _beside_data(name: str, found: Beside) -> dict[str, Any]:
    return {
        "name": name,
        "mass_g": found.grams,
        "share_pct": number(np.array(found.share_pct)),
        "frozen_pct": number(np.array(found.frozen_pct)),
        "word": found.word,
        "water_pulled_g": number(np.array(found.pulls_g)),
        "said": found.said,
        "advice": found.advice,
    }


def cautions(mix: Mix, found: Analysis, freezer_c: float) -> list[str]:
    """Return what the reader must know of an analysis: assumptions made and limits passed."""
    said = []
    if mix.overrun_pct is None:
        said.append(f"No overrun is stated; {c.REFERENCE_OVERRUN_PCT:g} % is assumed.")
    parts = components_of(found.row)
    water = parts[INDEX["water"]]
    if water <= 0:
        said.append("There is no water in it, so nothing freezes.")
    elif not isfinite(found.initial_c):
        said.append(f"No ice forms in it down to {c.COLDEST_ICE_C:g} °C.".replace("-", "−"))
    if 100 * parts[INDEX["erythritol"]] > c.ERYTHRITOL_SOLUBILITY_G_PER_100G_WATER * water:
        said.append(
            f"More erythritol than stays dissolved (about {c.ERYTHRITOL_SOLUBILITY_G_PER_100G_WATER:g} g per 100 g "
            "water): part of it will crystallise, feel gritty and leave the mix harder than shown."
        )
    if parts[INDEX["ethanol"]] > 0 and ethanol_in_liquid_pct(found.row, freezer_c) > c.ETHANOL_VALIDITY_PCT:
        said.append(
            f"More than {c.ETHANOL_VALIDITY_PCT:g} % of its liquid is alcohol in the freezer: "
            "beyond that the freezing curve is an estimate."
        )
    return said
