"""Lots: taken in, counted, used, corrected; what must go first; delivery lists; prices only where they may be seen."""

from __future__ import annotations

import io
from datetime import timedelta
from typing import Any

import openpyxl
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, transaction
from django.utils import timezone

from stock.models import Movement
from testing.kitchen_case import KitchenCase


def in_days(number: int) -> str:
    return (timezone.localdate() + timedelta(days=number)).isoformat()


class LotCase(KitchenCase):
    """Two lots of cream are in the house, the one that came later must go first."""

    def setUp(self) -> None:
        super().setUp()
        self.late = self.receive("1 l", use_by=in_days(9), code="R 2", supplier="Lockside Dairy", price=9.4)
        self.soon = self.receive("500 g", use_by=in_days(2), code="R 1")

    def receive(self, typed: str, **facts: Any) -> dict[str, Any]:
        status, lot = self.send("POST", "/lots", {"ingredient": "cream-36", "typed": typed, **facts})
        self.assertEqual(status, 201, lot)
        return dict(lot)

    def grams(self, lot: dict[str, Any]) -> float:
        return float(self.send("GET", f"/lots/{lot['id']}")[1]["grams"])

    def move(self, lot: dict[str, Any], kind: str, typed: str, why: str = "") -> tuple[int, Any]:
        return self.send("POST", f"/lots/{lot['id']}/movements", {"kind": kind, "typed": typed, "why": why})

    def suggest(self, grams: float) -> Any:
        return self.send("GET", f"/lot-suggestions?ingredient=cream-36&grams={grams}")[1]


