"""Looking closer: figures, slack, places, aims of kitchen and mix, first drafts, and a revision behind the mix."""

from __future__ import annotations

from typing import Any

from testing.kitchen_case import LINES, KitchenCase

DRAFT: dict[str, Any] = {"style": "ice-cream", "overrun_pct": 30, "lines": LINES}


class CloserTest(KitchenCase):
    """What stands behind an answer."""

    def details(self, **changes: Any) -> dict[str, Any]:
        status, found = self.send("POST", "/details", {**DRAFT, **changes})
        self.assertEqual(status, 200, found)
        answer: dict[str, Any] = found
        return answer

    def analyse_draft(self, **changes: Any) -> dict[str, Any]:
        status, found = self.send("POST", "/analyses", {**DRAFT, **changes})
        self.assertEqual(status, 200, found)
        answer: dict[str, Any] = found
        return answer

    def test_figures_agree_with_the_analysis_and_say_where_they_come_from(self) -> None:
        figures = {figure["key"]: figure for figure in self.details()["figures"]}
        analysis = self.analyse_draft()["analysis"]
        self.assertAlmostEqual(figures["fat"]["value"], analysis["figures"]["fat"])
        self.assertAlmostEqual(figures["ice_volume"]["value"], analysis["ice_volume_pct"])
        self.assertEqual(figures["fat"]["band"], [10, 14])
        self.assertEqual(figures["fat"]["rule"], "model.composition.fat")
        self.assertIn("cocoa butter", figures["fat"]["formula"])

    def test_an_empty_draft_has_nothing_behind_it(self) -> None:
        self.assertIsNone(self.send("POST", "/details", {"lines": []})[1])
        self.assertEqual(self.send("POST", "/tolerances", {"lines": []}), (200, []))

    def test_gums_are_looked_at_on_this_kitchens_scale(self) -> None:
        lines = [*LINES, {"ingredient": "guar-gum", "typed": "1.5", "stage": "dry"}]
        (gum,) = self.details(lines=lines)["gums"]
        self.assertEqual((gum["line"], gum["weighable"]), (5, False))
        self.change_kitchen({"fine_scale_g": 0.01})
        self.assertTrue(self.details(lines=lines)["gums"][0]["weighable"])

    def test_shares_of_the_lines_are_the_whole_and_a_layer_has_none(self) -> None:
        lines = [*LINES, {"ingredient": "caramel-sauce", "typed": "80", "stage": "layer"}, {**LINES[0], "typed": "?"}]
        read = self.analyse_draft(lines=lines)["lines"]
        self.assertAlmostEqual(sum(line["contributions"].get("richness", 0) for line in read), 100, delta=0.1)
        self.assertEqual([line["contributions"] for line in read[5:]], [{}, {}])

    def test_slack_names_the_line_of_the_draft_and_the_word(self) -> None:
        lines = [{**LINES[0], "typed": "?"}, *LINES]
        _, found = self.send("POST", "/tolerances", {**DRAFT, "lines": lines})
        self.assertEqual([line["line"] for line in found], [1, 2, 3, 4, 5])
        self.assertTrue(any(line["noticed_g"] and line["what"] for line in found))

    def test_make_weighs_to_the_same_tolerance(self) -> None:
        _, found = self.send("POST", "/tolerances", DRAFT)
        _, mix = self.send("POST", "/mixes", {"name": "Plain"})
        self.send("PUT", f"/mixes/{mix['id']}", {"name": "Plain", "version": mix["version"], **DRAFT})
        _, batch = self.send("POST", f"/mixes/{mix['id']}/batches")
        _, making = self.send("GET", f"/batches/{batch['id']}/making")
        weighed = {step["weighing"]["line"]: step["weighing"] for step in making["steps"] if step["weighing"]}
        self.assertEqual(len(found), len(LINES))
        for line in found:
            weighing = weighed[line["line"]]
            self.assertAlmostEqual(line["close_g"], weighing["high_g"] - weighing["target_g"])

    def test_places_follow_the_kitchens_freezer_and_cabinet(self) -> None:
        self.change_kitchen({"freezer_c": -20, "cabinet_c": -13})
        places = {place["key"]: place["t_c"] for place in self.analyse_draft()["analysis"]["places"]}
        self.assertEqual(places, {"freezer": -20, "cabinet": -13, "serving": -11.5})

    def test_a_preparation_carries_the_flavour_of_what_was_steeped(self) -> None:
        _, tea = self.send(
            "POST",
            "/preparations",
            {
                "name": "Tea milk",
                "lines": [
                    {"ingredient": "whole-milk", "typed": "1 l"},
                    {"ingredient": "tea-leaves", "typed": "30 g", "steeped": True},
                ],
                "steps": [{"kind": "steep"}],
            },
        )
        lines = [{"ingredient": tea["slug"], "typed": "500"}, *LINES[1:]]
        outcomes = {found["key"]: found for found in self.analyse_draft(lines=lines)["analysis"]["outcomes"]}
        self.assertIn("tea leaves", outcomes["flavour"]["reason"])
        self.assertGreater(outcomes["flavour"]["terms"][0]["value"], 10)

    def test_a_kitchens_ladder_is_its_own(self) -> None:
        lines = [*LINES, {"ingredient": "matcha", "typed": "12"}]
        before = self.word_of_flavour(lines)
        change = {"version": 1, "strength_g_kg": [20, 60]}
        self.assertEqual(self.send("PATCH", "/ingredients/matcha", change)[0], 200)
        self.assertNotEqual(self.word_of_flavour(lines), before)
        wrong = self.send("PATCH", "/ingredients/matcha", {"version": 2, "strength_g_kg": [20, 2]})
        self.assertEqual(wrong[0], 422)
        self.assertIn("weakest", wrong[1]["detail"])

    def word_of_flavour(self, lines: list[dict[str, Any]]) -> str:
        outcomes = self.analyse_draft(lines=lines)["analysis"]["outcomes"]
        word: str = next(found["word"] for found in outcomes if found["key"] == "flavour")
        return word


