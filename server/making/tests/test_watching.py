"""Steps that an instrument watches, and what a hand does at the stand-ins."""

from __future__ import annotations

from dataclasses import replace
from math import exp
from typing import Any

from django.utils import timezone

from batches.replay import replay
from instruments.models import Instrument, Point, Told, Watch
from jalebi_core.heat.churn import Churned, Conditions, churn
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.production.runs import churner_of
from kitchens.models import Machine
from making.bench import making_of
from testing.kitchen_case import KitchenCase


class WatchingCase(KitchenCase):
    """A batch that is made with a probe."""

    def watch(self, step: str) -> dict[str, Any]:
        status, answer = self.send("POST", f"/batches/{self.our_batch.pk}/steps/{step}/watch")
        self.assertEqual(status, 201, answer)
        found: dict[str, Any] = answer
        return found

    def watched(self, step: str) -> dict[str, Any]:
        found: dict[str, Any] = self.send("GET", f"/batches/{self.our_batch.pk}/steps/{step}/watch")[1]
        return found

    def log(self, step: str, points: list[tuple[float, float]]) -> None:
        """Let the probe have logged points of a step."""
        watching = Watch.objects.of(self.ours.kitchen).get(step=step, batch=self.our_batch)
        Point.objects.bulk_create(Point(watch=watching, minute=minute, value=value) for minute, value in points)
        watching.began_t, watching.last_t = 0.0, 60 * points[-1][0]
        watching.save()

    def note(self, *events: dict[str, Any]) -> dict[str, Any]:
        body = {"events": [{"device": "phone", **event} for event in events]}
        _, answer = self.send("POST", f"/batches/{self.our_batch.pk}/events", body)
        state: dict[str, Any] = answer["state"]
        return state


