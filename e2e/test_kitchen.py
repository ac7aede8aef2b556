"""What holds for a whole kitchen: its settings, and the doses of its flavours."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from e2e.browser_case import BrowserCase
from e2e.chromium import open_mix, to_mixes
from shelf.models import Ingredient


class KitchenTest(BrowserCase):
    """Settings by hand."""

    def test_a_kitchen_sets_its_cabinet_its_scale_and_what_may_come_in(self) -> None:
        self.browse(self.set_kitchen)
        self.kitchen.refresh_from_db()
        self.assertEqual((self.kitchen.cabinet_c, self.kitchen.scale_g), (-12.5, 0.1))
        self.assertEqual(self.kitchen.may_come_in, ["fructose"])

    def set_kitchen(self, page: Page) -> None:
        page.get_by_role("link", name="Shelf").click()
        page.get_by_role("button", name="Kitchen").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Serving cabinet, °C").fill("5")
        expect(dialog.get_by_role("alert")).to_contain_text("−32 to 0")
        dialog.get_by_label("Serving cabinet, °C").fill("-12,5")
        dialog.get_by_label("What the scale shows, g").fill("0,1")
        dialog.get_by_role("combobox", name="Goods that may come in").fill("fructose")
        page.locator("[role=listbox][aria-busy=false] [role=option]").first.wait_for()
        page.keyboard.press("Enter")
        expect(dialog.get_by_role("button", name="Not fructose")).to_be_visible()
        dialog.get_by_role("button", name="Keep this").click()
        expect(dialog).to_have_count(0)
        to_mixes(page)
        open_mix(page, "Quince sorbet")
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("In the cabinet at −12.5 °C")

    def test_a_kitchen_sets_the_ladder_of_a_flavour(self) -> None:
        self.browse(self.set_ladder)
        facts = Ingredient.objects.of(self.kitchen).get(slug="matcha").facts
        self.assertEqual(facts["strength_g_kg"], [5, 12.5])

    def set_ladder(self, page: Page) -> None:
        page.get_by_role("link", name="Shelf").click()
        page.get_by_role("searchbox").fill("matcha")
        page.get_by_text("Matcha", exact=True).first.click()
        expect(page.get_by_text("Flavours a mix at 8–25 g per kg")).to_be_visible()
        page.get_by_role("button", name="Price, names, weights").click()
        page.get_by_label("Weakest dose").fill("30")
        page.get_by_label("Strongest dose").fill("12,5")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_role("alert")).to_contain_text("the weakest dose must be below the strongest")
        page.get_by_label("Weakest dose").fill("5")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Flavours a mix at 5–12.5 g per kg")).to_be_visible()