class AimsTest(KitchenCase):
    """Bands of a kitchen and of a mix."""

    def band(self, **changes: Any) -> list[float]:
        _, found = self.send("POST", "/details", {**DRAFT, **changes})
        band: list[float] = next(figure["band"] for figure in found["figures"] if figure["key"] == "fat")
        return band

    def test_the_kitchens_aims_hold_for_its_style_and_the_mixs_own_before_them(self) -> None:
        status, me = self.change_kitchen({"aims": {"ice-cream": {"fat": [6, 9]}}})
        self.assertEqual((status, me["aims"]), (200, {"ice-cream": {"fat": [6, 9]}}))
        self.assertEqual(self.band(), [6, 9])
        self.assertEqual(self.band(style="gelato"), [4, 9])
        self.assertEqual(self.band(aims={"fat": [7, 7.5]}), [7, 7.5])

    def test_aims_are_kept_with_the_mix_its_copy_its_file_and_its_revisions(self) -> None:
        path = f"/mixes/{self.our_mix.pk}"
        self.assertEqual(self.send("PUT", path, self.draft(aims={"fat": [7, 8]}))[0], 200)
        self.assertEqual(self.send("GET", path)[1]["aims"], {"fat": [7, 8]})
        copy = self.send("POST", "/mixes", {"name": "Copy", "copy_of": self.our_mix.pk})[1]
        self.assertEqual(copy["aims"], {"fat": [7, 8]})
        self.assertEqual(self.send("GET", f"{path}/file")[1]["aims"], [{"of": "fat", "min": 7, "max": 8}])
        self.send("POST", f"{path}/revisions", {"name": "Aimed"})
        _, found = self.send("GET", f"{path}/revisions/2/analysis")
        richness = next(outcome for outcome in found["outcomes"] if outcome["key"] == "richness")
        self.assertEqual(richness["band"], [7, 8])

    def test_aims_that_cannot_be_are_refused_by_name_everywhere(self) -> None:
        for method, path, body in (
            ("PATCH", "", {"version": 1, "aims": {"ice-cream": {"fat": [9, 6]}}}),
            ("POST", "/analyses", {**DRAFT, "aims": {"fat": [9, 6]}}),
            ("PUT", f"/mixes/{self.our_mix.pk}", self.draft(aims={"fat": [9, 6]})),
        ):
            with self.subTest(path=path):
                status, answer = self.send(method, path, body)
                self.assertEqual(status, 422)
                self.assertIn("at least 9 and at most 6", answer["detail"])
        status, answer = self.change_kitchen({"aims": {"soup": {}}})
        self.assertEqual(status, 422)
        self.assertIn("“soup” is not a style", answer["detail"])


