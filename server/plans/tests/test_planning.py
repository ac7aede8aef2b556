"""A kitchen's plan: services typed, planned back, carried out, helped, copied and taken along."""

from __future__ import annotations

import json
import subprocess
import sys
from datetime import datetime, timedelta
from typing import Any
from unittest.mock import patch
from zoneinfo import ZoneInfo

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, transaction

from batches.batch_lots import put_aside
from batches.tub_schemas import PutAside
from plans.models import Plan, PlanEvent
from plans.planning_job import keep_answer
from testing.kitchen_case import LINES, KitchenCase

MORNING = datetime(2026, 11, 28, 7, 0)
"""A Saturday."""


class PlanCase(KitchenCase):
    """A kitchen on a Saturday morning, with an empty plan."""

    def setUp(self) -> None:
        super().setUp()
        self.now_is(MORNING)
        self.plan = self.good("POST", "/plans", {"name": "Saturday"}, 201)

    def now_is(self, at: datetime) -> None:
        """Let it be another hour for plans."""
        for module in ("plans.building", "plans.actions"):
            patcher = patch(f"{module}.local_now", return_value=at)
            patcher.start()
            self.addCleanup(patcher.stop)

    def good(self, method: str, path: str, body: Any = None, wanted: int = 200) -> Any:
        """Send a request that must succeed and return its answer."""
        status, answer = self.send(method, path, body)
        self.assertEqual(status, wanted, answer)
        return answer

    @property
    def at_plan(self) -> str:
        return f"/plans/{self.plan['id']}"

    def type_service(self, text: str) -> Any:
        self.plan = self.good("POST", f"{self.at_plan}/services", {"text": text})
        return self.plan

    def solve(self, *, anew: bool = False) -> Any:
        """Look for a plan and return the answer."""
        job = self.good("POST", f"{self.at_plan}/solutions", {"anew": anew}, 202)
        self.assertEqual(job["state"], "done", job["problem"])
        self.plan = self.good("GET", self.at_plan)
        self.assertEqual(self.plan["answer"], job["answer"])
        self.assertFalse(self.plan["stale"])
        return job["answer"]

    def solve_only(self) -> Any:
        """Look for a plan and return what the job found."""
        return self.good("POST", f"{self.at_plan}/solutions", {"anew": True}, 202)["answer"]

    def local(self, answer: Any, minute: int) -> str:
        """Return the local time of a minute of a plan."""
        return (datetime.fromisoformat(answer["origin"]) + timedelta(minutes=minute)).isoformat()

    def change(self, **changes: Any) -> Any:
        self.plan = self.good("PATCH", self.at_plan, {"version": self.plan["version"], **changes})
        return self.plan


