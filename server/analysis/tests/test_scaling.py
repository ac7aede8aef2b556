"""Scaling over HTTP, the machine in the header, the cook's table, limits and notes of lines."""

from __future__ import annotations

from typing import Any

from kitchens.models import Machine
from testing.kitchen_case import LINES, KitchenCase

YOLKS = {"ingredient": "egg-yolk", "typed": "4 yolks", "unit": "g", "stage": "yolks", "whole": "yolk"}
GUM = {"ingredient": "guar-gum", "typed": "1.5", "unit": "g", "stage": "dry"}
MIX = [*LINES, YOLKS, GUM]


class ScaleTest(KitchenCase):
    """From one size to another as it can be weighed."""

    def scale(self, by: str, amount: str, **more: Any) -> Any:
        body = {"lines": MIX, "overrun_pct": 25, "machine": self.our_machine.pk, "by": by, "amount": amount, **more}
        status, answer = self.send("POST", "/scalings", body)
        self.assertEqual(status, 200, answer)
        return answer

    def test_to_a_mass_with_whole_yolks_and_the_fine_scale_for_gum(self) -> None:
        found = self.scale("mass", "1,5 kg")
        by_name = {line["name"]: line for line in found["lines"]}
        self.assertAlmostEqual(found["mass_g"], 1500, delta=1)
        self.assertEqual(by_name["Egg yolk"]["typed"], "6 yolks")
        self.assertEqual(found["whole"], ["6 yolks"])
        self.assertAlmostEqual(by_name["Guar gum"]["after_g"] * 10 % 1, 0)
        self.assertNotEqual(by_name["Guar gum"]["after_g"] % 1, 0)
        self.assertEqual(by_name["Whole milk 3.5 %"]["after_g"] % 1, 0)

    def test_the_scaled_lines_weigh_what_they_say_when_typed(self) -> None:
        found = self.scale("portions", "20")
        lines = [
            {"ingredient": MIX[line["line"]]["ingredient"], "typed": line["typed"], "unit": line["unit"]}
            for line in found["lines"]
        ]
        read = self.send("POST", "/analyses", {"lines": lines})[1]["lines"]
        for line, now in zip(found["lines"], read, strict=True):
            self.assertAlmostEqual(now["grams"], line["after_g"], places=3)

    def test_guests_litres_and_scoops_agree(self) -> None:
        guests = self.scale("guests", "10", per_guest=2, each_ml=65)
        scoops = self.scale("portions", "20", each_ml=65)
        litres = self.scale("litres", "1.3")
        self.assertEqual(guests["times"], scoops["times"])
        self.assertAlmostEqual(guests["times"], litres["times"])
        self.assertIn(scoops["portions"], (19, 20, 21))
        self.assertEqual(litres["times"], self.scale("litres", "1300 ml")["times"])

    def test_what_there_is_of_an_ingredient_as_typed(self) -> None:
        found = self.scale("line", "1 l", line=0)
        milk = next(line for line in found["lines"] if line["line"] == 0)
        self.assertAlmostEqual(milk["after_g"], 1031, delta=60)
        self.assertEqual(self.scale("line", "3 yolks", line=5)["whole"], ["3 yolks"])

    def test_two_runs_of_the_machine_and_what_to_mind(self) -> None:
        found = self.scale("runs", "2")
        self.assertEqual(found["fill"]["runs"], 2)
        self.assertIn("nearly full", found["fill"]["message"])
        self.assertTrue(any("12 to 24 h" in sentence for sentence in found["mind"]))
        small = self.scale("mass", "300")
        self.assertTrue(any("What worked before does not prove" in sentence for sentence in small["mind"]))

    def test_a_share_of_the_mix_stays_a_share(self) -> None:
        lines = [*LINES, {"ingredient": "guar-gum", "typed": "0.2 %", "unit": "g", "stage": "dry"}]
        found = self.scale("mass", "2 kg", lines=lines)
        self.assertEqual(found["lines"][-1]["typed"], "0.2 %")

    def test_what_cannot_be_is_said_in_a_sentence(self) -> None:
        for body, says in (
            ({"by": "mass", "amount": "0"}, "no size"),
            ({"by": "mass", "amount": "-3"}, "cannot be negative"),
            ({"by": "mass", "amount": "plenty"}, "not an amount"),
            ({"by": "guests", "amount": "12 kg"}, "“12 kg” is not a number"),
            ({"by": "runs", "amount": "²"}, "not an amount"),
            ({"by": "mass", "amount": "999 kg", "lines": []}, "nothing in the mix"),
            ({"by": "portions", "amount": "3", "each_ml": 0.001}, "A portion of"),
            ({"by": "line", "amount": "3"}, "Say of which line"),
            ({"by": "line", "amount": "3", "line": 99}, "Say of which line"),
            ({"by": "line", "amount": "3 bushels", "line": 0}, "Whole milk 3.5 %:"),
            ({"by": "runs", "amount": "2", "machine": None}, "Choose the machine"),
            ({"by": "runs", "amount": "2", "machine": self.their_machine.pk}, "Choose the machine"),
            ({"by": "magic", "amount": "2"}, "by"),
        ):
            with self.subTest(body=body):
                whole = {"lines": MIX, "machine": self.our_machine.pk, **body}
                status, answer = self.send("POST", "/scalings", whole)
                self.assertEqual(status, 422)
                self.assertIn(says, answer["detail"])


