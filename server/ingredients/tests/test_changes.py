"""Own ingredients, changes with versions, preparations, and files in and out."""

from __future__ import annotations

import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, connection, transaction
from django.test.utils import CaptureQueriesContext

from ingredients.models import Ingredient, IngredientVersion
from jalebi_core.formats.snapshot import read_mix_snapshot
from mixes.models import Mix
from mixes.revisions import keep_revision
from testing.kitchen_case import KitchenCase

LABEL = {"fat": 30, "carbohydrate": 3.3, "sugars": 3.3, "protein": 2.3, "salt": 0.08, "energy_kcal": 292}


class OwnTest(KitchenCase):
    """Ingredients of the kitchen's own."""

    def refused(self, path: str, body: dict[str, Any], message: str) -> None:
        status, answer = self.send("POST", path, body)
        self.assertEqual(status, 422, answer)
        self.assertIn(message, answer["detail"])

    def test_a_label_becomes_an_ingredient_that_is_found_and_counts_in_a_mix(self) -> None:
        own = {"way": "label", "name": "Farm cream", "like": "cream-30", "label": LABEL, "price": 4.2, "pack_g": 500}
        preview = self.send("POST", "/custom-ingredients/preview", own)[1]
        self.assertEqual((preview["doubts"], preview["allergens"]), ([], ["milk"]))
        status, made = self.send("POST", "/custom-ingredients", own)
        self.assertEqual((status, made["slug"], made["allergens_stated"]), (201, "farm-cream", False))
        self.assertAlmostEqual(made["price_per_kg"], 8.4)
        self.assertEqual(self.send("GET", "/ingredients?find=farm%20cream")[1]["items"][0]["name"], "Farm cream")
        line = {"ingredient": "farm-cream", "typed": "500"}
        found = self.send("POST", "/analyses", {"lines": [line]})[1]
        self.assertAlmostEqual(found["analysis"]["figures"]["fat"], 30, places=0)
        self.assertAlmostEqual(found["cost"]["ingredients"], 4.2)

    def test_servings_readings_and_undisclosed_blends(self) -> None:
        serving = {"fat": 9, "carbohydrate": 1, "sugars": 1, "protein": 0.7, "serving_g": 30}
        own = {"way": "label", "name": "Cup cream", "like": "cream-30", "label": serving}
        self.assertAlmostEqual(self.send("POST", "/custom-ingredients/preview", own)[1]["energy_kcal"], 292, delta=6)
        ripe = {"way": "brix", "name": "Ripe strawberry", "of": "strawberry-puree", "brix": 10.5}
        self.assertEqual(self.send("POST", "/custom-ingredients", ripe)[1]["brix"], 10.5)
        blend = {"way": "blend", "name": "House stabilizer", "dose_low_pct": 0.3, "dose_high_pct": 0.5}
        made = self.send("POST", "/custom-ingredients", blend)[1]
        self.assertEqual(made["sure"], "undisclosed")
        self.assertEqual(made["facts"]["dose_pct"], [0.3, 0.5])
        lines = [{"ingredient": "water", "typed": "996"}, {"ingredient": made["slug"], "typed": "4", "stage": "pot"}]
        found = self.send("POST", "/analyses", {"lines": lines})[1]
        self.assertEqual(found["lines"][1]["dose"], {"pct": 0.4, "low_pct": 0.3, "high_pct": 0.5})
        self.assertEqual(found["undisclosed"], ["House stabilizer"])

    def test_what_nobody_said_is_free_of_animals_never_passes_as_vegan(self) -> None:
        self.change_kitchen({"restrictions": ["vegan"]})
        for animal, offends in ((None, True), ("none", False), ("bees", True)):
            said: dict[str, Any] = {"name": f"Bar, {animal or 'unasked'}", "allergens": [], "animal": animal}
            own = {"way": "label", "label": LABEL, **said}
            made = self.send("POST", "/custom-ingredients", own)[1]
            found = self.send("POST", "/analyses", {"lines": [{"ingredient": made["slug"], "typed": "500"}]})[1]
            self.assertEqual(bool(found["lines"][0]["offends"]), offends, animal)

    def test_raw_milk_of_a_kitchens_own_is_heated(self) -> None:
        own = {
            "way": "label",
            "name": "Farm milk",
            "label": LABEL,
            "allergens": ["milk"],
            "sold": "raw",
            "animal": "none",
        }
        made = self.send("POST", "/custom-ingredients", own)[1]
        self.assertEqual(made["facts"]["sold"], "raw")

    def test_what_cannot_be_is_told_and_nothing_is_kept(self) -> None:
        before = Ingredient.objects.of_all_kitchens().count()
        self.refused(
            "/custom-ingredients",
            {"way": "label", "name": "Odd", "label": {"fat": 80, "carbohydrate": 40}},
            "120.0 g in 100 g",
        )
        self.refused(
            "/custom-ingredients", {"way": "label", "name": "Odd", "like": "moon", "label": {}}, "no ingredient"
        )
        self.refused(
            "/custom-ingredients", {"way": "brix", "name": "Odd", "of": "strawberry-puree", "brix": 60}, "°Brix"
        )
        self.refused("/custom-ingredients", {"way": "label", "name": "Honey", "label": LABEL}, "on the shelf already")
        self.refused(
            "/custom-ingredients",
            {"way": "label", "name": "Ore", "label": LABEL, "allergens": ["granite"]},
            "granite",
        )
        self.refused(
            "/custom-ingredients", {"way": "blend", "name": "Odd", "dose_low_pct": 2, "dose_high_pct": 1}, "dose"
        )
        self.refused("/custom-ingredients", {"way": "sum", "name": "Odd"}, "way")
        self.assertEqual(Ingredient.objects.of_all_kitchens().count(), before)

    def test_a_change_keeps_the_version_before_and_two_people_are_noticed(self) -> None:
        change = {"version": 1, "pieces": {"yolk": 18.4}, "why": "ten weighed"}
        status, changed = self.send("PATCH", "/ingredients/egg-yolk", change)
        self.assertEqual((status, changed["version"], changed["pieces"]), (200, 2, {"yolk": 18.4}))
        line = {"ingredient": "egg-yolk", "typed": "4 yolks"}
        self.assertAlmostEqual(self.send("POST", "/analyses", {"lines": [line]})[1]["lines"][0]["grams"], 73.6)
        self.assertEqual(self.send("PATCH", "/ingredients/egg-yolk", change)[0], 412)
        versions = self.send("GET", "/ingredients/egg-yolk/versions")[1]
        self.assertEqual([(version["number"], version["why"]) for version in versions["items"]], [(1, "ten weighed")])
        self.assertEqual(self.send("PATCH", "/ingredients/egg-yolk", {"version": 2, "name": "\x00"})[0], 422)
        with self.assertRaisesMessage(DatabaseError, "cannot be changed"), transaction.atomic():
            IngredientVersion.objects.of_all_kitchens().update(content={})

    def test_what_is_put_away_is_no_longer_found_and_stays_in_mixes(self) -> None:
        self.assertEqual(self.send("DELETE", "/ingredients/cream-36")[0], 204)
        found = self.send("GET", "/ingredients?find=cream%2036")[1]["items"]
        self.assertNotIn("cream-36", [row["slug"] for row in found])
        self.assertEqual(self.send("GET", f"/mixes/{self.our_mix.pk}")[1]["lines"][1]["ingredient"], "cream-36")


