"""The analyse command as a user calls it: one line and exit code 2 for everything that is wrong."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

from launch.places import ROOT

MILK = {"ingredient": "whole-milk", "amount": 480, "unit": "g", "stage": "pot"}


class AnalyseTest(TestCase):
    """Called in a process of its own."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name, "mix.json")

    def analyse(self, content: bytes, *options: str) -> subprocess.CompletedProcess[str]:
        self.path.write_bytes(content)
        command = [sys.executable, "-m", "launch.analyse", str(self.path), *options]
        return subprocess.run(command, cwd=ROOT, capture_output=True, text=True)

    def mix(self, **line: object) -> bytes:
        lines = [MILK, {**MILK, **line}]
        return json.dumps({"format": "jalebi.mix", "version": 1, "name": "Milk", "lines": lines}).encode()

    def test_json_and_table_say_the_same(self) -> None:
        figures = json.loads(self.analyse(self.mix(), "--json").stdout)
        table = self.analyse(self.mix()).stdout
        self.assertEqual(figures["mass_g"], 960)
        self.assertTrue(-0.55 <= figures["freezing"]["initial_c"] <= -0.52)
        self.assertIn(f"first ice             −{-figures['freezing']['initial_c']:.1f} °C", table)
        self.assertIn("960 g", table)
        self.assertIn(figures["outcomes"]["firmness"]["reason"], table)
        self.assertIn(figures["cabinet"]["serving_sums"][0]["said"], table)

    def test_every_part_that_the_format_names_is_there(self) -> None:
        gum = {"ingredient": "locust-bean-gum", "amount": 1, "stage": "cold"}
        figures = json.loads(self.analyse(self.mix(**gum), "--json").stdout)
        self.assertEqual(set(figures["outcomes"]["sweetness"]), {"value", "word", "band", "terms", "reason"})
        self.assertFalse(figures["gums"]["lines"][0]["works"])
        self.assertEqual([place["t_c"] for place in figures["cabinet"]["places"]], [-18, -14, -12])
        self.assertEqual({name["region"] for name in figures["names"]}, {"United States", "Canada", "United Kingdom"})

    def test_every_demo_mix_is_a_mix_file(self) -> None:
        paths = sorted((ROOT / "server/demo/data").glob("*.json"))
        self.assertEqual(len(paths), 8)
        for path in paths:
            done = self.analyse(path.read_bytes(), "--json")
            self.assertEqual(done.returncode, 0, done.stderr)

    def test_what_is_wrong_is_one_line_and_exit_code_two(self) -> None:
        wrong = {
            b"not json": "not JSON",
            b" " * 50_000_000: "at most 1 MB",
            self.mix(ingredient="hole-milk"): "Line 2",
            self.mix(amount=-3): "Line 2",
            self.mix(amount="12 g g"): "Line 2",
            self.mix(unit="parsec"): "Line 2",
            self.mix()[:-1] + b', "aims": [{"of": "fat", "min": 14, "max": 10}]}': "at least 14 and at most 10",
            self.mix(ingredient={"name": "Odd\nsyrup", "per_100g": {"water": 100}}): "Line 2",
        }
        for content, says in wrong.items():
            with self.subTest(says=says, content=content[:40]):
                done = self.analyse(content)
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertIn(says, done.stderr)
                self.assertEqual(len(done.stderr.splitlines()), 1)

    def test_a_call_that_makes_no_sense_is_said(self) -> None:
        for arguments in ([], ["a", "b"], ["--frob"], ["/nowhere/at/all.json"], [str(ROOT)]):
            with self.subTest(arguments=arguments):
                command = [sys.executable, "-m", "launch.analyse", *arguments]
                done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
                self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1))

    def test_advice_is_printed_beside_the_analysis_where_it_is_asked_for(self) -> None:
        lines = [{**MILK, "amount": 560}, {"ingredient": "cream-36", "amount": 270, "stage": "pot"}]
        lines += [{"ingredient": "sugar", "amount": 100, "stage": "pot"}]
        content = json.dumps(
            {"format": "jalebi.mix", "version": 1, "name": "Plain", "style": "ice-cream", "lines": lines}
        ).encode()
        self.assertNotIn("adjustments", json.loads(self.analyse(content, "--json").stdout))
        advice = json.loads(self.analyse(content, "--json", "--advice").stdout)["adjustments"]
        by_fault = {entry["fault"]: entry for entry in advice}
        best = by_fault["sweetness"]["found"][0]
        self.assertEqual({line["line"] for line in best["lines"]} - {0, 1, 2, None}, set())
        self.assertIn(best["said"], self.analyse(content, "--advice").stdout)
