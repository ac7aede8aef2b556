"""Bounded queries: the number does not grow with the rows."""

from __future__ import annotations

from django.db import connection
from django.test.utils import CaptureQueriesContext

from batches.record import add_event, begin_batch
from batches.schemas import NewEvent
from ingredients.models import Ingredient
from kitchens.learnt import NOTHING, learnt_by
from kitchens.models import Kitchen
from mixes.drafts import new_mix
from tastings.notes import keep_card
from tastings.schemas import NewCard
from testing.kitchen_case import LINES, KitchenCase

SIGNED_IN = 1
"""The person with the kitchen; the session comes from a file."""


class QueriesTest(KitchenCase):
    """Counts per request, sign-in included."""

    def grow(self) -> None:
        for number in range(5):
            new_mix(self.ours.kitchen, f"copy {number}", None, self.our_mix.pk)
            batch = begin_batch(self.ours, self.our_mix.pk)
            add_event(self.ours, batch, NewEvent(kind="ticked", line=number))
            keep_card(self.ours, batch, NewCard(taster="Ada", firmness="stiff", liking=8, marks={"iciness": 3}))

    def test_search_asks_for_nothing_while_the_shelf_stays(self) -> None:
        self.send("GET", "/ingredients?find=cream")
        with self.assertNumQueries(SIGNED_IN):
            self.send("GET", "/ingredients?find=milk&brings=milk-fat&diet=nut-free")

    def test_reading_takes_the_same_queries_however_much_there_is(self) -> None:
        limits = {
            "/api/v1/session": 0,
            "/ingredients": 0,
            "/ingredients/whole-milk": 3,
            "/ingredients/whole-milk/versions": 2,
            "/lots": 1,
            f"/lots/{self.our_lot.pk}": 2,
            f"/lots/{self.our_lot.pk}/trace": 3,
            "/lot-suggestions?ingredient=whole-milk&grams=100": 1,
            "/tubs": 3,
            "/workplace": 5,
            "/plans": 1,
            f"/plans/{self.our_plan.pk}": 1,
            f"/plans/{self.our_plan.pk}/file": 10,
            f"/plans/{self.our_plan.pk}/preparation": 12,
            f"/plans/{self.our_plan.pk}/calendar": 1,
            "/ingredients/sugar/prices": 2,
            "/ingredients/sugar/price-effects?per_kg=2": 6,
            f"/batches/{self.our_batch.pk}/lots": 4,
            f"/batches/{self.our_batch.pk}/tubs": 4,
            f"/batches/{self.our_batch.pk}/origins": 6,
            "/ingredients.csv": 1,
            "/api/v1/vocabulary": 0,
            "/mixes": 2,
            "/tags": 1,
            "/machines": 1,
            "/places": 1,
            "/vessels": 1,
            f"/mixes/{self.our_mix.pk}/notes": 2,
            f"/mixes/{self.our_mix.pk}": 2,
            f"/mixes/{self.our_mix.pk}/batches": 2,
            f"/mixes/{self.our_mix.pk}/last-batch": 2,
            f"/mixes/{self.our_mix.pk}/revisions": 2,
            f"/mixes/{self.our_mix.pk}/file": 2,
            f"/mixes/{self.our_mix.pk}/revisions/1": 2,
            f"/mixes/{self.our_mix.pk}/revisions/1/analysis": 1,
            "/batches": 2,
            f"/batches/{self.our_batch.pk}": 2,
            f"/batches/{self.our_batch.pk}/making": 7,
            f"/batches/{self.our_batch.pk}/photos": 2,
            f"/plans/{self.our_plan.pk}/batches": 2,
            "/at-work": 2,
            "/instruments": 1,
            "/shown": 1,
            f"/batches/{self.our_batch.pk}/steps/cool/watch": 2,
            f"/batches/{self.our_batch.pk}/steps/cool/rescues": 3,
            "/tastings": 3,
            f"/batches/{self.our_batch.pk}/taste": 9,
            f"/mixes/{self.our_mix.pk}/cards": 3,
            "/learnt": 17,
            "/doses": 1,
            "/trials": 2,
            f"/trials/{self.our_trial.pk}": 4,
            f"/trial-tests/{self.our_trial.tests.earliest('pk').pk}": 3,
        }
        self.grow()
        kitchen = Kitchen.objects.get(pk=self.ours.kitchen_id)
        self.assertIsNot(learnt_by(kitchen), NOTHING)  # worked out once after a change, not with every request
        self.send("GET", "/ingredients")
        for path, limit in limits.items():
            with self.subTest(path=path), self.assertNumQueries(SIGNED_IN + limit):
                self.assertEqual(
                    self.client.get(path if path.startswith("/api") else self.place + path).status_code, 200
                )

    def test_an_edit_asks_for_the_machine_only_when_one_has_changed(self) -> None:
        body = {"lines": LINES, "machine": self.our_machine.pk}
        self.send("POST", "/analyses", body)
        with self.assertNumQueries(SIGNED_IN):
            _, before = self.send("POST", "/analyses", body)
        wide = {"version": 1, "bowl_l": 2 * self.our_machine.bowl_l}
        self.assertEqual(self.send("PATCH", f"/machines/{self.our_machine.pk}", wide)[0], 200)
        _, after = self.send("POST", "/analyses", body)
        self.assertAlmostEqual(after["fill"]["in_pct"], before["fill"]["in_pct"] / 2)
        self.assertEqual(self.send("DELETE", f"/machines/{self.our_machine.pk}")[0], 204)
        self.assertIsNone(self.send("POST", "/analyses", body)[1]["fill"])

    def test_forecasts_ask_for_nothing_while_shelf_and_machines_stay(self) -> None:
        body = {"lines": LINES, "machine": self.our_machine.pk}
        self.send("POST", "/run-forecasts", body)
        for path in ("/run-forecasts", "/machine-comparisons", "/pot-forecasts", "/ice-loads"):
            with self.subTest(path=path), self.assertNumQueries(SIGNED_IN):
                self.assertEqual(self.send("POST", path, body)[0], 200)

    def test_an_edit_asks_for_the_shelf_only_when_it_has_changed(self) -> None:
        Ingredient.objects.of(self.ours.kitchen).filter(slug="honey").update(name="Our honey")
        for asked in (2, 0, 0):
            with self.assertNumQueries(SIGNED_IN + asked):
                _, before = self.send("POST", "/analyses", {"lines": LINES})
        water = {"name": "Sugar syrup", "per_100g": {"water": 50, "sucrose": 50}}
        Ingredient.objects.of(self.ours.kitchen).filter(slug="sugar").update(composition=water)
        _, after = self.send("POST", "/analyses", {"lines": LINES})
        self.assertLess(after["analysis"]["figures"]["sugars"], before["analysis"]["figures"]["sugars"])

    def test_saving_does_not_grow_with_the_lines(self) -> None:
        counts = []
        for times in (1, 20):
            self.our_mix.refresh_from_db()
            with CaptureQueriesContext(
                connection,
            ) as captured:
                status, _ = self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=LINES * times))
            self.assertEqual(status, 200)
            counts.append(len(captured))
        self.assertEqual(counts[0], counts[1])
