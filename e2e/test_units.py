"""A kitchen in Fahrenheit and ounces: typed, shown, moved, proposed and printed in its own units."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import add_line, amount, choose, open_mix, to_mixes, wait_until_saved
from mixes.models import Mix

GRAMS_PER_OUNCE = 28.349523125


class UnitsTest(BrowserCase):
    """The settings by hand, and then a mix."""

    def test_a_mix_is_worked_on_in_ounces_and_fahrenheit(self) -> None:
        self.browse(self.settle_in)
        self.browse(self.work)
        self.kitchen.refresh_from_db()
        self.assertEqual((self.kitchen.temperature_unit, self.kitchen.mass_unit), ("F", "oz"))
        self.assertAlmostEqual(self.kitchen.freezer_c, -20, places=2)
        lines = {
            line.ingredient.slug: line for line in Mix.objects.of(self.kitchen).get(name="Quince sorbet").lines.all()
        }
        self.assertAlmostEqual(lines["sugar"].grams or 0, 5 * GRAMS_PER_OUNCE, places=6)
        self.assertAlmostEqual(lines["honey"].grams or 0, GRAMS_PER_OUNCE / 2, places=6)
        self.assertEqual((lines["honey"].typed, lines["honey"].unit), (".5", "oz"))

    def settle_in(self, page: Page) -> None:
        page.get_by_role("link", name="Sluice No. 9").click()
        page.get_by_role("link", name="Units and region").click()
        choose(page.get_by_role("combobox", name="Temperatures"), "Fahrenheit, °F")
        choose(page.get_by_role("combobox", name="Weights"), "ounces")
        choose(page.get_by_role("combobox", name="Numbers and dates as in"), "United States")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        page.get_by_role("link", name="Machines and places").click()
        freezer = page.get_by_label("Our freezer, °F")
        expect(freezer).to_have_value("−0.4")
        freezer.fill("40")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_role("alert")).to_contain_text("At most 32 °F.")
        freezer.fill("-4")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()

    def work(self, page: Page) -> None:
        to_mixes(page)
        open_mix(page, "Quince sorbet")
        verdict = page.locator("[data-verdict]")
        expect(verdict).to_contain_text(re.compile(r"Scoops at \d+ °F\. From your −4 °F freezer"))
        expect(amount(page, "Table sugar")).to_have_value("5.11")
        amount(page, "Table sugar").fill("5")
        page.keyboard.press("Enter")
        amount(page, "Table sugar").fill("5 oz")
        page.keyboard.press("Enter")
        add_line(page, "honey")
        page.keyboard.type(".5")
        page.keyboard.press("Enter")
        wait_until_saved(page)
        expect(page.get_by_role("region", name="Verdict")).to_contain_text(re.compile(r"In the cabinet at 7.°F"))
        page.get_by_role("slider", name="Freezer temperature").focus()
        page.keyboard.press("ArrowUp")
        expect(page.get_by_role("button", name=re.compile("back to −4.°F"))).to_be_visible()
        page.emulate_media(media="print")
        expect(page.locator("[data-sheet]")).to_contain_text(re.compile(r"5\.00.oz"))
        expect(page.locator("[data-sheet]")).to_contain_text(re.compile(r"scoops at \d+\.\d.°F"))
        page.emulate_media(media="screen")
