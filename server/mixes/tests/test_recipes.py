"""Pasted recipes, swaps and what stands beside the mix, through the API."""

from __future__ import annotations

import json
from typing import Any

from ingredients.models import Ingredient
from mixes.models import Mix
from testing.kitchen_case import LINES, KitchenCase

TEXT = """Raspberry custard
Serves 6
2 cups whole milk
1 cup heavy cream
3/4 cup sugar
4 egg yolks
2 cups raspberry puree, reduced to a third
1 tbsp moon dust

Method
Heat the milk and cream in a pan. Whisk the yolks with the sugar, temper and cook to 82 °C.
Take off the heat and stir in the raspberry puree. Chill, then churn.
"""


class RecipeTest(KitchenCase):
    """From a pasted text to a mix."""

    def read(self) -> Any:
        status, recipe = self.send("POST", "/recipe-readings", {"text": TEXT})
        self.assertEqual(status, 200, recipe)
        return recipe

    def lines(self, recipe: Any) -> list[dict[str, Any]]:
        return [
            {
                "ingredient": line["choices"][0]["ingredient"],
                "typed": line["typed"],
                "stage": line["stage"],
                "reduced_to": line["reduced_to"],
            }
            for line in recipe["lines"]
            if line["choices"]
        ]

    def test_a_recipe_becomes_a_mix_and_what_is_cooked_down_a_preparation(self) -> None:
        recipe = self.read()
        self.assertEqual((recipe["name"], recipe["servings"]), ("Raspberry custard", 6))
        self.assertTrue(recipe["lines"][-1]["doubts"])
        body = {
            "name": recipe["name"],
            "style": "frozen-custard",
            "lines": self.lines(recipe),
            "method": recipe["method"],
        }
        status, mix = self.send("POST", "/mixes/recipes", {**body, "servings": 6})
        self.assertEqual(status, 201, mix)
        reduced = mix["lines"][4]
        self.assertEqual(mix["lines"][3]["typed"], "4 yolks")
        made = Ingredient.objects.of_all_kitchens().get(slug=reduced["ingredient"])
        self.assertEqual((made.kind, made.kitchen), ("preparation", self.ours.kitchen))
        self.assertAlmostEqual(reduced["grams"], made.facts["pack_g"])
        self.assertIn("Chill, then churn.", [step["text"] for step in mix["method"]])
        again = self.send("POST", "/mixes/recipes", {**body, "name": "Once more"})[1]
        self.assertEqual(again["lines"][4]["ingredient"], reduced["ingredient"])

    def test_cups_and_grams_give_the_same_mix(self) -> None:
        recipe = self.read()
        grams = [{**line, "typed": "", "reduced_to": None} for line in self.lines(recipe)]
        for line, weight in zip(grams, (515, 249, 159, 68, None), strict=True):
            line["typed"] = str(weight) if weight else "172"
        grams[4]["ingredient"] = self.send("POST", "/mixes/recipes", {"name": "By cups", "lines": self.lines(recipe)})[
            1
        ]["lines"][4]["ingredient"]
        by_cups = Mix.objects.of_all_kitchens().get(name="By cups")
        cups = [{"ingredient": line.ingredient.slug, "typed": line.typed} for line in by_cups.lines.all()]
        one, other = (self.send("POST", "/analyses", {"lines": lines})[1]["analysis"] for lines in (cups, grams))
        for key in ("fat", "sugars", "total_solids", "sweetness_pod"):
            self.assertAlmostEqual(one["figures"][key] / other["figures"][key], 1, delta=0.02)
        self.assertAlmostEqual(one["scoop_c"], other["scoop_c"], delta=0.3)

    def test_what_holds_no_recipe_or_cannot_be_kept_changes_nothing(self) -> None:
        for text, message in (("", "nothing to read"), ("hello there", "No ingredient"), ("1 g x\n" * 2000, "lines")):
            status, answer = self.send("POST", "/recipe-readings", {"text": text})
            self.assertEqual(status, 422)
            self.assertIn(message, answer["detail"])
        reduced = {"ingredient": "raspberry-puree", "typed": "2 cups", "reduced_to": 0.3}
        body = {"name": "Odd", "lines": [reduced, {"ingredient": "moon", "typed": "1"}]}
        self.assertEqual(self.send("POST", "/mixes/recipes", body)[0], 422)
        self.assertFalse(Mix.objects.of_all_kitchens().filter(name="Odd").exists())
        self.assertFalse(
            Ingredient.objects.of_all_kitchens().filter(name__startswith="Raspberry puree, reduced").exists()
        )


