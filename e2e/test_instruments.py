"""Make with simulated instruments, a hundred times as fast: a custard, a run that stalls, a scale that dies."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from playwright.sync_api import Page, expect

from browser.instruments import Instruments
from demo.kitchen import SLUG
from e2e.test_access import faults
from e2e.test_make import MakeCase
from instruments.models import Instrument, Point, Watch


class InstrumentsTest(MakeCase):
    """1024 × 768 on the counter, with scales, a probe and a batch freezer."""

    viewport: ClassVar[Any] = {"width": 1024, "height": 768}

    def setUp(self) -> None:
        super().setUp()
        self.instruments = Instruments(SLUG, speed=120)

    def tearDown(self) -> None:
        self.instruments.end()
        super().tearDown()

    def hand(self, page: Page, name: str | re.Pattern[str], at: int = 0) -> None:
        """Do something at the simulated instrument of the step."""
        hands = page.get_by_role("group", name="Simulated instruments")
        hands.get_by_role("button", name=name, exact=isinstance(name, str)).nth(at).click()

    def weigh(self, page: Page) -> None:
        """Pour a line up to its mark, and let it be taken."""
        page.locator("[data-shown]").wait_for()
        title = page.get_by_role("region", name="What now").get_by_role("heading")
        name = title.inner_text()
        expect(page.get_by_text("let it stand still a moment")).to_have_count(0)
        self.hand(page, re.compile("^Pour "), 1)
        expect(page.get_by_text(re.compile("^(Just right|.*: nobody notices)$"))).to_be_visible()
        self.press(page, "It is in")
        expect(title).not_to_have_text(name)

    def weigh_by_itself(self, page: Page) -> None:
        """Pour a line, which is taken once it stands inside its band."""
        title = page.get_by_role("region", name="What now").get_by_role("heading")
        name = title.inner_text()
        expect(page.get_by_text("let it stand still a moment")).to_have_count(0)
        box = page.get_by_role("checkbox", name=re.compile("^Take it by itself"))
        box.check()
        self.hand(page, re.compile("^Pour "), 1)
        expect(title).not_to_have_text(name)
        box.uncheck()

    def shows(self, page: Page) -> float:
        found = re.match(r"−?[\d.]+", page.locator("[data-shown]").inner_text())
        assert found
        return float(found[0].replace("−", "-"))

    def until(self, page: Page, least: float, most: float) -> None:
        """Wait until the probe shows something between two temperatures."""
        for _ in range(600):
            if least <= self.shows(page) <= most:
                return
            page.wait_for_timeout(100)
        self.fail(f"the probe shows {self.shows(page)}")

    # ---- a custard

    def test_a_custard_in_the_canister_from_weighing_to_the_tub(self) -> None:
        self.browse(self.make_custard)
        batch = self.last_batch()
        weighed = batch.events.filter(kind="weighed").values_list("value__grams", flat=True)
        self.assertEqual(len(weighed), 3)
        logged = set(Watch.objects.of(self.kitchen).filter(batch=batch).values_list("step", flat=True))
        self.assertLessEqual({"cook", "cool", "churn.1", "harden.1"}, logged)
        self.assertGreater(Point.objects.filter(watch__batch=batch).count(), 40)
        run = batch.events.get(kind="churned").value or {}
        self.assertTrue(20 < run["minutes"] < 60, run)
        self.assertTrue(0.6 < run["factor"] < 1.2, run)

    def make_custard(self, page: Page) -> None:
        self.begin(page, "Smoked tea custard")
        expect(page.locator("header")).to_contain_text(re.compile("scale on.*probe on|probe on.*scale on", re.I))
        self.go_to(page, "Table sugar")
        for _ in range(2):
            self.weigh(page)
        self.weigh_by_itself(page)
        self.weigh_all(page, "Smoked tea milk", 8)
        self.go_to(page, re.compile("^Warm to"))
        self.hand(page, "Heat")
        self.until(page, 60, 120)
        self.go_to(page, re.compile("^Cook to"))
        self.until(page, 80, 120)
        self.hand(page, "Off the heat")
        expect(page.get_by_text("counted along what the probe logs")).to_be_visible()
        self.press(page, "It is hot enough")
        self.cool_and_churn(page)

    def cool_and_churn(self, page: Page) -> None:
        self.go_to(page, re.compile("^Cool to"))
        self.press(page, "It cools now")
        self.hand(page, "Into the ice bath")
        expect(page.locator("[data-watch-said]")).to_contain_text(re.compile(r"in \d+\smin|into the fridge"))
        self.until(page, -5, 5)
        expect(page.locator("[data-watch-said]")).to_contain_text("into the fridge")
        self.press(page, "It is cold")
        self.go_to(page, re.compile("^Churn to"))
        self.press(page, "It runs")
        self.hand(page, "Pour in and start")
        said = page.locator("[data-watch-said]")
        expect(said).to_contain_text(re.compile("^Take it out (in about|now)"))
        self.until(page, -9, -5.7)
        self.press(page, "It is out")
        self.go_to(page, "Harden")
        self.press(page, "It is in the freezer")
        self.hand(page, "Probe into the freezer")
        self.until(page, -30, -15)
        page.get_by_role("button", name="Hand over").click()
        points = page.get_by_role("region", name="Critical points")
        expect(points).to_contain_text("Cooled: met")
        expect(page.get_by_text("All is noted")).to_be_visible()

    # ---- a run that stalls

    def test_a_run_that_stalls_is_foretold_and_rescued_in_two_taps(self) -> None:
        self.browse(self.stall)
        batch = self.last_batch()
        self.assertEqual(batch.events.get(kind="otherwise").value, "The bowl is spent")
        self.assertEqual(batch.events.filter(kind="chose", step="machine").count(), 1)

    def stall(self, page: Page) -> None:
        self.begin(page, "Smoked tea custard")
        self.weigh_all(page, "Table sugar", 11)
        self.go_to(page, re.compile("^Churn to"))
        self.press(page, "It runs")
        self.hand(page, "The same in a weak bowl")
        expect(page.locator("[data-watch-said]")).to_contain_text(re.compile("^It will stop at −.*use the second bowl"))
        self.assertEqual(faults(page, idle=False), [])
        page.get_by_role("button", name="It does not set…").click()
        page.get_by_role("button", name="The bowl is spent").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Out of the bowl now")
        expect(dialog).to_contain_text("Thrown away:")
        self.assertEqual(faults(page, idle=False), [])
        other = dialog.locator("div", has_text=re.compile("^Compressor")).last
        expect(other).to_contain_text("Drawn after")
        other.get_by_role("button", name="Take it").click()
        expect(page.locator("header")).to_contain_text("Compressor")

    # ---- a scale that dies

    def test_a_scale_that_dies_loses_no_line(self) -> None:
        self.browse(self.let_it_die)
        batch = self.last_batch()
        grams = dict(batch.events.filter(kind="weighed").values_list("line", "value__grams"))
        self.assertEqual(len(grams), 2)
        self.assertIn(110, grams.values())
        self.assertTrue(Instrument.objects.of(self.kitchen).filter(kind="scale").exists())

    def let_it_die(self, page: Page) -> None:
        self.begin(page, "Smoked tea custard")
        self.go_to(page, "Table sugar")
        page.locator("[data-shown]").wait_for()
        expect(page.get_by_text("let it stand still a moment")).to_have_count(0)
        self.hand(page, re.compile("^Pour "))
        self.until(page, 8, 14)
        self.assertEqual(faults(page, idle=False), [])
        self.press(page, "It is in")
        expect(page.get_by_role("alert")).to_contain_text("press once more if that is all that went in")
        self.hand(page, "Die")
        expect(page.get_by_role("status").filter(has_text="has gone quiet")).to_be_visible()
        page.get_by_label("It weighs").fill("110")
        self.press(page, "It is in")
        self.go_to(page, "Dextrose, monohydrate")
        expect(page.get_by_label("It weighs")).to_be_visible()
        self.hand(page, "Wake")
        self.weigh(page)
        expect(page.get_by_text("All is noted")).to_be_visible()
