"""A kitchen's shelf: what it answers, what stocking leaves alone, and that every change is seen."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.db import transaction

from ingredients.models import Ingredient
from ingredients.shelf_cache import ingredients_of
from ingredients.shipped import stock_shelf
from kitchens.models import Kitchen
from testing.kitchen_case import KitchenCase


class ShelfTest(KitchenCase):
    """The shelf that ships, in a kitchen."""

    def ingredients(self, **search: Any) -> dict[str, Any]:
        """Return all that answers a search, page by page."""
        rows: list[dict[str, Any]] = []
        while True:
            query = urlencode({**search, "limit": 100, "offset": len(rows)})
            status, found = self.send("GET", f"/ingredients?{query}")
            self.assertEqual(status, 200, found)
            rows += found["items"]
            if len(rows) >= found["total"]:
                return {row["slug"]: row for row in rows}

    def detail(self, slug: str) -> Any:
        status, answer = self.send("GET", f"/ingredients/{slug}")
        self.assertEqual(status, 200, answer)
        return answer

    def test_every_ingredient_is_drawn_whole(self) -> None:
        for slug, ingredient in self.ingredients().items():
            with self.subTest(slug=slug):
                self.assertAlmostEqual(sum(part["grams"] for part in ingredient["strata"]), 100, places=6)
                self.assertEqual(ingredient["allergens_stated"], ingredient["sure"] != "undisclosed")

    def test_figures_are_the_cores(self) -> None:
        shelf = self.ingredients()
        self.assertEqual((shelf["sugar"]["sweetness_pod"], shelf["sugar"]["freezing_power_pac"]), (100, 100))
        self.assertEqual(shelf["dextrose"]["freezing_power_pac"], 172.9)
        self.assertEqual(shelf["egg-yolk"]["pieces"], {"yolk": 17})
        self.assertEqual(shelf["whole-milk"]["allergens"], ["milk"])

    def test_a_detail_says_what_there_is_to_mind(self) -> None:
        gum, milk = self.detail("locust-bean-gum"), self.detail("condensed-milk")
        self.assertAlmostEqual(sum(part["grams"] for part in gum["components"]), 100, delta=0.06)
        self.assertIn("80–85 °C", gum["facts"]["hydrates"])
        self.assertIn("carob", gum["facts"]["for_guests"])
        self.assertEqual([other["key"] for other in milk["confused_with"]], ["evaporated-milk"])
        self.assertEqual(milk["us_allergens"], ["milk"])
        self.assertNotIn("dairy-free", milk["suits"])
        self.assertIn("egg-free", milk["suits"])
        self.assertEqual(self.detail("whole-milk")["used_in"], 1)

    def test_it_is_found_by_name_by_what_it_brings_and_by_diet(self) -> None:
        self.assertEqual(next(iter(self.ingredients(find="heavy cream"))), "cream-36")
        self.assertEqual(next(iter(self.ingredients(find="choc"))).split("-")[1], "chocolate")
        self.assertEqual(next(iter(self.ingredients(brings="milk-fat"))), "butterfat")
        self.assertEqual(self.ingredients(find="milk", diet="dairy-free").keys() & {"whole-milk", "butter"}, set())
        self.assertEqual(set(self.ingredients(own=True)), {"ours-syrup"})
        self.assertEqual(self.ingredients(find="zzyzx"), {})
        self.assertEqual(self.send("GET", "/ingredients?diet=moon")[0], 422)
        self.assertEqual(self.send("GET", "/ingredients?brings=moon")[0], 422)

    def test_stocking_again_brings_what_is_missing_and_leaves_what_the_kitchen_changed(self) -> None:
        kitchen = self.ours.kitchen
        Ingredient.objects.of(kitchen).filter(slug="honey").update(name="Our heather honey")
        Ingredient.objects.of(kitchen).filter(slug="xylitol").delete()
        stock_shelf(kitchen)
        shelf = self.ingredients()
        self.assertEqual(shelf["honey"]["name"], "Our heather honey")
        self.assertIn("xylitol", shelf)

    def test_every_kind_of_change_is_counted_by_the_database_for_its_kitchen_alone(self) -> None:
        def counted() -> tuple[int, int]:
            ours, theirs = (Kitchen.objects.get(pk=person.kitchen_id) for person in (self.ours, self.theirs))
            return ours.shelf_version, theirs.shelf_version

        milk = Ingredient.objects.of(self.ours.kitchen).get(slug="whole-milk")
        changes = (
            lambda: Ingredient.objects.of_all_kitchens().filter(pk=milk.pk).update(name="Other milk"),
            lambda: Ingredient.objects.of(self.ours.kitchen).filter(slug="xylitol").delete(),
            lambda: stock_shelf(self.ours.kitchen),
        )
        for change in changes:
            before = counted()
            change()
            self.assertGreater(counted()[0], before[0])
            self.assertEqual(counted()[1], before[1])

    def test_a_change_that_is_rolled_back_lends_its_number_to_no_other(self) -> None:
        kitchen = self.ours.kitchen
        honey = Ingredient.objects.of(kitchen).filter(slug="honey")
        try:
            with transaction.atomic():
                honey.update(name="Never kept")
                kitchen.refresh_from_db()
                self.assertEqual(ingredients_of(kitchen)["honey"].composition.name, "Never kept")
                raise InterruptedError
        except InterruptedError:
            honey.update(name="Kept")
        kitchen.refresh_from_db()
        self.assertEqual(ingredients_of(kitchen)["honey"].composition.name, "Kept")

    def test_a_remembered_shelf_is_forgotten_when_it_changes(self) -> None:
        kitchen = self.ours.kitchen
        kitchen.refresh_from_db()
        self.assertIn("xylitol", ingredients_of(kitchen))
        Ingredient.objects.of(kitchen).filter(slug="xylitol").delete()
        kitchen.refresh_from_db()
        self.assertNotIn("xylitol", ingredients_of(kitchen))

    def test_the_vocabulary_names_what_screens_need(self) -> None:
        words = self.send("GET", "/api/v1/vocabulary")[1]
        self.assertEqual(words["firmness_words"][0], "liquid")
        self.assertEqual(words["firmness_words"][-1], "rock")
        self.assertEqual(words["strata"][-1], {"key": "water", "name": "Water"})
        self.assertIn("pot", [stage["key"] for stage in words["stages"]])
        custard = next(style for style in words["styles"] if style["key"] == "frozen-custard")
        self.assertEqual(custard["bands"]["fat"], [10, 14])
