"""Drafts: analysed as typed, saved whole, noticed when two people save."""

from __future__ import annotations

import threading
from typing import Any

from django.db import DatabaseError, connection, transaction
from django.test import TransactionTestCase

from api.problems import ConflictError
from ingredients.models import Ingredient
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.formats.report import report
from mixes.drafts import save_draft
from mixes.models import Mix, Revision
from mixes.schemas import DraftToSave
from testing.kitchen_case import LINES, KitchenCase, filled_kitchen


def line(**changes: Any) -> dict[str, Any]:
    return {"ingredient": "sugar", "typed": "100", "unit": "g", "grams": None, "stage": None, **changes}


class AnalyseTest(KitchenCase):
    """The stateless call of every edit."""

    def analyse(self, *lines: dict[str, Any], **draft: Any) -> Any:
        status, answer = self.send("POST", "/analyses", {"lines": list(lines), **draft})
        self.assertEqual(status, 200, answer)
        return answer

    def test_answer_agrees_with_the_mix_file_of_the_same_mix(self) -> None:
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft())[0], 200)
        response = self.client.get(self.place + f"/mixes/{self.our_mix.pk}/file")
        by_command = report(read_mix(response.content))
        serialize_analysis = self.analyse(*LINES, overrun_pct=30)["analysis"]
        self.assertAlmostEqual(serialize_analysis["scoop_c"], by_command["freezing"]["scoop_c"])
        self.assertAlmostEqual(serialize_analysis["first_ice_c"], by_command["freezing"]["initial_c"])
        self.assertAlmostEqual(serialize_analysis["freezer"]["firmness"], by_command["firmness"]["value"])
        self.assertAlmostEqual(serialize_analysis["figures"]["sweetness_pod"], by_command["sweetness_pod"])

    def test_amounts_are_read_as_cooks_type_them(self) -> None:
        typed = ("480", "1,5", "½", "1 1/2", "2 oz")
        answer = self.analyse(*(line(typed=text) for text in typed))
        for grams, expected in zip(
            (found["grams"] for found in answer["lines"]), (480, 1.5, 0.5, 1.5, 56.7), strict=True
        ):
            self.assertAlmostEqual(grams, expected, places=2)

    def test_cups_and_pieces_are_weighed_and_say_what_they_assume(self) -> None:
        lines = (
            line(ingredient="egg-yolk", typed="4 yolks"),
            line(typed="1 cup"),
            line(ingredient="tea-leaves", typed="9"),
        )
        yolks, sugar, mint = self.analyse(*lines)["lines"]
        self.assertEqual((yolks["grams"], yolks["assumed"]), (68, "yolk 17 g"))
        self.assertEqual((sugar["grams"], sugar["assumed"]), (212.5, "cup of 250 ml, 0.85 kg/L"))
        self.assertIsNone(mint["assumed"])

    def test_a_kitchen_measures_with_its_own_cups(self) -> None:
        self.assertEqual(self.change_kitchen({"spoons": "us"})[1]["spoons"], "us")
        self.assertAlmostEqual(self.analyse(line(typed="1 cup"))["lines"][0]["grams"], 201.1, places=1)
        self.assertEqual(self.change_kitchen({"spoons": "wooden"})[0], 422)

    def test_allergens_are_told_and_what_nobody_stated_too(self) -> None:
        Ingredient.objects.create(
            kitchen=self.ours.kitchen, slug="own-milk", name="Own milk", kind="own", basis="ours",
            composition={"name": "Own milk", "per_100g": {"water": 90, "lactose": 10}},
        )  # fmt: skip
        answer = self.analyse(
            line(ingredient="own-milk"), line(ingredient="egg-yolk"), line(ingredient="hazelnut-paste")
        )
        self.assertEqual(answer["allergens"], ["milk", "egg", "nuts"])
        self.assertEqual(answer["allergens_not_stated"], ["Own milk"])

    def test_an_unreadable_amount_names_its_line_and_keeps_what_it_weighed(self) -> None:
        for typed in ("-3", "1e9", "12 g g", "", "1,000", "٣"):
            with self.subTest(typed=typed):
                good, bad = self.analyse(line(), line(ingredient="honey", typed=typed, grams=24))["lines"]
                self.assertIsNone(good["error"])
                self.assertTrue(bad["error"].startswith("Honey: "), bad["error"])
                self.assertIn("counts as 24 g", bad["error"])
                self.assertEqual(bad["grams"], 24)

    def test_a_new_line_without_an_amount_counts_nothing(self) -> None:
        answer = self.analyse(line(), line(ingredient="honey", typed=""))
        self.assertIsNone(answer["lines"][1]["grams"])
        self.assertEqual(answer["analysis"]["mass_g"], 100)

    def test_an_unknown_ingredient_is_named_with_its_neighbours(self) -> None:
        answer = self.analyse(line(), line(ingredient="hole-milk"))
        self.assertRegex(answer["lines"][1]["error"], "^There is no ingredient “hole-milk”.*Did you mean whole-milk")

    def test_an_ingredient_of_control_characters_is_no_failure(self) -> None:
        answer = self.analyse(line(), line(ingredient="nul\x00"))
        self.assertIn("no ingredient", answer["lines"][1]["error"])

    def test_an_empty_draft_has_no_analysis(self) -> None:
        self.assertIsNone(self.analyse()["analysis"])
        self.assertIsNone(self.analyse(line(typed="0"))["analysis"])

    def test_nonsense_is_refused_in_a_sentence(self) -> None:
        for body, says in (
            (b"not json", "cannot be read"),
            ({"lines": [line(unit="")]}, "unit"),
            ({"lines": [line(grams=-1)]}, "grams"),
            ({"lines": [line()], "style": "stew"}, "not a style"),
            ({"lines": [line()], "overrun_pct": 900}, "overrun_pct"),
            ({"lines": [line()], "freezer_c": -400}, "freezer_c"),
            ({"lines": [line()] * 201}, "lines"),
            ({}, "lines"),
        ):
            with self.subTest(says=says):
                status, answer = self.send("POST", "/analyses", body)
                self.assertIn(status, (400, 422))
                self.assertIn(says, answer["detail"])

    def test_the_freezer_moves_the_words_only(self) -> None:
        warm, cold = (self.analyse(*LINES, freezer_c=t)["analysis"] for t in (-8, -25))
        self.assertEqual(warm["scoop_c"], cold["scoop_c"])
        self.assertLess(warm["freezer"]["firmness"], cold["freezer"]["firmness"])


