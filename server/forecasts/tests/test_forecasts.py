"""Forecasts over the wire: machines, tubs, ice, pots; what they say, and what they refuse."""

from __future__ import annotations

from typing import Any

from kitchens.models import Machine
from testing.kitchen_case import LINES, KitchenCase

TUB = {"diameter_mm": 110, "height_mm": 85}


class ForecastsTest(KitchenCase):
    """One kitchen, its mix of 980 g and its canister of 1.5 L."""

    def run_forecast(self, **asked: Any) -> dict[str, Any]:
        status, found = self.send("POST", "/run-forecasts", {"lines": LINES, "machine": self.our_machine.pk, **asked})
        self.assertEqual(status, 200, found)
        assert isinstance(found, dict)
        return found

    def test_the_machine_line_says_minutes_draw_and_cold_left(self) -> None:
        found = self.run_forecast()
        self.assertRegex(found["said"], r"^Drawn after \d+ min at −\d\.\d °C; .* of the bowl’s cold is left\.$")
        self.assertLess(found["earliest_min"], found["minutes"])
        self.assertIn("30 %", found["tuned"])
        self.assertEqual(found["remedies"], [])

    def test_a_stalled_run_names_what_would_help_and_each_is_drawn(self) -> None:
        found = self.run_forecast(start_c=25, prefreeze_h=9)
        self.assertFalse(found["drawn"])
        self.assertIsNone(found["latest_min"])
        self.assertIn("the bowl is spent", found["said"])
        for remedy in found["remedies"]:
            self.assertTrue(remedy["then"].startswith("Drawn after"), remedy)
        chilled = next(one for one in found["remedies"] if one["kind"] == "colder-base")
        self.assertTrue(self.run_forecast(start_c=chilled["to"], prefreeze_h=9)["drawn"])

    def test_a_draft_without_machine_or_that_nothing_stirs_has_no_run(self) -> None:
        for asked in ({"lines": LINES}, {"lines": [], "machine": self.our_machine.pk}):
            self.assertEqual(self.send("POST", "/run-forecasts", asked), (200, None))
        unstirred = {"lines": LINES, "machine": self.our_machine.pk, "style": "granita"}
        self.assertEqual(self.send("POST", "/run-forecasts", unstirred), (200, None))
        self.assertEqual(self.send("POST", "/machine-comparisons", unstirred), (200, []))

    def test_machines_stand_side_by_side_and_theirs_are_not_among_them(self) -> None:
        Machine.objects.create(kitchen=self.ours.kitchen, name="Big", kind="batch-freezer", bowl_l=6)
        Machine.objects.create(kitchen=self.ours.kitchen, name="Tray", kind="no-churn", bowl_l=2)
        _, found = self.send("POST", "/machine-comparisons", {"lines": LINES})
        self.assertEqual([one["name"] for one in found], ["ours churn", "Big"])
        for one in found:
            self.assertGreater(one["litres"], 0.8)
            self.assertGreater(one["scoops"], 10)
        theirs = {"lines": LINES, "machine": self.their_machine.pk}
        self.assertEqual(self.send("POST", "/run-forecasts", theirs), (200, None))

    def test_programmes_are_kept_and_the_first_is_the_usual_one(self) -> None:
        path = f"/machines/{self.our_machine.pk}"
        soft = {"name": "soft", "draw_c": -3.5}
        status, machine = self.send("PATCH", path, {"version": 1, "programmes": [soft, {"name": "long"}]})
        self.assertEqual(status, 200, machine)
        self.assertEqual([one["name"] for one in machine["programmes"]], ["soft", "long"])
        self.assertAlmostEqual(self.run_forecast()["t_c"], -3.5, places=2)
        self.assertLess(self.run_forecast(programme="long")["t_c"], -4)
        self.assertEqual(
            self.send(
                "POST",
                "/run-forecasts",
                {
                    "lines": LINES,
                    "machine": self.our_machine.pk,
                    "programme": "hard",
                },
            )[0],
            422,
        )

    def test_a_tub_hardens_and_comes_out_to_the_counter(self) -> None:
        stays = [{"kind": "still-freezer", "minutes": 900}, {"kind": "room", "minutes": 90}]
        _, found = self.send("POST", "/tub-forecasts", {"lines": LINES, "vessel": TUB, "stays": stays})
        self.assertEqual(len(found["minutes"]), len(found["core_c"]))
        self.assertIn("−15 °C after", found["stays"][0]["said"])
        self.assertGreater(found["scoops_to"], found["scoops_from"])
        self.assertGreater(found["melted_pct"], 10)
        self.assertIn("frozen again", found["melted_said"])

    def test_a_can_ripens_in_the_bucket(self) -> None:
        can = {"diameter_mm": 140, "height_mm": 120, "wall": "steel"}
        asked = {"lines": LINES, "vessel": can, "stays": [{"kind": "brine", "minutes": 90}]}
        _, usual = self.send("POST", "/tub-forecasts", asked)
        _, little = self.send("POST", "/tub-forecasts", {**asked, "ice": {"ice_g": 300, "salt_g": 60}})
        self.assertLess(usual["core_c"][-1], little["core_c"][-1])
        self.assertLess(usual["rim_c"][-1], -10)

    def test_a_warm_dish_costs_ice(self) -> None:
        dish = {"shape": "box", "length_mm": 200, "width_mm": 150, "height_mm": 40, "wall": "glass", "wall_g": 600}
        asked = {"lines": LINES, "vessel": dish, "wall_c": 20, "stays": [{"kind": "still-freezer", "minutes": 60}]}
        _, found = self.send("POST", "/tub-forecasts", asked)
        self.assertIn("freeze it before", found["mind"][0])

    def test_ice_and_salt_last_and_load(self) -> None:
        _, bath = self.send("POST", "/bath-forecasts", {"ice": {"ice_g": 1000, "salt_g": 300}, "hours": 4})
        self.assertAlmostEqual(bath["moments"][0]["t_c"], -21.1)
        self.assertIn("gloves", bath["mind"][0])
        _, load = self.send("POST", "/ice-loads", {"lines": LINES})
        self.assertGreater(load["ice_g"], 500)
        self.assertGreaterEqual(load["layers"], 2)
        bucket = Machine.objects.create(kitchen=self.ours.kitchen, name="Bucket", kind="ice-and-salt", bowl_l=4)
        self.ours.kitchen.refresh_from_db()
        _, filled = self.send("POST", "/ice-loads", {"lines": LINES, "machine": bucket.pk})
        self.assertGreater(filled["ice_g"], load["ice_g"])
        self.assertIn("fills the bucket", filled["said"])
        self.assertEqual(self.send("POST", "/bath-forecasts", {"ice": {"ice_g": 0}})[0], 422)
        self.assertEqual(self.send("POST", "/ice-loads", {"lines": LINES, "bath_c": -2})[0], 422)

    def test_a_custard_is_cooled_each_way_and_its_record_counts(self) -> None:
        asked = {"lines": LINES, "record": "0 69\n30 69", "cold_g": 200}
        status, found = self.send("POST", "/pot-forecasts", asked)
        self.assertEqual(status, 200, found)
        self.assertLess(found["start_c"], 85)
        self.assertEqual({way["kind"] for way in found["ways"]}, {"fridge", "room", "ice-bath", "salt-bath"})
        self.assertTrue(found["ways"][0]["safe"])
        self.assertAlmostEqual(found["credit"][0]["worth"], 1)
        status, problem = self.send("POST", "/pot-forecasts", {"lines": LINES, "record": "0 69\nhot"})
        self.assertEqual((status, problem["detail"][:24]), (422, "Line 2 of the record is "))
        self.assertEqual(self.send("POST", "/pot-forecasts", {"lines": LINES, "cold_g": 5000})[0], 422)

    def test_a_reduction_is_timed_and_never_below_its_solids(self) -> None:
        _, found = self.send("POST", "/reduction-forecasts", {"lines": LINES, "to_g": 700, "tare_g": 850})
        self.assertEqual(found["pot_reads_g"], 1550)
        self.assertLess(found["watch_from_min"], found["minutes"])
        status, problem = self.send("POST", "/reduction-forecasts", {"lines": LINES, "to_g": 100})
        self.assertEqual(status, 422)
        self.assertIn("are not water and stay", problem["detail"])