class PreparationTest(KitchenCase):
    """Preparations on the shelf."""

    def reduction(self, **changes: Any) -> dict[str, Any]:
        lines = [{"ingredient": "raspberry-puree", "typed": "820"}]
        return {"name": "Raspberry, reduced", "lines": lines, "steps": [{"kind": "reduce", "share_pct": 25}], **changes}

    def add(self, **changes: Any) -> Any:
        status, made = self.send("POST", "/preparations", self.reduction(**changes))
        self.assertEqual(status, 201, made)
        return made

    def test_a_preview_says_where_to_stop_and_a_preparation_is_used_like_an_ingredient(self) -> None:
        steps = [{"kind": "reduce", "measured_g": 205, "pot_g": 407}]
        preview = self.send("POST", "/preparations/preview", self.reduction(steps=steps))[1]
        self.assertIn("612 g with the pot", preview["messages"][0])
        self.assertTrue(any("scorches" in caution for caution in preview["cautions"]))
        made = self.add()
        self.assertEqual((made["kind"], made["pieces"]), ("preparation", {"batch": 205}))
        line = {"ingredient": made["slug"], "typed": "½ batch"}
        found = self.send("POST", "/analyses", {"lines": [line]})[1]
        self.assertAlmostEqual(found["lines"][0]["grams"], 102.5)

    def test_it_brings_allergens_cost_and_the_shortest_keeping(self) -> None:
        self.send("PATCH", "/ingredients/whole-milk", {"version": 1, "price": 1.2, "pack_g": 1000})
        self.send("PATCH", "/ingredients/tea-leaves", {"version": 1, "price": 5, "pack_g": 100})
        lines = [
            {"ingredient": "whole-milk", "typed": "1 kg"},
            {"ingredient": "tea-leaves", "typed": "10", "steeped": True},
        ]
        made = self.add(name="Tea milk", lines=lines, steps=[{"kind": "steep"}])
        self.assertEqual(made["allergens"], ["milk"])
        self.assertAlmostEqual(made["price"], 1.7)
        self.assertAlmostEqual(made["price_per_kg"], 1.7 / 0.985, places=3)
        self.assertEqual(made["facts"]["keeps"], {"days": 5, "in": "fridge"})

    def test_one_inside_another_follows_what_is_in_it_and_no_circle_is_made(self) -> None:
        inner = self.add()
        outer = self.add(name="Ripple", lines=[{"ingredient": inner["slug"], "typed": "1 batch"}], steps=[])
        changed = {**self.reduction(steps=[{"kind": "reduce", "share_pct": 50}]), "version": 1}
        self.assertEqual(self.send("PUT", f"/preparations/{inner['slug']}", changed)[0], 200)
        self.assertEqual(self.send("GET", f"/ingredients/{outer['slug']}")[1]["pieces"], {"batch": 410})
        circle = {**changed, "version": 2, "lines": [{"ingredient": outer["slug"], "typed": "10"}], "steps": []}
        status, answer = self.send("PUT", f"/preparations/{inner['slug']}", circle)
        self.assertEqual(status, 422)
        self.assertIn("would contain itself", answer["detail"])
        self.assertEqual(self.send("PUT", f"/preparations/{inner['slug']}", changed)[0], 412)

    def test_a_change_that_makes_another_impossible_is_refused_whole(self) -> None:
        inner = self.add()
        self.add(name="Sieved", lines=[{"ingredient": inner["slug"], "typed": "1 batch"}],
                 steps=[{"kind": "reduce", "measured_g": 150}])  # fmt: skip
        smaller = {**self.reduction(lines=[{"ingredient": "raspberry-puree", "typed": "100"}]), "version": 1}
        status, answer = self.send("PUT", f"/preparations/{inner['slug']}", smaller)
        self.assertEqual(status, 422)
        self.assertIn("Sieved", answer["detail"])
        self.assertEqual(self.send("GET", f"/ingredients/{inner['slug']}")[1]["pieces"], {"batch": 205})

    def test_a_change_of_an_ingredient_that_makes_a_preparation_impossible_is_refused_whole(self) -> None:
        curd = [{"ingredient": "whole-egg", "typed": "4 eggs"}]
        self.add(name="Curd", lines=curd, steps=[{"kind": "reduce", "measured_g": 150}])
        status, answer = self.send("PATCH", "/ingredients/whole-egg", {"version": 1, "pieces": {"egg": 20}})
        self.assertEqual(status, 422)
        self.assertIn("Curd", answer["detail"])
        egg = self.send("GET", "/ingredients/whole-egg")[1]
        self.assertEqual((egg["version"], egg["pieces"]), (1, {"egg": 50}))
        self.assertFalse(IngredientVersion.objects.of_all_kitchens().exists())

    def test_grams_are_kept_beside_what_was_typed(self) -> None:
        made = self.add(lines=[{"ingredient": "whole-egg", "typed": "4 eggs"}], steps=[])
        self.assertEqual(made["made_from"]["lines"][0]["grams"], 200)

    def test_a_revision_keeps_the_preparation_as_it_was(self) -> None:
        made = self.add()
        lines = [{"ingredient": made["slug"], "typed": "100"}, {"ingredient": "sugar", "typed": "30"}]
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines))[0], 200)
        revision = keep_revision(self.ours, self.our_mix.pk, "first")
        before = read_mix_snapshot(revision.content).row()
        self.assertEqual(revision.content["lines"][0]["ingredient"]["made_from"]["steps"][0]["kind"], "reduce")
        changed = {**self.reduction(steps=[]), "version": 1}
        self.assertEqual(self.send("PUT", f"/preparations/{made['slug']}", changed)[0], 200)
        revision.refresh_from_db()
        self.assertEqual(list(read_mix_snapshot(revision.content).row()), list(before))

    def test_what_cannot_be_made_names_its_line_or_step(self) -> None:
        for changes, message in (
            ({"lines": []}, "Nothing that weighs"),
            ({"lines": [{"ingredient": "moon", "typed": "1"}]}, "no ingredient"),
            ({"lines": [{"ingredient": "sugar", "typed": "much"}]}, "Line 1"),
            ({"steps": [{"kind": "reduce", "measured_g": 5}]}, "Step 1"),
            ({"steps": [{"kind": "fly"}]}, "kind"),
            ({"name": "Honey"}, "on the shelf already"),
        ):
            with self.subTest(message=message):
                status, answer = self.send("POST", "/preparations", self.reduction(**changes))
                self.assertEqual(status, 422)
                self.assertIn(message, answer["detail"])


