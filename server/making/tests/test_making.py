"""Make: steps from the mix, presses kept once and in order, as made, critical points, photos, and plans that follow."""

from __future__ import annotations

import random
from datetime import timedelta
from io import BytesIO
from typing import Any
from uuid import uuid4

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, transaction
from django.utils import timezone
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from batches.models import Event, Photo
from batches.record import begin_batch
from plans.models import Plan, PlanEvent
from testing.kitchen_case import PICTURE, KitchenCase

BEGUN_AGO = timedelta(hours=20)


class MakingCase(KitchenCase):
    """Presses of two devices at one batch that was begun yesterday."""

    def setUp(self) -> None:
        super().setUp()
        self.our_batch = begin_batch(self.ours, self.our_mix.pk, timezone.now() - BEGUN_AGO)  # type: ignore[misc]
        self.counters: dict[str, int] = {}

    @property
    def at_batch(self) -> str:
        return f"/batches/{self.our_batch.pk}"

    def event(self, kind: str, device: str = "tablet", **said: Any) -> dict[str, Any]:
        self.counters[device] = self.counters.get(device, 0) + 1
        return {"kind": kind, "key": str(uuid4()), "device": device, "counter": self.counters[device], **said}

    def send_events(self, *events: dict[str, Any]) -> Any:
        status, taken = self.send("POST", f"{self.at_batch}/events", {"events": list(events)})
        self.assertEqual(status, 200, taken)
        return taken

    def noted(self, *events: dict[str, Any]) -> Any:
        taken = self.send_events(*events)
        self.assertEqual(taken["refused"], [])
        return taken["state"]

    def refusal(self, **event: Any) -> Any:
        return self.send_events(self.event(**event))["refused"][0]["problem"]

    def cooled_in(self, ago_ms: int) -> Any:
        read = self.event("read", step="cool", name="cooled_c", number=4)
        return self.noted(self.event("began", step="cool", ago_ms=ago_ms), read)

    def making(self) -> Any:
        status, making = self.send("GET", f"{self.at_batch}/making")
        self.assertEqual(status, 200, making)
        return making


class StepsTest(MakingCase):
    """The steps of a batch, and its presses."""

    def test_steps_are_those_of_the_mix_and_its_machine(self) -> None:
        making = self.making()
        ids = [step["id"] for step in making["steps"]]
        self.assertEqual(making["machine"], self.our_machine.pk)
        self.assertTrue({"prefreeze", "scald", "off-heat", "cool", "age", "churn.1", "pack.1", "harden.1"} <= set(ids))
        self.assertEqual(next(step["weighing"]["target_g"] for step in making["steps"] if step["weighing"]), 550)
        self.assertEqual(making["state"]["verdict"], self.send("GET", self.at_batch)[1]["planned"]["verdict"])
        self.assertFalse(making["mix_changed"])
        self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=[]))
        self.assertTrue(self.making()["mix_changed"])

    def test_a_press_is_kept_once_however_often_it_is_sent(self) -> None:
        press = self.event("ticked", line=0)
        for _ in range(3):
            state = self.noted(press)
        self.assertEqual(state["events"], 1)
        self.assertTrue(state["lines"][0]["ticked"])

    def test_presses_of_one_device_count_in_their_order(self) -> None:
        first, second = self.event("weighed", line=4, text="150"), self.event("weighed", line=4, text="162")
        self.noted(second)
        state = self.noted(first)
        self.assertEqual(state["lines"][4]["typed"], "162")

    def test_two_devices_on_one_line_are_both_kept_and_named(self) -> None:
        self.noted(self.event("weighed", line=4, text="150"))
        state = self.noted(self.event("weighed", "phone", line=4, text="162"))
        self.assertEqual((state["lines"][4]["typed"], state["lines"][4]["also"]), ("162", ["ours: 150"]))

    def test_what_a_wrong_weight_does_is_said(self) -> None:
        state = self.noted(self.event("weighed", line=4, text="190"), self.event("weighed", line=0, text="552"))
        self.assertIn("30 g too much", state["lines"][4]["said"])
        self.assertIn("sweeter", state["lines"][4]["said"])
        self.assertIn("nobody notices", state["lines"][0]["said"])
        self.assertIn("sweeter", state["effect"])

    def test_an_absurd_weight_is_asked_about_and_kept_when_pressed_again(self) -> None:
        problem = self.refusal(kind="weighed", line=4, text="1600")
        self.assertEqual(problem["type"], "/problems/weight-absurd")
        self.assertEqual(self.noted(self.event("weighed", line=4, text="1600", sure=True))["lines"][4]["grams"], 1600)

    def test_undo_takes_the_last_press_back_and_undo_of_that_brings_it_again(self) -> None:
        press = self.event("done", step="cool")
        state = self.noted(press)
        self.assertEqual(state["last"]["tablet"]["key"], press["key"])
        undo = self.event("undone", undoes=press["key"])
        self.assertNotIn("cool", self.noted(undo)["steps"])
        self.assertIn("cool", self.noted(self.event("undone", undoes=undo["key"]))["steps"])

    def test_what_makes_no_sense_is_refused_and_holds_up_no_other(self) -> None:
        refused = [
            self.event("weighed", line=99, text="1"),
            self.event("done"),
            self.event("skipped", step="cool"),
            self.event("read", step="cook", name="heated_c", number=900),
            self.event("swapped", line=0, name="moon-dust"),
            self.event("gap", name="the cat", number=5),
            self.event("overrun", text="100", more="130"),
            self.event("signed", name="blessed"),
            self.event("undone", undoes=str(uuid4())),
            self.event("note", text="nul\x00"),
        ]
        taken = self.send_events(*refused, self.event("note", text="kept"))
        self.assertEqual([one["place"] for one in taken["refused"]], list(range(len(refused))))
        self.assertEqual(Event.objects.filter(batch=self.our_batch).count(), 1)

    def test_a_press_made_without_a_connection_has_its_own_hour(self) -> None:
        self.noted(
            self.event("began", step="cool", ago_ms=3_600_000),
            self.event("read", step="cool", name="cooled_c", number=4),
        )
        point = next(one for one in self.making()["state"]["critical"] if one["key"] == "cooled")
        self.assertEqual((point["state"], point["noted"]), ("met", "4.0 °C after 60 min"))

    def test_a_batch_is_closed_once(self) -> None:
        self.noted(self.event("finished"))
        self.assertIn("closed already, by ours", self.refusal(kind="finished")["detail"])
        self.assertEqual(self.send("GET", self.at_batch)[1]["closed"], "finished")

    def test_abandoned_says_what_became_of_it(self) -> None:
        self.assertEqual(self.refusal(kind="abandoned")["type"], "/problems/event-reason-unsaid")
        self.noted(self.event("abandoned", text="into the pigs' bucket"))
        self.assertEqual(self.send("GET", self.at_batch)[1]["became"], "into the pigs' bucket")

    def test_neither_code_nor_database_changes_an_event(self) -> None:
        self.noted(self.event("done", step="cool"))
        rows = Event.objects.filter(batch=self.our_batch)
        with self.assertRaises(DatabaseError), transaction.atomic():
            rows.update(step="cook")


