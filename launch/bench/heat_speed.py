"""Cold and heat over time in the core, and the tub beside an explicit scheme of the same grid."""

from __future__ import annotations

import time

import numpy as np

from jalebi_core.heat.churn import Conditions, churn, churner
from jalebi_core.heat.conduction import Cylinder, Material
from jalebi_core.heat.ice_bath import IceBath, ice_for
from jalebi_core.heat.pot import conductance_w_k, cool
from jalebi_core.heat.tub import PLACES, Filling, TubRun, Vessel, filling_of, follow
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import find

from .figure import Figure, median_ms

_DAIRY = (("whole-milk", 550.0), ("cream-36", 220.0), ("skim-milk-powder", 40.0), ("sugar", 160.0))
_TUB = Vessel(55.0, 85.0)
_DAY_H = 24.0
_STABLE = 0.5
"""The share of its longest stable step that the explicit scheme takes."""
_HARD_C = -15.0


def figures() -> list[Figure]:
    """Measure churning, a bath, a tub of a day and a pot; and the tub against explicit steps."""
    mix = Mix("dairy", tuple(Line(find(slug), grams) for slug, grams in _DAIRY), "ice-cream", 30.0)
    filling = filling_of(mix)
    canister = churner("canister")
    pot = conductance_w_k(filling.mix, 1000.0, "ice-bath")
    day = median_ms(lambda: _hardened(filling), runs=9)
    explicit_ms, explicit_min = _explicit(filling)
    implicit_min = _hardened(filling).core_reaches(_HARD_C) or 0.0
    return [
        Figure(
            "churning 0.8 kg in a canister",
            median_ms(lambda: churn(filling.mix, 800.0, canister, Conditions()), 9),
            30,
            "ms",
        ),
        Figure(
            "a bath and its load",
            median_ms(lambda: (IceBath.of(1000.0, salt_g=200.0).state(), ice_for(200.0, -12.0)), 50),
            2,
            "ms",
        ),
        Figure("a tub of 24 h in a chiller", day, 50, "ms"),
        Figure(
            "a pot in an ice bath",
            median_ms(lambda: cool(filling.mix, 1000.0, 85.0, pot, IceBath.of(800.0)), 9),
            20,
            "ms",
        ),
        Figure("explicit steps of the same grid, times as long", explicit_ms / day, 4, "×", at_least=True),
        Figure(
            f"minutes to −15 °C apart, explicit {explicit_min:.1f}", abs(explicit_min / implicit_min - 1) * 100, 3, "%"
        ),
    ]


def _hardened(filling: Filling) -> TubRun:
    return follow(filling, _TUB, PLACES["blast"], -5.0, _DAY_H)


def _explicit(filling: Filling) -> tuple[float, float]:
    """Return the ms that a day takes by explicit steps, as long as they are stable, and when the core is hard."""
    mix, place = filling.mix, PLACES["blast"]
    material = Material(mix.t_c, 1000 * mix.density_kg_m3 * mix.h_kj_kg, mix.k_w_mk)
    body = Cylinder(material, _TUB.radius_mm / 1000, _TUB.height_mm / 1000, _TUB.faces(place.h_w_m2k))
    heat, passed, hard = material.heat_at(np.full(body.volume_m3.shape, -5.0)), 0.0, 0.0
    began = time.perf_counter()
    while passed < 3600 * _DAY_H:
        gained, falls = body.gains(heat, place.air_c)
        step = min(_STABLE / float(falls.max()), 3600 * _DAY_H - passed)
        heat, passed = heat + step * gained, passed + step
        if not hard and float(material.t_at(heat[4:6, 0]).mean()) <= _HARD_C:
            hard = passed / 60
    return 1000 * (time.perf_counter() - began), hard
