"""Mix files out of one kitchen and into another."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import jsonschema
from django.core.files.uploadedfile import SimpleUploadedFile

from demo.kitchen import make_demo
from ingredients.models import Ingredient
from jalebi_core.formats.cost_file import cost_report
from jalebi_core.formats.mix_file import read_mix_file
from kitchens.models import Person
from mixes.models import Mix
from testing.kitchen_case import KitchenCase

SCHEMA = json.loads((Path(__file__).parents[3] / "docs" / "mix.schema.json").read_text(encoding="utf-8"))
SYRUP: dict[str, Any] = {"name": "Tea syrup", "per_100g": {"water": 35, "sucrose": 65}}
HANDLED = [
    {"ingredient": "egg-yolk", "typed": "4", "unit": "yolk", "whole": "yolk", "step_g": 5, "pinned": True},
    {"ingredient": "sugar", "typed": "½ cup", "least_g": 80, "most_g": 120, "step_g": 2.5, "note": "the fine one"},
    {"ingredient": "whole-milk", "typed": "480", "stage": "pot"},
    {"ingredient": "salt", "typed": "0.2 %"},
]


class MixFilesTest(KitchenCase):
    """What goes out comes in again, in this kitchen or another."""

    def url(self, rest: str = "") -> str:
        return f"/mixes/{self.our_mix.pk}{rest}"

    def written(self, how: str = "") -> dict[str, Any]:
        answer: dict[str, Any] = json.loads(self.client.get(self.place + self.url(f"/file{how}")).content)
        return answer

    def bring(self, content: Any, name: str = "mix.jalebi.json") -> tuple[int, Any]:
        data = content if isinstance(content, bytes) else json.dumps(content).encode()
        return self.send("POST", "/mixes/files", SimpleUploadedFile(name, data))

    def lines_of(self, made: dict[str, Any]) -> list[dict[str, Any]]:
        lines: list[dict[str, Any]] = self.send("GET", f"/mixes/{made['id']}")[1]["lines"]
        return lines

    def test_what_is_wanted_of_lines_and_noted_of_the_mix_travels(self) -> None:
        body = self.draft(lines=HANDLED, restrictions=["without:guar-gum"], aims={"fat": [8, 12]})
        self.assertEqual(self.send("PUT", self.url(), body)[0], 200)
        self.send("PATCH", self.url(), {"tags": ["Tea", "summer"]})
        Mix.objects.of_all_kitchens().filter(pk=self.our_mix.pk).update(
            method=[{"stage": "pot", "text": "Warm the milk."}]
        )
        written = self.written()
        jsonschema.validate(written, SCHEMA)
        self.sign_in_as(self.theirs)
        status, made = self.bring(written)
        self.assertEqual(status, 201)
        self.assertEqual((made["restrictions"], made["aims"]), (["without:guar-gum"], {"fat": [8.0, 12.0]}))
        self.assertEqual(made["method"], [{"stage": "pot", "text": "Warm the milk."}])
        mix = Mix.objects.of(self.theirs.kitchen).get(pk=made["id"])
        self.assertEqual(mix.tags, ["summer", "tea"])
        yolks, sugar, milk, salt = self.lines_of(made)
        self.assertEqual(
            (yolks["typed"], yolks["grams"], yolks["whole"], yolks["pinned"]), ("4 yolk", 68, "yolk", True)
        )
        self.assertIsNone(yolks["step_g"], "whole pieces go before steps")
        self.assertEqual((sugar["typed"], sugar["grams"]), ("½ cup", 106.25))
        self.assertEqual((sugar["least_g"], sugar["most_g"], sugar["step_g"]), (80, 120, 2.5))
        self.assertEqual(sugar["note"], "the fine one")
        self.assertEqual((milk["typed"], milk["stage"]), ("480", "pot"))
        self.assertEqual(salt["typed"], "0.2 %")
        self.assertAlmostEqual(salt["grams"], 0.002 * (480 + 68 + 106.25) / 0.998, places=6)

    def test_a_cup_of_another_size_comes_as_what_it_weighed(self) -> None:
        self.send("PUT", self.url(), self.draft(lines=HANDLED))
        written = self.written()
        self.change_kitchen({"spoons": "us"})
        sugar = self.lines_of(self.bring(written)[1])[1]
        self.assertEqual((sugar["typed"], sugar["unit"], sugar["grams"]), ("106.25", "g", 106.25))

    def test_what_was_typed_since_the_amount_was_changed_by_hand_is_left_out(self) -> None:
        written = {**self.written(), "lines": [{"ingredient": "sugar", "amount": 50, "typed": "2 cups"}]}
        self.assertEqual(self.lines_of(self.bring(written)[1])[0]["typed"], "50")

    def test_own_ingredients_travel_with_their_composition_and_come_in_once(self) -> None:
        Ingredient.objects.create(
            kitchen=self.ours.kitchen, slug="tea-syrup", name="Tea syrup", kind="own", basis="ours", composition=SYRUP
        )
        lines = [{"ingredient": slug, "typed": "50", "unit": "g"} for slug in ("tea-syrup", "sugar")]
        self.send("PUT", self.url(), self.draft(lines=lines))
        written = self.written()
        self.assertEqual([type(line["ingredient"]).__name__ for line in written["lines"]], ["dict", "str"])
        self.assertEqual(self.lines_of(self.bring(written)[1])[0]["ingredient"], "tea-syrup")
        self.sign_in_as(self.theirs)
        for _ in range(2):
            self.assertEqual(self.lines_of(self.bring(written)[1])[0]["ingredient"], "tea-syrup")
        theirs = Ingredient.objects.of(self.theirs.kitchen).get(slug="tea-syrup")
        self.assertEqual((theirs.name, theirs.kind, theirs.allergens), ("Tea syrup", "own", None))

    def test_allergens_of_own_ingredients_travel_too(self) -> None:
        stated = {"name": "Crumb syrup", "per_100g": {"water": 40, "sucrose": 60}, "allergens": ["gluten"]}
        written = {**self.written(), "lines": [{"ingredient": {**stated, "may_hold": ["milk"]}, "amount": 50}]}
        for _ in range(2):
            slug = self.lines_of(self.bring(written)[1])[0]["ingredient"]
            self.assertEqual(slug, "crumb-syrup")
        row = Ingredient.objects.of(self.ours.kitchen).get(slug=slug)
        self.assertEqual((row.allergens, row.may_hold), (["gluten"], ["milk"]))
        self.send("PUT", self.url(), self.draft(lines=[{"ingredient": slug, "typed": "50", "unit": "g"}]))
        again = self.written()["lines"][0]["ingredient"]
        self.assertEqual((again["allergens"], again["may_hold"]), (["gluten"], ["milk"]))

    def test_ingredients_of_the_same_name_with_other_figures_stay_what_they_are(self) -> None:
        Ingredient.objects.create(
            kitchen=self.ours.kitchen, slug="tea-syrup", name="Tea syrup", kind="own", basis="ours", composition=SYRUP
        )
        thick = {"name": "Tea syrup", "per_100g": {"water": 25, "sucrose": 75}}
        written = {**self.written(), "name": "Bay", "lines": [{"ingredient": thick, "amount": 50}]}
        for _ in range(2):
            slug = self.lines_of(self.bring(written)[1])[0]["ingredient"]
            self.assertEqual(slug, "tea-syrup-as-in-bay")
        self.assertEqual(Ingredient.objects.of(self.ours.kitchen).get(slug=slug).name, "Tea syrup, as in Bay")
        written["lines"][0]["ingredient"] = {**thick, "name": "Tea"}
        self.assertEqual(self.lines_of(self.bring(written)[1])[0]["ingredient"], "tea")
        written["lines"][0]["ingredient"] = {"name": "Tea syrup", "per_100g": {"water": 15, "sucrose": 85}}
        self.assertEqual(self.lines_of(self.bring(written)[1])[0]["ingredient"], "tea-syrup-2")

    def test_a_name_in_another_script_and_one_of_200_letters_find_their_place(self) -> None:
        named = [{"name": name, "per_100g": {"sucrose": 100}} for name in ("糖", "x" * 200)]
        named.append({"name": "X" * 200, "per_100g": {"glucose": 100}})
        written = {**self.written(), "lines": [{"ingredient": one, "amount": 50} for one in named]}
        for _ in range(2):
            slugs = [line["ingredient"] for line in self.lines_of(self.bring(written)[1])]
        self.assertEqual(len(set(slugs)), 3)
        self.assertEqual(Ingredient.objects.of(self.ours.kitchen).filter(kind="own", slug__in=slugs).count(), 3)

    def test_what_cannot_be_used_is_said_by_its_line_and_nothing_is_kept(self) -> None:
        before = Mix.objects.of_all_kitchens().count(), Ingredient.objects.of_all_kitchens().count()
        file = {
            **self.written(),
            "lines": [{"ingredient": SYRUP, "amount": 5}, {"ingredient": "hole-milk", "amount": 5}],
        }
        for content, says in (
            (file, "Line 2: there is no ingredient “hole-milk” on the shelf. Did you mean whole-milk"),
            ({**file, "lines": [{"ingredient": "sugar", "amount": 5, "pin": 1}]}, "Line 1: pin is true or false"),
            (b"", "not JSON"),
            (b"\x00\xff", "not UTF-8"),
            (b" " * 1_000_001, "at most 1 MB"),
        ):
            status, answer = self.bring(content)
            self.assertEqual(status, 422)
            self.assertIn(says, answer["detail"])
        self.assertEqual((Mix.objects.of_all_kitchens().count(), Ingredient.objects.of_all_kitchens().count()), before)

    def test_a_file_holds_prices_only_where_they_are_asked_for(self) -> None:
        self.send("PATCH", "/ingredients/sugar", {"version": 1, "price": 1.5, "pack_g": 1000})
        asked = [self.written(how) for how in ("", "?prices=true")]
        prices = [[line.get("price") for line in found["lines"]] for found in asked]
        self.assertEqual(set(prices[0]), {None})
        self.assertEqual([price for price in prices[1] if price], [1.5])
        self.assertEqual(cost_report(json.dumps(asked[1]).encode())["at_least"], 0.24)
        self.assertEqual(self.bring(json.dumps(asked[1]).encode())[0], 201)
        Person.objects.filter(pk=self.ours.pk).update(sees_prices=False)
        self.assertEqual(self.written("?prices=true"), asked[0])

    def test_what_an_ingredient_states_for_a_label_goes_out_and_comes_in(self) -> None:
        own: dict[str, Any] = {
            "name": "Lock biscuit",
            "per_100g": {"starch": 60, "sucrose": 20, "other_fat": 15, "water": 5},
            "nutrients": {"saturates_g": 6, "added_sugars_g": 20},
            "on_label": {"name": "biscuit", "parts": [{"name": "wheat flour", "pct": 60}]},
        }
        file = {"format": "jalebi.mix", "version": 1, "name": "Biscuit", "lines": [{"ingredient": own, "amount": 100}]}
        made = self.bring(json.dumps(file).encode())[1]
        found = json.loads(self.client.get(self.place + f"/mixes/{made['id']}/file").content)["lines"][0]["ingredient"]
        self.assertEqual(found["nutrients"], own["nutrients"])
        self.assertEqual(found["on_label"]["parts"], own["on_label"]["parts"])

    def test_every_demo_mix_is_the_file_that_it_is_written_as(self) -> None:
        kitchen = make_demo()
        self.sign_in_as(kitchen.people.get())
        for mix in Mix.objects.of(kitchen):
            answer = self.client.get(self.place + f"/mixes/{mix.pk}/file")
            status, made = self.bring(answer.content)
            self.assertEqual(status, 201)
            self.assertEqual(
                [line["ingredient"] for line in self.lines_of(made)],
                [line.ingredient.slug for line in mix.lines.select_related("ingredient")],
            )
            self.assertEqual(read_mix_file(answer.content).mix.mass_g, sum(line.grams for line in _base(mix)))
        self.assertFalse(Ingredient.objects.of(kitchen).filter(name__contains=", as in").exists())


def _base(mix: Mix) -> list[Any]:
    return [line for line in mix.lines.all() if line.stage not in ("mix-in", "layer")]