class FirstDraftTest(KitchenCase):
    """A mix begun from style, approach and batch size."""

    def test_a_mix_begins_in_its_bands_with_its_method(self) -> None:
        body = {"name": "New gelato", "style": "gelato", "approach": "starch-set", "batch_g": 1500}
        status, mix = self.send("POST", "/mixes", body)
        self.assertEqual(status, 201)
        self.assertAlmostEqual(sum(line["grams"] for line in mix["lines"]), 1500, delta=5)
        self.assertIn("boil for 2 min", " ".join(step["text"] for step in mix["method"]))
        _, found = self.send("POST", "/analyses", {"style": "gelato", "lines": mix["lines"], "overrun_pct": 25})
        self.assertEqual([o["key"] for o in found["analysis"]["outcomes"] if o["state"] != "in"], [])

    def test_an_approach_that_does_not_make_the_style_says_which_it_makes(self) -> None:
        status, answer = self.send("POST", "/mixes", {"name": "x", "style": "sorbet", "approach": "cooked-custard"})
        self.assertEqual(status, 422)
        self.assertIn("makes frozen custard", answer["detail"])

    def test_every_approach_of_the_vocabulary_can_be_begun(self) -> None:
        for approach in self.send("GET", "/api/v1/vocabulary")[1]["approaches"]:
            for style in approach["styles"]:
                with self.subTest(approach=approach["key"], style=style):
                    body = {"name": f"{approach['name']} {style}", "style": style, "approach": approach["key"]}
                    self.assertEqual(self.send("POST", "/mixes", body)[0], 201)


class AdjustmentsTest(KitchenCase):
    """What would help, by the lines of a draft."""

    def test_adjustments_name_the_lines_of_the_draft_and_mend_it(self) -> None:
        lines = [
            {"ingredient": "honey", "typed": "?"},
            {"ingredient": "whole-milk", "typed": "560", "stage": "pot"},
            {"ingredient": "cream-36", "typed": "270", "stage": "pot"},
            {"ingredient": "skim-milk-powder", "typed": "45", "stage": "pot"},
            {"ingredient": "sugar", "typed": "105", "stage": "pot"},
        ]
        draft: dict[str, Any] = {"style": "ice-cream", "overrun_pct": 30, "lines": lines}
        _, found = self.send("POST", "/adjustments", draft)
        sweetness = next(one for one in found if one["key"] == "sweetness")
        best = sweetness["found"][0]
        self.assertIn("more table sugar for", best["said"])
        for changed in best["lines"]:
            self.assertEqual(lines[changed["line"]]["ingredient"], changed["ingredient"])
            lines[changed["line"]]["typed"] = f"{changed['grams']:g}"
        self.assertEqual({changed["line"] for changed in best["lines"]}, {1, 4})
        outcomes = self.send("POST", "/analyses", draft)[1]["analysis"]["outcomes"]
        self.assertIn("in", [one["state"] for one in outcomes if one["key"] == "sweetness"])

    def test_a_kitchen_hears_them_in_its_own_units(self) -> None:
        self.change_kitchen({"mass_unit": "oz", "temperature_unit": "F"})
        lines = [{"ingredient": "whole-milk", "typed": "840"}, {"ingredient": "sugar", "typed": "140"}]
        _, found = self.send("POST", "/adjustments", {"style": "gelato", "lines": lines})
        said = " ".join(one["said"] for help in found for one in help["found"])
        self.assertNotIn(" g ", said)
        self.assertIn("oz", said)


class RevisionTest(KitchenCase):
    """A revision beside the mix as it is."""

    def test_a_revision_says_what_has_changed_since_and_brings_its_lines_back(self) -> None:
        path = f"/mixes/{self.our_mix.pk}"
        unchanged = self.send("GET", f"{path}/revisions/1")[1]
        self.assertEqual((unchanged["message"], unchanged["changes"]), ("Nothing has changed.", []))
        lines = [{**line, "typed": "125"} if line["ingredient"] == "sugar" else line for line in LINES]
        self.send("PUT", path, self.draft(lines=lines))
        found = self.send("GET", f"{path}/revisions/1")[1]
        self.assertEqual(found["changes"], [{"name": "Table sugar", "before_g": 160, "after_g": 125}])
        self.assertIn("Table sugar −35 g → ", found["message"])
        self.assertIn("less sweet (", found["message"])
        self.assertEqual([line["typed"] for line in found["lines"]], [line["typed"] for line in LINES])
        self.assertEqual(self.send("GET", f"{path}/revisions/99")[0], 404)

    def test_an_emptied_mix_has_nothing_to_compare(self) -> None:
        path = f"/mixes/{self.our_mix.pk}"
        self.send("PUT", path, self.draft(lines=[]))
        self.assertIn("nothing in the mix now", self.send("GET", f"{path}/revisions/1")[1]["message"])
