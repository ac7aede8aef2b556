"""A batch is made as its lines ask, and what its steps get wrong is shown rather than hidden."""

from __future__ import annotations

from typing import Any
from unittest import mock

from batches.models import Batch
from batches.record import begin_batch
from jalebi_core.production.making import method
from jalebi_core.production.making.checker import Check
from jalebi_core.production.making.steps import say
from testing.kitchen_case import KitchenCase


class WaysTest(KitchenCase):
    """Mixes that are not the usual ones."""

    def begun(self, style: str, *lines: tuple[str, str]) -> Batch:
        typed = [{"ingredient": slug, "typed": amount, "unit": "g"} for slug, amount in lines]
        status, mix = self.send("POST", "/mixes/recipes", {"name": "Unlike", "style": style, "lines": typed})
        self.assertEqual(status, 201, mix)
        return begin_batch(self.ours, mix["id"])

    def making(self, batch: Batch) -> tuple[int, Any]:
        return self.send("GET", f"/batches/{batch.pk}/making")

    def test_raw_milk_is_scalded_and_its_heat_is_a_safety_point(self) -> None:
        status, made = self.making(self.begun("sherbet", ("raw-milk", "400"), ("sugar", "150")))
        self.assertEqual((status, made["faults"]), (200, []))
        scald = next(step for step in made["steps"] if step["kind"] == "scald")
        self.assertEqual(scald["critical"], "heated")
        self.assertIn("heated", [one["key"] for one in made["state"]["critical"]])

    def test_what_cannot_be_made_safely_says_so(self) -> None:
        status, problem = self.making(self.begun("no-churn", ("cream-36", "400"), ("egg-yolk", "60")))
        self.assertEqual((status, problem["type"]), (422, "/problems/mix-refused"))
        self.assertIn("egg yolk is raw", problem["detail"])

    def test_what_a_checker_finds_is_shown_and_stays_with_the_batch(self) -> None:
        found = (Check("once", ok=False, message=say("check", "once")),)
        with mock.patch.object(method, "checks_of", return_value=found), self.assertLogs("jalebi.making", "ERROR"):
            batch = self.begun("sherbet", ("whole-milk", "400"), ("sugar", "150"))
        self.assertEqual(self.making(batch)[1]["faults"], ["Every line goes in once and whole."])
