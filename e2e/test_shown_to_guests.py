"""A shelf that one may show to guests: corrections to decide on, cautions on the Bench, preparations on the drawing."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import open_mix, pick, to_shelf
from ingredients.models import Ingredient
from ingredients.shipped import stock_shelf


class CorrectionTest(BrowserCase):
    """What the shelf says now, against what somebody had changed here."""

    def test_a_correction_is_looked_at_and_taken(self) -> None:
        crumbs = Ingredient.objects.of(self.kitchen).get(slug="biscuit-crumbs")
        crumbs.allergens, crumbs.shelf_said = ["wheat", "gluten"], "what an older shelf said"
        crumbs.save()
        stock_shelf(self.kitchen)
        self.browse(self.take)
        crumbs.refresh_from_db()
        self.assertEqual((crumbs.allergens, crumbs.shelf_offer), (["milk", "wheat", "gluten", "soy"], None))

    def take(self, page: Page) -> None:
        to_shelf(page)
        corrected = page.get_by_role("region", name="The shelf was corrected")
        corrected.get_by_role("button", name="Biscuit crumbs").click()
        asked = page.get_by_role("dialog", name="Biscuit crumbs")
        expect(asked).to_contain_text("milk, wheat, gluten, soy")
        asked.get_by_role("button", name="Take what the shelf says").click()
        expect(asked).to_have_count(0)
        expect(corrected).to_have_count(0)


class CautionTest(BrowserCase):
    """What guests must be told stands beside the verdict, by the region that the kitchen is in."""

    def test_sweeteners_are_told_with_their_figure_and_source(self) -> None:
        self.browse(self.look)

    def look(self, page: Page) -> None:
        open_mix(page, "Hazelnut without sugar")
        verdict = page.get_by_role("region", name="Verdict")
        expect(verdict).to_contain_text("polyols 14 %")
        page.get_by_role("button", name="more of what guests must be told").click()
        told = page.get_by_role("dialog", name="To tell guests")
        expect(told).to_contain_text("Excessive consumption may produce laxative effects")
        expect(told).to_contain_text("Regulation (EU) 1169/2011")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Sluice No. 9").click()
        page.get_by_role("link", name="Whom it must suit").click()
        page.get_by_label("Cautions and labels go by the rules of").click()
        page.get_by_role("option", name="United States").click()
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        page.get_by_role("link", name="Bench", exact=True).click()
        open_mix(page, "Hazelnut without sugar")
        page.get_by_role("button", name="more of what guests must be told").click()
        expect(page.get_by_role("dialog", name="To tell guests")).to_contain_text("FDA, xylitol and dogs")


class DrawingTest(BrowserCase):
    """A flower syrup, by keyboard: steeped, and boiled until it sets."""

    def test_a_syrup_is_made_on_the_drawing(self) -> None:
        self.browse(self.make)
        syrup = Ingredient.objects.of(self.kitchen).get(name="Elderflower syrup")
        self.assertAlmostEqual(syrup.facts["pack_g"], 618, delta=3)
        self.assertEqual(syrup.facts["cautions"], ["foraged"])
        self.assertEqual((syrup.made_from or {})["steps"][1]["to_c"], 104)

    def make(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("link", name="New preparation").click()
        page.get_by_role("textbox", name="Name").fill("Elderflower syrup")
        pick(page, "What goes in first?", "500 g water")
        for line in ("400 g sugar", "60 g elderflower"):
            pick(page, "What else goes in?", line)
        expect(page.get_by_role("textbox", name="Amount of Elderflower heads, fresh")).to_have_value("60 g")
        page.get_by_role("checkbox", name="taken out again").nth(2).check()
        for step in ("Steep and take out", "Reduce"):
            page.get_by_role("button", name="Add a step").press("Enter")
            page.get_by_role("menuitem", name=step).press("Enter")
        page.get_by_role("radio", name="by heat").press("Space")
        page.get_by_role("textbox", name="boils at °C").fill("104")
        expect(page.get_by_text("18 g held by the leaves")).to_be_visible()
        expect(page.get_by_text("882 g comes down to 618 g. It boils at 104.0 °C then.")).to_be_visible()
        expect(page.get_by_text("618 g of 900 g")).to_be_visible()
        page.get_by_role("button", name="Put it on the shelf").press("Enter")
        expect(page.get_by_role("heading", name="Shelf")).to_be_visible()