class WatchTest(WatchingCase):
    """What is logged, and what follows from it."""

    def test_a_step_is_watched_once_however_often_it_is_asked(self) -> None:
        first = self.watch("cool")
        self.assertEqual((first["instrument"], first["points"]), ("ours-probe", []))
        self.watch("cool")
        self.assertEqual(Watch.objects.of(self.ours.kitchen).count(), 1)

    def test_what_nothing_can_watch_is_said(self) -> None:
        for step, code in (("weigh.0", "step-not-watched"), ("moon", "step-unknown")):
            status, answer = self.send("POST", f"/batches/{self.our_batch.pk}/steps/{step}/watch")
            self.assertEqual((status, answer["type"]), (422, f"/problems/{code}"))
        Instrument.objects.of(self.ours.kitchen).update(connected=False)
        self.assertEqual(self.send("POST", f"/batches/{self.our_batch.pk}/steps/cool/watch"), (201, None))
        self.assertEqual(self.send("GET", f"/batches/{self.our_batch.pk}/steps/cool/watch"), (200, None))

    def test_cooling_is_judged_by_both_its_stages(self) -> None:
        self.watch("cool")
        self.log("cool", [(float(at), 80 * exp(-at / 20)) for at in range(70)])
        self.assertIn("It is at 5 °C", self.watched("cool")["said"])
        state = self.note({"kind": "began", "step": "cool"})
        cooled = next(one for one in state["critical"] if one["key"] == "cooled")
        self.assertEqual(cooled["state"], "met")

    def test_a_slow_pot_is_missed_although_six_hours_are_not_over(self) -> None:
        self.watch("cool")
        self.log("cool", [(float(at), 4 + 76 * exp(-at / 140)) for at in range(0, 330, 3)])
        self.assertIn("food codes", self.watched("cool")["alarm"])
        state = self.note({"kind": "began", "step": "cool"})
        cooled = next(one for one in state["critical"] if one["key"] == "cooled")
        self.assertEqual(cooled["state"], "missed")

    def test_a_probe_that_lay_in_the_freezer_says_nothing_of_the_pot(self) -> None:
        self.watch("cool")
        self.log("cool", [(float(at), -18.0) for at in range(30)])
        state = self.note({"kind": "began", "step": "cool"})
        self.assertEqual(next(one["state"] for one in state["critical"] if one["key"] == "cooled"), "open")

    def test_what_the_thermometer_shows_too_much_is_taken_off(self) -> None:
        self.watch("cool")
        self.log("cool", [(float(at), 80 * exp(-at / 20) + 2) for at in range(70)])
        self.note({"kind": "read", "step": "thermometer", "name": "ice_water_c", "number": 2})
        self.assertAlmostEqual(self.watched("cool")["points"][0][1], 80)

    def test_heat_counts_along_the_curve(self) -> None:
        self.watch("scald")
        self.log("scald", [(at / 10, 60 + at / 2) for at in range(50)])
        self.assertGreater(self.watched("scald")["credit"], 1)
        self.assertGreater(self.note({"kind": "note", "text": "hot"})["credit"], 1)

    def test_a_pot_that_is_only_warmed_or_held_is_not_sent_into_the_cold(self) -> None:
        self.watch("scald")
        self.log("scald", [(at / 10, 60 + at / 2) for at in range(50)])
        self.assertRegex(self.watched("scald")["said"], r"^It is there, at 8\d °C(: keep it so for \d+ (s|min))?\.$")

    def test_a_kitchen_in_fahrenheit_reads_no_celsius(self) -> None:
        self.ours.kitchen.temperature_unit = "F"
        self.ours.kitchen.save()
        self.watch("cool")
        self.log("cool", [(float(at), 4 + 76 * exp(-at / 140)) for at in range(0, 330, 3)])
        self.assertIn("70 °F", self.watched("cool")["alarm"])
        _, found = self.send("GET", f"/batches/{self.our_batch.pk}/steps/cool/rescues")
        self.assertNotIn("°C", " ".join(sentence for one in found for sentence in (*one["now"], one["throw"])))

    def test_a_run_is_watched_and_its_minutes_teach_the_machine(self) -> None:
        self.note({"kind": "chose", "step": "machine", "text": str(self.our_machine.pk)})
        self.note({"kind": "began", "step": "churn.1"})
        self.watch("churn.1")
        run = self.slow_run()
        self.log("churn.1", [(minute, t_c) for minute, t_c, _, _ in run.seen if minute <= run.minutes / 2])
        found = self.watched("churn.1")
        self.assertIn("Take it out in about", found["said"])
        self.assertAlmostEqual(found["left_min"], run.minutes / 2, delta=2.5)
        self.assertTrue(found["planned"] and found["ahead"])
        self.note({"kind": "done", "step": "churn.1"})
        watching = Watch.objects.of(self.ours.kitchen).get(step="churn.1")
        self.assertIsNotNone(watching.ended_at)
        event = self.our_batch.events.get(kind="churned", value__isnull=False)
        self.assertAlmostEqual((event.value or {})["minutes"], (watching.last_t or 0) / 60, delta=0.1)

    def slow_run(self) -> Churned:
        made = making_of(self.ours.kitchen, self.our_batch, replay(self.our_batch.events.all()))
        machine = Machine.objects.of(self.ours.kitchen).get(pk=self.our_machine.pk).to_core()
        assert made.run is not None
        table = thermal(made.mix.row(), made.mix.overrun_used_pct)
        return churn(table, made.run.mass_g, replace(churner_of(machine), factor=0.8), Conditions())

    def test_what_is_taken_back_is_watched_again(self) -> None:
        self.watch("cool")
        state = self.note({"kind": "began", "step": "cool"}, {"kind": "done", "step": "cool"})
        self.assertTrue(self.watched("cool")["ended"])
        self.note({"kind": "undone", "undoes": state["last"]["phone"]["key"]})
        self.assertFalse(self.watch("cool")["ended"])

    def test_a_warm_freezer_calls(self) -> None:
        self.watch("harden.1")
        self.log("harden.1", [(float(at), -18.0 if at < 60 else -12.0) for at in range(0, 120, 2)])
        self.assertIn("Above −15 °C for", self.watched("harden.1")["alarm"])


