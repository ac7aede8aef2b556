"""Two who change the shelf at once: nobody waits for ever, and both changes are there in the end."""

from __future__ import annotations

import threading
from collections.abc import Callable
from contextlib import suppress

from django.db import OperationalError, connection, transaction
from django.test import TransactionTestCase
from psycopg.errors import DeadlockDetected

from api.problems import ConflictError
from api.retries import retried
from ingredients.changes import change_ingredient, put_away_ingredient
from ingredients.models import Ingredient
from ingredients.preparations import change_preparation
from ingredients.schemas import IngredientChange, Preparation, PrepLine
from kitchens.models import Person
from testing.kitchen_case import filled_kitchen, own_syrup

ROUNDS = 25


class ShelfTogetherTest(TransactionTestCase):
    """An ingredient, a preparation that is made of it, and something that is put away, changed over and over."""

    person: Person

    def setUp(self) -> None:
        self.person, _, _ = filled_kitchen("busy")
        own_syrup(self.person)

    def version(self, slug: str) -> int:
        return int(Ingredient.objects.of(self.person.kitchen_id).get(slug=slug).version)

    def price(self, number: int) -> None:
        change = IngredientChange.model_validate({"version": 1, "price": float(number)})
        change_ingredient(self.person, "sugar", self.version("sugar"), change)

    def syrup(self, number: int) -> None:
        lines = [PrepLine(ingredient="sugar", typed=str(300 + number)), PrepLine(ingredient="water", typed="200")]
        with suppress(ConflictError):  # the sugar that changed meanwhile made it anew
            preparation = Preparation(name="busy syrup", lines=lines)
            change_preparation(self.person, "busy-syrup", self.version("busy-syrup"), preparation)

    def test_nobody_is_broken_off(self) -> None:
        failures: list[BaseException] = []

        def rounds(change: Callable[[int], None]) -> None:
            try:
                for number in range(ROUNDS):
                    change(number)
            except BaseException as failure:
                failures.append(failure)
            finally:
                connection.close()

        jobs: list[Callable[[int], None]] = [
            self.price, self.syrup, lambda _number: put_away_ingredient(self.person, "honey"),
        ]  # fmt: skip
        threads = [threading.Thread(target=rounds, args=(job,)) for job in jobs]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(failures, [])
        self.assertEqual(Ingredient.objects.of(self.person.kitchen_id).get(slug="sugar").price, ROUNDS - 1)


class RetriedTest(TransactionTestCase):
    """A transaction that the database broke off."""

    def setUp(self) -> None:
        self.tries = 0

    def work(self) -> str:
        self.tries += 1
        if self.tries == 1:
            raise OperationalError("deadlock detected") from DeadlockDetected("deadlock detected")
        return "done"

    def test_it_is_done_once_more(self) -> None:
        self.assertEqual(retried(self.work)(), "done")

    def test_within_another_it_is_left_to_that(self) -> None:
        with transaction.atomic(), self.assertRaises(OperationalError):
            retried(self.work)()

    def test_anything_else_is_not_done_again(self) -> None:
        def away() -> None:
            self.tries += 1
            raise OperationalError("the connection is closed")

        with self.assertRaises(OperationalError):
            retried(away)()
        self.assertEqual(self.tries, 1)
