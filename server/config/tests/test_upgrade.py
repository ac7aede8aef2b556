"""The first release's database is brought to today, and its batches and revisions come to what they came to then."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import time
import unittest
from pathlib import Path
from typing import Any, ClassVar

import psycopg
from django.db import connection
from psycopg import sql

from testing.other_processes import environment_on

FIRST_RELEASE = Path(__file__).parent / "first_release"
SAME = (
    "mass_g",
    "volume_l",
    "overrun_pct",
    "verdict",
    "figures",
    "first_ice_c",
    "scoop_c",
    "curve",
    "freezer",
    "places",
)


def read_printed(text: str) -> Any:
    """Return JSON with its figures to ten digits, as the commands print them."""
    return json.loads(text, parse_float=lambda digits: float(f"{float(digits):.10g}"))


JUDGED_OTHERWISE = ("melt", "iciness", "butter", "saltiness", "tartness")
"""How long a scoop stands counts air and fat since, gums hold ice only where they swell, emulsifier guards no fat, and
salt and acid were not judged at all."""


def outcomes(analysis: dict[str, Any]) -> list[tuple[Any, ...]]:
    kept = (one for one in analysis["outcomes"] if one["key"] not in JUDGED_OTHERWISE)
    return [(one["key"], one["value"], one["band"]) for one in kept]


class UpgradeTest(unittest.TestCase):
    """A database of its own beside the one of the tests, whose upgrade is broken off twice before it is finished."""

    name: ClassVar[str] = f"first_release_{os.getpid()}"
    now: ClassVar[dict[str, Any]]
    then: ClassVar[dict[str, Any]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.execute("CREATE DATABASE {}")
        cls.addClassCleanup(cls.execute, "DROP DATABASE {} WITH (FORCE)")
        with cls.connected(cls.name) as database:
            database.execute((FIRST_RELEASE / "demo.sql").read_bytes())
        cls.break_off(signal.SIGTERM, after=1)
        cls.break_off(signal.SIGKILL, after=20)
        cls.run_python("config.manage", "prepare")
        cls.now = read_printed(cls.run_python("config.tests.outcomes"))
        cls.then = read_printed((FIRST_RELEASE / "outcomes.json").read_text(encoding="utf-8"))

    @classmethod
    def break_off(cls, how: signal.Signals, after: int) -> None:
        """Begin the upgrade and end its process after so many migrations."""
        prepare = [sys.executable, "-m", "config.manage", "prepare"]
        wanted = cls.applied() + after
        begun = subprocess.Popen(
            prepare, env=environment_on(cls.name), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        while begun.poll() is None and cls.applied() < wanted:
            time.sleep(0.005)
        begun.send_signal(how)
        if begun.wait() == 0:
            raise AssertionError(f"The upgrade was over before {how.name} could break it off.")

    @classmethod
    def applied(cls) -> int:
        """Return how many migrations the database has seen."""
        with cls.connected(cls.name) as database:
            row = database.execute("SELECT count(*) FROM django_migrations").fetchone()
        return int(row[0]) if row else 0

    @staticmethod
    def connected(name: str) -> psycopg.Connection[Any]:
        known = connection.settings_dict
        keys = {"host": known["HOST"], "port": known["PORT"], "user": known["USER"], "password": known["PASSWORD"]}
        return psycopg.connect(dbname=name, autocommit=True, **keys)

    @classmethod
    def execute(cls, statement: str) -> None:
        with cls.connected("postgres") as database:
            database.execute(sql.SQL(statement).format(sql.Identifier(cls.name)))

    @classmethod
    def run_python(cls, *module: str) -> str:
        env = environment_on(cls.name)
        done = subprocess.run([sys.executable, "-m", *module], env=env, text=True, capture_output=True)
        if done.returncode:
            raise AssertionError(done.stderr)
        return done.stdout

    def test_batches_come_to_what_they_came_to(self) -> None:
        self.assertEqual(self.now["batches"].keys(), self.then["batches"].keys())
        for number, then in self.then["batches"].items():
            now = self.now["batches"][number]
            with self.subTest(batch=number):
                for key in ("mix_name", "revision", "begun_at", "note", "tasted"):
                    self.assertEqual(now[key], then[key])
                for line, before in zip(now["lines"], then["lines"], strict=True):
                    self.assertEqual({key: line[key] for key in before}, before)
                self.same(now["planned"], then["planned"])
                self.same(now["as_made"], then["as_made"])

    def test_revisions_come_to_what_they_came_to(self) -> None:
        self.assertEqual(self.now["revisions"].keys(), self.then["revisions"].keys())
        for name, then in self.then["revisions"].items():
            now = self.now["revisions"][name]
            with self.subTest(revision=name):
                self.same(now["analysis"], then["analysis"])
                self.assertEqual(now["detail"]["changes"], then["detail"]["changes"])

    def test_corrections_of_the_shelf_reach_rows_that_nobody_edited(self) -> None:
        with self.connected(self.name) as database:
            row = database.execute(
                "SELECT allergens, may_hold, version FROM ingredients_ingredient WHERE slug = 'biscuit-crumbs'"
            ).fetchone()
            kept = database.execute(
                "SELECT count(*) FROM ingredients_ingredientversion WHERE why = 'corrected by the shelf'"
            ).fetchone()
        self.assertEqual(row, (["milk", "wheat", "gluten", "soy"], ["egg", "nuts"], 2))
        self.assertGreater(kept[0] if kept else 0, 100)

    def test_what_an_old_snapshot_does_not_hold_is_not_stated(self) -> None:
        batch = self.now["batches"]["1"]
        self.assertIsNone(batch["cost"])
        self.assertIn("Table sugar", batch["allergens_not_stated"])
        self.assertEqual([gum["name"] for gum in batch["details"]["gums"]], [])

    def same(self, now: dict[str, Any], then: dict[str, Any]) -> None:
        self.assertEqual({key: now[key] for key in SAME}, {key: then[key] for key in SAME})
        self.assertEqual(outcomes(now), outcomes(then))
