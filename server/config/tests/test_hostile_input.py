"""What nobody sends by mistake: numbers beyond numbers, bodies that are none, names of things that are not there."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from django.db import transaction

from testing.described import description
from testing.endpoint_case import BODIES, PLACE
from testing.kitchen_case import LINES, KitchenCase
from testing.thorough import sampled

MEASURELESS = ("NaN", "Infinity", "-Infinity", "1e999", "1" + 400 * "0")
NUMBERS = (*MEASURELESS, "1e-320", "1e300", "-1e300", "4294967296", "-1")


TEXTS = (
    "\x00",
    "a\x07b",
    "²",
    "٣٤",
    "9" * 30,
    "\ud800",
    "0001-01-01T00:00:00+14:00",
    "9999-12-31T23:59:59-12:00",
    "Antarctica/Nowhere",
)
"""Control characters, digits that are none here, more of them than a database counts, half a character, the first
and the last day of the calendar beyond their zone."""

PARTS = ("%00", "a%07b", "%C2%B2", "9" * 30, "%ED%A0%80", "%F0%9F%8D%A8")
"""Of addresses and queries: the same, as an address writes them."""


def places_of(
    schema: dict[str, Any], kinds: tuple[str, ...], seen: tuple[str, ...] = ()
) -> Iterator[tuple[str | int, ...]]:
    """Give the place of every value of some types that a schema describes, those of lists in their first item."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        if name not in seen:
            yield from places_of(description()["components"]["schemas"][name], kinds, (*seen, name))
    for kind in ("anyOf", "oneOf", "allOf"):
        for one in schema.get(kind, ()):
            yield from places_of(one, kinds, seen)
    if schema.get("type") in kinds and "enum" not in schema:
        yield ()
    for name, part in schema.get("properties", {}).items():
        yield from ((name, *place) for place in places_of(part, kinds, seen))
    if schema.get("type") == "array":
        yield from ((0, *place) for place in places_of(schema.get("items", {}), kinds, seen))


def put(body: Any, place: tuple[str | int, ...], value: Any) -> Any:
    """Return a body with a value at a place, whatever stood there or on the way to it before."""
    if not place:
        return value
    first, *rest = place
    if isinstance(first, int):
        return [put(body[0] if isinstance(body, list) and body else {}, tuple(rest), value)]
    body = body if isinstance(body, dict) else {}
    return {**body, first: put(body.get(first), tuple(rest), value)}


class ValuesTest(KitchenCase):
    """Every number and every text of every body, of addresses and of queries, as it should not be."""

    def test_no_number_breaks_anything(self) -> None:
        cases = [
            (method, path, place, number)
            for (method, path), (_, schema) in self.bodies().items()
            for place in sorted(set(places_of(schema, ("number", "integer"))), key=str)
            for number in NUMBERS
        ]
        for method, path, place, number in sampled(cases, 4):
            with self.subTest(method=method, path=path, place=place, number=number):
                body = put(BODIES[(method, path)], place, "NUMBER")
                status = self.answered(method, path, json.dumps(body).replace('"NUMBER"', number).encode())
                if number in MEASURELESS:
                    self.assertEqual(status, 400)
        self.assertGreater(len(cases), 500)

    def test_no_text_breaks_anything(self) -> None:
        cases = [
            (method, path, place, text)
            for (method, path), (_, schema) in self.bodies().items()
            for place in sorted(set(places_of(schema, ("string",))), key=str)
            for text in TEXTS
        ]
        for method, path, place, text in sampled(cases, 4):
            with self.subTest(method=method, path=path, place=place, text=text):
                self.answered(method, path, put(BODIES[(method, path)], place, text))
        self.assertGreater(len(cases), 500)

    def test_no_part_of_an_address_breaks_anything(self) -> None:
        cases = [
            (method, path.removeprefix(PLACE), parameter["name"], text)
            for path, item in description()["paths"].items()
            for method, operation in item.items()
            if method != "parameters" and path.startswith(PLACE)
            for parameter in operation.get("parameters", ())
            if parameter["in"] in ("path", "query")
            for text in PARTS
        ]
        for method, path, name, text in sampled(cases, 3):
            address = path.replace(f"{{{name}}}", text)
            address += f"?{name}={text}" if address == path else ""
            with self.subTest(method=method, address=address):
                body = BODIES.get((method.upper(), path))
                self.answered(method.upper(), address, None if callable(body) else body)
        self.assertGreater(len(cases), 300)

    def answered(self, method: str, path: str, body: Any) -> int:
        """Send a request and return its status, which is no error of ours; what it keeps breaks no page of a batch."""
        with transaction.atomic():
            with transaction.atomic():
                status, answer = self.send(method, self.filled(path), body)
            self.assertLess(status, 500, answer)
            if status < 300 and "batch" in path:
                for shows in (self.filled("/batches/{batch_id}/making"), "/batches", "/at-work"):
                    self.assertEqual(self.send("GET", shows)[0], 200, shows)
            transaction.set_rollback(True)
        return status

    def bodies(self) -> dict[tuple[str, str], tuple[Any, dict[str, Any]]]:
        """Return body and its schema by method and address, for all that take one as JSON."""
        found = {}
        for (method, path), body in BODIES.items():
            operation = description()["paths"].get(PLACE + path, {}).get(method.lower())
            content = (operation or {}).get("requestBody", {}).get("content", {}).get("application/json")
            if content is not None:
                found[(method, path)] = (body, content["schema"])
        return found

    def filled(self, path: str) -> str:
        for name, value in (
            ("mix_id", self.our_mix.pk), ("batch_id", self.our_batch.pk), ("machine_id", self.our_machine.pk),
            ("slug", "ours-syrup"),
        ):  # fmt: skip
            path = path.replace(f"{{{name}}}", str(value))
        return path


class BodiesTest(KitchenCase):
    """Bodies that are not what they say."""

    def test_a_form_without_a_boundary_cannot_be_read(self) -> None:
        for kind in ("multipart/form-data", "multipart/form-data; boundary=", "multipart/form-data; boundary=\xe9"):
            with self.subTest(kind=kind):
                response = self.client.post(f"{self.place}/ingredient-files", data=b"name,water", content_type=kind)
                self.assertEqual(response.status_code, 400)
                self.assertEqual(response.json()["type"], "/problems/unreadable-request")

    def test_a_form_of_a_thousand_fields_cannot_be_read(self) -> None:
        fields = "".join(f'--x\r\nContent-Disposition: form-data; name="f{n}"\r\n\r\n1\r\n' for n in range(2000))
        response = self.client.post(
            f"{self.place}/ingredient-files", data=fields + "--x--\r\n", content_type="multipart/form-data; boundary=x"
        )
        self.assertEqual(response.status_code, 400)

    def test_a_draft_goes_on_from_a_revision_that_is_there(self) -> None:
        for number in (99, 0, -1, 2**31, 2**63, 10**30):
            with self.subTest(number=number):
                draft = {"name": "Milk ice", "version": 2, "lines": LINES, "based_on": number}
                status, answer = self.send("PUT", f"/mixes/{self.our_mix.pk}", draft)
                self.assertEqual((status, answer["type"]), (422, "/problems/no-such-revision"))

    def test_a_recipe_whose_ingredients_are_no_list_holds_none(self) -> None:
        for ingredients in (7, {"a": 1}, True, None):
            text = json.dumps({"@type": "Recipe", "recipeIngredient": ingredients})
            with self.subTest(ingredients=ingredients):
                self.assertEqual(self.send("POST", "/recipe-readings", {"text": text})[0], 422)
