"""Another price and the mixes that it moves, a glut and where it can go, and who may see what things cost."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from testing.kitchen_case import LINES, KitchenCase

SUGAR_G, SYRUP_G = 160, 100


class PriceEffectsTest(KitchenCase):
    """Sugar stands in a mix itself, and in a syrup that another holds."""

    def setUp(self) -> None:
        super().setUp()
        for slug in {line["ingredient"] for line in LINES} | {"water"}:
            self.price(slug, 2.0)
        body = {"name": "With syrup", "lines": [*LINES[:4], {"ingredient": "ours-syrup", "typed": f"{SYRUP_G} g"}]}
        made = self.send("POST", "/mixes", {"name": "With syrup"})[1]
        self.send("PUT", f"/mixes/{made['id']}", {"version": made["version"], **body})

    def price(self, slug: str, price: float, supplier: str = "") -> Any:
        version = self.send("GET", f"/ingredients/{slug}")[1]["version"]
        changes = {"price": price, "pack_g": 1000, "supplier": supplier}
        return self.send("PATCH", f"/ingredients/{slug}", {"version": version, **changes})[1]

    def test_a_price_shows_every_mix_that_it_moves_also_through_a_preparation(self) -> None:
        found = self.send("GET", "/ingredients/sugar/price-effects?per_kg=4")[1]
        self.assertEqual((found["per_kg"], found["per_kg_then"]), (2.0, 4.0))
        self.assertEqual([mix["name"] for mix in found["mixes"]], ["ours milk ice", "With syrup"])
        direct, through = (mix["per_litre_then"] - mix["per_litre"] for mix in found["mixes"])
        self.assertAlmostEqual(direct / through, SUGAR_G / (SYRUP_G * 0.6), delta=0.15)

    def test_prices_stay_with_their_day_and_who_asked_them(self) -> None:
        self.price("sugar", 2.4, "Pantry on the Quay")
        self.price("sugar", 2.6)
        found = self.send("GET", "/ingredients/sugar/prices")[1]
        self.assertEqual(
            [(one["price"], one["supplier"]) for one in found], [(2.6, ""), (2.4, "Pantry on the Quay"), (2.0, "")]
        )

    def test_who_may_not_see_prices_sees_none_anywhere(self) -> None:
        lines = {"lines": LINES}
        self.assertIsNotNone(self.send("POST", "/analyses", lines)[1]["cost"])
        self.send("PATCH", f"/people/{self.colleague.pk}", {"sees_prices": False})
        self.sign_in_as(self.colleague)
        self.assertIsNone(self.send("POST", "/analyses", lines)[1]["cost"])
        self.assertIsNone(self.send("GET", f"/batches/{self.our_batch.pk}")[1]["cost"])
        self.assertEqual(self.send("GET", "/ingredients/sugar/prices")[1], [])
        self.assertEqual(self.send("GET", "/ingredients/sugar/price-effects?per_kg=9")[1]["mixes"], [])
        body = {"name": "x", "lines": [{"ingredient": "sugar", "typed": "10"}]}
        self.assertIsNone(self.send("POST", "/preparations/preview", body)[1]["cost"])
        for path in ("/ingredients/sugar", "/ingredients?find=sugar", "/ingredients.json", "/typed-lines?text=sugar"):
            with self.subTest(path=path):
                self.assertEqual(prices_in(self.send("GET", path)[1]), {None})
        exported = csv.DictReader(io.StringIO(self.client.get(self.place + "/ingredients.csv").content.decode()))
        self.assertEqual({row["price"] for row in exported}, {""})

    def test_a_preparation_changed_by_who_sees_no_prices_keeps_its_own(self) -> None:
        self.send("PATCH", f"/people/{self.colleague.pk}", {"sees_prices": False})
        self.sign_in_as(self.colleague)
        body = {"name": "Ours syrup", "lines": [{"ingredient": "sugar", "typed": "500"}], "version": 2}
        version = self.send("GET", "/ingredients/ours-syrup")[1]["version"]
        self.assertEqual(self.send("PUT", "/preparations/ours-syrup", {**body, "version": version})[0], 200)
        self.sign_in_as(self.ours)
        self.assertAlmostEqual(self.send("GET", "/ingredients/ours-syrup")[1]["price"], 1.0)


def prices_in(answer: Any) -> set[float | None]:
    """Return every price that is said anywhere in an answer."""
    text = answer if isinstance(answer, str) else json.dumps(answer)
    found: set[float | None] = set()

    def collect(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        found.update(value for key, value in pairs if key in ("price", "price_per_kg", "cost"))
        return dict(pairs)

    json.loads(text, object_pairs_hook=collect)
    return found


class GlutTest(KitchenCase):
    """Six kilos of milk."""

    def ask(self, **more: Any) -> Any:
        return self.send("POST", "/gluts", {"ingredient": "whole-milk", "grams": 6000, **more})[1]

    def test_all_of_it_goes_into_what_the_kitchen_makes_of_it(self) -> None:
        body = {
            "name": "Milk, cooked down",
            "lines": [{"ingredient": "whole-milk", "typed": "1 kg"}],
            "steps": [{"kind": "reduce", "measured_g": 400}],
            "keeps_days": 20,
        }
        self.send("POST", "/preparations", body)
        found = self.ask()
        self.assertEqual({use["kind"] for use in found["uses"]}, {"churned", "frozen base", "put up"})
        self.assertAlmostEqual(found["left_g"], 0)
        up = next(use for use in found["uses"] if use["kind"] == "put up")
        self.assertAlmostEqual(up["makes_g"], 0.4 * up["grams"])
        self.assertEqual(up["keeps_days"], 20)

    def test_a_split_of_ones_own_says_what_comes_of_it_and_what_is_left(self) -> None:
        key = self.ask()["uses"][0]["key"]
        found = self.ask(shares=[{"key": key, "grams": 5500}])
        self.assertAlmostEqual(found["left_g"], 500)
        self.assertAlmostEqual(found["uses"][0]["makes_g"], 5500 * 970 / 550)
        self.assertEqual(self.send("POST", "/gluts", {"ingredient": "moon", "grams": 5})[0], 404)


class PackTest(KitchenCase):
    """Traces that only a pack can tell."""

    def test_a_label_waits_until_somebody_has_read_the_pack(self) -> None:
        lines = {"lines": [*LINES, {"ingredient": "dark-chocolate-70", "typed": "50 g"}]}
        unread = self.send("POST", "/label-drafts", lines)[1]["unread"]
        self.assertEqual([one["slug"] for one in unread], ["dark-chocolate-70"])
        self.assertEqual(self.send("PUT", "/ingredients/dark-chocolate-70/pack-reading")[1]["pack_read_by"], "ours")
        self.assertEqual(self.send("POST", "/label-drafts", lines)[1]["unread"], [])
        version = self.send("GET", "/ingredients/dark-chocolate-70")[1]["version"]
        self.send("PATCH", "/ingredients/dark-chocolate-70", {"version": version, "may_hold": ["sesame"]})
        self.assertEqual(self.send("POST", "/label-drafts", lines)[1]["unread"][0]["may_hold"], ["sesame"])
