"""What nobody sends by mistake: numbers beyond numbers, bodies that are none, names of things that are not there."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from config.tests.test_permissions import BODIES, PLACE
from testing.described import description
from testing.kitchen_case import LINES, KitchenCase

MEASURELESS = ("NaN", "Infinity", "-Infinity", "1e999", "1" + 400 * "0")
NUMBERS = (*MEASURELESS, "1e-320", "1e300", "-1e300", "4294967296", "-1")


def numbers_of(schema: dict[str, Any], seen: tuple[str, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    """Give the place of every number that a schema describes, those of lists in their first item."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        if name not in seen:
            yield from numbers_of(description()["components"]["schemas"][name], (*seen, name))
    for kind in ("anyOf", "oneOf", "allOf"):
        for one in schema.get(kind, ()):
            yield from numbers_of(one, seen)
    if schema.get("type") in ("number", "integer"):
        yield ()
    for name, part in schema.get("properties", {}).items():
        yield from ((name, *place) for place in numbers_of(part, seen))
    if schema.get("type") == "array":
        yield from ((0, *place) for place in numbers_of(schema.get("items", {}), seen))


def put(body: Any, place: tuple[str | int, ...], value: Any) -> Any:
    """Return a body with a value at a place, whatever stood there or on the way to it before."""
    if not place:
        return value
    first, *rest = place
    if isinstance(first, int):
        return [put(body[0] if isinstance(body, list) and body else {}, tuple(rest), value)]
    body = body if isinstance(body, dict) else {}
    return {**body, first: put(body.get(first), tuple(rest), value)}


class NumbersTest(KitchenCase):
    """Every number of every body, as it should not be."""

    def test_no_number_breaks_anything(self) -> None:
        tried = 0
        for (method, path), body in BODIES.items():
            operation = description()["paths"].get(PLACE + path, {}).get(method.lower())
            content = (operation or {}).get("requestBody", {}).get("content", {}).get("application/json")
            if content is None:
                continue
            for place in set(numbers_of(content["schema"])):
                for number in NUMBERS:
                    with self.subTest(method=method, path=path, place=place, number=number):
                        tried += 1
                        sent = json.dumps(put(body, place, "NUMBER")).replace('"NUMBER"', number)
                        status, answer = self.send(method, self.filled(path), sent.encode())
                        self.assertLess(status, 500, answer)
                        if number in MEASURELESS:
                            self.assertEqual(status, 400)
        self.assertGreater(tried, 500)

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
