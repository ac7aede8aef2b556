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
        is_foretold = watch(MIX, expected, measured(run, minute, seed)).stalls_c is not None
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


BEFORE_ICE_C = float(MIX.t_c[MIX.ice_g > 0].max()) - 0.3
DISTORTED = {
    "late": {"late": 2.0},
    "very late": {"late": 5.0},
    "slow": {"stretch": 1.4},
    "fast": {"stretch": 0.75},
    "warm probe": {"offset": 0.3},
    "cold probe": {"offset": -0.3},
    "noisy": {"noise": 0.3},
    "plateau": {"plateau": 3.0},
    "late and slow": {"late": 3.0, "stretch": 1.3},
}


def distorted(
    run: Churned,
    until: float,
    seed: int,
    late: float = 0.0,
    stretch: float = 1.0,
    offset: float = 0.0,
    noise: float = 0.1,
    plateau: float = 0.0,
) -> tuple[Measured, float]:
    """Return a log up to a share of a run that is not the core's own, and how long the run lasts."""
    lasts = run.minutes * stretch + late + plateau
    minutes: FloatArray = np.arange(0.0, lasts * until, 0.25)
    at = np.maximum(0.0, (minutes - late) / stretch)
    t_c = np.interp(at, [one[0] for one in run.seen], [one[1] for one in run.seen])
    knee = minutes[min(int((t_c > BEFORE_ICE_C).sum()), minutes.size - 1)]
    t_c = np.interp(np.where(minutes > knee, np.maximum(knee, minutes - plateau), minutes), minutes, t_c)
    shown = t_c + np.random.default_rng(seed).normal(0, noise, minutes.size) + offset
    return list(zip(minutes.tolist(), shown.tolist(), strict=True)), lasts


@pytest.mark.parametrize("kind", ["canister", "compressor"])
@pytest.mark.parametrize("how", list(DISTORTED))
def test_a_bowl_that_is_unlike_the_forecast_is_never_taken_out_early_and_told_at_half_time(kind: str, how: str) -> None:
    machine = churner(kind)
    expected = expect(MIX, MASS_G, machine, Conditions(), UNTUNED_SD)
    near = 0
    for seed, factor in enumerate(factors(8, 3)):
        run = churn(MIX, MASS_G, replace(machine, factor=factor), Conditions())
        for share in (0.3, 0.5, 0.7):
            log, lasts = distorted(run, share, seed, **DISTORTED[how])
            found = watch(MIX, expected, log)
            assert found.stalls_c is None
            assert not str(say_watched(found, kind)).startswith(("Take it out now", "It will stop"))
            if share == 0.5 and found.left_min is not None:
                near += abs(found.left_min - lasts / 2) <= max(2.5, lasts / 8)
    assert near >= 6


@pytest.mark.parametrize(
    "log",
    [
        [(0.0, -18.0), (0.5, -18.0), (1.0, -18.0), (1.5, -18.0)],
        [(minute / 2, -18.0) for minute in range(1, 20)],
        [(minute / 2, 20.0) for minute in range(1, 40)],
        [(minute / 2, -3.0 + minute % 2 * 3) for minute in range(1, 40)],
        [(minute / 2, -4.0 + minute / 10) for minute in range(1, 30)],
    ],
    ids=["just put in", "in the air of the freezer", "in the air of the room", "loose", "rising"],
)
def test_a_probe_that_shows_no_run_at_all_tells_nothing(log: Measured) -> None:
    found = _watched(log)
    assert not found.can_tell
    assert (found.left_min, found.stalls_c) == (None, None)
    assert str(say_watched(found, "compressor")).startswith("Cannot tell yet: it is at ")


@pytest.mark.parametrize("log", [[(0.0, -18.0)], [(0.0, -18.0), (0.5, -18.0)], [(0.2, -9.0), (0.7, -8.0)]])
def test_a_probe_that_comes_out_of_the_freezer_does_not_call_it_done(log: Measured) -> None:
    found = _watched(log)
    assert not found.can_tell
    assert found.left_min is None or found.left_min > 5


def test_a_few_readings_of_an_ordinary_run_do_not_say_that_it_stops() -> None:
    for kind in ("canister", "compressor"):
        expected = expect(MIX, MASS_G, churner(kind), Conditions(), UNTUNED_SD)
        found = watch(MIX, expected, [(4.0, -1.0), (6.0, -2.5), (18.0, -4.2)])
        assert found.stalls_c is None
        assert "It will stop" not in str(say_watched(found, kind))


def _watched(seen: Measured) -> Watched:
    return watch(MIX, expect(MIX, MASS_G, churner("compressor"), Conditions(), UNTUNED_SD), seen)
