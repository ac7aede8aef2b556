"""Prices are planted wherever there are any: nobody finds one who may not see them, by any address, file or job."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator
from datetime import date
from typing import Any, Final

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection

from config.api import PREFIX, api
from ingredients.models import Ingredient, Price
from kitchens.models import Person
from stock.models import Lot
from testing.endpoint_case import PLACE, EndpointCase, body_of, endpoints
from testing.kitchen_case import LINES

PLANTED: Final = 7311.0
MONEY: Final = re.compile(
    r"price(_per_kg)?|cost|per_litre(_then)?|per_kg_then|packaging|profit|margin_pct|net|labour|energy|change_per_litre|at_least"
)
"""What a sum of money is called in an answer; its types tell it from what is called so and is none."""

SEARCHES: Final = ("/solutions", "/readiness", "/remedies", "/mishaps")
"""What looks for a plan for seconds; its answers hold no sums, which the description says."""


def sums(answer: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Return the numbers of an answer that are called like money, by where they stand."""
    if isinstance(answer, dict):
        for key, value in answer.items():
            if MONEY.fullmatch(key) and isinstance(value, (int, float)) and not isinstance(value, bool):
                yield f"{path}/{key}", value
            yield from sums(value, f"{path}/{key}")
    elif isinstance(answer, list):
        for at, value in enumerate(answer):
            yield from sums(value, f"{path}/{at}")


class PricesTest(EndpointCase):
    """A colleague works in a kitchen whose prices only others see."""

    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        Person.objects.filter(pk=cls.colleague.pk).update(sees_prices=False)
        with connection.cursor() as cursor:
            cursor.execute(
                "UPDATE ingredients_ingredient SET price = %s, facts = jsonb_set(facts, '{pack_g}', '1000')"
                " WHERE kitchen_id = %s", [PLANTED, cls.ours.kitchen_id],
            )  # fmt: skip
        Price.objects.create(
            kitchen=cls.ours.kitchen, ingredient=Ingredient.objects.of(cls.ours.kitchen).get(slug="whole-milk"),
            price=PLANTED, pack_g=1000, since=date(2026, 1, 5), noted_by=cls.ours,
        )  # fmt: skip
        Lot.objects.of(cls.ours.kitchen).update(price=PLANTED)

    def answers(self, person: Person) -> Iterator[tuple[str, Any]]:
        """Ask every endpoint that reads or works something out, and what makes a lot, a mix or a batch."""
        self.sign_in_as(person)
        for method, path in endpoints():
            if path.startswith(PLACE) and method in ("GET", "POST") and not path.endswith(SEARCHES):
                status, answer = self.send(method, self.filled(path), body_of(method, path))
                self.assertIn(status, (200, 201, 202, 204, 404, 422), path)
                yield f"{method} {path}", answer
        for slug in ("whole-milk", "ours-syrup"):
            for rest in ("", "/prices", "/price-effects?per_kg=9"):
                yield f"GET {slug}{rest}", self.send("GET", f"/ingredients/{slug}{rest}")[1]
        yield "GET mix file with prices", self.send("GET", f"/mixes/{self.our_mix.pk}/file?prices=true")[1]

    def test_who_may_see_them_does_and_nobody_else(self) -> None:
        seen = {}
        for person in (self.ours, self.colleague):
            with self.assertNoLogs("django.request", "ERROR"):
                seen[person.name] = [
                    (where, path) for where, answer in self.answers(person) for path in self.found(answer)
                ]
        self.assertEqual(seen["colleague"], [])
        self.assertGreater(len({where for where, _ in seen["ours"]}), 12)

    def found(self, answer: Any) -> list[str]:
        """Return where an answer gives money away: as a sum, or as the planted digits in any text."""
        written = answer if isinstance(answer, str) else json.dumps(answer)
        return [path for path, _ in sums(answer)] + (["text"] if "7311" in written else [])

    def test_every_sum_in_the_description_hides_itself(self) -> None:
        schemas = api.get_openapi_schema(path_prefix=PREFIX)["components"]["schemas"]
        numbers = {
            (name, key)
            for name, schema in schemas.items()
            for key, field in schema.get("properties", {}).items()
            if MONEY.fullmatch(key) and field.get("type") in ("number", "integer")
        }
        self.assertEqual(numbers, {("SoldIn", "packaging")}, "what is asked, and not answered")

    def test_a_price_is_not_read_from_what_a_job_comes_to(self) -> None:
        question = {"lines": LINES, "targets": [{"of": "cost_per_kg", "max": 1}], "sure": True}
        said = {}
        for person in (self.ours, self.colleague):
            self.sign_in_as(person)
            _, job = self.send("POST", "/proposals", question)
            said[person.name] = json.dumps(job)
        self.assertNotIn("has no price", said["ours"])
        self.assertIn("has no price", said["colleague"])

    def test_what_was_answered_before_shows_none_after_the_right_is_gone(self) -> None:
        lot = {"ingredient": "whole-milk", "typed": "1 l", "price": PLANTED}
        _, job = self.send("POST", "/proposals", {"lines": LINES, "job": "cheaper", "sure": True})
        before, after = (self.keyed(lot, sees_prices) for sees_prices in (True, False))
        self.assertEqual((before["price"], after["price"]), (PLANTED, None))
        self.assertEqual(before["id"], after["id"])
        self.assertEqual(self.send("GET", f"/proposals/{job['id']}")[0], 404)

    def keyed(self, lot: dict[str, Any], sees_prices: bool) -> Any:
        """Take the same lot in by the same key, as somebody who may see prices or may not."""
        Person.objects.filter(pk=self.ours.pk).update(sees_prices=sees_prices)
        headers = {"Idempotency-Key": "the-same-key"}
        return self.client.post(f"{self.place}/lots", lot, content_type="application/json", headers=headers).json()

    def test_a_file_of_who_may_not_see_them_leaves_prices_alone_and_tells_nothing_of_them(self) -> None:
        self.sign_in_as(self.colleague)
        sheet = self.client.get(f"{self.place}/ingredients.csv").content
        self.assertNotIn(b"7311", sheet)
        for price in ("", "7311", "4"):
            with self.subTest(price=price):
                file = SimpleUploadedFile("goods.csv", self.repriced(sheet.decode("utf-8-sig"), price))
                status, found = self.send("POST", "/ingredient-files?apply=true", file)
                self.assertEqual((status, found), (200, {**found, "changed": 0, "same": 1, "wrong": 0}))
        self.assertEqual(Ingredient.objects.of(self.ours.kitchen).get(slug="whole-milk").price, PLANTED)

    def repriced(self, sheet: str, price: str) -> bytes:
        """Return the row of milk in a sheet of the shelf, with another price."""
        rows = list(csv.DictReader(io.StringIO(sheet)))
        (milk,) = [row for row in rows if row["slug"] == "whole-milk"]
        out = io.StringIO()
        writer = csv.DictWriter(out, list(milk))
        writer.writeheader()
        writer.writerow({**milk, "price": price})
        return out.getvalue().encode()

    def test_a_price_is_changed_by_those_alone_who_see_it(self) -> None:
        self.sign_in_as(self.colleague)
        status, problem = self.send("PATCH", "/ingredients/whole-milk", {"version": 1, "price": 3})
        self.assertEqual((status, problem["detail"]), (422, "Only those who see prices may change them."))

    def test_somebody_new_sees_no_more_than_who_added_them(self) -> None:
        for person, sees in ((self.ours, True), (self.colleague, False)):
            self.sign_in_as(person)
            _, made = self.send("POST", "/people", {"name": f"let in by {person.name}"})
            self.assertEqual(made["sees_prices"], sees)
