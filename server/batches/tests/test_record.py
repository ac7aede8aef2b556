"""Batches: planned from the mix, made as weighed, recorded for good."""

from __future__ import annotations

from io import StringIO
from typing import Any

from django.core.management import CommandError, call_command
from django.db import DatabaseError, transaction

from batches.models import Batch, Event
from demo.kitchen import SLUG, make_demo
from kitchens.models import Kitchen
from mixes.models import Mix
from mixes.revisions import content_of
from testing.kitchen_case import LINES, KitchenCase


class RecordTest(KitchenCase):
    """A sheet, filled in."""

    def record(self, **event: Any) -> tuple[int, Any]:
        """Send one press; the batch as it is then, or the problem for which it was refused."""
        return self.press(self.our_batch.pk, event)

    def test_a_batch_begins_as_planned(self) -> None:
        _, batch = self.send("GET", f"/batches/{self.our_batch.pk}")
        self.assertEqual(batch["planned"], batch["as_made"])
        self.assertEqual([line["planned_g"] for line in batch["lines"]], [550, 110, 110, 40, 160])

    def test_less_sugar_as_made_is_analysed_as_harder(self) -> None:
        status, batch = self.record(kind="weighed", line=4, text="1,3 hg")
        self.assertEqual(status, 422)
        status, batch = self.record(kind="weighed", line=4, text="130")
        self.assertEqual(status, 200)
        self.assertEqual(batch["lines"][4]["as_made_g"], 130)
        self.assertGreater(batch["as_made"]["freezer"]["firmness"], batch["planned"]["freezer"]["firmness"])
        self.assertGreater(batch["as_made"]["scoop_c"], batch["planned"]["scoop_c"])

    def test_clearing_a_weight_returns_to_the_plan(self) -> None:
        self.record(kind="weighed", line=4, text="130")
        _, batch = self.record(kind="weighed", line=4, text="")
        self.assertIsNone(batch["lines"][4]["as_made_g"])
        self.assertEqual(batch["planned"], batch["as_made"])
        self.assertEqual(Event.objects.filter(batch=self.our_batch).count(), 2)

    def test_ticks_note_and_tasting_are_kept(self) -> None:
        self.record(kind="ticked", line=0)
        self.record(kind="ticked", line=1)
        self.record(kind="ticked", line=1, done=False)
        self.record(kind="note", text="First\nline")
        _, batch = self.record(kind="tasted", text="hard")
        self.assertEqual([line["ticked"] for line in batch["lines"]], [True, False, False, False, False])
        self.assertEqual((batch["note"], batch["tasted"]), ("First\nline", "hard"))

    def test_nothing_went_in_is_an_answer_too(self) -> None:
        for number in range(5):
            status, batch = self.record(kind="weighed", line=number, text="0")
            self.assertEqual(status, 200)
        self.assertIsNone(batch["as_made"])
        self.assertEqual(self.send("GET", "/batches")[0], 200)

    def test_what_makes_no_sense_is_refused(self) -> None:
        for event in (
            {"kind": "weighed", "line": 99, "text": "1"},
            {"kind": "weighed", "text": "1"},
            {"kind": "note", "line": 1, "text": "x"},
            {"kind": "note", "text": "nul\x00"},
            {"kind": "weighed", "line": 0, "text": "12 g g"},
            {"kind": "burnt"},
        ):
            with self.subTest(event=event):
                self.assertEqual(self.record(**event)[0], 422)
        self.assertFalse(Event.objects.filter(batch=self.our_batch).exists())

    def test_logged_minutes_teach_the_machine_and_are_taken_back(self) -> None:
        number = self.our_machine.pk
        forecast = {"lines": LINES, "machine": number}
        untuned = self.send("POST", "/run-forecasts", forecast)[1]
        run = {"machine": number, "minutes": round(1.4 * untuned["minutes"], 1)}
        status, batch = self.record(kind="churned", run=run)
        self.assertEqual(status, 200, batch)
        self.assertLess(batch["churned"]["factor"], 0.95)
        self.assertEqual(batch["churned"]["machine_name"], "ours churn")
        _, machines = self.send("GET", "/machines")
        self.assertEqual(machines[0]["logged"], 1)
        self.assertTrue(batch["churned"]["factor"] < machines[0]["factor"] < 1)
        tuned = self.send("POST", "/run-forecasts", forecast)[1]
        self.assertGreater(tuned["minutes"], untuned["minutes"])
        self.assertIn("logged runs: 1", tuned["tuned"])
        _, batch = self.record(kind="churned")
        self.assertIsNone(batch["churned"])
        self.assertEqual(self.send("GET", "/machines")[1][0]["factor"], 1)

    def test_a_run_in_a_machine_of_others_or_that_never_stirs_is_refused(self) -> None:
        self.assertEqual(self.record(kind="churned", run={"machine": self.their_machine.pk, "minutes": 20})[0], 404)
        tray = self.send("POST", "/machines", {"name": "Tray", "kind": "no-churn", "bowl_l": 2})[1]
        status, problem = self.record(kind="churned", run={"machine": tray["id"], "minutes": 20})
        self.assertEqual(status, 422)
        self.assertIn("Tray does not churn", problem["detail"])

    def test_an_unchanged_mix_is_made_from_the_same_revision(self) -> None:
        _, again = self.send("POST", f"/mixes/{self.our_mix.pk}/batches")
        self.assertEqual((again["number"], again["revision"]), (2, 1))
        self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(overrun_pct=50))
        _, changed = self.send("POST", f"/mixes/{self.our_mix.pk}/batches")
        self.assertEqual((changed["number"], changed["revision"]), (3, 2))

    def test_last_months_batch_keeps_last_months_mix(self) -> None:
        self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(name="Renamed", lines=[]))
        _, batch = self.send("GET", f"/batches/{self.our_batch.pk}")
        self.assertEqual(batch["mix_name"], "ours milk ice")
        self.assertEqual(len(batch["lines"]), 5)

    def test_neither_code_nor_database_changes_a_record(self) -> None:
        self.record(kind="note", text="as it was")
        event = Event.objects.get(batch=self.our_batch)
        with self.assertRaises(TypeError):
            event.save()
        for rows, change in (
            (Event.objects.filter(pk=event.pk), {"value": "other"}),
            (Batch.objects.of_all_kitchens(), {"number": 9}),
        ):
            with self.assertRaises(DatabaseError), transaction.atomic():
                rows.update(**change)


