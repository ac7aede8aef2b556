"""The diagnose command as a user calls it, and commands whose reader goes away."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase

from launch.places import ROOT

LINES = [("whole-milk", 650), ("cream-36", 100), ("skim-milk-powder", 130), ("sugar", 140)]
MIX = {
    "format": "jalebi.mix",
    "version": 1,
    "name": "Plain",
    "style": "gelato",
    "lines": [{"ingredient": slug, "amount": grams} for slug, grams in LINES],
}
SANDY = {"format": "jalebi.diagnosis", "version": 1, "mix": MIX, "symptom": "sandy", "age_days": 9}


class DiagnoseTest(TestCase):
    """Called in a process of its own."""

    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name, "file.json")

    def run_command(self, command: str, content: dict[str, Any], *options: str) -> subprocess.CompletedProcess[str]:
        self.file.write_text(json.dumps(content), encoding="utf-8")
        asked = [sys.executable, "-m", f"launch.{command}", str(self.file), *options]
        return subprocess.run(asked, cwd=ROOT, capture_output=True, text=True)

    def test_data_and_text_say_the_same(self) -> None:
        found = json.loads(self.run_command("diagnose", SANDY, "--json").stdout)
        self.assertEqual(found["causes"][0]["key"], "lactose")
        told = self.run_command("diagnose", SANDY).stdout
        self.assertIn(f"Test: {found['test']}", told)
        self.assertIn(f"Next time: {found['change']['said']}", told)
        self.assertIn("How hot did the pot get?", told)

    def test_what_cannot_be_used_is_one_line(self) -> None:
        for content in ({**SANDY, "symptom": "ugly"}, {"format": "jalebi.mix"}, {**SANDY, "mix": 3}):
            refused = self.run_command("diagnose", content)
            self.assertEqual((refused.returncode, refused.stdout), (2, ""))
            self.assertEqual(refused.stderr.count("\n"), 1)
            self.assertTrue(refused.stderr.startswith("jalebi: "))

    def test_a_reader_that_goes_away_ends_it_quietly(self) -> None:
        self.file.write_text(json.dumps(MIX), encoding="utf-8")
        asked = [sys.executable, "-m", "launch.steps", str(self.file), "--json"]
        with subprocess.Popen(asked, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.PIPE) as begun:
            assert begun.stdout is not None and begun.stderr is not None
            begun.stdout.close()
            self.assertEqual(begun.stderr.read(), b"")