class SaveTest(KitchenCase):
    """Keeping a draft."""

    def url(self, end: str = "") -> str:
        return f"/mixes/{self.our_mix.pk}{end}"

    def test_what_is_saved_is_there_again_in_its_order(self) -> None:
        lines = [
            line(typed="1 1/2", unit="oz", stage="cold"),
            line(ingredient="water", typed="9"),
            line(typed="-3", grams=7),
        ]
        status, _ = self.send("PUT", self.url(), self.draft(name="Ünïcødé 🍨 ice", lines=lines))
        self.assertEqual(status, 200)
        _, mix = self.send("GET", self.url())
        self.assertEqual(mix["name"], "Ünïcødé 🍨 ice")
        self.assertEqual([kept["typed"] for kept in mix["lines"]], ["1 1/2", "9", "-3"])
        self.assertEqual(mix["lines"][2]["grams"], 7)
        self.assertEqual(mix["lines"][0]["stage"], "cold")

    def test_the_same_ingredient_may_stand_in_two_stages(self) -> None:
        _, mix = self.send("GET", self.url())
        self.assertEqual(
            [kept["stage"] for kept in mix["lines"] if kept["ingredient"] == "cream-36"], ["pot", "off-heat"]
        )

    def test_an_edit_of_an_older_version_is_noticed_and_overwrites_nothing(self) -> None:
        self.assertEqual(self.send("PUT", self.url(), self.draft(name="First"))[0], 200)
        status, answer = self.send("PUT", self.url(), self.draft(name="Second"))
        self.assertEqual(status, 412)
        self.assertIn("Somebody else", answer["detail"])
        self.assertEqual(self.send("GET", self.url())[1]["name"], "First")

    def test_names_that_cannot_be_are_refused_and_nothing_is_lost(self) -> None:
        for name in ("", "   ", "x" * 10_000, "bell\x07", "nul\x00"):
            with self.subTest(name=name[:5]):
                self.assertEqual(self.send("PUT", self.url(), self.draft(name=name))[0], 422)
        self.assertEqual(self.send("GET", self.url())[1]["version"], self.our_mix.version)

    def test_unknown_ingredients_and_stages_are_refused_by_line(self) -> None:
        for bad in (line(ingredient="unobtainium"), line(stage="oven"), line(typed="1\x00")):
            status, answer = self.send("PUT", self.url(), self.draft(lines=[line(), bad]))
            self.assertEqual(status, 422)
            self.assertTrue(answer["detail"].startswith("Line 2: "), answer)

    def test_a_copy_is_a_mix_of_its_own(self) -> None:
        status, copy = self.send("POST", "/mixes", {"name": "Copy", "copy_of": self.our_mix.pk})
        self.assertEqual(status, 201)
        self.assertEqual([kept["typed"] for kept in copy["lines"]], [kept["typed"] for kept in LINES])
        self.send("PUT", f"/mixes/{copy['id']}", {**self.draft(), "version": copy["version"], "lines": []})
        self.assertEqual(len(self.send("GET", self.url())[1]["lines"]), len(LINES))

    def test_a_mix_put_away_leaves_the_list_and_keeps_its_batches(self) -> None:
        self.assertEqual(self.send("DELETE", self.url())[0], 204)
        self.assertEqual(self.send("GET", "/mixes")[1]["items"], [])
        self.assertEqual(len(self.send("GET", "/batches")[1]["items"]), 1)