class OwnKitchenTest(KitchenCase):
    """A kitchen made from the command line."""

    def test_a_new_kitchen_is_stocked_and_opens_with_the_printed_password(self) -> None:
        printed = StringIO()
        call_command("add_kitchen", "Lock 12", "ada", stdout=printed)
        body = {"name": "ada", "password": printed.getvalue().split()[-1]}
        status, session = self.send("POST", "/api/v1/session", body)
        self.assertEqual((status, session["kitchens"]), (200, [{"slug": "lock-12", "name": "Lock 12"}]))
        self.place = "/api/v1/kitchens/lock-12"
        self.assertEqual(self.send("GET", "/mixes")[1]["items"], [])
        self.assertGreater(self.send("GET", "/ingredients")[1]["total"], 200)

    def test_names_that_are_taken_or_cannot_be_are_refused(self) -> None:
        for kitchen, person in (("Ours", "new"), ("New", "ours"), ("", "new"), ("New", "a\x00")):
            with self.subTest(kitchen=kitchen, person=person), self.assertRaises(CommandError):
                call_command("add_kitchen", kitchen, person)


class DemoKitchenTest(KitchenCase):
    """Sluice No. 9."""

    def test_the_demo_is_believable_and_resets_alone(self) -> None:
        make_demo()
        demo = Kitchen.objects.get(slug=SLUG)
        Mix.objects.of(demo).filter(name="Quince sorbet").update(name="Spoilt")
        call_command("prepare", fresh_demo=True)
        demo = Kitchen.objects.get(slug=SLUG)
        names = list(Mix.objects.of(demo).values_list("name", flat=True))
        self.assertEqual(len(names), 8)
        self.assertIn("Quince sorbet", names)
        self.assertEqual(Batch.objects.of(demo).count(), 16)
        self.assertTrue(Mix.objects.of_all_kitchens().filter(pk=self.our_mix.pk).exists())
        self.sign_in_as(demo.people.get())
        for mix in Mix.objects.of(demo):
            draft = self.send("GET", f"/mixes/{mix.pk}")[1]
            found = self.send("POST", "/analyses", {key: draft[key] for key in ("style", "overrun_pct", "lines")})[1]
            self.assertTrue(-4 < found["analysis"]["first_ice_c"] < -1.8, mix.name)
            self.assertAlmostEqual(found["analysis"]["mass_g"], 1000, delta=1)

    def test_its_past_is_in_order(self) -> None:
        demo = make_demo()
        batches = Batch.objects.of(demo).select_related("revision")
        self.assertTrue(all(batch.revision.kept_at <= batch.begun_at for batch in batches))
        begun = list(batches.order_by("number").values_list("begun_at", flat=True))
        self.assertEqual(begun, sorted(begun))
        quince = Mix.objects.of(demo).get(name="Quince sorbet")
        past = {point.number: point for point in quince.revisions.all()}
        self.assertEqual({number: point.parent for number, point in past.items()}, {1: None, 2: 1, 3: 1})
        self.assertEqual(past[2], batches.filter(revision__mix=quince).latest("begun_at").revision)
        self.assertEqual((quince.based_on, content_of(quince)), (2, past[2].content))
        self.assertGreater(past[3].kept_at, past[2].kept_at)