class MachineTest(KitchenCase):
    """Machines of the kitchen and the fill of a draft."""

    def fill(self, **draft: Any) -> Any:
        body = {"lines": LINES, "overrun_pct": 25, **draft}
        return self.send("POST", "/analyses", body)[1]["fill"]

    def test_a_draft_says_how_it_fills_its_machine(self) -> None:
        fill = self.fill(machine=self.our_machine.pk)
        self.assertEqual((fill["runs"], fill["word"]), (1, "nearly full"))
        self.assertIsNone(self.fill())

    def test_their_machine_is_none_of_ours(self) -> None:
        self.assertIsNone(self.fill(machine=self.their_machine.pk))
        status, _ = self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(machine=self.their_machine.pk))
        self.assertEqual(status, 200)
        self.assertIsNone(self.send("GET", f"/mixes/{self.our_mix.pk}")[1]["machine"])

    def test_new_mixes_are_meant_for_the_first_machine_until_it_goes(self) -> None:
        mix = self.send("POST", "/mixes", {"name": "New"})[1]
        self.assertEqual(mix["machine"], self.our_machine.pk)
        self.assertEqual(self.send("DELETE", f"/machines/{self.our_machine.pk}")[0], 204)
        self.assertIsNone(self.send("GET", f"/mixes/{mix['id']}")[1]["machine"])

    def test_the_last_batch_says_how_full_it_was(self) -> None:
        self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(machine=self.our_machine.pk))
        made = self.send("GET", f"/mixes/{self.our_mix.pk}/last-batch")[1]
        self.assertEqual((made["id"], made["fill"]["word"]), (self.our_batch.pk, "nearly full"))

    def test_a_machine_is_checked_and_changed(self) -> None:
        path = f"/machines/{self.our_machine.pk}"
        status, changed = self.send("PATCH", path, {"version": 1, "kind": "batch-freezer", "bowl_l": 6})
        self.assertEqual((status, changed["kind_name"], changed["bowl_l"]), (200, "batch freezer", 6))
        self.assertEqual(changed["name"], self.our_machine.name)
        self.assertEqual(self.send("PATCH", path, {"version": 1, "name": "Late"})[0], 412)
        for body, says in (
            ({"name": "x", "kind": "teapot", "bowl_l": 1}, "not a kind of machine"),
            ({"name": "x", "kind": "canister", "bowl_l": 0}, "A bowl of 0 L"),
            ({"name": " ", "kind": "canister", "bowl_l": 1}, "needs a name"),
            ({"name": "x", "kind": "canister", "bowl_l": "big"}, "bowl_l"),
        ):
            status, answer = self.send("POST", "/machines", body)
            self.assertEqual(status, 422)
            self.assertIn(says, answer["detail"])

    def test_a_kitchen_keeps_so_many_machines_and_no_more(self) -> None:
        kitchen = self.ours.kitchen
        Machine.objects.bulk_create(
            Machine(kitchen=kitchen, name=str(number), kind="bag", bowl_l=1) for number in range(39)
        )
        status, answer = self.send("POST", "/machines", {"name": "41st", "kind": "bag", "bowl_l": 1})
        self.assertEqual(status, 422)
        self.assertIn("at most 40", answer["detail"])


