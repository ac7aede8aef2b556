"""The core alone: one mix, and ten thousand against one by one with a general root finder."""

from __future__ import annotations

import numpy as np

from jalebi_core.advice.adjustments import help_for
from jalebi_core.assessment.analysis import WHOLE_DEGREES_C, analyse, analyse_mix
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.outcomes import eating
from jalebi_core.formats.steps_file import steps_bench
from jalebi_core.model import constants as c
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import blend
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.freezing import Liquid, frozen_at, liquid, ln_ice_activity, ln_water_activity
from jalebi_core.production.making.checker import checks_of
from jalebi_core.production.making.method import make
from jalebi_core.shelf.catalogue import ingredients

from .figure import Figure, median_ms

_MANY = 10_000
_SINGLY = 20


def figures() -> list[Figure]:
    """Measure the core."""
    twenty = list(ingredients().values())[:20]
    mix = Mix("twenty lines", tuple(Line(ingredient, 50.0) for ingredient in twenty), None, 30.0)
    rows = np.array([ingredient.row for ingredient in twenty])
    grams = np.random.default_rng(9).uniform(1, 100, size=(_MANY, len(rows)))
    mixes = blend(grams, rows)

    one = median_ms(lambda: analyse_mix(mix), runs=200)
    judged = median_ms(lambda: outcomes_of(mix, -18.0), runs=100)
    helped = median_ms(lambda: help_for(mix, -18.0, ingredients()), runs=50)
    eaten = median_ms(
        lambda: eating(mixes, np.full(_MANY, 30.0), frozen_at(mixes, -18.0), -18.0, np.zeros(_MANY)), runs=5, warm_up=1
    )
    together = median_ms(lambda: analyse(mixes, grams.sum(axis=1), np.full(_MANY, 30.0)), runs=5, warm_up=1)
    singly = median_ms(lambda: [_curve_by_root_finder(row) for row in mixes[:_SINGLY]], runs=3, warm_up=1)
    custard = _custard()
    bench = steps_bench(custard)
    made = make(custard, bench)
    steps = median_ms(lambda: make(custard, bench), runs=20)
    checked = median_ms(lambda: checks_of(custard, made.vessels, made.steps), runs=50)
    return [
        Figure("steps of making a custard", steps, 10.0, "ms"),
        Figure("all rules of its steps checked", checked, 5.0, "ms"),
        Figure("analysis of a 20-line mix with its curve", one, 0.6, "ms"),
        Figure("its outcomes", judged, 3.0, "ms"),
        Figure("its adjustments", helped, 12.0, "ms"),
        Figure(f"{_MANY} mixes through all outcomes", eaten, 1000.0, "ms"),
        Figure(f"{_MANY} mixes with the whole curve", together, 250.0, "ms"),
        Figure(
            f"times faster than one by one with brentq (from {_SINGLY})",
            singly / _SINGLY * _MANY / together,
            50.0,
            "×",
            at_least=True,
        ),
    ]


def _custard() -> Mix:
    amounts = {"whole-milk": 550.0, "cream-36": 220.0, "sugar": 140.0, "egg-yolk": 80.0, "locust-bean-gum": 1.5}
    lines = tuple(Line(ingredients()[slug], grams) for slug, grams in amounts.items())
    return Mix("custard", lines, "frozen-custard", 30.0)


def _curve_by_root_finder(row: FloatArray) -> list[float]:
    from scipy.optimize import brentq

    of = liquid(row)
    return [_frozen_by_root_finder(of, float(t), brentq) for t in WHOLE_DEGREES_C]


def _frozen_by_root_finder(of: Liquid, temperature_c: float, brentq: object) -> float:
    target = float(ln_ice_activity(np.array(max(temperature_c, c.COLDEST_ICE_C))))
    free = float(of.free_water_g)

    def miss(water: float) -> float:
        return float(ln_water_activity(of, np.array(water), of.erythritol_mol)) - target

    if free <= 0 or miss(free) <= 0:
        return 0.0
    assert callable(brentq)
    return float(100 * (free - brentq(miss, 1e-9, free)) / of.water_g)