class AsMadeTest(MakingCase):
    """What was not as planned is analysed at once."""

    def test_another_ingredient_a_forgotten_one_and_lost_water(self) -> None:
        planned = self.making()["state"]["verdict"]
        swapped = self.noted(self.event("swapped", line=4, name="dextrose", text="no sugar left"))
        self.assertNotEqual(swapped["verdict"], planned)
        self.assertEqual(swapped["lines"][4]["instead"], "Dextrose, monohydrate")
        back = self.noted(self.event("swapped", line=4))
        self.assertEqual(back["verdict"], planned)
        more = self.noted(self.event("added", name="sugar", text="40 g", more="forgotten"))
        self.assertEqual(more["added"], ["Table sugar, 40 g"])
        self.assertIn("sweeter", more["effect"])

    def test_the_base_weighed_after_the_pot(self) -> None:
        state = self.noted(self.event("read", step="base-weight", name="base_g", number=920))
        self.assertEqual((state["gap"]["gap_g"], sorted(state["gap"]["said"])), (50, ["sieve", "spill", "water"]))
        before = state["verdict"]
        sieve = self.noted(self.event("gap", name="sieve", number=50))
        self.assertEqual((sieve["gap"]["to"], sieve["verdict"]), ("sieve", before))
        water = self.noted(self.event("gap", name="water", number=50))
        self.assertNotEqual(water["verdict"], before)
        batch = self.send("GET", self.at_batch)[1]
        self.assertGreater(batch["as_made"]["figures"]["total_solids"], batch["planned"]["figures"]["total_solids"])

    def test_overrun_by_one_cup_weighed_twice(self) -> None:
        state = self.noted(self.event("overrun", text="260", more="200 g"))
        self.assertAlmostEqual(state["overrun_pct"], 30)
        self.assertAlmostEqual(state["quantities"]["overrun_pct"], 30)

    def test_the_process_and_the_machine_learn_from_the_presses(self) -> None:
        state = self.noted(
            self.event("began", step="age", ago_ms=14 * 3_600_000),
            self.event("began", step="churn.1", ago_ms=30 * 60_000),
            self.event("read", step="thermometer", name="ice_water_c", number=1),
            self.event("read", step="scald", name="heated_c", number=85),
            self.event("read", step="rouse.1", name="base_in_c", number=5),
            self.event("read", step="churn.1", name="draw_c", number=-4.5),
            self.event("done", step="churn.1"),
        )
        self.assertEqual((state["quantities"]["heated_c"], state["quantities"]["base_in_c"]), (84, 4))
        self.assertAlmostEqual(state["quantities"]["aged_h"], 13.5, delta=0.01)
        churned = self.send("GET", self.at_batch)[1]["churned"]
        self.assertEqual((churned["machine_name"], churned["start_c"]), ("ours churn", 4))
        self.assertAlmostEqual(churned["minutes"], 30, delta=0.2)
        self.assertEqual(self.send("GET", "/machines")[1][0]["logged"], 1)


