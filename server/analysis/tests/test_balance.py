"""Balance over HTTP: a proposal that changes nothing, jobs, limits set by hand, and refusals in sentences."""

from __future__ import annotations

from typing import Any

from config.tests.test_queries import SIGNED_IN
from mixes.models import MixLine
from testing.kitchen_case import LINES, KitchenCase

QUESTION: dict[str, Any] = {"style": "ice-cream", "overrun_pct": 30, "lines": LINES}


class BalanceTest(KitchenCase):
    """Questions and proposals."""

    def balanced(self, **changes: Any) -> dict[str, Any]:
        """Return a proposal; a sure one is a job, which tests do at once."""
        status, found = self.send("POST", "/proposals", {**QUESTION, **changes})
        self.assertIn(status, (200, 202), found)
        answer: dict[str, Any] = found["answer"] if status == 202 else found
        return answer

    def test_a_proposal_reaches_its_targets_and_changes_nothing(self) -> None:
        before = list(MixLine.objects.values_list("typed", flat=True))
        found = self.balanced(targets=[{"of": "fat", "min": 11, "max": 12}, {"of": "sweetness", "max": 15}])
        self.assertTrue(all(target["met"] for target in found["targets"]))
        self.assertIn("Every target is met.", found["message"])
        mass = sum(line["after_g"] for line in found["lines"])
        self.assertAlmostEqual(mass, 970, delta=0.51)
        self.assertEqual(list(MixLine.objects.values_list("typed", flat=True)), before)

    def test_the_proposal_done_is_what_was_said(self) -> None:
        found = self.balanced(targets=[{"of": "scoop_c", "min": -14, "max": -13}])
        lines = [{"ingredient": line["ingredient"], "typed": f"{line['after_g']:g}"} for line in found["lines"]]
        _, analyse_draft = self.send("POST", "/analyses", {**QUESTION, "lines": lines})
        self.assertAlmostEqual(analyse_draft["analysis"]["scoop_c"], found["targets"][0]["after"], delta=0.02)

    def test_pins_hold_on_the_lines_of_the_draft_and_are_named_where_they_block(self) -> None:
        lines = [{"ingredient": "honey", "typed": "?"}, *LINES]
        limits = [{"line": 2, "pin": True}, {"line": 3, "pin": True}]
        found = self.balanced(lines=lines, limits=limits, targets=[{"of": "fat", "min": 20}])
        kept = {line["line"]: line for line in found["lines"]}
        self.assertEqual([kept[at]["after_g"] for at in (2, 3)], [110, 110])
        self.assertIn("pinned at 110 g", found["unmet"][0]["because"])
        self.assertTrue(found["unmet"][0]["would_help"])

    def test_pins_are_kept_with_the_mix_and_hold_in_jobs(self) -> None:
        lines = [{**line, "pinned": line["ingredient"] == "sugar"} for line in LINES]
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines))[0], 200)
        kept = self.send("GET", f"/mixes/{self.our_mix.pk}")[1]["lines"]
        self.assertEqual([line["pinned"] for line in kept], [False] * 4 + [True])
        found = self.balanced(lines=kept, job="less-sweet")
        self.assertEqual(next(line for line in found["lines"] if line["line"] == 4)["after_g"], 160)

    def test_every_job_that_needs_nothing_more_is_done(self) -> None:
        jobs = self.send("GET", "/api/v1/vocabulary")[1]["jobs"]
        for job in jobs:
            if not job["asks"] and job["key"] not in ("more-fruit", "cheaper"):
                with self.subTest(job=job["key"]):
                    self.assertTrue(self.balanced(job=job["key"])["lines"])

    def test_jobs_about_a_line_take_it_from_the_draft(self) -> None:
        out = self.balanced(job="without", line=3)
        self.assertEqual(next(line for line in out["lines"] if line["line"] == 3)["after_g"], 0)
        used = self.balanced(job="use-up", line=0, grams=812)
        milk = next(line for line in used["lines"] if line["line"] == 0)
        self.assertEqual((milk["before_g"], milk["after_g"]), (550, 812))
        self.assertIn("Whole milk 3.5 % +262 g", used["message"])
        self.assertTrue(used["changed"])
        other = self.balanced(job="replace", line=1, ingredient="cream-20")
        self.assertIn("cream-20", [line["ingredient"] for line in other["lines"]])
        self.assertTrue(other["message"].startswith("Cream 36 % becomes Cream 20 %; "))

    def test_only_ingredients_that_the_kitchen_lets_in_come_in(self) -> None:
        new = {line["ingredient"] for line in self.balanced(job="softer")["lines"] if line["line"] is None}
        self.assertEqual(new - {"dextrose", "glucose-syrup-de42"}, set())
        self.assertIn("dextrose", new)
        self.assertEqual(self.change_kitchen({"may_come_in": ["fructose", "gone"]})[0], 200)
        found = self.balanced(job="softer")
        self.assertEqual({line["ingredient"] for line in found["lines"] if line["line"] is None} - {"fructose"}, set())

    def test_what_stands_beside_the_mix_grows_with_it(self) -> None:
        lines = [*LINES, {"ingredient": "honeycomb", "typed": "50", "stage": "mix-in"}]
        used = self.balanced(lines=lines, job="use-up", line=0, grams=1100)
        bits = next(line for line in used["lines"] if line["line"] == 5)
        self.assertEqual((bits["before_g"], bits["after_g"]), (50, 100))
        softer = self.balanced(lines=lines, job="softer")
        bits = next(line for line in softer["lines"] if line["line"] == 5)
        self.assertEqual((bits["before_g"], bits["after_g"]), (50, 50))

    def test_a_sure_balance_tells_its_chances(self) -> None:
        found = self.balanced(targets=[{"of": "fat", "min": 10, "max": 13}], sure=True)
        self.assertGreaterEqual(found["targets"][0]["chance"], 0.9)

    def test_what_cannot_be_tried_is_a_sentence(self) -> None:
        for changes, message in (
            ({}, "nothing to aim at"),
            ({"lines": [], "job": "softer"}, "nothing in the mix"),
            ({"job": "magic"}, "“magic” is not a job"),
            ({"job": "without"}, "Say which line"),
            ({"job": "replace", "line": 1}, "Say what is to stand"),
            ({"job": "replace", "line": 1, "ingredient": "moon-dust"}, "no ingredient"),
            ({"targets": [{"of": "fat", "min": 12, "max": 10}]}, "at least 12 and at most 10"),
            ({"targets": [{"of": "luck", "min": 12}]}, "cannot be aimed at"),
            ({"targets": [{"of": "fat", "min": 12}], "limits": [{"line": 40, "pin": True}]}, "Line 41"),
        ):
            with self.subTest(message=message):
                status, answer = self.send("POST", "/proposals", {**QUESTION, **changes})
                self.assertEqual(status, 422)
                self.assertIn(message, answer["detail"])

    def test_a_balance_asks_the_database_for_next_to_nothing(self) -> None:
        self.balanced(job="softer")
        with self.assertNumQueries(SIGNED_IN):
            self.balanced(job="softer")
        with self.assertNumQueries(SIGNED_IN + 1):
            self.balanced(job="use-up", line=0, grams=500)

    def test_sums_ratios_and_steps_are_kept(self) -> None:
        found = self.balanced(
            targets=[{"of": "fat", "min": 11, "max": 12}],
            shares=[{"lines": [0, 1], "min_pct": 80, "max_pct": 90}],
            ratios=[{"line": 0, "to": 2}],
        )
        after = {line["line"]: line["after_g"] for line in found["lines"]}
        whole = sum(after.values())
        self.assertTrue(79.9 <= 100 * (after[0] + after[1]) / whole <= 90.1)
        before = {line["line"]: line["before_g"] for line in found["lines"]}
        self.assertAlmostEqual(after[0] / after[2], before[0] / before[2], delta=1.0)
        status, problem = self.send(
            "POST",
            "/proposals",
            {"lines": LINES, "job": "softer", "shares": [{"lines": [0], "min_pct": 9, "max_pct": 8}]},
        )
        self.assertEqual(status, 422, problem)

    def test_what_is_held_is_that_of_the_first_press(self) -> None:
        first = {"lines": LINES, "overrun_pct": 30}
        lines = [{**line, "typed": "120"} if line["ingredient"] == "sugar" else line for line in LINES]
        held = self.balanced(lines=lines, job="less-sweet", like=first)["targets"]
        free = self.balanced(lines=lines, job="less-sweet")["targets"]
        solids = [next(one for one in found if one["of"] == "total_solids") for found in (held, free)]
        self.assertGreater(solids[0]["min"], solids[1]["min"] + 1)

    def test_steady_brings_gums_dry_into_the_heat(self) -> None:
        lines = [
            {"ingredient": "whole-milk", "typed": "830", "stage": "pot"},
            {"ingredient": "sugar", "typed": "170", "stage": "pot"},
        ]
        found = self.balanced(lines=lines, job="steady")
        new = {line["ingredient"]: line["stage"] for line in found["lines"] if line["line"] is None}
        self.assertTrue(new)
        self.assertEqual(set(new.values()), {"dry"})
        self.assertIn("For a mix that is dense and cooked.", found["message"])