class LotTest(LotCase):
    """One lot after the other."""

    def test_what_must_go_first_stands_on_top_and_is_suggested_first(self) -> None:
        listed = self.send("GET", "/lots")[1]["items"]
        self.assertEqual([one["code"] for one in listed], ["R 1", "R 2", ""])
        self.assertEqual((listed[0]["grams"], listed[0]["days_left"], listed[0]["blocked"]), (500, 2, False))
        found = self.suggest(800)
        self.assertEqual(
            [(one["lot"], one["grams"]) for one in found["shares"]], [(self.soon["id"], 500), (self.late["id"], 300)]
        )
        self.assertAlmostEqual(self.suggest(5000)["short_g"], 5000 - 500 - self.late["grams"], places=6)

    def test_opening_shortens_what_is_left(self) -> None:
        self.assertEqual(self.late["good_until"], in_days(9))
        _, opened = self.send("PATCH", f"/lots/{self.late['id']}", {"version": 1, "opened_on": in_days(0)})
        self.assertLess(opened["good_until"], in_days(9))
        self.assertEqual(self.send("PATCH", f"/lots/{self.late['id']}", {"version": 1, "note": "x"})[0], 412)

    def test_past_use_by_is_blocked_and_past_best_before_asks(self) -> None:
        old = self.receive("200 g", use_by=in_days(-1), came_on=in_days(-9))
        self.assertTrue(old["blocked"])
        dry = self.receive("200 g", best_before=in_days(-1), came_on=in_days(-9))
        self.assertEqual((dry["blocked"], dry["asks"]), (False, True))
        body = {"lines": [{"line": 1, "shares": [{"lot": old["id"], "grams": 50}]}]}
        status, answer = self.send("POST", f"/batches/{self.our_batch.pk}/lots", body)
        self.assertEqual(status, 422)
        self.assertIn("past its day", answer["detail"])

    def test_a_count_is_what_there_is_and_a_correction_names_what_it_corrects(self) -> None:
        _, counted = self.move(self.soon, "counted", "470 g")
        self.assertEqual(counted["grams"], 470)
        wrong = counted["movements"][-1]
        self.assertEqual((wrong["grams"], wrong["counted_g"]), (-30, 470))
        self.move(self.soon, "wasted", "20 g", "spilled")
        path = f"/movements/{wrong['id']}/corrections"
        _, mended = self.send("POST", path, {"typed": "490 g", "why": "the lid was on the scale"})
        self.assertEqual(mended["grams"], 470)
        self.assertEqual(mended["movements"][-1]["corrects"], wrong["id"])
        self.assertEqual(self.send("POST", path, {"typed": "500 g", "why": "once more"})[1]["grams"], 480)
        of_that = f"/movements/{mended['movements'][-1]['id']}/corrections"
        self.assertEqual(self.send("POST", of_that, {"typed": "1 g", "why": "x"})[0], 422)

    def test_what_was_received_or_used_wrongly_is_set_right_too(self) -> None:
        came = self.soon["movements"][0]["id"]
        self.assertEqual(self.send("POST", f"/movements/{came}/corrections", {"typed": "5 g", "why": "typo"})[0], 201)
        self.assertEqual(self.grams(self.soon), 5)
        self.assertEqual(self.move(self.soon, "wasted", "4 g")[0], 201)
        answer = self.send("POST", f"/movements/{came}/corrections", {"typed": "2 g", "why": "typo"})
        self.assertEqual(answer[0], 422)
        self.assertIn("less than nothing", answer[1]["detail"])

    def test_what_was_counted_later_stays_when_something_before_it_is_set_right(self) -> None:
        came = self.soon["movements"][0]["id"]
        first = self.move(self.soon, "counted", "470 g")[1]["movements"][-1]["id"]
        self.move(self.soon, "wasted", "20 g")
        self.move(self.soon, "counted", "440 g")
        self.send("POST", f"/movements/{came}/corrections", {"typed": "300 g", "why": "typo"})
        self.assertEqual(self.grams(self.soon), 440)
        self.send("POST", f"/movements/{first}/corrections", {"typed": "460 g", "why": "misread"})
        self.assertEqual(self.grams(self.soon), 440)
        gaps = Movement.objects.of(self.ours.kitchen).filter(lot=self.soon["id"], kind="counted")
        self.assertAlmostEqual(sum(gaps.values_list("grams", flat=True)), 440 + 20 - 300)

    def test_nothing_noted_is_ever_changed(self) -> None:
        movement = Movement.objects.of(self.ours.kitchen).latest("pk")
        movement.grams = 1
        self.assertRaises(TypeError, movement.save)
        with self.assertRaisesMessage(DatabaseError, "record"), transaction.atomic():
            Movement.objects.of(self.ours.kitchen).update(grams=1)

    def test_more_than_there_is_is_refused_by_name(self) -> None:
        status, answer = self.move(self.soon, "wasted", "501 g")
        self.assertEqual(status, 422)
        self.assertEqual(
            answer["detail"],
            "There are 500 g of this lot of Cream 36 %, not 501 g. Count it, or take the rest from another lot.",
        )
        self.assertEqual(self.move(self.soon, "wasted", "half of it")[0], 422)
        self.assertEqual(self.grams(self.soon), 500)

    def test_a_preparation_takes_what_it_is_made_of(self) -> None:
        shares = [{"lot": self.soon["id"], "grams": 120}]
        body = {"ingredient": "ours-syrup", "typed": "400 g", "made_of": shares}
        _, syrup = self.send("POST", "/lots", body)
        self.assertEqual(self.grams(self.soon), 380)
        self.assertIsNotNone(syrup["good_until"])
        _, trace = self.send("GET", f"/lots/{self.soon['id']}/trace")
        self.assertEqual([lot["id"] for lot in trace["lots"]], [syrup["id"]])
        shares[0]["grams"] = 900
        self.assertEqual(self.send("POST", "/lots", body)[0], 422)
        self.assertEqual(len(self.send("GET", "/lots?ingredient=ours-syrup")[1]["items"]), 2)

    def test_what_was_thawed_has_a_clock(self) -> None:
        _, thawed = self.send("PATCH", f"/lots/{self.late['id']}", {"version": 1, "thawed": True})
        self.assertEqual(thawed["good_until"], in_days(1))
        _, back = self.send("PATCH", f"/lots/{self.late['id']}", {"version": 2, "thawed": False})
        self.assertIsNone(back["thawed_at"])

    def test_prices_are_for_those_who_may_see_them(self) -> None:
        self.assertEqual(self.send("GET", f"/lots/{self.late['id']}")[1]["price"], 9.4)
        path = f"/people/{self.colleague.pk}"
        self.assertEqual(self.send("PATCH", path, {"sees_prices": False})[1]["sees_prices"], False)
        self.sign_in_as(self.colleague)
        self.assertIsNone(self.send("GET", f"/lots/{self.late['id']}")[1]["price"])
        self.assertEqual(self.send("PATCH", path, {"sees_prices": True})[0], 422)