class LineTest(KitchenCase):
    """What a line holds beside its amount."""

    def test_limits_pieces_and_notes_are_kept(self) -> None:
        held = {"least_g": 100, "most_g": 200, "step_g": 5, "whole": None, "note": "from the lock-keeper’s shop"}
        lines = [*LINES[:-1], {**LINES[-1], **held}, YOLKS]
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines))[0], 200)
        kept = self.send("GET", f"/mixes/{self.our_mix.pk}")[1]["lines"]
        self.assertEqual({key: kept[-2][key] for key in held}, held)
        self.assertEqual(kept[-1]["whole"], "yolk")
        copy = self.send("POST", "/mixes", {"name": "Copy", "copy_of": self.our_mix.pk})[1]
        self.assertEqual(copy["lines"][-1]["whole"], "yolk")

    def test_limits_that_contradict_each_other_are_refused(self) -> None:
        lines = [{**LINES[0], "least_g": 10, "most_g": 5}]
        status, answer = self.send("PUT", f"/mixes/{self.our_mix.pk}", self.draft(lines=lines))
        self.assertEqual(status, 422)
        self.assertIn("at least 10 g and at most 5 g", answer["detail"])

    def test_balance_keeps_to_the_limits_of_lines(self) -> None:
        for limits in ({"most_g": 150}, {"least_g": 158}, {"step_g": 25}):
            lines = [*LINES[:-1], {**LINES[-1], **limits}]
            body = {"lines": lines, "targets": [{"of": "sweetness", "min": 14, "max": 15}]}
            status, proposal = self.send("POST", "/proposals", body)
            self.assertEqual(status, 200, proposal)
            sugar = next(line for line in proposal["lines"] if line["name"] == "Table sugar")
            grams = sugar["after_g"]
            self.assertLessEqual(grams, limits.get("most_g", 1000))
            self.assertGreaterEqual(grams, limits.get("least_g", 0))
            self.assertEqual(grams % limits.get("step_g", grams), 0)

    def test_balance_leaves_whole_yolks_whole(self) -> None:
        body = {"lines": [*LINES, YOLKS], "targets": [{"of": "yolk_solids", "min": 5.2, "max": 6}]}
        status, proposal = self.send("POST", "/proposals", body)
        self.assertEqual(status, 200, proposal)
        yolks = next(line for line in proposal["lines"] if line["name"] == "Egg yolk")
        self.assertGreater(yolks["after_g"], 68)
        self.assertAlmostEqual(yolks["after_g"] / 17 % 1, 0, places=6)


class TableTest(KitchenCase):
    """The cook's table."""

    def test_rows_are_numbered_as_in_the_draft_and_sum_to_the_mix(self) -> None:
        lines = [
            {"ingredient": "honey", "typed": ""},
            *LINES,
            {"ingredient": "sugar", "typed": "10", "stage": "mix-in"},
        ]
        table = self.send("POST", "/composition-tables", {"lines": lines})[1]
        self.assertEqual([row["line"] for row in table["rows"]], [1, 2, 3, 4, 5])
        heads = [column["key"] for column in table["columns"]]
        self.assertEqual(table["total"]["cells"][heads.index("grams")], 970)
        self.assertEqual(round(sum(row["cells"][heads.index("pct")] for row in table["rows"])), 100)

    def test_an_empty_draft_has_none(self) -> None:
        self.assertEqual(self.send("POST", "/composition-tables", {"lines": []}), (200, None))

    def test_lines_are_said_in_cups_and_pieces(self) -> None:
        lines = [{"ingredient": "egg-yolk", "typed": "68"}, {"ingredient": "sugar", "typed": "212"}]
        found = self.send("POST", "/analyses", {"lines": lines})[1]["lines"]
        self.assertEqual([line["measure"] for line in found], ["4 yolks", "1 cup"])
