"""Trials and Taste as a cook goes through them: a ladder to its decision, a guest's phone, an icy batch, learning."""

from __future__ import annotations

import re

from django.utils import timezone
from playwright.sync_api import Page, expect

from batches.models import Batch
from browser.browser_case import BrowserCase
from browser.pages import open_mix, pick, to_doses, to_learnt, to_station, to_taste, to_trial, verdict
from demo.kitchen import PERSON
from tastings.models import Card, Choice
from trials.models import Trial, TrialAnswer, TrialTest
from trials.trial_tests import design_of

GUESTS = ("Isolde", "Corin", "Maud", "Hale", "Wren", "Bram")


class TrialsTest(BrowserCase):
    """A four-rung ladder from the Bench to its decision."""

    tasted = True

    def test_a_ladder_from_the_bench_to_its_decision_with_tastings_on_phones(self) -> None:
        links = self.browse(self.begin_ladder)
        trial = Trial.objects.of(self.kitchen).latest("pk")
        self.assertEqual([one["name"] for one in trial.variants][1:], [f"{share} % dextrose" for share in (10, 20, 30)])
        test = trial.tests.get()
        cups = {one.taster: one.cups[one.variants.index("D")] for one in design_of(test).servings}
        self.browse(lambda page: self.taste_on_phones(page, links, cups))
        self.assertEqual(TrialAnswer.objects.filter(test=test, by=None).count(), 5)
        self.browse(lambda page: self.decide(page, trial.pk))
        trial.refresh_from_db()
        self.assertEqual((trial.decided or {})["keys"], ["C", "D"])
        mix = trial.mix
        assert mix is not None
        self.assertEqual(mix.revisions.first().name, "before Softer, but how sweet?")  # type: ignore[union-attr]
        self.browse(lambda page: self.old_link(page, links["Corin"]))

    def begin_ladder(self, page: Page) -> dict[str, str]:
        open_mix(page, "Toasted barley ice cream")
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="A ladder of it…").click()
        page.get_by_role("heading", name="Make once, split late").wait_for()
        steps = page.get_by_label("2. In which steps, % of it")
        steps.fill("0 10 zwanzig")
        expect(page.get_by_text("Write numbers with spaces between")).to_be_visible()
        steps.fill("0 10 20 130")
        expect(page.get_by_role("alert")).to_contain_text("0 to 100 %")
        steps.fill("0 10 20 30")
        expect(page.get_by_role("columnheader").filter(has_text="30 % dextrose")).to_be_visible()
        page.get_by_label("What is the question?").fill("Softer, but how sweet?")
        page.get_by_role("button", name="Begin the trial").click()
        page.get_by_role("button", name="Begin a test").click()
        page.get_by_label("Tasters, by name").fill(", ".join((*GUESTS, GUESTS[0])))
        page.get_by_role("button", name="Begin the test").click()
        expect(page.get_by_role("alert")).to_contain_text("“Isolde” stands there twice")
        page.get_by_label("Tasters, by name").fill(", ".join(GUESTS))
        page.get_by_role("button", name="Begin the test").click()
        page.get_by_role("button", name="Links for guests").click()
        dialog = page.get_by_role("dialog")
        links = {}
        for name in GUESTS:
            row = dialog.get_by_role("listitem").filter(has_text=name)
            row.get_by_role("button", name=f"Make a link for {name}").click()
            links[name] = row.get_by_text("/guest/").inner_text()
        dialog.get_by_role("button", name="End the link of Bram").click()
        expect(dialog.get_by_role("button", name="Make a link for Bram")).to_be_visible()
        return links

    def taste_on_phones(self, page: Page, links: dict[str, str], cups: dict[str, str]) -> None:
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(links["Bram"])
        expect(page.get_by_role("alert")).to_contain_text("This link leads to no tasting")
        for at, name in enumerate(GUESTS[:-1]):
            page.goto(links[name])
            expect(page.get_by_text("The cups hold")).to_contain_text("milk")
            page.get_by_role("button", name="I may eat all of this").click()
            expect(page.get_by_role("heading")).to_have_text(name)
            if at == 2:
                page.context.set_offline(True)  # said without a connection, and sent when there is one again
            page.get_by_role("button", name=cups[name]).click()
            page.get_by_role("button", name="That is my answer").click()
            expect(page.get_by_text("That was all")).to_be_visible()
            if at == 2:
                expect(page.get_by_text("1 answer waits on this phone")).to_be_visible()
                page.context.set_offline(False)
            expect(page.get_by_text("on this phone")).to_have_count(0)
        page.set_viewport_size({"width": 1280, "height": 800})

    def decide(self, page: Page, trial: int) -> None:
        page.goto(f"{self.live_server_url}/trials/{trial}")
        expect(page.get_by_text("5 of 6")).to_be_visible()
        page.get_by_role("button", name="Close and reveal").click()
        panel = page.get_by_role("region", name=re.compile("Which has more"))
        expect(panel).to_contain_text("0 of 5 were right")
        expect(panel).to_contain_text("tastings would settle it")
        page.get_by_role("button", name="Between C and D").click()
        expect(page.get_by_text("Half way between C and D went into the mix.")).to_be_visible()

    def old_link(self, page: Page, link: str) -> None:
        page.goto(link)
        expect(page.get_by_role("alert")).to_contain_text("This sitting is over")

    def test_a_ranking_is_answered_at_the_table_and_revealed_once(self) -> None:
        self.browse(self.answer_and_close)
        test = TrialTest.objects.of(self.kitchen).get(kind="ranking")
        self.assertEqual(test.answers.count(), 6)
        self.assertIsNotNone(test.closed_at)

    def answer_and_close(self, page: Page) -> None:
        to_trial(page)
        expect(page.get_by_text("Codes: ")).to_have_count(0)
        page.get_by_role("button", name="Answer here").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_text("The cups hold milk")).to_be_visible()
        expect(dialog.get_by_role("button", name="That is my answer")).to_have_count(0)
        dialog.get_by_role("button", name="I may eat all of this").click()
        done = dialog.get_by_role("button", name="That is my answer")
        for code in dialog.get_by_role("button", name=re.compile(r"^\d{3}")).all():
            expect(done).to_be_disabled()
            code.click()
        done.click()
        expect(dialog.get_by_role("heading")).to_have_text("Corin, before the first cup")
        page.keyboard.press("Escape")
        expect(page.get_by_text("6 of 9")).to_be_visible()
        page.get_by_role("button", name="Close and reveal").click()
        expect(page.get_by_text("Codes: ")).to_be_visible()
        expect(page.get_by_role("button", name="Answer here")).to_have_count(0)


