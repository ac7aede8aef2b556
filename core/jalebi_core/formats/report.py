"""The analysis of one mix as plain data: what ``jalebi analyse --json`` prints."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import asdict
from typing import Any

import numpy as np

from jalebi_core.assessment.analysis import HOME_FREEZER_C, WHOLE_DEGREES_C, analyse_mix, number
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.cautions import cautions
from jalebi_core.assessment.gums import TOTAL_PCT, Gum, gums_of
from jalebi_core.assessment.serving_conditions import CABINET_C, served_of, serving_conditions_of
from jalebi_core.assessment.serving_sum import ServingSum, serving_sums
from jalebi_core.assessment.uncertainty import scooping_uncertainty_c
from jalebi_core.model.components import KEYS
from jalebi_core.model.composition import components_of
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.energy import energy_kcal
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.phases import phases_of
from jalebi_core.physics.sucrose_equivalents import comparison_line
from jalebi_core.production.mix_ins import MixIn, mix_ins_of, product_of
from jalebi_core.regulation.identity_standards import identity_standards_of

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
        "outcomes": _outcomes_data(mix, HOME_FREEZER_C),
        "gums": rounded(_gums_data(mix, KITCHEN_SCALE_G)),
        "cabinet": rounded(_serving_conditions_data(mix, HOME_FREEZER_C, CABINET_C)),
        "names": [asdict(name) for name in identity_standards_of(mix)],
        "energy_kcal": number(energy_kcal(found.row)),
        "beside": [_mix_in_data(line.ingredient.name, found) for line, found in _mix_ins(mix)],
        "product": {key: number(np.array(value)) for key, value in asdict(product_of(mix)).items()},
        "cautions": [str(one) for one in cautions(mix, found, cold, HOME_FREEZER_C, served_of(mix))],
    }


def _mix_ins(mix: Mix) -> Iterator[tuple[Line, MixIn]]:
    return zip(mix.mix_ins, mix_ins_of(mix, HOME_FREEZER_C), strict=True)


def _mix_in_data(name: str, found: MixIn) -> dict[str, Any]:
    return {
        "name": name,
        "mass_g": found.grams,
        "share_pct": number(np.array(found.share_pct)),
        "frozen_pct": number(np.array(found.frozen_pct)),
        "word": found.word,
        "water_pulled_g": number(np.array(found.pulls_g)),
        "said": str(found.message),
        "advice": found.advice,
    }


def rounded(data: Any) -> Any:
    """Return plain data with every number to 10 digits and none where there is no number."""
    if isinstance(data, float):
        return number(np.array(data))
    if isinstance(data, Mapping):
        return {key: rounded(value) for key, value in data.items()}
    return [rounded(value) for value in data] if isinstance(data, list | tuple) else data


def _outcomes_data(mix: Mix, freezer_c: float) -> dict[str, Any]:
    """Return the outcomes as the plain data that ``jalebi analyse --json`` prints."""
    return {
        outcome.key: {
            "value": float(f"{outcome.value:.10g}"),
            "word": outcome.word,
            "band": list(outcome.band),
            "terms": [asdict(term) for term in outcome.terms],
            "reason": str(outcome.reason),
        }
        for outcome in outcomes_of(mix, freezer_c)
    }


def _gums_data(mix: Mix, scale_g: float) -> dict[str, Any]:
    """Return the gums as the plain data that ``jalebi analyse --json`` prints."""
    found = gums_of(mix, scale_g)
    lines = [_gum_data(gum) for gum in found.gums]
    return {
        "total_pct": found.total_pct,
        "total_in_water_pct": found.total_in_water_pct,
        "usual_total_pct": list(TOTAL_PCT),
        "lines": lines,
        "pairs": list(found.pairs),
    }


def _serving_conditions_data(mix: Mix, freezer_c: float, cabinet_c: float) -> dict[str, Any]:
    """Return places, serving sums and the comparison line as the plain data that ``jalebi analyse --json`` prints."""
    line = comparison_line(mix.row())
    points = [{"t_c": t, "frozen_pct": frozen} for t, frozen in zip(line.t_c, line.frozen_pct, strict=True)]
    return {
        "places": [asdict(place) for place in serving_conditions_of(mix, freezer_c, cabinet_c)],
        "scooping_uncertainty_c": scooping_uncertainty_c(mix),
        "serving_sums": [_serving_sum_data(one) for one in serving_sums(mix)],
        "sucrose_equivalents": {"curve": points, "said": line.message},
    }


def _serving_sum_data(one: ServingSum) -> dict[str, Any]:
    return {"counted": one.counted, "per_kg": one.per_kg, "serve_c": one.serve_c, "said": str(one.message)}


def _gum_data(gum: Gum) -> dict[str, Any]:
    data = {key: value for key, value in asdict(gum).items() if key != "advice"}
    return {**data, "usual_pct": list(gum.usual_pct), "said": [str(message) for message in gum.advice]}