class RevisionTest(KitchenCase):
    """Named points."""

    def test_a_revision_keeps_the_composition_it_was_made_of(self) -> None:
        revision: Revision = self.our_mix.revisions.get()
        Ingredient.objects.of(self.ours.kitchen).filter(slug="whole-milk").update(
            composition={"name": "Whole milk", "per_100g": {"water": 100}}
        )
        revision.refresh_from_db()
        self.assertEqual(revision.content["lines"][0]["ingredient"]["composition"]["per_100g"]["milk_fat"], 3.5)

    def test_neither_code_nor_database_changes_a_revision(self) -> None:
        revision = self.our_mix.revisions.get()
        with self.assertRaises(TypeError):
            revision.save()
        with self.assertRaises(DatabaseError), transaction.atomic():
            Revision.objects.of_all_kitchens().filter(pk=revision.pk).update(name="other")

    def test_a_line_without_an_amount_is_asked_for(self) -> None:
        url = f"/mixes/{self.our_mix.pk}"
        self.send("PUT", url, self.draft(lines=[line(), line(ingredient="honey", typed="")]))
        status, answer = self.send("POST", f"{url}/revisions", {"name": "Point"})
        self.assertEqual(status, 422)
        self.assertIn("Line 2: Honey has no amount yet", answer["detail"])


class TwoPeopleTest(TransactionTestCase):
    """Real concurrency: of two saves of one version exactly one wins."""

    def test_only_one_of_two_saves_wins(self) -> None:
        person, mix, _ = filled_kitchen("busy")
        outcomes: list[str] = []
        ready = threading.Barrier(2)

        def save(name: str) -> None:
            draft = DraftToSave.model_validate({"name": name, "lines": LINES})
            ready.wait()
            try:
                save_draft(person.kitchen, mix.pk, mix.version, draft)
                outcomes.append("saved")
            except ConflictError:
                outcomes.append("noticed")
            finally:
                connection.close()

        threads = [threading.Thread(target=save, args=(name,)) for name in ("one", "two")]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(outcomes), ["noticed", "saved"])
        self.assertEqual(Mix.objects.of_all_kitchens().get(pk=mix.pk).version, mix.version + 1)
