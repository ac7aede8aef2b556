"""The Make station: a custard on a tablet, a cold sorbet on a phone, a bucket, and a day without a connection."""

from __future__ import annotations

import json
import random
import re
from typing import Any, ClassVar

from django.conf import settings
from playwright.sync_api import Page, expect

from batches.models import Batch, Event
from browser.browser_case import BrowserCase
from browser.pages import open_mix, sign_in, to_station
from demo.kitchen import PERSON
from mixes.files import mix_from_file

COLD_SORBET = {
    "format": "jalebi.mix", "version": 1, "name": "Lockside strawberry", "style": "sorbet", "overrun_pct": 25,
    "lines": [
        {"ingredient": "strawberry-puree", "amount": 600, "unit": "g", "stage": "cold"},
        {"ingredient": "sugar", "amount": 170, "unit": "g", "stage": "cold"},
        {"ingredient": "water", "amount": 130, "unit": "g", "stage": "cold"},
        {"ingredient": "lemon-juice", "amount": 12, "unit": "g", "stage": "cold"},
    ],
}  # fmt: skip


TOO_SMALL = """
[...document.querySelectorAll("main button, main a, main input")]
    .filter((one) => one.offsetHeight > 0 && one.offsetHeight < 56).map((one) => one.textContent)
"""


class MakeCase(BrowserCase):
    """Batches at work, pressed through as a cook does."""

    def begin(self, page: Page, mix: str) -> None:
        open_mix(page, mix)
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("button", name="Whole part").wait_for()

    def go_to(self, page: Page, step: str | re.Pattern[str]) -> None:
        """Go to a step by its name in the list, which a phone opens first."""
        steps = page.get_by_role("navigation", name="Steps")
        if not steps.is_visible():
            page.get_by_role("button", name=re.compile(r"^\d+ of \d+$")).click()
        name = re.compile(rf"^(done |runs )?{re.escape(step)}$") if isinstance(step, str) else step
        steps.get_by_role("button", name=name).first.click()

    def press(self, page: Page, name: str) -> None:
        page.get_by_role("button", name=name, exact=True).click()

    def weigh_all(self, page: Page, first: str, count: int) -> None:
        """Press a part of lines in, one after the other."""
        self.go_to(page, first)
        for _ in range(count):
            title = page.get_by_role("region", name="What now").get_by_role("heading").inner_text()
            self.press(page, "It is in")
            expect(page.get_by_role("region", name="What now").get_by_role("heading")).not_to_have_text(title)

    def read(self, page: Page, label: str, value: str) -> None:
        page.get_by_label(label).fill(value)
        page.keyboard.press("Enter")

    def last_batch(self) -> Batch:
        batch = Batch.objects.of(self.kitchen).first()
        assert batch is not None
        return batch


