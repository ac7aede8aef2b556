"""Where an ingredient is used, and merging two that are one."""

from __future__ import annotations

from typing import Any

from ingredients.models import Ingredient
from mixes.models import Mix
from testing.kitchen_case import KitchenCase


class UsesTest(KitchenCase):
    def setUp(self) -> None:
        super().setUp()
        body = {"way": "label", "name": "Corner-shop milk", "like": "whole-milk", "label": {"fat": 3.6, "protein": 3.4}}
        self.shop = self.send("POST", "/custom-ingredients", body)[1]["slug"]
        lines = [{"ingredient": self.shop, "typed": "500"}, {"ingredient": "sugar", "typed": "100"}]
        self.syrup = self.send("POST", "/preparations", {"name": "Milk syrup", "lines": lines})[1]["slug"]
        draft = self.draft(lines=[{"ingredient": self.shop, "typed": "600"}, {"ingredient": self.syrup, "typed": "80"}])
        self.send("PUT", f"/mixes/{self.our_mix.pk}", {**draft, "version": self.version()})
        self.send("POST", "/lots", {"ingredient": self.shop, "typed": "2 l"})
        self.send("POST", "/notes", {"text": "Splits when old.", "ingredient": self.shop})

    def version(self) -> int:
        return Mix.objects.of(self.ours.kitchen).get(pk=self.our_mix.pk).version

    def uses(self, slug: str) -> Any:
        return self.send("GET", f"/ingredients/{slug}/uses")[1]

    def test_it_is_said_where_an_ingredient_is_used(self) -> None:
        found = self.uses(self.shop)
        self.assertEqual([mix["name"] for mix in found["mixes"]], ["ours milk ice"])
        self.assertEqual((found["preparations"], found["lots"], found["notes"]), (["Milk syrup"], 1, 1))

    def test_merging_puts_the_other_in_its_place_everywhere(self) -> None:
        before = self.version()
        status, found = self.send("PUT", f"/ingredients/{self.shop}/merged", {"into": "whole-milk"})
        self.assertEqual((status, found["preparations"], found["lots"]), (200, ["Milk syrup"], 1))
        mix = Mix.objects.of(self.ours.kitchen).get(pk=self.our_mix.pk)
        self.assertEqual([line.ingredient.slug for line in mix.lines.all()], ["whole-milk", self.syrup])
        self.assertGreater(mix.version, before)
        milk = Ingredient.objects.of(self.ours.kitchen).get(slug="whole-milk")
        self.assertIn("Corner-shop milk", milk.also)
        self.assertTrue(Ingredient.objects.of(self.ours.kitchen).get(slug=self.shop).put_away)
        self.assertEqual(self.uses(self.shop)["mixes"], [])

    def test_what_cannot_be_merged_is_said_and_nothing_changes(self) -> None:
        for slug, into, status in (
            (self.shop, self.shop, 422),
            (self.shop, self.syrup, 422),
            (self.shop, "nothing-here", 404),
            (self.shop, "theirs-syrup", 404),
        ):
            with self.subTest(into=into):
                self.assertEqual(self.send("PUT", f"/ingredients/{slug}/merged", {"into": into})[0], status)
        self.assertEqual(len(self.uses(self.shop)["mixes"]), 1)
