"""The analysis of one mix as plain data: what ``jalebi analyse --json`` prints."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from .analysis import HOME_FREEZER_C, WHOLE_DEGREES_C, analyse_mix, number
from .beside import Beside, beside_of, product_of
from .cabinet import CABINET_C, cabinet_data
from .cautions import cautions
from .components import KEYS
from .composition import components_of
from .energy import energy_kcal
from .firmness import firmness_word
from .gums import gums_data
from .judgement import outcomes_data
from .mix import Line, Mix
from .names import names_of
from .outcomes import frozen_at
from .phases import phases_of

KITCHEN_SCALE_G = 1.0
"""What a scale is taken to tell apart where nobody says."""


def report(mix: Mix) -> dict[str, Any]:
    """Return the analysis of one mix as the plain data that ``jalebi analyse --json`` prints."""
    found = analyse_mix(mix)
    overrun = np.array(mix.overrun_used_pct)
    cold = phases_of(found.row, overrun, frozen_at(found.row, HOME_FREEZER_C), HOME_FREEZER_C)
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
        "gums": rounded(gums_data(mix, KITCHEN_SCALE_G)),
        "cabinet": rounded(cabinet_data(mix, HOME_FREEZER_C, CABINET_C)),
        "names": [asdict(name) for name in names_of(mix)],
        "energy_kcal": number(energy_kcal(found.row)),
        "beside": [_beside_data(line.ingredient.name, found) for line, found in _beside(mix)],
        "product": {key: number(np.array(value)) for key, value in asdict(product_of(mix)).items()},
        "cautions": cautions(mix, found, cold, HOME_FREEZER_C),
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


def rounded(data: Any) -> Any:
    """Return plain data with every number to 10 digits and none where there is no number."""
    if isinstance(data, float):
        return number(np.array(data))
    if isinstance(data, Mapping):
        return {key: rounded(value) for key, value in data.items()}
    return [rounded(value) for value in data] if isinstance(data, list | tuple) else data