class TabletTest(MakeCase):
    """1024 × 768, as it stands on the counter."""

    viewport: ClassVar[Any] = {"width": 1024, "height": 768}

    def test_a_custard_from_the_first_weight_to_the_tub(self) -> None:
        self.browse(self.make_custard)
        batch = self.last_batch()
        kinds = set(batch.events.values_list("kind", flat=True))
        wanted = {"weighed", "ticked", "read", "gap", "began", "done", "released", "overrun", "finished"}
        self.assertLessEqual(wanted, kinds)
        self.assertEqual(batch.tubs.count(), 2)
        self.assertEqual(list(batch.events.filter(kind="weighed").values_list("value__grams", flat=True)), [125])

    def make_custard(self, page: Page) -> None:
        self.begin(page, "Smoked tea custard")
        self.assertEqual(page.evaluate(TOO_SMALL), [])
        self.go_to(page, "Look it through")
        self.press(page, "Looked through")
        self.go_to(page, "Table sugar")
        page.get_by_label("It weighs").fill("1250")
        self.press(page, "It is in")
        expect(page.get_by_role("alert")).to_contain_text("more than three times the 113 g")
        page.get_by_label("It weighs").fill("125")
        expect(page.get_by_text("12 g over")).to_be_visible()
        self.press(page, "It is in")
        expect(page.get_by_role("status").filter(has_text="Table sugar")).to_contain_text("12 g too much: sweeter")
        self.weigh_all(page, "Locust bean gum", 8)
        self.go_to(page, "Egg yolk")
        self.press(page, "It is in")
        self.cook_and_cool(page)
        self.churn_and_hand_over(page)

    def cook_and_cool(self, page: Page) -> None:
        self.go_to(page, "Cook to 83 °C")
        self.read(page, "It reached", "79")
        expect(page.get_by_text("Below what is wanted: 82 °C to 84 °C")).to_be_visible()
        self.read(page, "It reached", "83,5")
        self.press(page, "It is hot enough")
        expect(page.get_by_role("list", name="Timers")).to_contain_text("Cook to 83 °C")
        self.press(page, "Off the heat")
        expect(page.get_by_role("alert")).to_contain_text("left. Press again to go on anyway")
        self.press(page, "Off the heat")
        self.go_to(page, "Weigh the base")
        self.read(page, "The base weighs", "938")
        expect(page.get_by_text("38 g of water boiled off")).to_be_visible()
        self.press(page, "Boiled off, left so")
        expect(page.get_by_role("button", name="Boiled off, left so")).to_have_class(re.compile("border-ink"))
        self.go_to(page, "Cool to 5 °C")
        self.press(page, "It cools now")
        expect(page.get_by_role("list", name="Timers")).to_contain_text("Cool to 5 °C")
        self.read(page, "It is at", "4")
        self.press(page, "It is cold")
        expect(page.get_by_role("region", name="What now").get_by_role("heading")).to_contain_text("Once cold: honey")
        self.go_to(page, "Into the fridge")
        self.press(page, "It is in the fridge")
        self.press(page, "Taken out")
        expect(page.get_by_role("alert")).to_contain_text("Into the fridge")
        self.press(page, "Taken out")

    def churn_and_hand_over(self, page: Page) -> None:
        self.go_to(page, re.compile("^Churn to"))
        expect(page.get_by_role("alert")).to_contain_text("Not in yet")
        expect(page.get_by_role("button", name="It runs")).to_be_disabled()
        page.get_by_role("alert").get_by_role("button", name="Honey").click()
        self.press(page, "It is in")
        self.go_to(page, re.compile("^Churn to"))
        self.press(page, "It runs")
        self.read(page, "Taken out at", "-5.6")
        self.press(page, "It is out")
        page.get_by_role("button", name="Hand over").click()
        points = page.get_by_role("region", name="Critical points")
        expect(points).to_contain_text("Heated: met")
        form = page.get_by_role("form", name="Fill tubs")
        form.get_by_label("Tubs").fill("2")
        form.get_by_role("button", name="These tubs are filled").click()
        expect(page.get_by_text("machine free of other allergens. Note it in Make")).to_be_visible()
        row = points.get_by_role("listitem").filter(has_text="Machine free of other allergens")
        row.get_by_role("button", name="Release it…").click()
        row.get_by_label("Who answers for it, and why").fill("Keeper: nothing else ran today")
        row.get_by_role("button", name="Release", exact=True).click()
        expect(row).to_contain_text("Released by keeper")
        form.get_by_role("button", name="These tubs are filled").click()
        expect(page.get_by_role("region", name="Tubs").get_by_role("listitem")).to_have_count(2)
        page.get_by_label("Full of mix, g").fill("250")
        page.get_by_label("Full of ice cream, g").fill("200")
        self.press(page, "Work it out")
        expect(page.get_by_text("25 % of air", exact=True)).to_be_visible()
        self.press(page, "Close the batch")
        expect(page.get_by_role("alert")).to_contain_text("This batch is closed")
        expect(page.get_by_text("All is noted")).to_be_visible()

    def test_another_machine_is_taken_and_the_bucket_is_loaded(self) -> None:
        self.browse(self.take_bucket)
        event = self.last_batch().events.get(kind="chose")
        self.assertEqual(event.step, "machine")

    def take_bucket(self, page: Page) -> None:
        self.begin(page, "Quince sorbet")
        self.go_to(page, "Table sugar")
        self.press(page, "Not like this…")
        page.get_by_role("button", name="Another machine").click()
        page.get_by_role("button", name=re.compile("[Bb]ucket")).click()
        self.go_to(page, "Load the bucket")
        now = page.get_by_role("region", name="What now")
        expect(now).to_contain_text("Set can and dasher into the bucket")
        expect(now).to_contain_text(re.compile(r"3 layers around it, each [\d\s]+g of ice and \d+\sg of salt"))
        expect(now).to_contain_text("gloves")
        self.go_to(page, "Table sugar")
        self.press(page, "Not like this…")
        page.get_by_role("button", name="Give the batch up").click()
        page.get_by_label("What became of the food").fill("frozen as a base")
        self.press(page, "Note it")
        expect(page.get_by_role("alert")).to_contain_text("This batch was given up")
        expect(page.get_by_text("All is noted")).to_be_visible()


