"""What a batch costs on the Bench: the same as the command says, with trimmings, labour and what is sold."""

from __future__ import annotations

from typing import Any

from testing.kitchen_case import LINES, KitchenCase


class CostsTest(KitchenCase):
    """A milk ice whose every line costs 2 a kilo."""

    def setUp(self) -> None:
        super().setUp()
        for slug in {line["ingredient"] for line in LINES}:
            self.send("PATCH", f"/ingredients/{slug}", {"version": 1, "price": 2, "pack_g": 1000})

    def ask(self, **more: Any) -> Any:
        return self.send("POST", "/cost-sheets", {"lines": LINES, "overrun_pct": 30, **more})[1]

    def test_lines_labour_and_energy_add_up_to_the_batch(self) -> None:
        found = self.ask(minutes=30, per_hour=18, energy_kwh=1.2, energy_price=0.3)
        self.assertAlmostEqual(found["ingredients"], 0.970 * 2)
        self.assertAlmostEqual(sum(line["cost"] for line in found["lines"]), found["ingredients"])
        self.assertAlmostEqual(found["batch"], 1.94 + 9 + 0.36)
        self.assertAlmostEqual(found["per_litre"] * found["litres"], found["batch"])
        self.assertAlmostEqual(found["kg"], 0.970 * 0.96, places=3)

    def test_a_scoop_with_a_price_and_a_tub_with_a_margin(self) -> None:
        scoop = {"name": "scoop", "ml": 65, "packaging": 0.1, "price": 3.2}
        scoop, tub = self.ask(vat_pct=20, sold=[scoop, {"name": "tub", "ml": 500, "margin_pct": 65}])["sold"]
        self.assertAlmostEqual(scoop["net"], 3.2 / 1.2)
        self.assertAlmostEqual(tub["net"], tub["cost"] / 0.35)
        self.assertAlmostEqual(tub["margin_pct"], 65)
        both = {"name": "x", "ml": 65, "price": 3, "margin_pct": 60}
        self.assertEqual(self.send("POST", "/cost-sheets", {"lines": LINES, "sold": [both]})[0], 422)

    def test_what_a_dearer_cream_and_more_air_would_do(self) -> None:
        found = self.ask(line=1, price_pct=50, other_overrun_pct=60)
        self.assertAlmostEqual(found["if_priced"]["change_per_litre"] * found["litres"], 0.110)
        self.assertLess(found["if_airy"]["change_per_litre"], 0)

    def test_without_a_price_there_is_no_sum_and_without_sight_of_prices_nothing(self) -> None:
        lines = [*LINES, {"ingredient": "honey", "typed": "20 g"}]
        found = self.send("POST", "/cost-sheets", {"lines": lines})[1]
        self.assertEqual((found["batch"], found["not_priced"]), (None, ["Honey"]))
        self.assertAlmostEqual(found["at_least"], 1.94)
        self.assertEqual(self.send("POST", "/cost-sheets", {"lines": []}), (200, None))
        self.send("PATCH", f"/people/{self.colleague.pk}", {"sees_prices": False})
        self.sign_in_as(self.colleague)
        self.assertEqual(self.send("POST", "/cost-sheets", {"lines": LINES}), (200, None))