class ControlCharactersTest(KitchenCase):
    """Characters that the database cannot hold are refused in a sentence wherever they may come in."""

    def test_nul_is_refused_everywhere(self) -> None:
        nul, line = "a\x00b", {"ingredient": "sugar", "typed": "10 g"}
        calls: tuple[tuple[str, str, dict[str, Any]], ...] = (
            ("POST", "/preparations", {"name": nul, "lines": [line]}),
            ("POST", "/preparations", {"name": "x", "lines": [{**line, "unit": nul}]}),
            ("POST", "/custom-ingredients", {"way": "label", "name": nul, "label": LABEL}),
            ("POST", "/custom-ingredients", {"way": "label", "name": "x", "also": [nul], "label": LABEL}),
            ("PATCH", "/ingredients/sugar", {"version": 1, "why": nul}),
            ("PATCH", "/ingredients/sugar", {"version": 1, "also": [nul]}),
            ("PATCH", "", {"version": 1, "restrictions": [f"without:{nul}"]}),
            ("PUT", f"/mixes/{self.our_mix.pk}", self.draft(restrictions=[f"without:{nul}"])),
            ("POST", "/lots", {"ingredient": "sugar", "typed": "1 kg", "note": nul}),
            ("POST", "/mixes/recipes", {"name": "x", "lines": [{**line, "ingredient": nul, "reduced_to": 0.5}]}),
        )
        for method, path, body in calls:
            with self.subTest(path=path, body=body):
                self.assertEqual(self.send(method, path, body)[0], 422)
        self.assertEqual(self.send("POST", "/lots", {"ingredient": nul, "typed": "1 kg"})[0], 404)
        self.assertEqual(self.send("GET", "/ingredients/a%00b")[0], 404)
        self.assertEqual(self.send("GET", "/ingredients?find=a%00b")[0], 200)