class PhoneMakeTest(MakeCase):
    """390 wide, in one hand, with a connection that comes and goes."""

    viewport: ClassVar[Any] = {"width": 390, "height": 844}
    service_workers: ClassVar[Any] = "allow"

    def setUp(self) -> None:
        super().setUp()
        mix_from_file(self.kitchen, json.dumps(COLD_SORBET).encode())

    def test_a_cold_sorbet_goes_on_without_a_connection(self) -> None:
        self.browse(self.blend_without_connection)
        batch = self.last_batch()
        self.assertEqual(batch.events.filter(kind="ticked").count(), 4)
        self.assertEqual(batch.events.filter(kind="done", step="blend").count(), 1)

    def blend_without_connection(self, page: Page) -> None:
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()  # from now on the page itself comes through the worker
        to_station(page, "Bench", "Mixes")
        self.begin(page, "Lockside strawberry")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        self.assertEqual(page.evaluate(TOO_SMALL), [])
        self.weigh_all(page, "Strawberry puree", 1)
        expect(page.get_by_text("All is noted")).to_be_visible()
        page.context.set_offline(True)
        self.weigh_all(page, "Water", 1)
        expect(page.get_by_text(re.compile("No connection: 1 press is kept"))).to_be_visible()
        page.reload()
        expect(page.get_by_text("Lockside strawberry")).to_be_visible()
        self.go_to(page, "Table sugar")
        self.press(page, "It is in")
        self.weigh_all(page, "Lemon juice", 1)
        self.go_to(page, "Blend cold")
        self.press(page, "Done")
        page.context.set_offline(False)
        expect(page.get_by_text("All is noted")).to_be_visible()

    def test_who_has_just_signed_in_comes_back_without_a_server(self) -> None:
        self.browse(self.sign_in_and_reload)

    def sign_in_and_reload(self, page: Page) -> None:
        page.context.clear_cookies()
        sign_in(page, self.live_server_url, PERSON, settings.DEMO_PASSWORD)
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        self.begin(page, "Lockside strawberry")
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_role("region", name="What now")).to_be_visible()
        page.context.set_offline(False)

    def test_two_hundred_presses_with_cuts_are_all_kept_once(self) -> None:
        self.browse(self.press_two_hundred)
        events = Event.objects.filter(batch=self.last_batch(), kind="ticked")
        self.assertEqual(events.count(), 200)
        counters = list(events.order_by("id").values_list("counter", flat=True))
        self.assertEqual(counters, sorted(set(counters)))

    def press_two_hundred(self, page: Page) -> None:
        chance = random.Random(19)
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        page.reload()
        to_station(page, "Bench", "Mixes")
        self.begin(page, "Lockside strawberry")
        self.go_to(page, "Table sugar")
        self.press(page, "Whole part")
        names, offline = ("Strawberry puree", "Table sugar", "Water", "Lemon juice"), False
        for at in range(200):
            page.get_by_role("checkbox", name=names[at % 4], exact=True).click()
            if chance.random() < 0.08:
                offline = not offline
                page.context.set_offline(offline)
            if chance.random() < 0.03:
                page.reload()
                self.go_to(page, "Table sugar")
                self.press(page, "Whole part")
        page.context.set_offline(False)
        expect(page.get_by_text("All is noted")).to_be_visible()
