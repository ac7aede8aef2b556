"""Presses that come late, twice, dated back or from nowhere: nothing is signed falsely by them."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from making.tests.test_making import MakingCase

HOUR_MS = 3_600_000


class PressTimeTest(MakingCase):
    """When a press was made, as far as its device can know."""

    def cooled(self) -> Any:
        return next(one for one in self.making()["state"]["critical"] if one["key"] == "cooled")

    def test_began_pressed_again_on_another_device_begins_nothing_anew(self) -> None:
        self.noted(
            self.event("began", step="cool", ago_ms=8 * HOUR_MS),
            self.event("read", step="cool", name="cooled_c", number=4),
        )
        self.assertEqual(self.cooled()["state"], "missed")
        self.noted(self.event("began", "phone", step="cool"))
        self.noted(self.event("read", "phone", step="cool", name="cooled_c", number=4))
        self.assertEqual(self.cooled()["state"], "missed")

    def test_a_reading_that_a_new_device_dates_back_is_from_when_it_came_in(self) -> None:
        self.noted(self.event("began", step="cool", ago_ms=8 * HOUR_MS))
        self.noted(self.event("read", "stranger", step="cool", name="cooled_c", number=4, ago_ms=7 * HOUR_MS))
        self.assertEqual(self.cooled()["state"], "missed")

    def test_a_device_that_was_there_may_say_when_it_read(self) -> None:
        self.noted(self.event("note", text="weighed"))
        self.noted(self.event("began", step="cool"), self.event("read", step="cool", name="cooled_c", number=4))
        self.assertEqual(self.cooled()["state"], "met")

    def test_a_press_is_not_from_before_its_batch_nor_before_an_earlier_one(self) -> None:
        self.noted(self.event("began", step="cool", ago_ms=29 * 24 * HOUR_MS))
        began = self.making()["state"]["steps"]["cool"]["began_at"]
        self.assertEqual(began[:16], self.our_batch.begun_at.isoformat()[:16])
        self.noted(self.event("began", step="age"), self.event("done", step="age", ago_ms=HOUR_MS))
        aged = self.making()["state"]["steps"]["age"]
        self.assertGreaterEqual(aged["done_at"], aged["began_at"])


class LateTest(MakingCase):
    """What was pressed last counts, whatever comes in last; after closing it waits."""

    def test_an_older_weight_that_arrives_late_does_not_replace_a_newer_one(self) -> None:
        self.noted(self.event("weighed", line=4, text="110"))
        state = self.noted(self.event("weighed", "phone", line=4, text="90", ago_ms=HOUR_MS // 2))
        self.assertEqual(state["lines"][4]["typed"], "110")

    def closed_with_a_late_weight(self) -> tuple[dict[str, Any], Any]:
        self.noted(self.event("weighed", line=4, text="110"), self.event("finished"))
        late = self.event("weighed", "phone", line=4, text="90")
        return late, self.noted(late)

    def test_after_closing_a_late_press_waits_to_be_accepted(self) -> None:
        late, state = self.closed_with_a_late_weight()
        self.assertEqual((state["lines"][4]["typed"], state["closed"]), ("110", "finished"))
        self.assertEqual([one["key"] for one in state["late"]], [late["key"]])
        self.assertEqual(state["late"][0]["what"], "Table sugar: 90 g")
        self.assertEqual(self.send("GET", self.at_batch)[1]["late"], state["late"])
        state = self.noted(self.event("accepted", late=late["key"]))
        self.assertEqual((state["lines"][4]["typed"], state["late"]), ("90", []))

    def test_an_older_press_counts_too_once_it_is_accepted(self) -> None:
        self.noted(self.event("weighed", line=4, text="110"), self.event("finished"))
        older = self.event("weighed", "phone", line=4, text="90", ago_ms=HOUR_MS)
        self.noted(older)
        accepting = self.event("accepted", late=older["key"])
        self.assertEqual(self.noted(accepting)["lines"][4]["typed"], "90")
        state = self.noted(self.event("undone", undoes=accepting["key"]))
        self.assertEqual((state["lines"][4]["typed"], len(state["late"])), ("110", 1))

    def test_a_late_press_that_is_declined_counts_for_nothing(self) -> None:
        late, _ = self.closed_with_a_late_weight()
        state = self.noted(self.event("declined", late=late["key"]))
        self.assertEqual((state["lines"][4]["typed"], state["late"]), ("110", []))

    def test_only_what_waits_is_accepted_or_declined(self) -> None:
        for kind in ("accepted", "declined"):
            self.assertEqual(self.refusal(kind=kind, late=str(uuid4()))["type"], "/problems/event-not-late")
            self.assertEqual(self.refusal(kind=kind)["type"], "/problems/event-not-late")

    def test_the_device_that_closed_it_and_the_sheet_go_on_as_they_like(self) -> None:
        self.noted(self.event("finished"))
        self.assertEqual(self.noted(self.event("read", step="harden.1", name="core_c", number=-16))["late"], [])
        self.assertEqual(self.noted(self.event("ticked", "", line=0))["late"], [])

    def test_an_undo_of_before_that_comes_late_waits_too(self) -> None:
        weighed = self.event("weighed", "phone", line=4, text="110")
        self.noted(weighed)
        self.noted(self.event("finished"))
        state = self.noted(self.event("undone", "phone", undoes=weighed["key"]))
        self.assertEqual((state["lines"][4]["typed"], len(state["late"])), ("110", 1))
        state = self.noted(self.event("accepted", late=state["late"][0]["key"]))
        self.assertEqual((state["lines"][4]["typed"], state["late"], state["otherwise"]), (None, [], []))


class ThermometerTest(MakingCase):
    """A thermometer that is far off settles nothing."""

    def test_far_off_in_ice_water_it_is_replaced_and_corrects_nothing(self) -> None:
        state = self.noted(
            self.event("read", step="thermometer", name="ice_water_c", number=-60),
            self.event("read", step="scald", name="heated_c", number=24),
        )
        self.assertEqual(state["quantities"]["heated_c"], 24)
        cooled = next(one for one in state["critical"] if one["key"] == "cooled")
        self.assertEqual(cooled["state"], "open")


class OneByOneTest(MakingCase):
    """One press that cannot be read refuses no other."""

    def test_an_over_long_press_is_refused_alone(self) -> None:
        long, bad = self.event("note", text="x" * 5000), {"kind": "prayed", "key": "no key"}
        taken = self.send_events(long, bad, self.event("note", text="kept"))
        self.assertEqual((taken["kept"], [one["place"] for one in taken["refused"]]), (1, [0, 1]))
        self.assertEqual([one["key"] for one in taken["refused"]], [long["key"], None])
        self.assertIn("At most 4000 characters", taken["refused"][0]["problem"]["detail"])
        self.assertEqual(self.send("GET", self.at_batch)[1]["note"], "kept")


class GapTest(MakingCase):
    """What boiled off cannot be more than there is, and no list fails by one batch."""

    def test_a_gap_beyond_the_batch_is_refused(self) -> None:
        for number in (1e6, -1e6):
            problem = self.refusal(kind="gap", name="water", number=number)
            self.assertEqual(problem["type"], "/problems/gap-impossible")

    def test_a_gap_that_leaves_no_water_is_refused_whichever_comes_last(self) -> None:
        self.assertEqual(self.refusal(kind="gap", name="water", number=900)["type"], "/problems/as-made-without-water")
        self.noted(self.event("gap", name="water", number=400))
        halves = [self.event("weighed", line=at, text=f"{half}") for at, half in enumerate((275, 115, 5, 80))]
        taken = self.send_events(*halves)
        self.assertTrue(taken["refused"])
        self.assertEqual(taken["refused"][0]["problem"]["type"], "/problems/as-made-without-water")

    def test_a_batch_that_makes_no_mix_says_so_in_its_row_and_shows_the_way_back(self) -> None:
        # as versions before this one kept it
        self.our_batch.events.create(kind="gap", value={"to": "water", "grams": 1e6}, by=self.ours)
        for path in (
            "/batches",
            "/at-work",
            f"{self.at_batch}/making",
            f"{self.at_batch}/taste",
            self.at_batch,
        ):
            status, answer = self.send("GET", path)
            self.assertEqual(status, 200, (path, answer))
        batch = self.send("GET", self.at_batch)[1]
        self.assertIn("take back what was noted", batch["fault"])
        self.assertEqual((batch["as_made"], batch["gap_g"]), (None, 1e6))
        row = next(one for one in self.send("GET", "/batches")[1]["items"] if one["id"] == self.our_batch.pk)
        self.assertEqual(row["fault"], batch["fault"])
        state = self.noted(self.event("gap", name=""))
        self.assertEqual((state["fault"], state["gap"]), ("", None))


class MachineTest(MakingCase):
    """The machine that is taken is one of the kitchen."""

    def test_a_machine_that_is_none_is_refused(self) -> None:
        for text in ("²", "9" * 30, "٣", "-1", "churn", str(self.their_machine.pk)):
            problem = self.refusal(kind="chose", step="machine", text=text)
            self.assertEqual(problem["type"], "/problems/machine-unknown", text)
        self.assertIn("It has ours churn.", problem["detail"])

    def test_what_an_older_version_kept_breaks_no_page(self) -> None:
        for text in ("²", "9" * 30):
            self.our_batch.events.create(kind="chose", step="machine", value=text, by=self.ours)
            self.assertEqual(self.making()["machine"], self.our_machine.pk)


class ShownStepsTest(MakingCase):
    """What a batch was told to do stays, whatever its kitchen has by then."""

    def test_steps_and_limits_stay_when_the_kitchen_changes(self) -> None:
        before = self.making()
        self.our_machine.bowl_l, self.our_machine.name = 0.3, "tiny churn"
        self.our_machine.save()
        self.our_place.delete()
        self.our_vessel.delete()
        self.change_kitchen({"freezer_c": -30})
        after = self.making()
        for one in ("steps", "parts", "machine_name", "runs"):
            self.assertEqual(after[one], before[one], one)

    def test_another_machine_brings_steps_of_its_own_and_the_first_come_back_as_they_were(self) -> None:
        before = self.making()
        other = self.send("POST", "/machines", {"name": "Big", "kind": "compressor", "bowl_l": 3})[1]
        self.noted(self.event("chose", step="machine", text=str(other["id"])))
        self.assertEqual(self.making()["machine_name"], "Big")
        self.assertNotEqual(self.making()["steps"], before["steps"])
        self.send("DELETE", f"/machines/{other['id']}")
        self.assertEqual(self.making()["machine_name"], "Big")
        self.noted(self.event("chose", step="machine", text=str(self.our_machine.pk)))
        self.assertEqual([one["id"] for one in self.making()["steps"]], [one["id"] for one in before["steps"]])

    def test_steps_are_kept_once(self) -> None:
        self.making()
        self.making()
        self.assertEqual(self.our_batch.shown_steps.count(), 1)
        self.assertEqual(self.our_batch.shown_steps.get().content["schema"], 1)