class StandInTest(WatchingCase):
    """Hands at the stand-ins."""

    def act(self, step: str, **body: Any) -> tuple[int, Any]:
        return self.send("POST", f"/batches/{self.our_batch.pk}/steps/{step}/stand-in", body)

    def test_a_hand_pours_heats_cools_and_churns(self) -> None:
        for step, body, told in (
            ("weigh.0", {"act": "pour", "grams": 100}, ["pour"]),
            ("scald", {"act": "heat"}, ["fill", "put", "stove-on"]),
            ("cool", {"act": "ice-bath"}, ["put", "stand"]),
            ("churn.1", {"act": "start-weak"}, ["load", "start", "put"]),
            ("churn.1", {"act": "stop"}, ["stop", "put"]),
            ("harden.1", {"act": "freezer-dies"}, ["put", "freezer-dies"]),
            ("cool", {"act": "die"}, ["die"]),
        ):
            with self.subTest(step=step, **body):
                self.assertEqual(self.act(step, **body)[0], 204)
                rows = Told.objects.of(self.ours.kitchen)
                self.assertEqual([one.body["do"] for one in rows], told)
                rows.delete()

    def test_a_real_instrument_is_moved_by_nobody(self) -> None:
        Instrument.objects.of(self.ours.kitchen).update(stand_in=False)
        self.assertEqual(self.act("cool", act="ice-bath")[1]["type"], "/problems/device-not-simulated")

    def test_what_is_not_connected_is_said(self) -> None:
        Instrument.objects.of(self.ours.kitchen).update(connected=False)
        self.assertEqual(self.act("cool", act="ice-bath")[1]["type"], "/problems/device-gone")
        self.assertEqual(self.send("POST", "/instruments/ours-scale/tare")[1]["type"], "/problems/device-gone")

    def test_absurd_hands_are_refused(self) -> None:
        for body in ({"act": "fly"}, {"act": "pour", "grams": 1e9}, {"act": "pour", "grams": "much"}):
            self.assertEqual(self.act("weigh.0", **body)[0], 422)


class ShownTest(KitchenCase):
    """What instruments show."""

    def test_only_what_is_new_and_ours_is_told(self) -> None:
        for person in (self.ours, self.theirs):
            row = Instrument.objects.of(person.kitchen).get(kind="scale")
            for at in range(3):
                row.shown.create(t=float(at), value=100.0 + at, steady=at == 2, at=timezone.now())
        _, first = self.send("GET", "/shown")
        self.assertEqual([one["value"] for one in first["shown"]], [100, 101, 102])
        _, later = self.send("GET", f"/shown?since={first['upto']}")
        self.assertEqual((later["shown"], later["upto"]), ([], first["upto"]))
        _, other = self.send("GET", "/shown?instrument=ours-probe")
        self.assertEqual(other["shown"], [])


class RescueTest(WatchingCase):
    """What is done when something goes wrong."""

    def test_rescues_are_of_this_mix_those_of_the_part_first(self) -> None:
        self.note({"kind": "chose", "step": "machine", "text": str(self.our_machine.pk)})
        status, found = self.send("GET", f"/batches/{self.our_batch.pk}/steps/churn.1/rescues")
        self.assertEqual(status, 200, found)
        self.assertTrue(found[0]["here"])
        self.assertEqual([one["here"] for one in found], sorted((one["here"] for one in found), reverse=True))
        self.assertNotIn("scrambled", {one["key"] for one in found})
        forgotten = next(one for one in found if one["key"] == "forgotten")
        self.assertIn("Table sugar, 160 g", " ".join(forgotten["now"]))
        self.note(*({"kind": "ticked", "line": line} for line in range(5)))
        _, found = self.send("GET", f"/batches/{self.our_batch.pk}/steps/churn.1/rescues")
        forgotten = next(one for one in found if one["key"] == "forgotten")
        self.assertIn("Everything is ticked", forgotten["now"][0])

    def test_it_is_forecast_in_another_machine(self) -> None:
        self.note({"kind": "chose", "step": "machine", "text": str(self.our_machine.pk)})
        other = Machine.objects.create(kitchen=self.ours.kitchen, name="Big one", kind="compressor", bowl_l=2)
        self.ours.kitchen.refresh_from_db()
        _, found = self.send("GET", f"/batches/{self.our_batch.pk}/steps/churn.1/rescues")
        stuck = next(one for one in found if one["key"] == "does-not-set")
        self.assertEqual([(one["id"], one["drawn"]) for one in stuck["others"]], [(other.pk, True)])
        self.assertIn("Drawn after", stuck["others"][0]["said"])
