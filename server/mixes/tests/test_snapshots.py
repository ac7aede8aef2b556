"""Snapshots: a revision holds all that was known, and what the shelf says later changes nothing of it."""

from __future__ import annotations

from typing import Any

from jalebi_core.formats.snapshot import SCHEMA, read_mix_snapshot
from mixes.revisions import keep_revision
from testing.kitchen_case import LINES, KitchenCase

HELD = {"pinned": True, "least_g": 100, "most_g": 200, "step_g": 5, "note": "the fine one"}


class SnapshotTest(KitchenCase):
    """Our mix, with a price, a flavouring and a line that is held."""

    def setUp(self) -> None:
        super().setUp()
        tea = {"ingredient": "matcha", "typed": "12 g", "stage": "pot"}
        for slug in {line["ingredient"] for line in LINES}:
            self.change(slug, price=2.0, pack_g=1000)
        self.change("matcha", price=60.0, pack_g=100)
        self.save(lines=[{**LINES[0], **HELD}, *LINES[1:], tea], aims={"fat": [9, 13]})

    def change(self, slug: str, **changes: Any) -> None:
        _, ingredient = self.send("GET", f"/ingredients/{slug}")
        status, answer = self.send("PATCH", f"/ingredients/{slug}", {"version": ingredient["version"], **changes})
        self.assertEqual(status, 200, answer)

    def save(self, **changes: Any) -> None:
        self.our_mix.refresh_from_db()
        body = self.draft(**changes)
        status, answer = self.send("PUT", f"/mixes/{self.our_mix.pk}", body)
        self.assertEqual(status, 200, answer)

    def test_it_holds_the_whole_ingredient_the_held_line_and_the_recipe(self) -> None:
        self.our_mix.refresh_from_db()
        self.our_mix.method = [{"stage": "pot", "text": "Warm the milk."}]
        self.our_mix.save()
        content = keep_revision(self.ours, self.our_mix.pk, "whole").content
        self.assertEqual(content["schema"], SCHEMA)
        self.assertEqual(content["recipe"]["method"], [{"stage": "pot", "text": "Warm the milk."}])
        line = content["lines"][0]
        self.assertEqual({key: line[key] for key in HELD}, HELD)
        self.assertEqual((line["ingredient"]["price_per_kg"], line["ingredient"]["allergens"]), (2.0, ["milk"]))
        self.assertEqual(line["ingredient"]["facts"]["pack_g"], 1000)

    def test_a_batch_says_what_the_bench_said_when_it_was_begun_whatever_the_shelf_says_now(self) -> None:
        draft = {"style": "ice-cream", "overrun_pct": 30, "aims": {"fat": [9, 13]}}
        _, mix = self.send("GET", f"/mixes/{self.our_mix.pk}")
        _, bench = self.send("POST", "/analyses", {**draft, "lines": mix["lines"]})
        _, batch = self.send("POST", f"/mixes/{self.our_mix.pk}/batches")
        self.change("whole-milk", price=99, allergens=["egg"], name="Water")
        self.change("matcha", strength_g_kg=[100, 200])
        _, later = self.send("GET", f"/batches/{batch['id']}")
        self.assertIn("flavour", [outcome["key"] for outcome in bench["analysis"]["outcomes"]])
        for found in (batch, later):
            self.assertEqual(found["as_made"]["outcomes"], bench["analysis"]["outcomes"])
            self.assertEqual((found["cost"], found["allergens"]), (bench["cost"], bench["allergens"]))
            self.assertEqual(found["as_made"]["places"], bench["analysis"]["places"])
        self.assertIsNotNone(bench["cost"]["per_litre"])

    def test_the_kitchens_aims_of_then_hold_and_the_mixs_own_go_before_them(self) -> None:
        self.change_kitchen({"aims": {"ice-cream": {"fat": [1, 2], "msnf": [7, 9]}}})
        self.ours.kitchen.refresh_from_db()
        revision = keep_revision(self.ours, self.our_mix.pk, "aimed")
        self.change_kitchen({"aims": {"ice-cream": {"msnf": [1, 2]}}})
        bands = read_mix_snapshot(revision.content).bands
        self.assertEqual((bands["fat"], bands["msnf"]), ((9, 13), (7, 9)))

    def test_going_back_brings_pins_limits_and_notes(self) -> None:
        number = keep_revision(self.ours, self.our_mix.pk, "held").number
        self.save(lines=LINES)
        _, revision = self.send("GET", f"/mixes/{self.our_mix.pk}/revisions/{number}")
        self.assertEqual({key: revision["lines"][0][key] for key in HELD}, HELD)
        self.save(lines=revision["lines"], aims=revision["aims"])
        _, mix = self.send("GET", f"/mixes/{self.our_mix.pk}")
        self.assertEqual({key: mix["lines"][0][key] for key in HELD}, HELD)

    def test_a_preparation_made_anew_keeps_the_version_before(self) -> None:
        _, before = self.send("GET", "/ingredients/ours-syrup")
        self.change("sugar", density_kg_l=0.9, why="another make")
        _, after = self.send("GET", "/ingredients/ours-syrup")
        _, versions = self.send("GET", "/ingredients/ours-syrup/versions")
        self.assertEqual(after["version"], before["version"] + 1)
        self.assertEqual([version["why"] for version in versions["items"]][:1], ["made anew: Table sugar changed"])
