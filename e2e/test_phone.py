"""The Bench on a phone: read it, change one amount, look up a size, write a note."""

from __future__ import annotations

from typing import Any, ClassVar

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import amount, open_mix, verdict, wait_until_saved
from mixes.models import Mix, Note


class PhoneTest(BrowserCase):
    """390 pixels wide, with a thumb."""

    viewport: ClassVar[Any] = {"width": 390, "height": 844}

    def test_a_mix_is_read_and_changed_on_a_phone(self) -> None:
        self.browse(self.read_and_change)
        mix = Mix.objects.of(self.kitchen).get(name="Smoked tea custard")
        self.assertEqual(mix.lines.get(ingredient__slug="sugar").grams, 90)
        self.assertTrue(Note.objects.of(self.kitchen).filter(mix=mix, text="Too hard on the quay").exists())

    def read_and_change(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        before = verdict(page)
        expect(page.locator("[data-fill]")).to_be_in_viewport()
        amount(page, "Table sugar").click()
        page.keyboard.type("90")
        page.keyboard.press("Enter")
        expect(page.locator("[data-verdict]")).not_to_have_text(before)
        page.get_by_role("button", name="resize").click()
        dialog = page.get_by_role("dialog", name="Another size")
        dialog.get_by_label("Weight").fill("500")
        expect(dialog).to_contain_text("500 g of mix")
        wide = dialog.bounding_box()
        assert wide is not None
        self.assertGreaterEqual(wide["x"], 0)
        self.assertLessEqual(wide["x"] + wide["width"], 390)
        dialog.get_by_role("button", name="Leave it").click()
        page.get_by_role("button", name="notes").click()
        page.keyboard.type("Too hard on the quay")
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_role("complementary").get_by_role("listitem").first).to_contain_text("Too hard on the quay")
        page.get_by_role("button", name="Close the notes").click()
        going_cold = page.get_by_role("region", name="Going cold")
        going_cold.scroll_into_view_if_needed()
        expect(going_cold.get_by_role("slider", name="Freezer temperature")).to_be_visible()
        wait_until_saved(page)