class TasteTest(BrowserCase):
    """The card, why it is so, and what the kitchen learns."""

    tasted = True

    def test_an_icy_batch_is_diagnosed_to_slow_hardening_and_not_to_the_mix(self) -> None:
        self.browse(self.diagnose)

    def diagnose(self, page: Page) -> None:
        to_taste(page)
        page.get_by_role("button", name="No", exact=True).click()
        expect(page.get_by_text("How many hours did the tub take until its core was hard?")).to_be_visible()
        page.get_by_label("A number").fill("eleven")
        expect(page.get_by_role("button", name="Say it")).to_be_disabled()
        page.get_by_label("A number").fill("11")
        page.get_by_role("button", name="Say it").click()
        panel = page.get_by_role("region", name="Why is it so?")
        expect(panel.get_by_role("heading")).to_contain_text("it hardened too slowly")
        expect(panel).to_contain_text("for: it took 11 h until its core was at −12 °C")
        expect(panel).to_contain_text("Harden in shallow pre-frozen tubs")

    def test_a_card_is_kept_mended_and_only_then_shows_what_was_expected(self) -> None:
        self.browse(self.fill_card)
        cards = list(Card.objects.of(self.kitchen).filter(taster__in=("keeper", "Maud")).order_by("pk"))
        self.assertEqual(
            [card.marks for card in cards], [{"sweetness": 2, "iciness": 2}, {"sweetness": 1, "iciness": 2}]
        )
        self.assertEqual(cards[1].mends, cards[0])
        self.assertEqual((cards[0].firmness, cards[0].liking, cards[0].eaten_with), ("stiff", 6.0, "plum cake"))

    def fill_card(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("button", name="Whole part").wait_for()
        number = int(page.url.rsplit("/", 1)[-1])
        page.goto(f"{self.live_server_url}/taste/{number}")
        expect(page.get_by_role("button", name="Keep the card")).to_be_disabled()
        page.get_by_role("radio", name="The whole card").click()
        page.get_by_role("group", name="Liked").get_by_role("button", name="6").click()
        page.get_by_role("group", name="The scoop").get_by_role("button", name="stiff").click()
        page.get_by_role("button", name="too sweet, by far").click()
        page.get_by_role("group", name="Ice").get_by_role("button", name="clear").click()
        page.get_by_label("Eaten with").fill("plum cake")
        expect(page.get_by_text("expected: ")).to_have_count(0)
        page.get_by_role("button", name="Keep the card").click()
        expect(page.get_by_text("expected: ").first).to_be_visible()
        page.get_by_role("button", name="mend").click()
        page.get_by_role("button", name="too sweet, a little").click()
        page.get_by_role("button", name="Keep the card").click()
        expect(page.get_by_role("listitem").filter(has_text="keeper")).to_have_count(2)
        expect(page.get_by_role("button", name="mend")).to_have_count(1)

    def test_a_melt_test_that_gains_weight_is_refused_and_mended(self) -> None:
        self.browse(self.melt)

    def melt(self, page: Page) -> None:
        to_taste(page)
        page.get_by_role("region", name="Melt test").get_by_role("button", name="Begin").click()
        page.get_by_label("The ball, g").fill("62")
        for grams in ("0", "0.3", "7", "4"):
            page.get_by_label("Dripped in all, g").fill(grams)
            page.get_by_role("button", name="Note it").click()
        page.get_by_role("button", name="Keep the test").click()
        expect(page.get_by_role("alert")).to_contain_text("nothing drips back")
        page.get_by_role("button", name="take it out").last.click()
        for minute, grams in (("20", "14"), ("25", "21")):
            page.get_by_label("Minute", exact=True).fill(minute)
            page.get_by_label("Dripped in all, g").fill(grams)
            page.get_by_role("button", name="Note it").click()
        page.get_by_role("button", name="Keep the test").click()
        expect(page.get_by_role("region", name="Melt test")).to_contain_text("began to drip after 10 min")

    def test_what_is_learnt_is_used_pinned_and_forgotten(self) -> None:
        self.browse(self.learn)
        self.assertEqual(
            list(Choice.objects.of(self.kitchen).values_list("kind", "parameter")),
            [("pin", "freezer_c"), ("unpin", "freezer_c"), ("forget", "freezer_c")],
        )

    def learn(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        self.assertIn("From your −16 °C freezer", verdict(page))
        page.get_by_role("button", name="learned from").first.click()
        expect(page.get_by_text("your freezer behaves like −16.4 °C")).to_be_visible()
        page.keyboard.press("Escape")
        for press, says in (
            ("keep my setting", "−18 °C"),
            ("use what is learnt", "−16 °C"),
            ("forget all up to today", "−18 °C"),
        ):
            to_learnt(page)
            row = page.get_by_role("listitem").filter(has=page.get_by_text("Your freezer", exact=True))
            row.get_by_role("button", name=press).click()
            after = {"keep my setting": "your setting is kept", "use what is learnt": "in use"}.get(press)
            if after:
                expect(row).to_contain_text(after)
            else:
                expect(page.get_by_text("your freezer behaves like")).to_have_count(0)
            to_station(page, "Bench", "Mixes")
            open_mix(page, "Smoked tea custard")
            expect(page.locator("[data-verdict]")).to_contain_text(f"From your {says} freezer")


class DosesTest(BrowserCase):
    """Ladders of flavour of one's own."""

    def test_doses_are_tasted_lot_by_lot(self) -> None:
        self.browse(self.taste_doses)

    def taste_doses(self, page: Page) -> None:
        to_doses(page)
        keep = page.get_by_role("button", name="Keep it")
        expect(keep).to_be_disabled()
        pick(page, "Of what", "Strawberry")
        for dose, lot, word in (("300", "June, ripe", "a little loud"), ("300", "April, pale", "a little faint")):
            page.get_by_label("g in a kg of mix").fill(dose)
            page.get_by_label("Which lot").fill(lot)
            page.get_by_role("radio", name=word).click()
            keep.click()
            expect(page.get_by_text(f"{word}, {lot}")).to_be_visible()
        expect(page.get_by_text("From 2 tastings")).to_be_visible()


class NextChangeTest(BrowserCase):
    """What is marked becomes one change on the Bench."""

    tasted = True

    def test_a_change_is_laid_on_the_bench_as_a_ghost(self) -> None:
        number = self.sweet_batch()
        self.browse(lambda page: self.lay(page, number))

    def sweet_batch(self) -> int:
        batch = (
            Batch.objects.of(self.kitchen).filter(revision__mix__name="Rhubarb buttermilk sherbet").latest("begun_at")
        )
        keeper = self.kitchen.people.get(name=PERSON)
        for taster in ("Isolde", "Maud", "Corin"):
            Card.objects.create(
                kitchen=self.kitchen,
                batch=batch,
                taster=taster,
                at=timezone.now(),
                liking=5,
                marks={"sweetness": 2},
                by=keeper,
            )
        return int(batch.pk)

    def lay(self, page: Page, number: int) -> None:
        page.goto(f"{self.live_server_url}/taste/{number}")
        panel = page.get_by_role("region", name="The next batch")
        expect(panel).to_contain_text("too sweet")
        panel.get_by_role("link", name="Lay it on the Bench").click()
        expect(page.get_by_role("button", name=re.compile("^(Take|Accept)")).first).to_be_visible()
        expect(page).to_have_url(re.compile(r"/bench/\d+$"))