LIST = """Ingredient;Amount;Supplier;Lot;Use by;Price;°C
Cream 36 %;2 l;Lockside Dairy;R 0431;{day};9,40 €;3,5
whole milk;5 l;Lockside Dairy;M 12;{day};6,10;4
"""


class DeliveryTest(LotCase):
    """Delivery lists."""

    def deliver(self, data: bytes, query: str = "") -> tuple[int, Any]:
        return self.send("POST", f"/deliveries{query}", SimpleUploadedFile("list.csv", data))

    def test_a_list_is_shown_first_and_taken_in_then(self) -> None:
        data = LIST.format(day=in_days(7)).encode()
        _, shown = self.deliver(data)
        self.assertEqual(
            [(row["name"], row["price"], row["error"]) for row in shown["rows"]],
            [("Cream 36 %", 9.4, None), ("Whole milk 3.5 %", 6.1, None)],
        )
        self.assertEqual(self.send("GET", "/lots?ingredient=whole-milk")[1]["total"], 0)
        self.assertTrue(self.deliver(data, "?apply=true")[1]["done"])
        milk = self.send("GET", "/lots?ingredient=whole-milk")[1]["items"][0]
        self.assertEqual((milk["code"], milk["use_by"], milk["arrived_c"]), ("M 12", in_days(7), 4))

    def test_a_workbook_is_read_with_its_own_dates(self) -> None:
        book = openpyxl.Workbook()
        sheet = book.worksheets[0]
        sheet.append(["name", "quantity", "unit", "lot", "best before"])
        sheet.append(["Sugar", 10, "kg", 4711, timezone.localdate() + timedelta(days=300)])
        held = io.BytesIO()
        book.save(held)
        self.assertTrue(self.deliver(held.getvalue(), "?apply=true")[1]["done"])
        sugar = self.send("GET", "/lots?ingredient=sugar")[1]["items"][0]
        self.assertEqual((sugar["grams"], sugar["code"], sugar["best_before"]), (10_000, "4711", in_days(300)))

    def test_a_wrong_row_is_named_and_nothing_is_taken_in(self) -> None:
        data = LIST.format(day="next week").encode() + b"Moon dust;1 kg;;;;;\nsugar;much;;;;;\n"
        _, shown = self.deliver(data)
        self.assertEqual(shown["wrong"], 4)
        self.assertIn("2026-12-03", shown["rows"][0]["error"])
        self.assertIn("“Moon dust” is not on the shelf", shown["rows"][2]["error"])
        self.assertEqual(self.deliver(data, "?apply=true")[0], 422)
        self.assertEqual(self.send("GET", "/lots?ingredient=whole-milk")[1]["total"], 0)

    def test_what_is_no_list_is_refused(self) -> None:
        for data in (b"", b"PK\x03\x04 no archive", b"a,b\n1,2\n", b"amount,amount,name\n1,2,3\n", b"\x00\x01"):
            with self.subTest(data=data):
                self.assertEqual(self.deliver(data)[0], 422)