class PlanningTest(PlanCase):
    def test_a_dinner_is_planned_back_from_its_hour(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        answer = self.solve()
        self.assertEqual(answer["status"], "optimal")
        self.assertEqual(answer["verdict"], "ours milk ice is on time.")
        self.assertIn("no plan needs fewer washes or is fresher", answer["beside"])
        steps = {step["kind"]: step for step in answer["steps"]}
        self.assertEqual(steps["serve"]["start"], answer["services"][0]["due"])
        self.assertGreaterEqual(steps["keep"]["end"] - steps["keep"]["start"], 30)
        self.assertGreaterEqual(steps["churn"]["slip"], 30)
        self.assertIn("57 to 21 °C", " ".join(steps["cool"]["waits"]))
        ready = next(one for one in answer["setups"] if one["kind"] == "ready")
        self.assertGreaterEqual(ready["end"] - ready["start"], 720)
        self.assertTrue(any("into the freezer" in task["title"] for task in answer["tasks"]))

    def test_too_late_says_why_and_what_helps_cures_it(self) -> None:
        workplace = self.good("GET", "/workplace")
        hours = [{"days": list(range(7)), "start": 15 * 60, "end": 21 * 60}]
        machines = [{**one, "in_freezer_since": "2026-11-27T07:00:00"} for one in workplace["machines"]]
        people = [{"name": "Ada", "hours": hours}]
        self.good("PUT", "/workplace", {**workplace, "people": people, "machines": machines})
        self.type_service("1 L ours milk ice by 19:30")
        answer = self.solve()
        self.assertEqual(answer["status"], "impossible")
        self.assertIn("late", answer["verdict"])
        self.assertIn("Ada comes at 15:00", answer["beside"])
        later = next(one for one in answer["would_help"] if one["change"]["kind"] == "serve_later")
        self.assertIn("later", later["said"])
        self.plan = self.good("POST", f"{self.at_plan}/remedies", {"change": later["change"]})
        self.assertEqual(self.solve()["status"], "optimal")
        status, refused = self.send("POST", f"{self.at_plan}/remedies", {"change": {"kind": "moon"}})
        self.assertEqual((status, refused["type"]), (422, "/problems/plan-unknown-change"))

    def test_what_went_otherwise_is_planned_around(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        before = self.solve()
        self.assertEqual(self.send("POST", f"{self.at_plan}/events", {"kind": "began", "step": "s1.weigh"})[0], 422)
        self.change(state="started")
        churn = next(step for step in before["steps"] if step["kind"] == "churn")
        self.now_is(datetime.fromisoformat(before["origin"]) + timedelta(minutes=churn["start"] + 5))
        self.plan = self.good("POST", f"{self.at_plan}/events", {"kind": "longer", "step": churn["id"], "minutes": 15})
        after = self.solve(anew=True)
        again = {step["id"]: step for step in after["steps"]}
        self.assertEqual(again[churn["id"]]["end"], churn["end"] + 15)
        self.assertEqual(after["status"], "optimal")
        self.assertTrue(again[churn["id"]]["begun"])
        self.assertEqual(self.plan["previous"]["steps"], before["steps"])
        self.assertEqual(PlanEvent.objects.filter(plan__kitchen=self.ours.kitchen).count(), 1)
        with self.assertRaises(DatabaseError), transaction.atomic():
            PlanEvent.objects.filter(plan=self.plan["id"]).update(minute=1)
        self.good("DELETE", self.at_plan, wanted=204)
        self.assertNotIn(self.plan["id"], [one["id"] for one in self.good("GET", "/plans")["items"]])
        self.assertEqual(self.good("GET", self.at_plan)["name"], "Saturday")

    def test_what_began_far_too_early_is_said_and_the_day_goes_on(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.solve()
        self.change(state="started")
        self.plan = self.good("POST", f"{self.at_plan}/events", {"kind": "began", "step": "s1.weigh"})
        self.now_is(MORNING + timedelta(hours=8))
        self.plan = self.good("POST", f"{self.at_plan}/events", {"kind": "ended", "step": "s1.weigh"})
        self.now_is(MORNING + timedelta(hours=16))
        answer = self.solve(anew=True)
        self.assertEqual(answer["status"], "optimal")
        self.assertIn("ours milk ice waits longer than 1 h (weighed goods do not stand about)", answer["beside"])
        self.assertIn("look at it before you go on", answer["beside"])

    def test_what_comes_before_a_step_that_began_is_taken_as_done(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.solve()
        self.change(state="started")
        self.now_is(MORNING + timedelta(hours=2))
        self.plan = self.good("POST", f"{self.at_plan}/events", {"kind": "began", "step": "s1.scald"})
        steps = {step["id"]: step for step in self.solve(anew=True)["steps"]}
        self.assertTrue(steps["s1.weigh"]["begun"])
        self.assertLessEqual(steps["s1.weigh"]["end"], steps["s1.scald"]["start"])

    def test_what_began_stays_begun_where_no_plan_is_found(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.solve()
        self.change(state="started")
        self.plan = self.good("POST", f"{self.at_plan}/events", {"kind": "began", "step": "s1.weigh"})
        nothing = {**self.plan["answer"], "status": "unknown", "verdict": "No plan was found in time.", "steps": []}
        keep_answer(self.ours.kitchen, self.plan["id"], self.plan["version"], nothing)
        answer = self.good("GET", self.at_plan)["answer"]
        self.assertEqual(answer["verdict"], "No plan was found in time.")
        self.assertEqual([step["id"] for step in answer["steps"] if step["begun"]], ["s1.weigh"])

    def test_somebody_gone_and_back(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        answer = self.solve()
        who = next(iter(answer["people"]))
        self.plan = self.good("POST", f"{self.at_plan}/mishaps", {"kind": "gone", "of": who})
        self.assertEqual(self.plan["mishaps"], [f"{who} is gone from 07:00"])
        gone = self.solve()
        self.assertEqual({piece["who"] for step in gone["steps"] for piece in step["people"]} & {who}, set())
        self.plan = self.good("DELETE", f"{self.at_plan}/mishaps")
        self.assertEqual(self.solve()["status"], "optimal")
        status, refused = self.send("POST", f"{self.at_plan}/mishaps", {"kind": "out", "of": "Moon"})
        self.assertEqual((status, refused["type"]), (422, "/problems/plan-unknown-id"))

    def test_a_step_is_pinned_and_the_rest_moves_least(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30, fresh")
        answer = self.solve()
        weigh = next(step for step in answer["steps"] if step["kind"] == "weigh")
        at = datetime.fromisoformat(answer["origin"]) + timedelta(minutes=weigh["start"] - 60)
        self.change(pins={weigh["id"]: at.isoformat()})
        pinned = self.solve(anew=True)
        moved = next(step for step in pinned["steps"] if step["kind"] == "weigh")
        self.assertEqual((moved["start"], moved["pinned"]), (weigh["start"] - 60, True))
        self.change(pins={weigh["id"]: None})
        serve = next(step for step in answer["steps"] if step["kind"] == "serve")
        self.change(pins={"s1.churn.1": self.local(answer, serve["start"] - 600)})
        refused = self.solve_only()
        self.assertIn("cannot be pinned like that, the churn at", refused["beside"])
        self.assertEqual((refused["would_help"], refused["refuted"]), ([], []))
        self.change(pins={"s1.churn.1": None})
        self.assertEqual(self.plan["pins"], {})

    def test_two_people_on_one_plan_are_told(self) -> None:
        version = self.plan["version"]
        self.change(name="Saturday and Sunday")
        status, refused = self.send("PATCH", self.at_plan, {"version": version, "name": "Mine"})
        self.assertEqual((status, refused["type"]), (412, "/problems/changed-meanwhile"))
        self.assertEqual(self.good("GET", self.at_plan)["name"], "Saturday and Sunday")

    def test_what_cannot_be_planned_is_a_sentence(self) -> None:
        refused = self.send("POST", f"{self.at_plan}/solutions", {})[1]
        self.assertEqual(refused["type"], "/problems/plan-empty")
        for text, code in (
            ("1 L ours milk ice", "service-no-hour"),
            ("1 L moon rock by 19:00", "service-unknown-mix"),
            ("1 L ours milk ice by 2026-11-27 19:00", "plan-service-past"),
            ("1 L ours milk ice by 2026-12-27 19:00", "plan-service-far"),
            ("500 L ours milk ice by tomorrow 19:00", "plan-too-many-runs"),
        ):
            with self.subTest(text):
                fresh = self.good("POST", "/plans", {"name": text}, 201)
                status, answer = self.send("POST", f"/plans/{fresh['id']}/services", {"text": text})
                if status == 200:
                    status, answer = self.send("POST", f"/plans/{fresh['id']}/solutions", {})
                self.assertEqual((status, answer["type"]), (422, f"/problems/{code}"))

    def test_a_day_is_copied_to_the_next_saturday(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        copied = self.good("POST", f"{self.at_plan}/copies", {"day": "2026-12-05"}, 201)
        self.assertEqual(copied["services"][0]["at"], "2026-12-05T19:30:00")
        self.assertEqual(self.send("POST", f"{self.at_plan}/copies", {"day": "someday"})[0], 422)

    def test_mise_en_place_says_what_is_short(self) -> None:
        self.type_service("2 L ours milk ice by tomorrow 19:30")
        self.solve()
        found = self.good("GET", f"{self.at_plan}/preparation")
        milk = next(one for one in found["needed"] if one["slug"] == "whole-milk")
        self.assertGreater(milk["short_g"], 500)
        self.assertTrue(found["freezer"])
        self.assertTrue(any("Whole milk" in line for line in found["weighed"][0]["lines"]))

    def test_a_base_in_the_house_takes_the_place_of_cooking(self) -> None:
        lot = put_aside(self.ours, self.our_batch, PutAside(typed="900 g", frozen=True, note="", best_before=None))
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.change(services=[{**self.plan["services"][0], "lot": lot.pk}])
        kinds = {step["kind"] for step in self.solve()["steps"]}
        self.assertIn("thaw", kinds)
        self.assertNotIn("scald", kinds)
        self.change(services=[{**self.plan["services"][0], "lot": self.their_lot.pk}])
        self.assertEqual(self.send("POST", f"{self.at_plan}/solutions", {})[1]["type"], "/problems/plan-base-gone")

    def test_what_a_mix_is_prepared_from_is_planned_unless_it_is_there(self) -> None:
        steeped = {"ingredient": "tea-leaves", "typed": "18 g", "steeped": True}
        lines = [{"ingredient": "whole-milk", "typed": "1 l"}, steeped]
        steeping = {"lines": lines, "steps": [{"kind": "steep", "made_up": "liquid"}], "keeps_days": 2}
        made = self.good("POST", "/preparations", {"name": "Tea milk", **steeping}, 201)
        rest = [line for line in LINES if line["ingredient"] != "whole-milk"]
        tea = {"ingredient": made["slug"], "typed": "550", "unit": "g", "stage": "pot"}
        version = self.good("GET", f"/mixes/{self.our_mix.pk}")["version"]
        self.good("PUT", f"/mixes/{self.our_mix.pk}", {**self.draft(lines=[tea, *rest]), "version": version})
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        answer = self.solve()
        steep = next(step for step in answer["steps"] if step["kind"] == "steep")
        self.assertIn("Put on to steep for ours milk ice", [task["title"] for task in answer["tasks"]])
        self.assertGreaterEqual(steep["end"] - steep["start"], 60)
        found = self.good("GET", f"{self.at_plan}/preparation")
        self.assertRegex(found["made"][0], r"^\d+ g Tea milk$")
        self.assertNotIn(made["slug"], [one["slug"] for one in found["needed"]])
        self.good("POST", "/lots", {"ingredient": made["slug"], "typed": "2 kg"}, 201)
        self.assertNotIn("steep", {step["kind"] for step in self.solve()["steps"]})

    def test_a_kitchen_without_an_ice_bath_cools_small_pots_in_the_fridge(self) -> None:
        workplace = self.good("GET", "/workplace")
        self.good("PUT", "/workplace", {**workplace, "ice_baths": 0})
        self.type_service("0.3 L ours milk ice by tomorrow 19:30")
        cool = next(step for step in self.solve()["steps"] if step["kind"] == "cool")
        self.assertIn("fridge", cool["uses"])
        self.assertGreater(cool["end"] - cool["start"], 60)
        self.change(services=[{**self.plan["services"][0], "amount": "4 l"}])
        refused = self.send("POST", f"{self.at_plan}/solutions", {})[1]
        self.assertEqual(refused["type"], "/problems/plan-cannot-cool")

    def test_a_signature_keeps_no_base_longer_that_was_never_heated(self) -> None:
        workplace = self.good("GET", "/workplace")
        self.good("PUT", "/workplace", {**workplace, "base_days": {"days": 6, "signed_by": "Ada"}})
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.assertEqual(self.good("GET", f"{self.at_plan}/file")["mixes"][0]["keeps_min"], 6 * 1440)
        version = self.good("GET", f"/mixes/{self.our_mix.pk}")["version"]
        cold = [{**line, "stage": "cold"} for line in LINES]
        self.good("PUT", f"/mixes/{self.our_mix.pk}", {**self.draft(lines=cold), "version": version})
        mix = self.good("GET", f"{self.at_plan}/file")["mixes"][0]
        self.assertEqual((mix["way"], mix["keeps_min"]), ("blend", 3 * 1440))

    def test_the_plan_goes_out_and_in_as_a_file_and_into_a_calendar(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        before = self.solve()
        out = self.good("GET", f"{self.at_plan}/file")
        self.assertEqual(out["format"], "jalebi.plan")
        calendar = self.good("GET", f"{self.at_plan}/calendar?person=ours")
        mine = [task for task in before["tasks"] if task["who"] == "ours"]
        self.assertEqual(calendar.count("BEGIN:VEVENT"), len(mine))
        everybody = self.good("GET", f"{self.at_plan}/calendar")
        self.assertEqual(everybody.count("BEGIN:VEVENT"), len(before["tasks"]))
        self.assertEqual(self.good("GET", f"{self.at_plan}/calendar?person=moon").count("BEGIN:VEVENT"), 0)
        file = SimpleUploadedFile("Dinner.json", json.dumps(out).encode(), "application/json")
        self.plan = self.good("POST", "/plan-files", file, 201)
        self.assertEqual((self.plan["name"], self.plan["from_file"]), ("Dinner", True))
        again = self.solve()
        self.assertEqual([step["start"] for step in again["steps"]], [step["start"] for step in before["steps"]])
        self.now_is(MORNING + timedelta(days=9))
        self.good("GET", f"{self.at_plan}/file")
        broken = SimpleUploadedFile("x.json", b"{}", "application/json")
        self.assertEqual(self.send("POST", "/plan-files", broken)[1]["type"], "/problems/not-a-plan")

    def test_what_can_be_ready_by_an_hour(self) -> None:
        job = self.good("POST", f"{self.at_plan}/readiness", {"at": "2026-11-28T18:00"}, 202)
        mixes = job["answer"]["mixes"]
        self.assertEqual([one["name"] for one in mixes], ["ours milk ice"])
        self.assertIsNotNone(mixes[0]["at"])
        self.assertGreater(mixes[0]["at"], "2026-11-28T18:00")
        self.assertRegex(mixes[0]["why"], "takes 10 h .* from weighing, .* comes at 8:00")

    def test_an_answer_to_an_older_question_is_let_go(self) -> None:
        self.type_service("1 L ours milk ice by tomorrow 19:30")
        self.solve()
        Plan.objects.of(self.ours.kitchen).update(version=99)
        self.assertTrue(self.good("GET", self.at_plan)["stale"])

    def test_hours_of_a_plan_are_those_of_its_zone(self) -> None:
        zoned = self.good("POST", "/plans", {"name": "Zoned", "zone": "Europe/Vienna"}, 201)
        self.assertEqual(self.send("POST", "/plans", {"name": "Zoned", "zone": "Moon/Sea"})[0], 422)
        self.now_is(datetime(2026, 3, 28, 12, 0))
        self.plan = zoned
        self.type_service("1 L ours milk ice by sunday 12:00")
        answer = self.solve()
        due = answer["services"][0]["due"]
        self.assertEqual(due, 23 * 60)
        self.assertEqual(answer["clock_changes"], [{"minute": 14 * 60, "by": 60}])
        self.assertEqual(ZoneInfo(zoned["zone"]).key, "Europe/Vienna")


class ProcessTest(KitchenCase):
    def test_no_web_worker_loads_the_solver(self) -> None:
        code = (
            "import django, sys; django.setup(); import config.urls, plans.api, plans.planning_job\n"
            "print([name for name in ('ortools', 'pandas', 'icalendar') if name in sys.modules])"
        )
        found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=False)
        self.assertEqual(found.stdout.strip(), "[]", found.stderr[-500:])
        self.assertIn("plan", settings.JOB_BODIES)