class ThingsTest(KitchenCase):
    """Places and vessels: added, changed, in conflict, refused."""

    def test_a_place_is_changed_and_a_conflict_noticed(self) -> None:
        path = f"/places/{self.our_place.pk}"
        status, place = self.send("PATCH", path, {"version": 1, "air_c": -16, "mark": "3"})
        self.assertEqual((status, place["air_c"], place["mark"]), (200, -16, "3"))
        self.assertEqual(self.send("PATCH", path, {"version": 1, "name": "Drawer"})[0], 412)
        self.assertEqual(self.send("POST", "/places", {"name": "Sun", "kind": "star", "air_c": 5500})[0], 422)

    def test_a_vessel_has_its_litres_and_needs_its_sizes(self) -> None:
        pan = {"name": "Pan", "shape": "box", "length_mm": 360, "width_mm": 165, "height_mm": 120}
        status, found = self.send("POST", "/vessels", pan)
        self.assertEqual(status, 201)
        self.assertAlmostEqual(found["litres"], 7.128)
        status, problem = self.send("POST", "/vessels", {"name": "Cup", "height_mm": 60})
        self.assertEqual(status, 422)
        self.assertIn("diameter_mm", problem["detail"])
        changed = {"version": 1, "name": "Cup", "diameter_mm": 90, "height_mm": 60}
        self.assertEqual(self.send("PUT", f"/vessels/{self.our_vessel.pk}", changed)[0], 200)
        self.assertEqual(self.send("PUT", f"/vessels/{self.our_vessel.pk}", changed)[0], 412)
