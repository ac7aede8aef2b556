"""The trial and learn commands as a user calls them: data, a text, and one line for everything that is wrong."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from launch.places import ROOT

REFERENCE = ROOT / "core/tests/reference/taste"


def run(command: str, content: dict[str, Any], *options: str) -> subprocess.CompletedProcess[str]:
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder, "file.json")
        file.write_text(json.dumps(content), encoding="utf-8")
        asked = [sys.executable, "-m", f"launch.{command}", str(file), *options]
        return subprocess.run(asked, cwd=ROOT, capture_output=True, text=True)


class TrialAndLearnTest(TestCase):
    """Called in a process of its own."""

    def setUp(self) -> None:
        super().setUp()
        self.trial = json.loads((REFERENCE / "trials.json").read_text(encoding="utf-8"))[0]["file"]
        self.log = json.loads((REFERENCE / "learning.json").read_text(encoding="utf-8"))[0]["log"]

    def test_json_and_text_say_the_same(self) -> None:
        said = json.loads(run("trial", self.trial, "--json").stdout)["analysis"]["said"]
        self.assertIn(said, run("trial", {**self.trial, "tasters": ["Ada", "Bo"]}).stdout)
        said = json.loads(run("learn", self.log, "--json").stdout)["parameters"][0]["said"]
        self.assertIn(said, run("learn", self.log).stdout)

    def test_a_ladder_tells_what_is_weighed_for_each_rung(self) -> None:
        lines = [{"ingredient": "whole-milk", "amount": 600, "stage": "pot"}, {"ingredient": "sugar", "amount": 100}]
        mix = {"format": "jalebi.mix", "version": 1, "name": "Milk ice", "lines": lines}
        factors = [{"line": 1, "by": "dextrose", "share_pct": [0, 30]}]
        head = {"format": "jalebi.trial", "version": 1, "kind": "2-afc", "attribute": "sweetness"}
        told = run("trial", {**head, "mix": mix, "factors": factors}).stdout
        self.assertIn("B: 670 g of the base, 30.0 g dextrose", told)

    def test_an_empty_log_teaches_nothing(self) -> None:
        self.assertIn("Nothing is learnt", run("learn", {"format": "jalebi.log", "version": 1}).stdout)

    def test_what_is_wrong_is_one_line_and_exit_code_2(self) -> None:
        wrong = {"trial": {**self.trial, "kind": "guess"}, "learn": {**self.log, "machines": [{"name": "bowl"}]}}
        for command, content in wrong.items():
            with self.subTest(command=command):
                found = run(command, content, "--json")
                self.assertEqual((found.returncode, found.stdout, found.stderr.count("\n")), (2, "", 1))
                self.assertNotIn("Traceback", found.stderr)
