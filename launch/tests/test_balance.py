"""The balance command as a user calls it."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from launch.places import ROOT

PLAIN: dict[str, Any] = {
    "format": "jalebi.mix",
    "version": 1,
    "name": "Plain",
    "lines": [
        {"ingredient": "whole-milk", "amount": 600},
        {"ingredient": "cream-36", "amount": 130, "pin": True},
        {"ingredient": "sugar", "amount": 140},
    ],
    "aims": [{"of": "fat", "min": 14}],
}


class BalanceTest(TestCase):
    """Called in a process of its own."""

    def balance(self, content: bytes, *options: str) -> subprocess.CompletedProcess[str]:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "mix.json")
            path.write_bytes(content)
            command = [sys.executable, "-m", "launch.balance", str(path), *options]
            return subprocess.run(command, cwd=ROOT, capture_output=True, text=True)

    def test_a_balance_is_printed_as_data_and_in_words(self) -> None:
        reachable = {**PLAIN, "aims": [{"of": "sweetness", "max": 13}], "may_add": ["dextrose"]}
        data = json.loads(self.balance(json.dumps(reachable).encode(), "--json").stdout)
        self.assertTrue(data["aims"][0]["met"])
        self.assertEqual(data["unmet"], [])
        self.assertLess(data["seconds"], 5)
        self.assertIn(data["said"], self.balance(json.dumps(reachable).encode()).stdout)

    def test_what_cannot_be_reached_says_why_and_is_no_failure(self) -> None:
        done = self.balance(json.dumps(PLAIN).encode())
        self.assertEqual(done.returncode, 0)
        self.assertIn("pinned at 130 g", done.stdout)
        self.assertIn("Would help: unpin Cream 36 %", done.stdout)

    def test_what_is_wrong_is_one_line_and_exit_code_two(self) -> None:
        for changes, message in (
            ({"aims": []}, "nothing to aim at"),
            ({"aims": [{"of": "fat", "min": 12, "max": 10}]}, "at least 12 and at most 10"),
            ({"lines": [{"ingredient": "hole-milk", "amount": 1}]}, "Line 1"),
            ({"lines": [{"ingredient": "sugar", "amount": 1, "pin": True}]}, "Every line is pinned"),
        ):
            with self.subTest(message=message):
                done = self.balance(json.dumps(PLAIN | changes).encode())
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertIn(message, done.stderr)
                self.assertEqual(len(done.stderr.splitlines()), 1)

    def test_a_job_is_done_on_a_file_without_aims(self) -> None:
        plain = json.dumps({key: value for key, value in PLAIN.items() if key != "aims"} | {"style": "gelato"}).encode()
        data = json.loads(self.balance(plain, "--job", "less-sweet", "--json").stdout)
        self.assertEqual(set(data), {"lines", "aims", "unmet", "changed", "said", "seconds"})
        self.assertEqual(data["lines"][1]["grams"], 130)
        self.assertLess(data["lines"][2]["grams"], 140)
        fitted = json.loads(self.balance(plain, "--job", "fit", "--line", "0", "--with", "skim-milk", "--json").stdout)
        self.assertEqual(fitted["lines"][0]["ingredient"], "skim-milk")

    def test_cheaper_needs_prices_of_packs(self) -> None:
        lines = [dict(line) for line in PLAIN["lines"]]
        plain = {"format": "jalebi.mix", "version": 1, "name": "Plain", "lines": lines}
        self.assertIn("has a price", self.balance(json.dumps(plain).encode(), "--job", "cheaper").stderr)
        lines[0] |= {"price": 1.1, "pack_g": 1000}
        lines[1] |= {"price": 2.5, "pack_g": 500}
        done = self.balance(json.dumps(plain).encode(), "--job", "cheaper")
        self.assertIn("Not moved, as they have no price: Table sugar", done.stdout, done.stderr)

    def test_a_job_that_cannot_be_done_is_one_line(self) -> None:
        plain = {key: value for key, value in PLAIN.items() if key != "aims"}
        for content, options, message in (
            (PLAIN, ("--job", "softer"), "brings its own aims"),
            (plain, ("--job", "magic"), "not a job"),
            (plain, ("--job", "replace", "--line", "1"), "Say what is to stand"),
            (plain, ("--job", "replace", "--line", "7", "--with", "sugar"), "Say which line"),
            (plain, ("--job", "replace", "--line", "1", "--with", "shugar"), "sugar"),
            (plain, ("--job", "use-up", "--line", "1", "--grams", "-4"), "how many g"),
            (PLAIN, ("--line", "1"), "say which with --job"),
            (plain, ("--job", "fit", "--line", "x"), "invalid int"),
        ):
            with self.subTest(options=options):
                done = self.balance(json.dumps(content).encode(), *options)
                self.assertEqual((done.returncode, done.stdout), (2, ""), done.stderr)
                self.assertIn(message, done.stderr)
                self.assertEqual(len(done.stderr.splitlines()), 1)
