"""The stand-ins: what a scale, a pot, a bowl and a freezer do as somebody works at them."""

from __future__ import annotations

from unittest import TestCase, mock

import numpy as np

from devices.clock import Clock
from devices.world import DEVICES, World
from jalebi_core.formats.device_lines import read_hello, read_shown, write_hello, write_shown
from jalebi_core.model.errors import DeviceError
from jalebi_core.shelf.catalogue import find


class HeldClock(Clock):
    """A clock that a test sets."""

    seconds = 0.0

    def now(self) -> float:
        return self.seconds


class WorldCase(TestCase):
    """A kitchen at second 0."""

    def setUp(self) -> None:
        self.clock = HeldClock()
        self.world = World(self.clock)

    def after(self, seconds: float, key: str, every: float = 1.0) -> float:
        """Let time go by, the device looked at meanwhile, and return what it shows then."""
        until = self.clock.seconds + seconds
        while self.clock.seconds < until:
            self.clock.seconds = min(self.clock.seconds + every, until)
            shown = self.world.shows(key)
        return shown.value

    def do(self, key: str, **told: object) -> None:
        self.world.do(key, told, 0.0)


class WorldTest(WorldCase):
    """What each device shows."""

    def test_each_speaks_the_protocol(self) -> None:
        for key in DEVICES:
            hello = self.world.hello(key)
            self.assertEqual(read_hello(write_hello(hello)), hello)
            self.assertTrue(hello.stand_in)
            read_shown(write_shown(self.world.shows(key)), hello.unit)

    def test_a_scale_fills_settles_and_is_tared(self) -> None:
        self.do("scale", do="pour", grams=113)
        self.assertLess(self.after(1, "scale", 0.2), 60)
        self.assertFalse(self.world.shows("scale").steady)
        self.assertAlmostEqual(self.after(10, "scale", 0.2), 113, delta=1)
        self.assertTrue(self.world.shows("scale").steady)
        self.do("scale", do="tare")
        self.assertAlmostEqual(self.after(5, "scale", 0.2), 0, delta=1)
        self.do("scale", do="take-off")
        self.assertAlmostEqual(self.after(5, "scale", 0.2), -113, delta=1)

    def test_a_fine_scale_shows_hundredths(self) -> None:
        self.do("fine-scale", do="pour", grams=1.25)
        self.assertAlmostEqual(self.after(10, "fine-scale", 0.2), 1.25, delta=0.03)

    def test_a_pot_warms_goes_on_and_cools(self) -> None:
        self.do("probe", do="fill", grams=1000, c=6)
        self.do("probe", do="put", **{"in": "pot"})
        self.do("probe", do="stove-on")
        minutes = 0
        while self.after(10, "probe") < 80:
            minutes += 1
        self.assertTrue(12 < minutes < 60, minutes)
        self.do("probe", do="stove-off")
        off = self.world.pot.base_c
        self.after(40, "probe")
        self.assertGreater(self.world.pot.base_c, off + 1, "the metal is hotter than what is in it")
        self.do("probe", do="stove-on")
        self.assertLess(self.after(1800, "probe"), 102, "it boils")
        self.do("probe", do="stand", **{"in": "ice-bath"})
        self.assertLess(self.after(1800, "probe"), 10)

    def test_a_bowl_freezes_by_the_model_and_a_weak_one_stalls(self) -> None:
        row = find("whole-milk").row * 0.75 + find("sugar").row * 0.25
        told = {"do": "load", "kind": "canister", "bowl_l": 1.5, "grams": 700, "start_c": 5, "row": row.tolist()}
        ends = []
        for gel in (None, 35):
            self.do("batch-freezer", **told, gel_frozen_pct=gel)
            self.do("batch-freezer", do="start")
            ends.append(self.after(2400, "batch-freezer", 10))
        self.assertLess(ends[0], ends[1] - 0.5)
        self.do("probe", do="put", **{"in": "bowl"})
        self.assertAlmostEqual(self.after(60, "probe"), ends[1], delta=0.5)

    def test_a_freezer_that_dies_gets_warm(self) -> None:
        self.do("probe", do="put", **{"in": "freezer"})
        self.assertAlmostEqual(self.after(600, "probe", 5), -18, delta=1.5)
        self.do("probe", do="freezer-dies")
        self.assertGreater(self.after(3600, "probe", 10), -14)

    def test_it_drops_out_for_a_while_or_for_good(self) -> None:
        self.world.do("probe", {"do": "drop-out", "seconds": 3}, 10.0)
        self.assertTrue(self.world.is_silent("probe", 12.0))
        self.assertFalse(self.world.is_silent("probe", 14.0))
        self.do("probe", do="die")
        self.assertTrue(self.world.is_silent("probe", 1e9))
        self.do("probe", do="wake")
        self.assertFalse(self.world.is_silent("probe", 0.0))

    def test_what_nobody_can_do_is_refused_by_name(self) -> None:
        for key, told in (
            ("scale", {"do": "sing"}),
            ("scale", {"do": "pour", "grams": "much"}),
            ("scale", {"do": "pour", "grams": 1e9}),
            ("probe", {"do": "put", "in": "pocket"}),
            ("probe", {"do": "stand", "in": "rain"}),
            ("batch-freezer", {"do": "load", "kind": "oven", "row": []}),
            ("batch-freezer", {"do": "load", "kind": "canister", "row": [1, 2]}),
        ):
            with self.subTest(told=told), self.assertRaises(DeviceError):
                self.world.do(key, told, 0.0)

    def test_the_same_seed_is_the_same_kitchen(self) -> None:
        shown = []
        for _ in range(2):
            clock = HeldClock()
            world = World(clock, seed=7)
            clock.seconds = 30.0
            shown.append([world.shows(key).value for key in DEVICES])
        self.assertEqual(shown[0], shown[1])
        self.assertTrue(np.isfinite(shown[0]).all())


class ClockTest(TestCase):
    """A clock that goes faster."""

    def test_it_goes_so_many_times_as_fast(self) -> None:
        with mock.patch("devices.clock.time.monotonic", return_value=102.0):
            self.assertEqual(Clock(60.0, 100.0).now(), 120.0)
