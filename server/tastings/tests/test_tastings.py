"""Taste: cards, melt tests, diagnosis and the next change of a batch, and what the kitchen learns of all of it."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from django.db import DatabaseError, transaction
from django.utils import timezone

from batches.models import Batch
from batches.record import begin_batch
from jalebi_core.tasting.freezers import WORDS
from kitchens.learnt import NOTHING, learnt_by
from kitchens.models import Kitchen
from tastings.models import Card, PieceWeighing
from testing.kitchen_case import LINES, KitchenCase


class TastingCase(KitchenCase):
    """A kitchen whose batches can be aged."""

    def setUp(self) -> None:
        super().setUp()
        self.batch = self.begun(days=2)
        self.ours_at = f"/batches/{self.batch.pk}"

    def begun(self, days: float) -> Batch:
        """Begin a batch of our mix some days ago."""
        return begin_batch(self.ours, self.our_mix.pk, timezone.now() - timedelta(days=days))

    def with_less_sugar(self) -> None:
        """Let our mix have less sugar from now on."""
        lines = [{**line, "typed": "130"} if line["ingredient"] == "sugar" else line for line in LINES]
        self.our_mix.refresh_from_db()
        body = {"name": "ours milk ice", "style": "ice-cream", "version": self.our_mix.version, "lines": lines}
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", body)[0], 200)

    def card(self, batch: int | None = None, **said: Any) -> dict[str, Any]:
        path = self.ours_at if batch is None else f"/batches/{batch}"
        status, answer = self.send("POST", f"{path}/cards", {"taster": "Ada", **said})
        self.assertEqual(status, 201, answer)
        kept: dict[str, Any] = answer
        return kept


class CardsTest(TastingCase):
    """Cards of a batch."""

    def test_what_was_expected_comes_only_after_ones_own_word(self) -> None:
        _, before = self.send("GET", f"{self.ours_at}/taste")
        self.assertTrue(all(one["expected"] is None for one in before["attributes"]))
        after = self.card(firmness="stiff", liking=6, marks={"sweetness": 1})
        expected = {one["key"]: one["expected"] for one in after["attributes"]}
        self.assertEqual(expected["sweetness"]["word"], "sweet")
        self.client.force_login(self.colleague)
        _, theirs = self.send("GET", f"{self.ours_at}/taste")
        self.assertTrue(all(one["expected"] is None for one in theirs["attributes"]))

    def test_the_same_press_is_kept_once(self) -> None:
        key = str(uuid4())
        for _ in range(2):
            answer = self.card(key=key, marks={"sweetness": 1})
        self.assertEqual(len(answer["cards"]), 1)

    def test_a_mended_card_takes_the_place_and_the_first_stays(self) -> None:
        first = self.card(marks={"sweetness": 2})["cards"][0]["id"]
        answer = self.card(marks={"sweetness": 0}, mends=first)
        self.assertEqual([one["mended"] for one in answer["cards"]], [True, False])
        self.assertNotIn("cloying", [one["key"] for one in answer["symptoms"] if one["tasted"]])
        status, refused = self.send("POST", f"{self.ours_at}/cards", {"taster": "Ada", "liking": 5, "mends": first})
        self.assertEqual((status, refused["type"]), (422, "/problems/card-mended"))

    def test_what_is_no_card_is_refused_by_name(self) -> None:
        for said, code in (
            ({}, "card-empty"),
            ({"marks": {"beauty": 1}}, "card-attribute"),
            ({"marks": {"sand": -1}}, "card-mark"),
            ({"firmness": "squishy"}, "card-word"),
            ({"words": "a\x07b"}, "text-hidden"),
        ):
            with self.subTest(said=said):
                status, refused = self.send("POST", f"{self.ours_at}/cards", {"taster": "Ada", **said})
                self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))
        self.assertEqual(self.send("GET", f"{self.ours_at}/taste")[1]["cards"], [])

    def test_a_card_stays_as_it_was(self) -> None:
        self.card(liking=5)
        card = Card.objects.of(self.ours.kitchen).get()
        with self.assertRaises(TypeError):
            card.save()
        with self.assertRaises(DatabaseError), transaction.atomic():
            Card.objects.of(self.ours.kitchen).update(liking=9)

    def test_what_is_due_after_an_hour_a_day_and_a_week_comes_first(self) -> None:
        self.send("POST", f"{self.ours_at}/events", {"events": [{"kind": "weighed", "line": 0, "text": "550"}]})
        due = {one["batch"]: one["due"] for one in self.send("GET", "/tastings")[1]["items"]}
        self.assertEqual(due[self.batch.pk], "day")
        self.card(liking=6)
        due = {one["batch"]: one["due"] for one in self.send("GET", "/tastings")[1]["items"]}
        self.assertIsNone(due[self.batch.pk])

    def test_all_cards_of_a_mix_over_time_and_troubles_that_come_again(self) -> None:
        other = self.begun(days=2).pk
        for batch in (self.batch.pk, other):
            self.card(batch, liking=4, marks={"firmness": 2})
        _, found = self.send("GET", f"/mixes/{self.our_mix.pk}/cards")
        self.assertEqual([one["marks"].get("firmness") for one in found["batches"]], [None, 2, 2])
        self.assertEqual(found["again"], ["too hard to scoop: 2 batches"])

    def test_what_one_of_three_tasters_says_is_no_trouble_that_comes_again(self) -> None:
        for batch in (self.batch.pk, self.begun(days=2).pk):
            self.card(batch, taster="Ada", marks={"sweetness": 1})
            for taster in ("Bo", "Cy"):
                self.card(batch, taster=taster, marks={"sweetness": 0})
        self.assertEqual(self.send("GET", f"/mixes/{self.our_mix.pk}/cards")[1]["again"], [])


class MeltAndDiagnosisTest(TastingCase):
    """The melt test, why a batch is as it is, and what comes next."""

    def test_a_melt_test_is_read(self) -> None:
        drips = [{"minute": minute, "grams": max(0, minute - 12) * 1.2} for minute in range(5, 50, 5)]
        _, answer = self.send("POST", f"{self.ours_at}/melt-tests", {"ball_g": 60, "room_c": 22, "drips": drips})
        (found,) = answer["melt_tests"]
        self.assertAlmostEqual(found["rate"], 2.0, places=1)
        self.assertIn("as usual", found["said"])

    def test_a_melt_test_that_gains_weight_is_refused_and_nothing_is_lost(self) -> None:
        drips = [{"minute": 5, "grams": 10}, {"minute": 10, "grams": 2}]
        status, refused = self.send("POST", f"{self.ours_at}/melt-tests", {"ball_g": 60, "room_c": 22, "drips": drips})
        self.assertEqual((status, refused["type"]), (422, "/problems/melt-gains"))
        self.assertEqual(self.send("GET", f"{self.ours_at}/taste")[1]["melt_tests"], [])

    def test_an_icy_batch_that_hardened_slowly_is_not_blamed_on_its_mix(self) -> None:
        self.card(marks={"iciness": 3})
        known = {"harden_h": 9, "thaws": 0, "freezer_c": -14}
        _, found = self.send("POST", f"{self.ours_at}/diagnosis", {"symptoms": ["icy_later"], "known": known})
        first = found["suspects"][0]
        self.assertEqual(first["key"], "slow_hardening")
        self.assertTrue(any("9 h" in one["said"] and one["speaks_for"] for one in first["evidence"]))
        self.assertIn("shallow", found["change"])

    def test_what_nobody_knows_is_asked_for(self) -> None:
        _, found = self.send("POST", f"{self.ours_at}/diagnosis", {"symptoms": ["icy_later"]})
        self.assertEqual(found["ask"], "thaws")
        for bad, code in (
            ({"symptoms": ["ugly"]}, "unknown-symptom"),
            ({"symptoms": ["sandy"], "known": {"beauty": 1}}, "quantity-unknown"),
        ):
            status, refused = self.send("POST", f"{self.ours_at}/diagnosis", bad)
            self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))

    def test_one_change_is_offered_in_grams_and_judged_in_the_next_batch(self) -> None:
        self.ours_at = f"/batches/{self.begun(days=9).pk}"
        for taster, liking in (("Ada", 4), ("Bo", 5), ("Cy", 8)):
            answer = self.card(taster=taster, liking=liking, marks={"sweetness": 0 if taster == "Cy" else 2})
        change = answer["next_change"]
        self.assertEqual((change["attribute"], change["aim"]["of"]), ("sweetness", "sweetness"))
        self.assertRegex(change["grams"], r"[+−][\d.]+ g")
        self.assertNotIn("target", change["grams"])
        self.assertGreater(change["values"][0], change["values"][1])
        self.with_less_sugar()
        later = self.begun(days=1).pk
        answer = self.card(later, liking=8, marks={"sweetness": 0})
        self.assertIn("the change was right", answer["last_change"])

    def test_a_mix_that_nobody_changed_is_not_called_a_right_change(self) -> None:
        self.card(self.begun(days=9).pk, liking=4, marks={"sweetness": 2})
        self.assertIsNone(self.card(self.begun(days=1).pk, liking=8, marks={"sweetness": 0})["last_change"])

    def test_what_was_changed_since_the_good_one_is_told(self) -> None:
        good = self.begun(days=9)
        self.card(good.pk, liking=8)
        self.with_less_sugar()
        _, found = self.send("GET", f"/batches/{self.begun(days=1).pk}/taste")
        self.assertEqual(found["since_good"]["batch"], good.pk)
        self.assertIn("Table sugar", found["since_good"]["said"])


class LearningTest(TastingCase):
    """What a kitchen learns, uses, leaves out, forgets and pins."""

    def verdict(self) -> dict[str, Any]:
        _, answer = self.send("POST", "/analyses", {"style": "ice-cream", "lines": LINES})
        found: dict[str, Any] = answer["analysis"]
        return found

    def taste_nine(self) -> None:
        """Taste nine batches straight out of a freezer that is warmer than its dial, after one reading in a tub."""
        self.send("POST", "/readings", {"where": "ice-water", "t_c": 0})
        self.send("POST", "/readings", {"where": "tub", "t_c": -13.5})
        for _ in range(9):
            self.card(self.begun(days=2).pk, firmness="scoops", out_min=0, marks={"sweetness": 1})

    def test_a_kitchen_that_learnt_nothing_computes_as_before(self) -> None:
        self.assertEqual(learnt_by(self.ours.kitchen), NOTHING)
        self.assertEqual(self.verdict()["learnt"], [])

    def test_after_nine_batches_the_verdict_goes_by_what_was_learnt_and_forgetting_undoes_it(self) -> None:
        before = self.verdict()
        self.taste_nine()
        after = self.verdict()
        self.assertIn("From your −14 °C freezer", after["verdict"])
        self.assertLess(after["freezer"]["firmness"], before["freezer"]["firmness"])
        self.assertEqual({one["key"] for one in after["learnt"]}, {"freezer_c", "scoop_firmness", "sweetness_ideal"})
        self.assertTrue(all(one["said"].startswith("From ") for one in after["learnt"]))
        low, high = self.send("GET", "")[1]["used_aims"]["ice-cream"]["sweetness"]
        self.assertNotEqual(high, 17)
        self.assertAlmostEqual(high - low, 4)
        for parameter in ("freezer_c", "scoop_firmness", "sweetness_factor"):
            self.send("POST", "/learnt/choices", {"kind": "forget", "parameter": parameter})
        self.assertEqual(self.verdict(), before)

    def test_a_pinned_setting_wins(self) -> None:
        self.taste_nine()
        pin = {"kind": "pin", "parameter": "freezer_c", "of": "your freezer"}
        _, learnt = self.send("POST", "/learnt/choices", pin)
        found = next(one for one in learnt["parameters"] if one["key"] == "freezer_c")
        self.assertTrue(found["pinned"] and not found["in_use"])
        self.assertIn("From your −18 °C freezer", self.verdict()["verdict"])
        self.send("POST", "/learnt/choices", {**pin, "kind": "unpin"})
        self.assertIn("From your −14 °C freezer", self.verdict()["verdict"])

    def test_an_entry_is_left_out_and_put_back(self) -> None:
        _, learnt = self.send("POST", "/readings", {"where": "tub", "t_c": -13.5})
        entry = learnt["entries"][0]["id"]
        _, without = self.send("POST", "/learnt/choices", {"kind": "leave-out", "entry": entry})
        self.assertEqual((without["parameters"], without["entries"][0]["left_out"]), ([], True))
        _, again = self.send("POST", "/learnt/choices", {"kind": "put-back", "entry": entry})
        self.assertEqual(again["parameters"], learnt["parameters"])

    def test_words_out_of_the_freezer_alone_are_used_for_that_freezer_and_for_nothing_else(self) -> None:
        for _ in range(3):
            self.card(self.begun(days=2).pk, firmness="soft scoop", out_min=0)
        _, learnt = self.send("GET", "/learnt")
        found = {one["key"]: one for one in learnt["parameters"]}
        self.assertFalse(found["freezer_c"]["in_use"] or found["scoop_firmness"]["in_use"])
        self.assertIn("thermometer in a tub", found["freezer_firmness"]["said"])
        verdict = self.verdict()
        self.assertEqual([one["key"] for one in verdict["learnt"]], ["freezer_firmness"])
        self.assertEqual(verdict["freezer"]["word"], "soft scoop")

    def test_a_tub_that_stood_or_is_fresh_teaches_nothing_of_the_freezer(self) -> None:
        self.card(self.begun(days=2).pk, firmness="scoops", out_min=15)
        self.card(self.begun(days=0.2).pk, firmness="scoops", out_min=0)
        self.assertEqual(self.send("GET", "/learnt")[1]["parameters"], [])

    def test_sweetness_is_learnt_alone_and_not_with_cake(self) -> None:
        for _ in range(3):
            self.card(self.begun(days=2).pk, marks={"sweetness": 2}, eaten_with="plum cake")
        self.assertEqual(self.send("GET", "/learnt")[1]["parameters"], [])

    def test_pieces_are_weighed(self) -> None:
        body = {"ingredient": "egg-yolk", "piece": "yolk", "pieces": 6, "grams": 120}
        _, learnt = self.send("POST", "/piece-weighings", body)
        self.assertIn("a yolk of Egg yolk weighs", learnt["parameters"][0]["said"])
        status, refused = self.send("POST", "/piece-weighings", {**body, "piece": "wing"})
        self.assertEqual((status, refused["type"]), (422, "/problems/piece-unknown"))

    def test_yolks_weigh_here_what_they_weighed_and_what_was_kept_stays(self) -> None:
        lines = [*LINES, {"ingredient": "egg-yolk", "typed": "3", "unit": "yolk", "stage": "pot"}]
        self.our_mix.refresh_from_db()
        body = {"name": "ours custard", "style": "frozen-custard", "version": self.our_mix.version, "lines": lines}
        self.assertEqual(self.send("PUT", f"/mixes/{self.our_mix.pk}", body)[0], 200)
        kept = self.begun(days=0)
        self.assertEqual(self.yolks_g(lines), 51)
        weighing = {"ingredient": "egg-yolk", "piece": "yolk", "pieces": 12, "grams": 240}
        for _ in range(3):
            self.send("POST", "/piece-weighings", weighing)
        heavier_g = self.yolks_g(lines)
        self.assertGreater(heavier_g, 57)
        self.assertEqual(kept.content["lines"][-1]["grams"], 51)
        self.assertEqual({one.usual_g for one in PieceWeighing.objects.of(self.ours.kitchen)}, {17})
        _, sheet = self.send("GET", "/ingredients/egg-yolk")
        self.assertEqual(sheet["pieces"], {"yolk": heavier_g / 3})
        self.assertEqual([one["key"] for one in sheet["learnt"]], ["piece_g"])
        self.send("POST", "/learnt/choices", {"kind": "forget", "parameter": "piece_g"})
        self.assertEqual(self.yolks_g(lines), 51)

    def yolks_g(self, lines: list[dict[str, Any]]) -> float:
        _, answer = self.send("POST", "/analyses", {"style": "frozen-custard", "lines": lines})
        return float(answer["lines"][-1]["grams"])

    def test_fruit_is_as_sweet_as_it_is_read_by_who_grew_it_and_when(self) -> None:
        def lot(brix: float | None, came_on: date, supplier: str) -> None:
            fruit = {"ingredient": "strawberry-puree", "typed": "2 kg", "supplier": supplier, "brix": brix}
            self.assertEqual(self.send("POST", "/lots", {**fruit, "came_on": came_on.isoformat()})[0], 201)

        def brix() -> float:
            return float(self.send("GET", "/ingredients/strawberry-puree")[1]["brix"])

        usual = brix()
        last_june = date(timezone.localdate().year - 1, 6, 20)
        for days in range(4):
            lot(11.5, last_june + timedelta(days=days), "Lower Field")
        june = brix()
        self.assertTrue(usual < june < 11.5)
        lot(7, last_june + timedelta(days=100), "Hothouse")
        self.assertLess(brix(), june)
        lot(None, last_june + timedelta(days=101), "Lower Field")
        self.assertTrue(usual < brix() < june, "from Lower Field, but never read out of season")
        _, sheet = self.send("GET", "/ingredients/strawberry-puree")
        self.assertIn("°Brix", sheet["learnt"][0]["said"])
        self.assertEqual(sheet["name"], "Strawberry puree")

    def test_a_kitchen_has_ladders_of_its_own_lot_by_lot(self) -> None:
        body = {"ingredient": "strawberry-puree", "form": "fresh", "dose": 300, "mark": 1, "lot": "June, ripe"}
        self.send("POST", "/doses", body)
        _, found = self.send("POST", "/doses", {**body, "mark": -1, "lot": "April, pale"})
        (ladder,) = found["ladders"]
        lots = {one["lot"]: one["right"] for one in ladder["lots"]}
        self.assertLess(lots["June, ripe"], lots["April, pale"])
        self.assertIn("From 2 tastings", ladder["said"])
        draft = {"lines": [{"ingredient": "strawberry-puree", "typed": "500"}, {"ingredient": "sugar", "typed": "500"}]}
        _, answer = self.send("POST", "/analyses", draft)
        (flavour,) = (one for one in answer["analysis"]["outcomes"] if one["key"] == "flavour")
        self.assertEqual([one["key"] for one in flavour["learnt"]], ["strength_g_kg"])
        _, found = self.send("POST", "/doses", {"ingredient": "tea-leaves", "form": "steeped", "dose": 20, "mark": 0})
        self.assertIn("of leaf keep about 57 g", found["ladders"][0]["mind"])
        status, refused = self.send("POST", "/doses", {**body, "ingredient": "moon-dust"})
        self.assertEqual((status, refused["type"]), (422, "/problems/unknown-ingredient-near"))

    def test_what_is_no_choice_is_refused(self) -> None:
        for body, code in (
            ({"kind": "leave-out"}, "choice-unsaid"),
            ({"kind": "pin", "parameter": "luck"}, "choice-unknown"),
        ):
            status, refused = self.send("POST", "/learnt/choices", body)
            self.assertEqual((status, refused["type"]), (422, f"/problems/{code}"))

    def test_another_kitchen_learns_nothing_of_it(self) -> None:
        self.taste_nine()
        self.assertEqual(learnt_by(Kitchen.objects.get(slug="theirs")), NOTHING)

    def test_a_new_mix_begins_with_the_air_that_the_machine_beats_in(self) -> None:
        for _ in range(3):
            number = self.begun(days=2).pk
            event = {"kind": "overrun", "text": "300 g", "more": "200 g"}
            self.send("POST", f"/batches/{number}/events", {"events": [event]})
            Batch.objects.of(self.ours.kitchen).filter(pk=number).update(machine=self.our_machine)
        self.ours.kitchen.note_logged()
        made = self.send("POST", "/mixes", {"name": "New"})[1]
        self.assertGreater(made["overrun_pct"], 35)

    def test_firmness_words_are_those_of_the_card(self) -> None:
        _, found = self.send("GET", f"{self.ours_at}/taste")
        self.assertEqual(found["firmness_words"], list(WORDS))
