"""Trials: ladders and sides, blind tests, guests by link, closing once, and the winner in the mix."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

from django.test import Client

from jalebi_core.formats.trial_file import trial_report
from mixes.models import Mix
from testing.kitchen_case import LINES, KitchenCase
from trials.models import TrialAnswer, TrialTest
from trials.trial_tests import design_of

FACTORS = [{"line": 4, "by": "dextrose", "share_pct": [0, 15, 30, 45]}]


class TrialCase(KitchenCase):
    """A ladder of four rungs in our kitchen."""

    def begin(self, **more: Any) -> dict[str, Any]:
        body = {"name": "How much dextrose?", "mix": self.our_mix.pk, "factors": FACTORS, **more}
        status, answer = self.send("POST", "/trials", body)
        self.assertEqual(status, 201, answer)
        trial: dict[str, Any] = answer
        return trial

    def begun_test(self, trial: dict[str, Any], **more: Any) -> dict[str, Any]:
        asked = {"kind": "2-afc", "attribute": "sweetness", "variants": ["A", "D"], "tasters": ["Ada", "Bo", "Cy"]}
        status, test = self.send("POST", f"/trials/{trial['id']}/tests", {**asked, **more})
        self.assertEqual(status, 201, test)
        begun: dict[str, Any] = test
        return begun

    def servings(self, test: dict[str, Any]) -> Any:
        return design_of(TrialTest.objects.of(self.ours.kitchen).get(pk=test["id"])).servings

    def answer_all(self, test: dict[str, Any], wanted: str) -> None:
        for number, serving in enumerate(self.servings(test)):
            code = serving.cups[serving.variants.index(wanted)]
            status, answer = self.send(
                "POST", f"/trial-tests/{test['id']}/answers", {"serving": number, "picked": [code]}
            )
            self.assertEqual(status, 201, answer)


class LaddersTest(TrialCase):
    """Variants side by side, with only what differs."""

    def test_a_ladder_shows_only_what_differs_and_how_to_make_it(self) -> None:
        trial = self.begin()
        self.assertEqual([one["key"] for one in trial["variants"]], ["A", "B", "C", "D"])
        self.assertEqual([line["name"] for line in trial["lines"]], ["Table sugar", "Dextrose, monohydrate"])
        self.assertEqual(trial["lines"][1]["grams"], {"A": 0, "B": 24, "C": 48, "D": 72})
        self.assertEqual(trial["split"]["at"], "hot")
        self.assertEqual([one["total_g"] for one in trial["split"]["portions"]], [970.0] * 4)
        self.assertIn("Only this changes: 0, 15, 30, 45 % of the table sugar", trial["changes"][0])
        scoops = [one["scoop_c"] for one in trial["variants"]]
        self.assertEqual(scoops, sorted(scoops, reverse=True))
        self.assertEqual([(one["a"], one["b"]) for one in trial["between"]], [("A", "B"), ("B", "C"), ("C", "D")])
        self.assertIn("softer", [one["word"] for one in trial["between"][0]["felt"]])
        self.assertIn("tastings show it", trial["proposal"]["said"])

    def test_a_preview_keeps_nothing(self) -> None:
        body = {"name": "Try", "mix": self.our_mix.pk, "factors": FACTORS}
        self.assertIsNone(self.send("POST", "/trials/preview", body)[1]["id"])
        self.assertEqual(self.send("GET", "/trials")[1]["total"], 1)

    def test_a_trial_stays_as_it_was_when_the_mix_moves_on(self) -> None:
        trial = self.begin()
        self.our_mix.refresh_from_db()
        body = {"name": "ours milk ice", "version": self.our_mix.version, "lines": LINES[:2]}
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", body)[0], 200)
        _, again = self.send("GET", f"/trials/{trial['id']}")
        self.assertEqual(again["variants"], trial["variants"])

    def test_mixes_and_revisions_stand_side_by_side(self) -> None:
        self.send("POST", f"/mixes/{self.our_mix.pk}/revisions", {"name": "First"})
        sides = [{"mix": self.our_mix.pk}, {"mix": self.our_mix.pk, "revision": 1}]
        trial = self.begin(mix=None, factors=[], sides=sides)
        self.assertEqual([one["name"] for one in trial["variants"]], ["ours milk ice", "ours milk ice, revision 1"])
        self.assertEqual((trial["lines"], trial["proposal"]), ([], None))

    def test_what_makes_no_trial_is_refused_by_name(self) -> None:
        for more, code in (
            ({"factors": []}, "ladder-factors"),
            ({"factors": [{"line": 4, "by": "dextrose", "share_pct": [0]}]}, "ladder-rungs"),
            ({"factors": [{"line": 40, "grams": [0, 2]}]}, "ladder-no-line"),
            ({"factors": [{"aim": "fat", "values": [9, 60], "moving": [0, 1]}]}, "ladder-out-of-reach"),
            ({"factors": [{"line": 4, "by": "moon-dust", "share_pct": [0, 9]}]}, "unknown-ingredient-near"),
            ({"name": "\u200b"}, "trial-name-hidden"),
            ({"mix": None, "factors": [], "sides": [{"mix": self.our_mix.pk}]}, "trial-size"),
        ):
            with self.subTest(code=code):
                body = {"name": "Try", "mix": self.our_mix.pk, "factors": FACTORS, **more}
                status, refused = self.send("POST", "/trials", body)
                self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))


class TestsTest(TrialCase):
    """Blind tests: codes unknown until they are closed, and closed once."""

    def test_codes_stay_unknown_until_the_test_is_closed_once(self) -> None:
        test = self.begun_test(self.begin())
        self.assertEqual((test["codes"], test["analysis"]), ({}, None))
        self.answer_all(test, "A")
        status, refused = self.send("GET", f"/trial-tests/{test['id']}/file")
        self.assertEqual((status, refused["type"]), (422, "/problems/test-not-closed"))
        _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
        self.assertEqual(set(closed["codes"]), {"A", "D"})
        self.assertEqual((closed["analysis"]["n"], closed["analysis"]["correct"]), (3, 3))
        self.assertIn("3 of 3", closed["said"])
        _, again = self.send("POST", f"/trial-tests/{test['id']}/close")
        self.assertEqual(again["closed_at"], closed["closed_at"])
        status, refused = self.send("POST", f"/trial-tests/{test['id']}/answers", {"serving": 0, "picked": ["111"]})
        self.assertEqual((status, refused["type"]), (422, "/problems/test-closed"))

    def test_a_closed_test_is_a_trial_file_that_says_the_same(self) -> None:
        test = self.begun_test(self.begin())
        self.answer_all(test, "A")
        _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
        _, file = self.send("GET", f"/trial-tests/{test['id']}/file")
        found = trial_report(json.dumps(file).encode())
        self.assertEqual(found["analysis"], closed["analysis"])
        csv = self.client.get(f"/api/v1/kitchens/ours/trial-tests/{test['id']}/results.csv").content.decode()
        self.assertEqual(len(csv.splitlines()), 4)

    def test_every_kind_is_answered_in_codes(self) -> None:
        trial = self.begin()
        for kind, variants in (
            ("triangle", ["A", "B"]),
            ("duo-trio", ["A", "B"]),
            ("tetrad", ["A", "B"]),
            ("3-afc", ["A", "B"]),
            ("preference", ["A", "B"]),
            ("pairs", ["A", "B", "C"]),
            ("ranking", ["A", "B", "C", "D"]),
            ("liking", ["A", "B"]),
        ):
            with self.subTest(kind=kind):
                test = self.begun_test(trial, kind=kind, variants=variants)
                for number, serving in enumerate(self.servings(test)):
                    cups = [cup for cup in serving.cups if cup != "R"]
                    said: dict[str, Any] = {"picked": cups[:1]}
                    if kind == "tetrad":
                        said = {"picked": cups[:2]}
                    elif kind == "ranking":
                        said = {"picked": cups}
                    elif kind == "liking":
                        said = {"liking": dict.fromkeys(cups, 6), "marks": {cups[0]: {"sweetness": 1}}}
                    path = f"/trial-tests/{test['id']}/answers"
                    self.assertEqual(self.send("POST", path, {"serving": number, **said})[0], 201)
                _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
                self.assertIn(closed["analysis"]["verdict"], ("different", "too few", "not shown"))

    def test_of_three_cups_the_one_with_more_stands_alone(self) -> None:
        test = self.begun_test(self.begin(), kind="3-afc", attribute="sweetness", variants=["A", "D"])
        self.assertEqual(test["variants"], ["D", "A"])
        for number, serving in enumerate(self.servings(test)):
            self.assertEqual(serving.variants.count("A"), 1)
            code = serving.cups[serving.variants.index("A")]
            self.send("POST", f"/trial-tests/{test['id']}/answers", {"serving": number, "picked": [code]})
        _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
        self.assertEqual(closed["analysis"]["correct"], 3)

    def test_a_taster_who_leaves_midway_counts_for_what_was_tasted_and_formulas_stay_text(self) -> None:
        test = self.begun_test(self.begin(), kind="liking", variants=["A", "B"], tasters=["=1+1", "Bo"])
        cups = self.servings(test)[0].cups
        path = f"/trial-tests/{test['id']}/answers"
        body = {"serving": 0, "liking": dict.fromkeys(cups, 6), "marks": {cups[0]: {"=cmd": 1}}}
        self.assertEqual(self.send("POST", path, body)[1]["type"], "/problems/card-attribute")
        self.send("POST", path, {**body, "marks": {cups[0]: {"sweetness": 1}}})
        _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
        self.assertEqual((closed["analysis"]["n"], closed["answered"]), (1, 1))
        csv = self.client.get(f"/api/v1/kitchens/ours/trial-tests/{test['id']}/results.csv").content.decode()
        self.assertIn("'=1+1", csv)

    def test_what_is_no_answer_is_refused_and_nothing_is_lost(self) -> None:
        test = self.begun_test(self.begin())
        cups = self.servings(test)[0].cups
        path = f"/trial-tests/{test['id']}/answers"
        self.assertEqual(self.send("POST", path, {"serving": 0, "picked": [cups[0]]})[0], 201)
        for body, code in (
            ({"serving": 0, "picked": [cups[1]]}, "serving-answered"),
            ({"serving": 1, "picked": ["000"]}, "code-not-served"),
            ({"serving": 1, "picked": []}, "cups-picked"),
            ({"serving": 99, "picked": [cups[0]]}, "serving-unknown"),
        ):
            with self.subTest(code=code):
                status, refused = self.send("POST", path, body)
                self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))
        self.assertEqual(TrialAnswer.objects.filter(test_id=test["id"]).count(), 1)

    def test_what_makes_no_test_is_refused(self) -> None:
        trial = self.begin()
        for more, code in (
            ({"kind": "triangle", "variants": ["A", "B", "C"]}, "trial-kind-two"),
            ({"variants": ["A", "Z"]}, "trial-key-unknown"),
            ({"tasters": ["Ada", "Ada "]}, "taster-twice"),
            ({"tasters": [f"P{at}" for at in range(300)]}, "too-many-tasters"),
        ):
            with self.subTest(code=code):
                asked = {"kind": "2-afc", "variants": ["A", "B"], "tasters": ["Ada"], **more}
                status, refused = self.send("POST", f"/trials/{trial['id']}/tests", asked)
                self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))
        nobody = self.begun_test(trial)
        self.assertEqual(self.send("POST", f"/trial-tests/{nobody['id']}/close")[1]["type"], "/problems/test-nobody")

    def test_too_few_say_how_many_it_takes(self) -> None:
        test = self.begun_test(self.begin(), tasters=["Ada", "Bo"])
        self.answer_all(test, "D")
        _, closed = self.send("POST", f"/trial-tests/{test['id']}/close")
        self.assertEqual(closed["analysis"]["verdict"], "too few")
        self.assertIn("tastings would settle it", closed["settle"])


class GuestsTest(TrialCase):
    """A page for guests by a link that nobody can guess."""

    def setUp(self) -> None:
        super().setUp()
        self.test = self.begun_test(self.begin(), kind="preference")
        self.secret = self.link_for("Bo")
        self.guest = Client()

    def link_for(self, taster: str) -> str:
        status, made = self.send("POST", f"/trial-tests/{self.test['id']}/sittings", {"taster": taster})
        self.assertEqual(status, 201, made)
        return str(made["path"]).removeprefix("/guest/")

    def ask(self, method: str, path: str = "", body: Any = None, secret: str | None = None) -> tuple[int, Any]:
        place = f"/api/v1/guest/{secret or self.secret}{path}"
        return self.send(method, place, body, self.guest)

    def test_a_guest_sees_allergens_first_and_no_variant(self) -> None:
        status, page = self.ask("GET")
        self.assertEqual((status, page["allergens"]), (200, ["milk"]))
        said = json.dumps(page)
        self.assertNotIn("dextrose", said)
        self.assertNotIn("variants", said)
        self.assertGreaterEqual(len(self.secret), 22)

    def test_answers_are_kept_once_and_those_that_are_none_are_named(self) -> None:
        (own,) = self.ask("GET")[1]["servings"]
        said = {"key": str(uuid4()), "serving": own["number"], "picked": [own["cups"][0]["code"]]}
        none = [{"serving": own["number"], "picked": ["000"]}, {"serving": "first"}, {"serving": 99_999}]
        for _ in range(2):
            _, kept = self.ask("POST", "/answers", {"answers": [*none, said]})
            self.assertEqual((kept["kept"], len(kept["refused"])), (1, 3))
        self.assertEqual(TrialAnswer.objects.filter(test_id=self.test["id"]).count(), 1)
        self.assertEqual(self.ask("GET")[1]["servings"], [])

    def test_one_key_is_the_key_of_one_answer(self) -> None:
        test = self.begun_test(self.begin(), kind="2-afc", tasters=["Ada", "Bo"])
        key = str(uuid4())
        for place, status in ((0, 201), (0, 201), (1, 422)):
            said = {"key": key, "serving": place, "picked": [test["servings"][place]["cups"][0]]}
            self.assertEqual(self.send("POST", f"/trial-tests/{test['id']}/answers", said)[0], status)

    def test_a_guest_is_sent_the_own_cups_and_answers_for_nobody_else(self) -> None:
        page = self.ask("GET")[1]
        self.assertEqual((page["taster"], len(page["servings"])), ("Bo", 1))
        for other in ("Ada", "Cy"):
            self.assertNotIn(other, json.dumps(page))
        theirs = next(one for one in self.test["servings"] if one["taster"] == "Ada")
        said = {"serving": theirs["number"], "picked": [theirs["cups"][0]]}
        _, kept = self.ask("POST", "/answers", {"answers": [said]})
        self.assertEqual(kept["kept"], 0)
        self.assertIn("somebody else’s", kept["refused"][0])

    def test_a_link_is_renewed_and_taken_back_alone(self) -> None:
        other = self.link_for("Ada")
        renewed = self.link_for("Bo")
        self.assertEqual(self.ask("GET")[0], 404)
        self.assertEqual([self.ask("GET", secret=one)[0] for one in (renewed, other)], [200, 200])
        place = f"/trial-tests/{self.test['id']}"
        self.assertEqual(sorted(self.send("GET", place)[1]["linked"]), ["Ada", "Bo"])
        self.assertEqual(self.send("DELETE", f"{place}/sittings/Bo")[0], 204)
        self.assertEqual([self.ask("GET", secret=one)[0] for one in (renewed, other)], [404, 200])
        self.assertEqual(self.send("DELETE", f"{place}/sittings/Bo")[0], 404)
        status, refused = self.send("POST", f"{place}/sittings", {"taster": "Nobody"})
        self.assertEqual((status, refused["type"]), (422, "/problems/taster-unknown"))

    def test_a_link_ends_with_its_sitting_and_a_guessed_one_leads_nowhere(self) -> None:
        self.answer_all(self.test, "A")
        self.send("POST", f"/trial-tests/{self.test['id']}/close")
        status, refused = self.ask("GET")
        self.assertEqual((status, refused["type"]), (422, "/problems/sitting-over"))
        self.assertEqual(self.ask("GET", secret="x" * 22)[0], 404)
        status, refused = self.ask("POST", "/answers", {"answers": [{"serving": 0, "picked": ["123"]}]})
        self.assertEqual((status, refused["type"]), (422, "/problems/sitting-over"))


class DecidingTest(TrialCase):
    """The winner goes into the mix, and the variants into batches."""

    def test_the_winner_goes_into_the_mix_and_what_was_there_is_kept(self) -> None:
        trial = self.begin()
        _, decided = self.send("POST", f"/trials/{trial['id']}/decision", {"keys": ["C"]})
        self.assertEqual(decided["mix"], self.our_mix.pk)
        _, mix = self.send("GET", f"/mixes/{self.our_mix.pk}")
        grams = {line["ingredient"]: line["grams"] for line in mix["lines"]}
        self.assertEqual((grams["sugar"], grams["dextrose"]), (112, 48))
        self.assertEqual(decided["trial"]["decided"], "C went into the mix.")
        _, revisions = self.send("GET", f"/mixes/{self.our_mix.pk}/revisions")
        self.assertIn("before How much dextrose?", json.dumps(revisions))

    def test_half_way_between_two_rungs_goes_in(self) -> None:
        trial = self.begin()
        self.send("POST", f"/trials/{trial['id']}/decision", {"keys": ["B", "C"]})
        _, mix = self.send("GET", f"/mixes/{self.our_mix.pk}")
        self.assertEqual({line["ingredient"]: line["grams"] for line in mix["lines"]}["dextrose"], 36)

    def test_a_trial_without_its_mix_cannot_take_a_winner(self) -> None:
        trial = self.begin(mix=None, factors=[], sides=[{"mix": self.our_mix.pk}, {"mix": self.our_mix.pk}])
        status, refused = self.send("POST", f"/trials/{trial['id']}/decision", {"keys": ["A"]})
        self.assertEqual((status, refused["type"]), (422, "/problems/trial-no-mix"))
        status, refused = self.send("POST", f"/trials/{self.begin()['id']}/decision", {"keys": ["Z"]})
        self.assertEqual((status, refused["type"]), (422, "/problems/trial-key-unknown"))

    def test_variants_become_mixes_once(self) -> None:
        trial = self.begin()
        _, first = self.send("POST", f"/trials/{trial['id']}/mixes")
        _, again = self.send("POST", f"/trials/{trial['id']}/mixes")
        self.assertEqual(first, again)
        self.assertEqual(len(first["mixes"]), 4)
        made = Mix.objects.of(self.ours.kitchen).get(pk=first["mixes"]["D"])
        self.assertEqual(made.tags, ["trial"])
        self.assertEqual(sum(line.grams or 0 for line in made.lines.all()), 970)
