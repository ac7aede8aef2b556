"""A run that is watched: how soon its end is known, and a stall foretold."""

from __future__ import annotations

from dataclasses import replace
from math import exp, inf, log

import numpy as np
import pytest

from conftest import DAIRY, mix_of
from jalebi_core.heat.churn import Churned, Conditions, churn, churner
from jalebi_core.heat.churn_watch import Expected, Watched, began_at, expect, say_apart, say_watched, watch
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.model.components import FloatArray

MIX = thermal(mix_of(*DAIRY).row(), 0.0)
MASS_G = 700.0
UNTUNED_SD = 0.3
Measured = list[tuple[float, float]]


def measured(run: Churned, until_min: float, seed: int) -> Measured:
    """Return what a probe shows of a run: late by 6 s, a tenth of a degree of noise, a twentieth wrong."""
    noise = np.random.default_rng(seed)
    minutes: FloatArray = np.arange(0.0, until_min, 0.05)
    true = np.interp(minutes - 0.1, [one[0] for one in run.seen], [one[1] for one in run.seen])
    shown = true + noise.normal(0, 0.1, minutes.size) + noise.normal(0, 0.05)
    return list(zip(minutes.tolist(), shown.tolist(), strict=True))


def factors(count: int, seed: int) -> list[float]:
    drawn = np.random.default_rng(seed).uniform(log(0.7), log(1.3), count)
    return [exp(float(one)) for one in drawn]


@pytest.mark.parametrize("kind", ["canister", "compressor"])
def test_half_way_the_end_is_known_to_two_minutes(kind: str) -> None:
    machine = churner(kind)
    expected = expect(MIX, MASS_G, machine, Conditions(), UNTUNED_SD)
    near = 0
    for seed, factor in enumerate(factors(20, 3)):
        run = churn(MIX, MASS_G, replace(machine, factor=factor), Conditions())
        found = watch(MIX, expected, measured(run, run.minutes / 2, seed))
        near += found.left_min is not None and abs(found.left_min - run.minutes / 2) <= 2
    assert near >= 18


def foretold_min(expected: Expected, run: Churned, seed: int) -> float:
    """Return how long before it stands still a run is said to stall, and from then on always."""
    ends_c = run.seen[-1][1]
    stands = next(minute for minute, t_c, _, _ in run.seen if t_c <= ends_c + 0.05)
    first = inf
    for minute in np.arange(2.0, stands, 0.5).tolist():
        is_foretold = watch(MIX, expected, measured(run, minute, seed)).left_min is None
        first = min(first, minute) if is_foretold else inf
    return stands - first


def test_a_stall_is_foretold_four_minutes_before() -> None:
    machine = churner("canister")
    expected = expect(MIX, MASS_G, machine, Conditions(), UNTUNED_SD)
    early = 0
    for seed, factor in enumerate(factors(10, 5)):
        weak = Conditions(gel_frozen_pct=38.0 + seed, start_c=4.0)
        run = churn(MIX, MASS_G, replace(machine, factor=factor), weak)
        assert not run.drawn
        early += foretold_min(expected, run, seed) >= 4
    assert early >= 9


def test_nothing_measured_yet_is_the_forecast() -> None:
    found = _watched([(0.0, 4.0)])
    usual = churn(MIX, MASS_G, churner("compressor"), Conditions())
    assert found.left_min == pytest.approx(usual.minutes, rel=0.1)
    assert found.earliest_min is not None
    assert found.latest_min is not None
    assert found.earliest_min < found.left_min < found.latest_min
    assert found.factor == pytest.approx(1.0, abs=0.02)


def test_it_is_said_when_to_take_it_out_and_by_how_much_it_is_late() -> None:
    slow = churn(MIX, MASS_G, churner("compressor", factor=0.8), Conditions(start_c=8.0))
    expected = expect(MIX, MASS_G, churner("compressor"), Conditions(start_c=8.0), UNTUNED_SD)
    half = watch(MIX, expected, measured(slow, slow.minutes / 2, 1))
    assert str(say_watched(half, "compressor")).startswith("Take it out in about ")
    planned = watch(MIX, expect(MIX, MASS_G, churner("compressor"), Conditions(), UNTUNED_SD), [(0.0, 8.0)]).planned
    apart = say_apart(replace(half, planned=planned), 8.0, 4.0)
    assert str(apart).startswith("It went in 4.0 °C warm: ")
    ended = watch(MIX, expected, measured(slow, slow.minutes + 0.5, 1))
    assert ended.left_min == pytest.approx(0.0, abs=0.5)
    assert str(say_watched(replace(ended, left_min=0.0), "compressor")).startswith("Take it out now")


def test_a_canister_that_stalls_is_sent_to_the_second_bowl() -> None:
    weak = churn(MIX, MASS_G, churner("canister"), Conditions(gel_frozen_pct=45.0))
    expected = expect(MIX, MASS_G, churner("canister"), Conditions(), UNTUNED_SD)
    found = watch(MIX, expected, measured(weak, 20.0, 1))
    assert found.left_min is None
    assert found.stalls_c == pytest.approx(weak.t_c, abs=0.7)
    assert "use the second bowl" in str(say_watched(found, "canister"))


def test_a_probe_that_comes_from_the_room_does_not_say_how_it_went_in() -> None:
    run = churn(MIX, MASS_G, churner("canister"), Conditions(start_c=6.0))
    seen = [(minute, t_c + 14 * exp(-minute / 0.07)) for minute, t_c in measured(run, 4.0, 2)]
    assert seen[0][1] > 15
    assert began_at(seen[:20]) is None
    assert began_at(seen) == pytest.approx(6.0, abs=1.2)


def _watched(seen: Measured) -> Watched:
    return watch(MIX, expect(MIX, MASS_G, churner("compressor"), Conditions(), UNTUNED_SD), seen)
