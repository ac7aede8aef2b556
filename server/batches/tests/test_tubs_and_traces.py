"""Lots of a batch, its tubs, and both ways through preparations and bases that were put aside."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.utils import timezone

from batches.models import Batch
from batches.record import begin_batch
from stock.tests.test_lots import LotCase, in_days
from testing.kitchen_case import KitchenCase

CREAM, CREAM_LATER, SKIM = 1, 2, 3


class BatchLotsTest(LotCase):
    """Cream of two lots goes into a batch."""

    def lots(self, batch: Batch | None = None) -> Any:
        return self.send("GET", f"/batches/{(batch or self.our_batch).pk}/lots")[1]["lines"]

    def take(self, line: int, *shares: tuple[int, float], batch: Batch | None = None) -> tuple[int, Any]:
        taken = [{"lot": lot, "grams": grams} for lot, grams in shares]
        path = f"/batches/{(batch or self.our_batch).pk}/lots"
        return self.send("POST", path, {"lines": [{"line": line, "shares": taken}]})

    def test_two_lines_of_one_ingredient_share_its_lots(self) -> None:
        self.move(self.soon, "counted", "150 g")
        first, second = self.lots()[CREAM], self.lots()[CREAM_LATER]
        self.assertEqual([share["grams"] for share in first["suggestion"]["shares"]], [110, 0])
        self.assertEqual(
            [(share["lot"], share["grams"]) for share in second["suggestion"]["shares"]],
            [(self.soon["id"], 40), (self.late["id"], 70)],
        )

    def test_what_is_taken_leaves_the_lot_and_what_is_unknown_is_a_gap(self) -> None:
        self.assertEqual(self.take(CREAM, (self.soon["id"], 100))[0], 201)
        self.assertEqual(self.grams(self.soon), 400)
        line = self.lots()[CREAM]
        self.assertEqual((line["used"][0]["code"], line["used"][0]["grams"], line["gap_g"]), ("R 1", 100, 10))
        self.assertEqual(self.lots()[SKIM]["suggestion"], {"shares": [], "short_g": 40.0})

    def test_a_lot_of_something_else_is_refused(self) -> None:
        self.assertEqual(self.take(SKIM, (self.soon["id"], 10))[0], 422)
        self.assertEqual(self.take(99, (self.soon["id"], 10))[0], 422)
        self.assertEqual(self.take(CREAM, (self.their_lot.pk, 10))[0], 404)
        self.assertEqual(self.grams(self.soon), 500)

    def test_a_lot_that_came_later_cannot_be_in_a_batch(self) -> None:
        earlier = begin_batch(self.ours, self.our_mix.pk, timezone.now() - timedelta(days=3))
        self.assertEqual(self.lots(earlier)[CREAM]["suggestion"]["shares"], [])
        status, answer = self.take(CREAM, (self.soon["id"], 10), batch=earlier)
        self.assertEqual(status, 422)
        self.assertIn("cannot be in it", answer["detail"])

    def test_a_lot_is_traced_through_a_base_into_tubs_and_back(self) -> None:
        self.take(CREAM, (self.soon["id"], 110))
        path = f"/batches/{self.our_batch.pk}"
        aside = {"typed": "600 g", "frozen": True, "best_before": in_days(30)}
        status, base = self.send("POST", f"{path}/bases", aside)
        self.assertEqual((status, base["name"], base["batch"]), (201, "ours milk ice, base", self.our_batch.number))
        second = begin_batch(self.ours, self.our_mix.pk)
        self.take(CREAM, (base["id"], 600), batch=second)
        self.send("POST", f"/batches/{second.pk}/tubs", {"ml": 500, "count": 2})
        tub = self.send("GET", f"/batches/{second.pk}/tubs")[1][1]
        sold = {"kind": "sold", "to": "Café at the weir"}
        self.assertEqual(self.send("POST", f"/tubs/{tub['id']}/events", sold)[1]["state"], "sold")
        _, forward = self.send("GET", f"/lots/{self.soon['id']}/trace")
        self.assertEqual([batch["id"] for batch in forward["batches"]], [self.our_batch.pk, second.pk])
        self.assertEqual([lot["id"] for lot in forward["lots"]], [base["id"]])
        self.assertIn(
            (tub["code"], "sold", "Café at the weir"),
            [(one["code"], one["state"], one["to"]) for one in forward["tubs"]],
        )
        self.assertTrue(forward["balance"]["agrees"])
        _, back = self.send("GET", f"/tubs/{tub['id']}/origins")
        self.assertEqual({lot["id"]: lot["grams"] for lot in back["lots"]}, {base["id"]: 600, self.soon["id"]: 110})
        self.assertEqual([batch["id"] for batch in back["batches"]], [self.our_batch.pk])
        self.assertIn("Whole milk 3.5 %", back["unknown"])

    def test_a_count_that_finds_less_shows_as_the_gap(self) -> None:
        self.move(self.soon, "counted", "400 g")
        balance = self.send("GET", f"/lots/{self.soon['id']}/trace")[1]["balance"]
        self.assertEqual((balance["in_g"], balance["gap_g"], balance["agrees"]), (500, 100, False))


class TubTest(KitchenCase):
    """Tubs and what happens to them."""

    def tubs(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.send("GET", f"/batches/{self.our_batch.pk}/tubs")[1]
        return found

    def happen(self, kind: str, **facts: Any) -> tuple[int, Any]:
        return self.send("POST", f"/tubs/{self.our_tub.pk}/events", {"kind": kind, **facts})

    def test_tubs_have_codes_that_people_can_say(self) -> None:
        path = f"/batches/{self.our_batch.pk}/tubs"
        body = {"ml": 500, "count": 2, "place": self.our_place.pk, "best_before": in_days(90)}
        status, packed = self.send("POST", path, body)
        begun = self.our_batch.begun_at
        self.assertEqual((status, [tub["code"][-5:] for tub in packed]), (201, ["-1-01", "-1-02", "-1-03"]))
        self.assertEqual(packed[1]["code"], f"L{begun:%y%j}-1-02")
        self.assertEqual((packed[1]["said"], packed[1]["place"]), ("batch 1, tub 2", "Chest"))
        self.assertAlmostEqual(packed[1]["grams"], 500 * 0.83, delta=25)
        second = begin_batch(self.ours, self.our_mix.pk)
        _, other = self.send("POST", f"/batches/{second.pk}/tubs", {"ml": 100})
        self.assertEqual(other[0]["code"], f"L{begun:%y%j}-2-01")
        self.assertEqual(self.send("GET", "/tubs?code=-2-")[1]["total"], 1)
        self.assertEqual(self.send("POST", path, {"ml": 500, "count": 60})[0], 201)
        self.assertEqual(self.send("POST", path, {"ml": 500, "count": 60})[0], 422)

    def test_what_happened_to_a_tub_stays_with_it(self) -> None:
        self.assertEqual(self.happen("moved")[0], 422)
        self.assertEqual(self.happen("moved", place=self.our_place.pk)[1]["place"], "Chest")
        self.assertEqual(self.happen("moved", place=self.their_place.pk)[0], 404)
        self.assertEqual(self.happen("sold")[0], 422)
        self.assertEqual(self.happen("opened")[1]["state"], "opened")
        self.assertEqual(self.happen("destroyed", why="thawed on the way")[1]["state"], "destroyed")
        self.assertEqual(self.happen("opened")[0], 422)
        events = self.send("GET", f"/tubs?gone=true&code={self.our_tub.code}")[1]["items"][0]["events"]
        self.assertEqual([one["kind"] for one in events], ["packed", "moved", "opened", "destroyed"])
        self.assertEqual(self.send("GET", "/tubs")[1]["total"], 0)
