"""Corrections of the shelf that ships reach kitchens: rows nobody edited, rows somebody edited, rows of their own."""

from __future__ import annotations

from typing import Any

from ingredients.models import STOCKED_BEFORE, Ingredient, IngredientVersion
from ingredients.shelf_differences import differences_from_shelf
from ingredients.shipped import stock_shelf
from jalebi_core.shelf.catalogue import catalogue
from testing.kitchen_case import KitchenCase

CRUMBS = "biscuit-crumbs"
SHIPPED = ["milk", "wheat", "gluten", "soy"]


class ShippedTest(KitchenCase):
    def crumbs(self, mark: str = "what an older shelf said") -> Ingredient:
        """Return the crumbs of a kitchen as an older shelf had them."""
        row = Ingredient.objects.of(self.ours.kitchen).get(slug=CRUMBS)
        row.allergens, row.may_hold, row.shelf_said = ["wheat", "gluten"], [], mark
        row.price, row.facts = 3.5, {**row.facts, "pack_g": 333}
        row.save()
        return row

    def detail(self) -> Any:
        self.ours.kitchen.refresh_from_db()
        return self.send("GET", f"/ingredients/{CRUMBS}")[1]

    def offered(self) -> list[str]:
        return [row["slug"] for row in self.send("GET", "/corrections")[1]["items"]]

    def decide(self, take: bool, version: int) -> tuple[int, Any]:
        return self.send("PUT", f"/ingredients/{CRUMBS}/correction", {"version": version, "take": take})

    def test_a_row_that_nobody_edited_becomes_what_the_shelf_says_as_a_version(self) -> None:
        row = self.crumbs(STOCKED_BEFORE)
        stock_shelf(self.ours.kitchen)
        found = self.detail()
        self.assertEqual((found["allergens"], found["version"]), (SHIPPED, row.version + 1))
        self.assertEqual((found["price"], found["facts"]["pack_g"]), (3.5, 333))
        self.assertEqual((found["offered"], found["shelf_says"]), (False, []))
        kept = IngredientVersion.objects.of(self.ours.kitchen).get(ingredient=row)
        self.assertEqual((kept.why, kept.changed_by), ("corrected by the shelf", None))
        self.assertEqual(kept.content["allergens"], ["wheat", "gluten"])
        before = self.ours.kitchen.shelf_version
        stock_shelf(self.ours.kitchen)
        self.assertEqual((self.detail()["version"], self.ours.kitchen.shelf_version), (row.version + 1, before))

    def test_a_row_that_somebody_edited_is_offered_and_counts_the_allergens_of_both(self) -> None:
        self.crumbs()
        stock_shelf(self.ours.kitchen)
        found = self.detail()
        self.assertEqual(found["allergens"], SHIPPED)
        self.assertIn("egg", found["may_hold"])
        self.assertNotIn("dairy-free", found["suits"])
        self.assertIn(
            {"what": "allergens", "here": "wheat, gluten", "shelf": "milk, wheat, gluten, soy"}, found["shelf_says"]
        )
        self.assertEqual(self.offered(), [CRUMBS])
        _, taken = self.decide(True, found["version"])
        self.assertEqual((taken["allergens"], taken["offered"], taken["shelf_says"]), (SHIPPED, False, []))
        self.assertEqual((taken["price"], self.offered()), (3.5, []))

    def test_an_edit_before_marks_were_kept_is_known_by_the_first_version(self) -> None:
        status, _ = self.send("PATCH", f"/ingredients/{CRUMBS}", {"version": 1, "allergens": ["wheat", "gluten"]})
        self.assertEqual(status, 200)
        Ingredient.objects.of(self.ours.kitchen).filter(slug=CRUMBS).update(shelf_said=STOCKED_BEFORE)
        stock_shelf(self.ours.kitchen)
        self.assertEqual(self.offered(), [CRUMBS])

    def test_what_is_kept_is_offered_no_more_and_can_still_be_taken_back(self) -> None:
        self.crumbs()
        stock_shelf(self.ours.kitchen)
        status, kept = self.decide(False, 1)
        self.assertEqual((status, kept["allergens"], kept["offered"]), (200, ["wheat", "gluten"], False))
        stock_shelf(self.ours.kitchen)
        self.assertEqual(self.offered(), [])
        self.assertTrue(self.detail()["shelf_says"])
        self.assertEqual(self.decide(True, kept["version"])[1]["allergens"], SHIPPED)
        self.assertEqual(self.decide(True, 1)[0], 412)

    def test_a_row_of_the_shelf_that_was_put_away_can_be_taken_back(self) -> None:
        self.assertEqual(self.send("DELETE", f"/ingredients/{CRUMBS}")[0], 204)
        self.decide(True, 1)
        self.assertFalse(Ingredient.objects.of(self.ours.kitchen).get(slug=CRUMBS).put_away)

    def test_a_row_of_the_kitchens_own_that_is_called_like_one_of_the_shelf_stays(self) -> None:
        toffee = Ingredient.objects.of(self.ours.kitchen).get(slug="toffee-bits")
        toffee.shelf_said, toffee.allergens, toffee.name = "", [], "Our toffee"
        toffee.save()
        stock_shelf(self.ours.kitchen)
        toffee.refresh_from_db()
        self.assertEqual((toffee.name, toffee.allergens), ("Our toffee", []))
        status, answer = self.send("PUT", "/ingredients/toffee-bits/correction", {"version": 1, "take": True})
        self.assertEqual(status, 422)
        self.assertIn("did not come with the shelf", answer["detail"])

    def test_what_is_made_with_a_corrected_row_follows(self) -> None:
        self.crumbs(STOCKED_BEFORE)
        lines = [{"ingredient": CRUMBS, "typed": "100"}, {"ingredient": "sugar", "typed": "20"}]
        status, base = self.send("POST", "/preparations", {"name": "Crumb base", "lines": lines})
        self.assertEqual((status, base["allergens"]), (201, ["wheat", "gluten"]))
        stock_shelf(self.ours.kitchen)
        self.ours.kitchen.refresh_from_db()
        made = self.send("GET", f"/ingredients/{base['slug']}")[1]
        self.assertEqual((made["allergens"], made["may_hold"]), (SHIPPED, ["egg", "nuts"]))

    def test_every_row_that_ships_is_what_the_shelf_says(self) -> None:
        rows = Ingredient.objects.of(self.ours.kitchen).exclude(shelf_said="")
        self.assertEqual({row.slug for row in rows}, set(catalogue()))
        self.assertEqual([row.slug for row in rows if differences_from_shelf(row)], [])

    def test_a_preparation_suits_nobody_whom_what_is_in_it_does_not(self) -> None:
        for slug, offended in (
            ("gelatin", {"vegan", "vegetarian", "no animal gelatin"}),
            ("honey", {"vegan"}),
            ("mono-diglycerides", {"vegan", "vegetarian", "no animal gelatin"}),
            ("stabiliser-blend", {"vegan", "vegetarian", "egg-free", "no animal gelatin"}),
        ):
            lines = [{"ingredient": slug, "typed": "1"}, {"ingredient": "water", "typed": "100"}]
            made = self.send("POST", "/preparations", {"name": f"Made with {slug}", "lines": lines})[1]
            with self.subTest(slug=slug):
                self.assertEqual(set(made["suits"]) & offended, set())
        found = self.send("GET", "/ingredients?find=made&diet=without:guar-gum&limit=100")[1]["items"]
        self.assertNotIn("made-with-stabiliser-blend", [row["slug"] for row in found])

    def test_without_looks_through_preparations(self) -> None:
        lines = [{"ingredient": "guar-gum", "typed": "1"}, {"ingredient": "sugar", "typed": "20"}]
        jar = self.send("POST", "/preparations", {"name": "Gum jar", "lines": lines})[1]["slug"]
        lines = [{"ingredient": jar, "typed": "20"}, {"ingredient": "water", "typed": "100"}]
        syrup = self.send("POST", "/preparations", {"name": "Gum syrup", "lines": lines})[1]["slug"]
        found = self.send("GET", "/ingredients?find=gum&diet=without:guar-gum&limit=100")[1]["items"]
        self.assertEqual({row["slug"] for row in found} & {"guar-gum", jar, syrup}, set())
