"""What `bench` measures: parts by name, and one that breaks does not stop the others."""

from __future__ import annotations

import contextlib
import io
from collections.abc import Callable, Iterator
from unittest import TestCase, mock

from launch.bench import __main__ as bench
from launch.bench.figure import Figure


def good() -> Iterator[Figure]:
    yield Figure("a search", 12.0, 80.0, "ms")


def bad() -> Iterator[Figure]:
    yield Figure("a page", 1.0, 2.0, "ms")
    raise ValueError("the page is gone")


class BenchTest(TestCase):
    """The command itself, without the minutes that it takes."""

    def run_with(self, arguments: list[str], **parts: Callable[[], Iterator[Figure]]) -> tuple[int, str, str]:
        known = {name: name for name in parts}
        with (
            mock.patch.object(bench, "_ALONE", known),
            mock.patch.object(bench, "_SERVED", {}),
            mock.patch.object(bench, "_WITH_STAND_INS", {}),
            mock.patch.object(bench, "PARTS", tuple(known)),
            mock.patch.object(bench, "_figures_of", lambda name: parts[name]),
            contextlib.redirect_stdout(io.StringIO()) as out,
            contextlib.redirect_stderr(io.StringIO()) as err,
        ):
            code = bench.main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_only_the_parts_that_are_named_are_measured(self) -> None:
        code, out, _ = self.run_with(["heat"], core=bad, heat=good)
        self.assertEqual(code, 0)
        self.assertIn("a search", out)
        self.assertNotIn("a page", out)

    def test_a_part_that_breaks_says_so_and_the_rest_goes_on(self) -> None:
        code, out, err = self.run_with([], core=bad, heat=good)
        self.assertEqual(code, 1)
        self.assertIn("core broke: ValueError: the page is gone", out)
        self.assertIn("a search", out)
        self.assertTrue(err.endswith("jalebi: these parts broke: core.\n"), err)

    def test_an_unknown_part_is_named_with_those_there_are(self) -> None:
        code, _, err = self.run_with(["weather"], core=good)
        self.assertEqual((code, err), (2, "jalebi: bench knows core, not “weather”.\n"))

    def test_every_part_is_there(self) -> None:
        for path in (*bench._ALONE.values(), *bench._SERVED.values(), *bench._WITH_STAND_INS.values()):
            self.assertTrue(callable(bench._figures_of(path)), path)