class SpoonsTest(KitchenCase):
    """What is assumed of spoons and pieces reaches preparations."""

    def test_a_heavier_egg_makes_a_heavier_curd_and_the_mix_that_holds_it(self) -> None:
        curd = {
            "name": "Curd",
            "lines": [{"ingredient": "whole-egg", "typed": "4 eggs"}, {"ingredient": "sugar", "typed": "200"}],
        }
        made = self.send("POST", "/preparations", curd)[1]
        self.assertEqual(made["pieces"], {"batch": 400})
        self.send("PATCH", "/ingredients/whole-egg", {"version": 1, "pieces": {"egg": 60}})
        self.assertEqual(self.send("GET", f"/ingredients/{made['slug']}")[1]["pieces"], {"batch": 440})
        line = {"ingredient": made["slug"], "typed": "1 batch"}
        self.assertAlmostEqual(self.send("POST", "/analyses", {"lines": [line]})[1]["analysis"]["mass_g"], 440)

    def test_a_cup_is_the_kitchens_cup(self) -> None:
        cup = {"name": "x", "lines": [{"ingredient": "water", "typed": "1 cup"}]}
        for spoons, millilitres in (("metric", 250), ("us", 236.6), ("imperial", 284.1)):
            self.change_kitchen({"spoons": spoons})
            found = self.send("POST", "/preparations/preview", cup)[1]
            self.assertAlmostEqual(found["yield_g"], millilitres, delta=0.3)
            self.assertIn(f"cup of {millilitres}", found["assumed"][0])
            recipe = self.send("POST", "/recipe-readings", {"text": "1 cup water"})[1]
            self.assertAlmostEqual(recipe["lines"][0]["grams"], millilitres, delta=0.3)

    def test_it_goes_as_deep_as_the_kitchen_likes(self) -> None:
        inner = "sugar"
        for depth in range(12):
            body = {
                "name": f"Layer {depth}",
                "lines": [{"ingredient": inner, "typed": "100"}, {"ingredient": "water", "typed": "10"}],
            }
            inner = self.send("POST", "/preparations", body)[1]["slug"]
        self.send("PATCH", "/ingredients/sugar", {"version": 1, "allergens": ["sesame"]})
        self.assertEqual(self.send("GET", f"/ingredients/{inner}")[1]["allergens"], ["sesame"])