class RecipeEdgesTest(KitchenCase):
    """Recipes that are odd, and what is kept of the mix they become."""

    def make(self, **changes: Any) -> tuple[int, Any]:
        lines = [{"ingredient": "sugar", "typed": "100"}, {"ingredient": "water", "typed": "0.3 kg"}]
        return self.send("POST", "/mixes/recipes", {"name": "Pasted", "lines": lines, **changes})

    def test_a_page_is_read_by_its_recipe_data(self) -> None:
        data = {"@type": "Recipe", "name": "Ice", "recipeIngredient": ["1 l milk"], "recipeInstructions": "Churn it."}
        page = f'<script type="application/ld+json">{json.dumps(data)}</script>'
        recipe = self.send("POST", "/recipe-readings", {"text": page})[1]
        self.assertEqual((recipe["name"], recipe["method"]), ("Ice", [{"stage": "churn", "text": "Churn it."}]))

    def test_a_line_whose_amount_cannot_be_read_stays_as_typed_and_waits(self) -> None:
        status, mix = self.make(
            lines=[{"ingredient": "sugar", "typed": "some"}, {"ingredient": "water", "typed": "50"}]
        )
        self.assertEqual(status, 201)
        self.assertEqual([(line["typed"], line["grams"]) for line in mix["lines"]], [("some", None), ("50", 50)])
        self.assertEqual(self.send("POST", f"/mixes/{mix['id']}/batches")[0], 422)

    def test_a_copy_keeps_method_and_restrictions(self) -> None:
        mix = self.make(method=[{"stage": "pot", "text": "Boil."}])[1]
        draft = {"name": "Pasted", "version": 1, "lines": mix["lines"], "restrictions": ["vegan"]}
        self.assertEqual(self.send("PUT", f"/mixes/{mix['id']}", draft)[0], 200)
        copy = self.send("POST", "/mixes", {"name": "Copy", "copy_of": mix["id"]})[1]
        self.assertEqual((copy["method"], copy["restrictions"]), ([{"stage": "pot", "text": "Boil."}], ["vegan"]))

    def test_what_cannot_be_kept_is_refused_whole(self) -> None:
        wrong: tuple[dict[str, Any], ...] = (
            {"name": ""},
            {"style": "moon"},
            {"lines": []},
            {"servings": 0},
            {"method": [{"text": "a\x00b"}]},
            {"method": [{"text": "Boil.", "stage": "moon"}]},
            {"lines": [{"ingredient": "sugar", "typed": "1", "stage": "moon"}]},
            {"lines": [{"ingredient": "sugar", "typed": "1\x07"}]},
            {"lines": [{"ingredient": "sugar", "typed": "10", "reduced_to": 0.5}]},
        )
        for changes in wrong:
            with self.subTest(changes=changes):
                self.assertEqual(self.make(**changes)[0], 422)
        self.assertFalse(Mix.objects.of_all_kitchens().filter(name="Pasted").exists())

    def test_shares_of_the_whole_are_weighed_and_cannot_be_all_of_it(self) -> None:
        lines = [{"ingredient": "sugar", "typed": "100"}, {"ingredient": "guar-gum", "typed": "2000 ppm"}]
        gum = self.send("POST", "/analyses", {"lines": lines})[1]["lines"][1]
        self.assertAlmostEqual(gum["grams"], 100 * 0.002 / 0.998)
        self.assertIn("g in all", gum["assumed"])
        lines += [{"ingredient": "water", "typed": "60 %"}, {"ingredient": "salt", "typed": "45 %"}]
        found = self.send("POST", "/analyses", {"lines": lines})[1]["lines"]
        self.assertIn("Water: what is given in %", found[2]["error"])
        self.assertIsNone(found[0]["error"])
        beside = [lines[0], {"ingredient": "honeycomb", "typed": "10 %", "stage": "mix-in"}]
        found = self.send("POST", "/analyses", {"lines": beside})[1]
        self.assertAlmostEqual(found["lines"][1]["grams"], 10)


