"""The plan command as a user calls it: data, a table, and one line for everything that is wrong."""

from __future__ import annotations

import json
import unittest

from launch.places import ROOT
from launch.tests.test_label_and_cost import run

LATE = ROOT / "core/tests/reference/plan/plan_too_late.json"


class PlanCommandTest(unittest.TestCase):
    """A tea custard that nobody can serve at five."""

    def test_a_plan_comes_as_data_and_as_a_table(self) -> None:
        data = json.loads(run("plan", LATE, "--json").stdout)
        self.assertEqual((data["status"], data["why"]["products"]), ("impossible", ["tea"]))
        table = run("plan", LATE).stdout
        self.assertIn("Tea takes 10 h 5 min from weighing, ada comes at 9:00: 19:05.", table)
        self.assertIn("Would help: ada there from 6:55 to 20:00.", table)
        self.assertIn("9:00 – 9:10           tea.weigh", table)

    def test_what_is_no_plan_is_refused_in_one_line(self) -> None:
        done = run("plan", ROOT / "README.md")
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertEqual(done.stderr.count("\n"), 1)
        self.assertIn("A plan file is JSON", done.stderr)