class OwnStepTest(MakingCase):
    """What the mix does not know of: cones, moulds, plates."""

    def test_a_step_of_ones_own_is_added_and_done(self) -> None:
        self.noted(self.event("chose", step="own.1", text="24 cones filled"))
        last = self.making()["steps"][-1]
        self.assertEqual((last["id"], last["title"], last["part"]), ("own.1", "24 cones filled", "pack"))
        state = self.noted(self.event("done", step="own.1"))
        self.assertIsNotNone(state["steps"]["own.1"]["done_at"])


class PackingTest(MakingCase):
    """Nothing is packed before its critical points are settled, unless somebody answers for it."""

    def test_open_points_hold_packing_up_until_they_are_released(self) -> None:
        self.noted(
            self.event("began", step="cool", ago_ms=8 * 3_600_000),
            self.event("read", step="cool", name="cooled_c", number=4),
        )
        status, problem = self.send("POST", f"{self.at_batch}/tubs", {"ml": 500})
        self.assertEqual((status, problem["type"]), (422, "/problems/points-open"))
        self.assertIn("settled: cooled, aged", problem["detail"])
        for point in ("cooled", "aged", "allergens"):
            self.noted(self.event("released", name=point, text="seen by the owner"))
        self.assertEqual(self.send("POST", f"{self.at_batch}/tubs", {"ml": 500})[0], 201)
        found = {one["key"]: one for one in self.making()["state"]["critical"]}
        self.assertEqual((found["cooled"]["state"], found["cooled"]["released"]), ("missed", "seen by the owner"))

    def test_a_batch_of_which_nothing_was_noted_was_made_by_pen_and_packs(self) -> None:
        self.noted(self.event("note", "", text="made at the market"))
        self.assertEqual(self.send("POST", f"{self.at_batch}/tubs", {"ml": 500})[0], 201)

    def test_points_bind_from_the_first_line_on_and_after_all_was_undone(self) -> None:
        press = self.event("weighed", line=0, text="550")
        self.noted(press)
        self.assertEqual(self.send("POST", f"{self.at_batch}/tubs", {"ml": 500})[0], 422)
        self.noted(self.event("undone", undoes=press["key"]))
        self.assertEqual(self.send("POST", f"{self.at_batch}/tubs", {"ml": 500})[0], 422)

    def test_nothing_of_a_batch_that_was_given_up_is_handed_over(self) -> None:
        self.noted(self.event("abandoned", text="fell on the floor"))
        for path, body in (("tubs", {"ml": 500}), ("bases", {"typed": "300 g"})):
            status, problem = self.send("POST", f"{self.at_batch}/{path}", body)
            self.assertEqual((status, problem["type"]), (422, "/problems/batch-abandoned"), path)

    def test_base_is_put_aside_once_it_was_heated_and_cooled(self) -> None:
        self.noted(self.event("ticked", line=0))
        base = {"typed": "300 g"}
        self.assertEqual(self.send("POST", f"{self.at_batch}/bases", base)[1]["type"], "/problems/points-open")
        for point in ("heated", "cooled"):
            self.noted(self.event("released", name=point, text="seen by the owner"))
        self.assertEqual(self.send("POST", f"{self.at_batch}/bases", base)[0], 201)


