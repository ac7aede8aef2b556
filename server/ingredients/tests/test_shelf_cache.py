"""The shelf in memory: one a kitchen, of which only what changed is read again."""

from __future__ import annotations

from django.db import connection, transaction
from django.test.utils import CaptureQueriesContext

from ingredients import shelf_cache
from ingredients.changes import change_ingredient, put_away_ingredient
from ingredients.models import Ingredient
from ingredients.schemas import IngredientChange
from ingredients.shelf_cache import MOST_SHELVES, shelf_of
from kitchens.models import Kitchen
from testing.kitchen_case import KitchenCase


class ShelfCacheTest(KitchenCase):
    """A shelf before and after changes."""

    def shelf(self) -> shelf_cache.ShelfCache:
        return shelf_of(Kitchen.objects.get(pk=self.ours.kitchen_id))

    def price(self, price: float, **more: object) -> None:
        row = Ingredient.objects.of(self.ours.kitchen).get(slug="sugar")
        change = IngredientChange.model_validate({"price": price, "pack_g": 1000, **more})
        change_ingredient(self.ours, "sugar", row.version, change)

    def test_only_what_changed_is_read_again_and_the_names_stay(self) -> None:
        before = self.shelf()
        names = before.words.names
        self.price(2.0)
        after = self.shelf()
        same = [slug for slug, one in after.ingredients.items() if one is before.ingredients[slug]]
        changed = set(after.ingredients) - set(same)
        self.assertEqual(changed, {"sugar", "ours-syrup"})
        self.assertEqual(after.ingredients["sugar"].price_per_kg, 2.0)
        self.assertIs(after.words.names, names)

    def test_a_new_name_is_found_and_what_is_put_away_is_not(self) -> None:
        self.shelf()
        self.price(2.0, name="Canal sugar")
        self.assertEqual(self.shelf().found("canal", "", [], own=False)[0], "sugar")
        put_away_ingredient(self.ours, "honey")
        self.assertNotIn("honey", self.shelf().found("honey", "", [], own=False))

    def test_a_change_that_is_taken_back_is_taken_back_here_too(self) -> None:
        with transaction.atomic():
            self.price(3.0)
            self.assertEqual(self.shelf().ingredients["sugar"].price_per_kg, 3.0)
            transaction.set_rollback(True)
        self.assertNotEqual(self.shelf().ingredients["sugar"].price_per_kg, 3.0)

    def test_a_row_that_one_transaction_writes_twice_is_read_twice(self) -> None:
        sugar = Ingredient.objects.of(self.ours.kitchen).filter(slug="sugar")
        for price in (2.0, 3.0):
            sugar.update(price=price, facts={"pack_g": 1000})
            self.assertEqual(self.shelf().ingredients["sugar"].price_per_kg, price)

    def test_one_shelf_a_kitchen_is_kept_and_those_of_few_kitchens(self) -> None:
        for price in range(5):
            self.price(float(price))
            self.shelf()
        kept = [key for key in shelf_cache._shelves if key == self.ours.kitchen_id]
        self.assertEqual(len(kept), 1)
        for number in range(MOST_SHELVES + 3):
            shelf_of(Kitchen.objects.create(slug=f"k{number}", name="K"))
        self.assertEqual(len(shelf_cache._shelves), MOST_SHELVES)

    def test_a_shelf_that_is_as_it_was_costs_no_query(self) -> None:
        kitchen = Kitchen.objects.get(pk=self.ours.kitchen_id)
        shelf_of(kitchen)
        with CaptureQueriesContext(
            connection,
        ) as queries:
            shelf_of(kitchen)
        self.assertEqual(len(queries), 0)
