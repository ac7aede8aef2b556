"""Each figure once: Bench, figures panel, batch, table and command line agree to the last digit that they print."""

from __future__ import annotations

from math import isclose
from pathlib import Path
from typing import Any

from django.conf import settings

from jalebi_core.formats.mix_file import read_mix
from jalebi_core.formats.report import report
from mixes.drafts import draft_of
from mixes.files import mix_from_file
from testing.kitchen_case import KitchenCase
from testing.thorough import sampled

MIXES = sorted((Path(settings.BASE_DIR) / "core/tests/golden/mixes").glob("*.json"))
LAST_DIGIT = 1e-8
"""Amounts come into a kitchen with ten digits."""
FIGURES = {"fat": "fat", "msnf": "msnf", "sugars": "sugars", "total_solids": "total_solids"}


class AgreementTest(KitchenCase):
    """The 38 recorded mixes, in a kitchen whose freezer, cabinet and scale are those of the command line."""

    def setUp(self) -> None:
        super().setUp()
        self.change_kitchen({"fine_scale_g": 1.0, "cabinet_c": -14.0, "region": "uk"})
        self.ours.kitchen.refresh_from_db()

    def test_all_say_the_same_of_the_same_mix(self) -> None:
        self.assertEqual(len(MIXES), 38)
        some = sampled([path.stem for path in MIXES], one_in=3)
        self.assertGreater(len(some), 8)
        for path in (one for one in MIXES if one.stem in some):
            with self.subTest(mix=path.stem):
                self.agree(path.read_bytes())

    def agree(self, data: bytes) -> None:
        by_command = report(read_mix(data))
        mix = mix_from_file(self.ours.kitchen, data)
        draft = draft_of(mix).model_dump(mode="json")
        asked = ("analyses", "details", "composition-tables")
        bench, details, table = (self.send("POST", f"/{what}", draft)[1] for what in asked)
        batch = self.send("POST", f"/mixes/{mix.pk}/batches")[1]
        revision = self.send("GET", f"/mixes/{mix.pk}/revisions/1/analysis")[1]
        self.same(bench["analysis"], batch["as_made"])
        self.same(bench["analysis"], revision)
        self.same(details, batch["details"])
        self.same(bench["cost"], batch["cost"])
        self.assertEqual(bench["allergens"], batch["allergens"])
        self.agree_on_figures(by_command, bench, details, table)
        self.agree_on_cold(by_command, bench["analysis"], details)
        self.agree_on_gums_and_names(by_command, bench, details)

    def agree_on_figures(
        self, by_command: dict[str, Any], bench: dict[str, Any], details: dict[str, Any], table: dict[str, Any]
    ) -> None:
        panel = {figure["key"]: figure["value"] for figure in details["figures"]}
        columns = [column["key"] for column in table["columns"]]
        total = dict(zip(columns, table["total"]["cells"], strict=True))
        figures = bench["analysis"]["figures"]
        for key, of in FIGURES.items():
            said = [by_command["per_100g"][of], figures[key], panel[key], 100 * total[key] / total["grams"]]
            self.same(said, [said[0]] * 4)
        for sweetness in (panel["sweetness"], figures["sweetness_pod"], total["pod"]):
            self.same(sweetness, by_command["sweetness_pod"])
        self.same(total["grams"], by_command["mass_g"])

    def agree_on_cold(self, by_command: dict[str, Any], analysis: dict[str, Any], details: dict[str, Any]) -> None:
        panel = {figure["key"]: figure["value"] for figure in details["figures"]}
        self.same(analysis["scoop_c"], by_command["freezing"]["scoop_c"])
        self.same(analysis["scoop_uncertainty_c"], by_command["cabinet"]["scooping_uncertainty_c"])
        self.same(panel.get("scoop"), analysis["scoop_c"])
        self.same(panel.get("first_ice"), analysis["first_ice_c"])
        self.same(panel["frozen"], analysis["freezer"]["frozen_pct"])
        for ours, theirs in zip(analysis["places"], by_command["cabinet"]["places"], strict=True):
            self.same(ours, {key: theirs[key] for key in ours})
        outcomes = {one["key"]: (one["value"], one["word"], one["reason"]) for one in analysis["outcomes"]}
        said = {key: (one["value"], one["word"], one["reason"]) for key, one in by_command["outcomes"].items()}
        self.same(outcomes, said)

    def agree_on_gums_and_names(
        self, by_command: dict[str, Any], bench: dict[str, Any], details: dict[str, Any]
    ) -> None:
        doses = {gum["line"]: gum["dose_pct"] for gum in details["gums"]}
        bars = {at: line["dose"]["pct"] for at, line in enumerate(bench["lines"]) if line["dose"]}
        self.assertEqual(bars, doses)
        said = [gum["dose_pct"] for gum in by_command["gums"]["lines"]]
        self.same(list(doses.values()), said)
        self.same(details["gum_total_pct"], by_command["gums"]["total_pct"])
        british = [name for name in by_command["names"] if name["region"] == "United Kingdom"]
        self.assertEqual(details["names"], british)

    def same(self, one: Any, other: Any, where: str = "") -> None:
        """Compare plain data, figures to the last digit that is kept."""
        if isinstance(one, dict):
            self.assertEqual(one.keys(), other.keys(), where)
            for key in one:
                self.same(one[key], other[key], f"{where}.{key}")
        elif isinstance(one, list | tuple):
            self.assertEqual(len(one), len(other), where)
            for at, (mine, theirs) in enumerate(zip(one, other, strict=True)):
                self.same(mine, theirs, f"{where}[{at}]")
        elif isinstance(one, float) and other is not None:
            self.assertTrue(isclose(one, other, rel_tol=LAST_DIGIT, abs_tol=LAST_DIGIT), f"{where}: {one} and {other}")
        else:
            self.assertEqual(one, other, where)