class FilesTest(KitchenCase):
    """Files of ingredients in and out."""

    def put(self, text: str | bytes, query: str = "") -> tuple[int, Any]:
        """Send a file; a large one is a job, which tests do at once: the answer is what it comes to."""
        data = text.encode() if isinstance(text, str) else text
        status, answer = self.send("POST", f"/ingredient-files{query}", SimpleUploadedFile("goods.csv", data))
        return (200, answer["answer"]) if status == 202 else (status, answer)

    def test_a_full_export_comes_back_as_a_no_op(self) -> None:
        for path in ("/ingredients.csv", "/ingredients.json"):
            status, preview = self.put(self.client.get(self.place + path).content, "?apply=true")
            self.assertEqual(status, 200, preview)
            self.assertEqual((preview["new"], preview["changed"], preview["wrong"]), (0, 0, 0), preview["rows"][:3])
            self.assertGreater(preview["same"], 200)
        self.assertFalse(IngredientVersion.objects.of_all_kitchens().exists())

    def test_a_preview_changes_nothing_and_tells_row_by_row(self) -> None:
        text = (
            "slug,name,water,sucrose,other_solids\n"
            "honey,Honey,20,70,10\n"
            ",Sluice syrup,40,60,\n"
            ",Open,40,20,\n"
            "our-water,Water,100,,\n"
        )
        status, preview = self.put(text)
        self.assertEqual(status, 200)
        self.assertEqual([preview[key] for key in ("new", "changed", "same", "wrong")], [1, 1, 0, 2])
        self.assertEqual([row["row"] for row in preview["rows"][:2]], [4, 5])
        self.assertFalse(Ingredient.objects.of_all_kitchens().filter(name="Sluice syrup").exists())
        self.assertEqual(self.put(text, "?apply=true")[0], 422)
        self.assertFalse(Ingredient.objects.of_all_kitchens().filter(name="Sluice syrup").exists())
        self.assertTrue(self.put(text, "?apply=true&leave_out_wrong=true")[1]["done"])
        self.assertTrue(Ingredient.objects.of(self.ours.kitchen).filter(name="Sluice syrup").exists())
        self.assertEqual(IngredientVersion.objects.of_all_kitchens().get().why, "imported")
        again = self.put(text)[1]
        self.assertEqual([again[key] for key in ("new", "changed", "same", "wrong")], [0, 0, 2, 2])

    def test_five_hundred_rows_take_as_many_queries_as_five(self) -> None:
        counts = []
        for rows in (5, 500):
            text = "\n".join(["name,water,sucrose", *(f"Syrup {rows} {row},40,60" for row in range(rows))])
            with CaptureQueriesContext(connection) as captured:
                self.assertEqual(self.put(text, "?apply=true")[1]["new"], rows)
            counts.append(len(captured))
        self.assertEqual(counts[0], counts[1])

    def test_what_is_made_here_is_not_overwritten_by_a_file(self) -> None:
        data = json.loads(self.client.get(self.place + "/ingredients.json").content)
        syrup = next(ingredient for ingredient in data["goods"] if ingredient["slug"] == "ours-syrup")
        syrup["composition"]["per_100g"] = {"water": 100}
        syrup["composition"].pop("traits")
        preview = self.put(json.dumps({**data, "goods": [syrup]}))[1]
        self.assertEqual((preview["wrong"], preview["changed"]), (1, 0))
        self.assertIn("made here", preview["rows"][0]["error"])

    def test_an_import_makes_anew_what_is_made_with_it(self) -> None:
        text = "slug,name,kind,basis,allergens,water,sucrose\nsugar,Table sugar,sugar,ours,none,20,80\n"
        self.assertEqual(self.put(text, "?apply=true")[1]["changed"], 1)
        parts = {part["key"]: part["grams"] for part in self.send("GET", "/ingredients/ours-syrup")[1]["components"]}
        self.assertAlmostEqual(parts["sucrose"], 48)

    def test_what_was_put_away_comes_back_from_a_file_and_frees_its_name(self) -> None:
        exported = self.client.get(self.place + "/ingredients.json").content
        self.assertEqual(self.send("DELETE", "/ingredients/honey")[0], 204)
        self.assertEqual(self.put(b"name,water,sucrose\nHoney,20,80\n")[1]["changed"], 1)
        self.assertEqual(self.put(b"slug,name,water,sucrose\nour-honey,Honey,20,80\n")[1]["new"], 1)
        self.assertEqual(self.put(exported, "?apply=true")[1]["changed"], 1)
        found = self.send("GET", "/ingredients?find=honey")[1]["items"]
        self.assertEqual(found[0]["slug"], "honey")

    def test_a_file_of_another_program_is_told(self) -> None:
        for data, message in ((b"Datum;Saldo\n1;2\n", "columns"), (b"", "empty"), (b"\x00\x01", "not text")):
            status, answer = self.put(data)
            self.assertEqual(status, 422)
            self.assertIn(message, answer["detail"])


class KitchenSettingsTest(KitchenCase):
    """Restrictions and currency of a kitchen."""

    def test_restrictions_of_kitchen_and_mix_mark_their_offenders(self) -> None:
        self.assertEqual(self.change_kitchen({"restrictions": ["egg-free"], "currency": "kr"})[0], 200)
        lines = [
            {"ingredient": "whole-milk", "typed": "100"},
            {"ingredient": "egg-yolk", "typed": "2 yolks"},
            {"ingredient": "guar-gum", "typed": "0.3 %"},
        ]
        draft = {"lines": lines, "restrictions": ["without:guar-gum"]}
        milk, yolk, gum = self.send("POST", "/analyses", draft)[1]["lines"]
        self.assertEqual((milk["offends"], yolk["offends"], gum["offends"]), (None, "contains egg", "is not wanted"))
        self.assertAlmostEqual(gum["grams"], 134 * 0.003 / 0.997, places=4)
        self.assertEqual(self.change_kitchen({"restrictions": ["moon"]})[0], 422)
        self.assertEqual(self.send("POST", "/analyses", {**draft, "restrictions": ["moon"]})[0], 422)
        self.assertEqual(Mix.objects.of(self.ours.kitchen).count(), 1)
