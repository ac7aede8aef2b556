"""The balance command as a user calls it."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from launch.places import ROOT

PLAIN = {
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