class PhotosTest(MakingCase):
    """Pictures are made small and lose what a camera wrote."""

    def test_a_photo_is_made_small_upright_and_plain(self) -> None:
        picture, exif = Image.effect_noise((3000, 2000), 90).convert("RGB"), Image.Exif()
        exif[0x0112], exif[0x010F] = 6, "A camera"
        taken = BytesIO()
        picture.save(taken, "JPEG", exif=exif, quality=95)
        status, photo = self.send("POST", f"{self.at_batch}/photos", SimpleUploadedFile("cup.jpg", taken.getvalue()))
        self.assertEqual((status, photo["width"], photo["height"]), (201, 1067, 1600))
        kept = bytes(Photo.objects.get(pk=photo["id"]).image)
        self.assertLessEqual(len(kept), 400_000)
        with Image.open(BytesIO(kept)) as read:
            self.assertEqual((read.format, dict(read.getexif())), ("JPEG", {}))
        answer = self.client.get(f"{self.place}/photos/{photo['id']}")
        self.assertEqual((answer["Content-Type"], answer.content), ("image/jpeg", kept))

    def test_what_somebody_wrote_into_a_picture_is_not_kept(self) -> None:
        picture, text = Image.new("RGB", (40, 30), "red"), PngInfo()
        text.add_text("Comment", "taken by Ada")
        for kind, more in (("JPEG", {"comment": b"taken by Ada"}), ("PNG", {"pnginfo": text})):
            taken = BytesIO()
            picture.save(taken, kind, **more)
            status, photo = self.send("POST", f"{self.at_batch}/photos", SimpleUploadedFile("a", taken.getvalue()))
            self.assertEqual(status, 201)
            self.assertNotIn(b"Ada", bytes(Photo.objects.get(pk=photo["id"]).image), kind)

    def test_a_seventh_or_what_is_no_picture_is_refused(self) -> None:
        bad = self.send("POST", f"{self.at_batch}/photos", SimpleUploadedFile("cup.jpg", b"GIF89a no picture"))
        self.assertEqual((bad[0], bad[1]["type"]), (422, "/problems/photo-unreadable"))
        for _ in range(6):
            self.assertEqual(self.send("POST", f"{self.at_batch}/photos", SimpleUploadedFile("a.png", PICTURE))[0], 201)
        full = self.send("POST", f"{self.at_batch}/photos", SimpleUploadedFile("a.png", PICTURE))
        self.assertEqual((full[0], full[1]["type"]), (422, "/problems/photos-too-many"))


class PlannedBatchTest(MakingCase):
    """A batch of a plan has its size, and the plan hears of it."""

    def test_it_is_begun_once_in_the_size_of_its_service(self) -> None:
        at_plan = f"/plans/{self.our_plan.pk}/batches"
        status, begun = self.send("POST", at_plan, {"product": "s1"})
        self.assertEqual(status, 201, begun)
        self.assertEqual(self.send("POST", at_plan, {"product": "s1"})[1], begun)
        self.assertEqual(self.send("GET", at_plan)[1], [begun])
        making = self.send("GET", f"/batches/{begun['batch']}/making")[1]
        self.assertGreater(making["mass_g"], 700)
        self.assertNotAlmostEqual(making["mass_g"], 970, delta=1)
        self.assertEqual(making["plan"]["name"], "ours day")
        weigh = next(step for step in making["steps"] if step["kind"] == "weigh")
        self.assertIsNotNone(weigh["planned_from"])
        self.assertEqual(self.send("POST", at_plan, {"product": "s9"})[1]["type"], "/problems/plan-unknown-id")

    def test_the_plan_hears_what_began_and_ended(self) -> None:
        begun = self.send("POST", f"/plans/{self.our_plan.pk}/batches", {"product": "s1"})[1]
        presses = [self.event("ticked", line=line) for line in range(5)]
        status, taken = self.send("POST", f"/batches/{begun['batch']}/events", {"events": presses[:1]})
        self.assertEqual(status, 200, taken)
        noted = PlanEvent.objects.filter(plan=self.our_plan)
        self.assertEqual(list(noted.values_list("kind", "step")), [("began", "s1.weigh")])
        self.send("POST", f"/batches/{begun['batch']}/events", {"events": presses[1:]})
        self.assertEqual(list(noted.values_list("kind", flat=True)), ["began", "ended"])
        self.assertGreater(Plan.objects.of(self.ours.kitchen).get(pk=self.our_plan.pk).version, self.our_plan.version)


class LongDayTest(MakingCase):
    """A long day with cuts: nothing doubled, nothing lost, whatever arrived twice or late."""

    def test_two_hundred_presses_with_answers_that_were_lost(self) -> None:
        chance = random.Random(20261127)
        presses = [
            self.event("weighed", line=chance.randrange(5), text=f"{chance.randrange(30, 110)}") for _ in range(200)
        ]
        waiting = list(presses)
        while waiting:
            many = waiting[: chance.randrange(1, 25)]
            self.send_events(*many)
            if chance.random() < 0.6:
                waiting = waiting[len(many) :]  # else the answer was lost, and the device sends the same again
        kept = Event.objects.filter(batch=self.our_batch)
        self.assertEqual(
            sorted(str(key) for key in kept.values_list("key", flat=True)), sorted(one["key"] for one in presses)
        )
        last = {one["line"]: one["text"] for one in presses}
        state = self.making()["state"]
        self.assertEqual({at: line["typed"] for at, line in enumerate(state["lines"])}, last)
