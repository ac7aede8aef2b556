"""A probe that stays in: how a pot goes on, how it cools, and a freezer that gets warm."""

from __future__ import annotations

from math import exp, log

import numpy as np
import pytest

from jalebi_core.heat.probe_log import cooling_clock, goes_on_to, warm_since


def cooling(minutes: int, lag: float = 20.0, around_c: float = 0.0) -> list[tuple[float, float]]:
    return [(float(at), around_c + (85 - around_c) * exp(-at / lag)) for at in range(minutes + 1)]


def test_a_pot_goes_on_by_itself_as_it_rose() -> None:
    rising = [(at / 60, 80 + 3 * at / 60) for at in range(61)]
    assert goes_on_to(rising) == pytest.approx(83.6)
    assert goes_on_to([(at / 60, 70.0) for at in range(60)]) is None
    assert goes_on_to([]) is None
    assert goes_on_to([(0.0, 80.0)]) is None


def test_what_passed_is_measured_and_what_comes_is_reckoned() -> None:
    clock = cooling_clock(cooling(15), 0.0)
    assert clock.reached == (True, False, False)
    assert clock.passes_min[0] == pytest.approx(20 * log(85 / 57), abs=0.1)
    assert clock.passes_min[1] == pytest.approx(20 * log(85 / 21), abs=0.6)
    assert clock.passes_min[2] == pytest.approx(20 * log(85 / 5), abs=1.5)
    assert not clock.is_late


def test_a_pot_in_the_fridge_is_late_for_the_first_stage() -> None:
    slow = cooling_clock(cooling(60, lag=150.0, around_c=4.0), 4.0)
    assert slow.is_late
    assert not cooling_clock([(0.0, 80.0), (1.0, 79.9)], 4.0).is_late


def test_what_never_gets_there_is_not_promised() -> None:
    assert cooling_clock(cooling(30, lag=60.0, around_c=20.0), 20.0).passes_min[2] is None


def test_an_open_door_is_no_alarm_and_a_warm_night_is() -> None:
    night = [(float(at), -18.0 + (5.0 if 100 <= at < 120 else 0.0)) for at in range(0, 300, 5)]
    assert warm_since(night) is None
    dying = [*night, *((300.0 + at, -13.0) for at in range(0, 40, 5))]
    assert warm_since(dying) == 300.0
    assert warm_since([]) is None


def test_noise_alone_promises_nothing() -> None:
    shown = 60 + np.random.default_rng(1).normal(0, 0.05, 40)
    assert goes_on_to([(at / 60, float(one)) for at, one in enumerate(shown)]) is None