class LookTest(KitchenCase):
    """One line in its mix."""

    def line_insights(self, line: int, **draft: Any) -> Any:
        status, answer = self.send("POST", "/line-insights", {"lines": LINES, "line": line, **draft})
        self.assertEqual(status, 200, answer)
        return answer

    def test_swaps_keep_the_restrictions_and_say_what_they_do(self) -> None:
        found = self.line_insights(1, restrictions=["dairy-free", "nut-free"])
        self.assertEqual(found["offends"], "contains milk")
        everything = {swap["lines"][0]["ingredient"]: swap["brings"] for swap in self.line_insights(1)["swaps"]}
        self.assertEqual(everything["cashew-paste"], ["gluten", "nuts"])
        self.assertGreaterEqual(len(found["swaps"]), 2)
        for swap in found["swaps"]:
            self.assertTrue(swap["effect"]["message"])
            self.assertNotIn(
                "milk", " ".join(line["name"].lower() for line in swap["lines"]).replace("coconut milk", "")
            )
        self.assertEqual(self.line_insights(0)["confusions"][0]["name"], "Skim milk")

    def test_a_line_that_is_not_there_or_weighs_nothing(self) -> None:
        self.assertEqual(self.send("POST", "/line-insights", {"lines": LINES, "line": 9})[0], 422)
        empty = [{"ingredient": "cream-36", "typed": ""}]
        self.assertEqual(self.line_insights(0, lines=empty), {"offends": None, "swaps": [], "confusions": []})


class NamesTest(KitchenCase):
    """Protected names, and a draft with nothing in it."""

    def test_names_come_with_the_figure_that_decides(self) -> None:
        self.change_kitchen({"region": "us"})
        found = self.send("POST", "/details", {"lines": LINES, "overrun_pct": 30})[1]["names"]
        self.assertEqual({name["region"] for name in found}, {"United States"})
        told = {(name["region"], name["name"]): name for name in found}
        self.assertFalse(told["United States", "frozen custard"]["fits"])
        self.assertIn("yolk solids", told["United States", "frozen custard"]["because"])

    def test_nothing_in_it_needs_no_help(self) -> None:
        self.assertEqual(self.send("POST", "/adjustments", {"lines": []}), (200, []))


class BesideTest(KitchenCase):
    """Mix-ins and layers."""

    def test_they_change_the_product_and_not_the_mix(self) -> None:
        bits = {"ingredient": "dark-chocolate-70", "typed": "80", "stage": "mix-in"}
        plain = self.send("POST", "/analyses", {"lines": LINES})[1]
        mixed = self.send("POST", "/analyses", {"lines": [*LINES, bits]})[1]
        self.assertEqual(plain["analysis"], mixed["analysis"])
        self.assertAlmostEqual(mixed["product"]["mass_g"], plain["product"]["mass_g"] + 80)
        self.assertEqual(mixed["mix_ins"][0]["line"], 5)
        self.assertIn("cocoa butter", mixed["mix_ins"][0]["message"])

    def test_a_mix_with_a_mix_in_is_made_and_saved(self) -> None:
        bits = {"ingredient": "dark-chocolate-70", "typed": "80", "stage": "mix-in"}
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=[*LINES, bits]))[0], 200)
        status, batch = self.send("POST", f"/mixes/{self.our_mix.pk}/batches")
        self.assertEqual(status, 201, batch)
        for number in range(len(LINES)):
            entry = {"kind": "weighed", "line": number, "text": "0"}
            status, batch = self.press(batch["id"], entry)
            self.assertEqual(status, 200, batch)
        self.assertIsNone(batch["as_made"])
        self.assertEqual(self.send("GET", "/batches")[0], 200)
        only = self.draft(lines=[bits], version=self.our_mix.version + 1)
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", only)[0], 200)
        self.assertEqual(self.send("POST", f"/mixes/{self.our_mix.pk}/batches")[0], 422)
        self.assertIsNone(self.send("POST", "/analyses", {"lines": [bits]})[1]["analysis"])
