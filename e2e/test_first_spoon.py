"""From ingredients to the temperature it scoops at, and to a first batch."""

from __future__ import annotations

import contextlib
import io
import json
import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from batches.models import Batch
from browser.browser_case import BrowserCase
from browser.pages import add_line, amount, open_mix, to_station, verdict, wait_until_saved
from launch.analyse import main as analyse
from mixes.models import Mix


class FirstSpoonTest(BrowserCase):
    """One mix end to end."""

    def test_change_sugar_watch_the_verdict_make_it_and_see_what_it_will_be(self) -> None:
        message = self.browse(self.lower_the_sugar)
        self.assertEqual(message, self.command_says("Smoked tea custard"))
        self.browse(self.make_it)
        batch = Batch.objects.of(self.kitchen).first()
        assert batch is not None
        self.assertEqual(batch.revision.content["lines"][3]["grams"], 90)

    def lower_the_sugar(self, page: Page) -> str:
        open_mix(page, "Smoked tea custard")
        before = verdict(page)
        self.assertEqual(before, "Scoops at −12 °C. From your −18 °C freezer it is hard.")
        amount(page, "Table sugar").fill("90")
        expect(page.locator("[data-verdict]")).not_to_have_text(before)
        wait_until_saved(page)
        return verdict(page)

    def command_says(self, name: str) -> str:
        """Save the mix as a file and let the command analyse it; return its verdict."""
        mix = Mix.objects.of(self.kitchen).get(name=name)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "mix.json")
            path.write_bytes(self.download(f"/api/v1/kitchens/{self.kitchen.slug}/mixes/{mix.pk}/file"))
            self.assertEqual(json.loads(path.read_text())["format"], "jalebi.mix")
            with contextlib.redirect_stdout(io.StringIO()) as printed:
                self.assertEqual(analyse([str(path)]), 0)
        return printed.getvalue().splitlines()[1]

    def download(self, path: str) -> bytes:
        return self.browse(lambda page: page.request.get(f"{self.live_server_url}{path}").body())

    def make_it(self, page: Page) -> None:
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("region", name="What now").wait_for()
        page.get_by_role("link", name="Sheet", exact=True).click()
        page.get_by_role("heading", name="Smoked tea custard").wait_for()
        made = page.locator("[data-side='As made']")
        planned = page.locator("[data-side='As planned']").inner_text()
        page.get_by_role("checkbox", name="Egg yolk is in").click()
        expect(page.get_by_role("checkbox", name="Egg yolk is in")).to_be_checked()
        page.get_by_role("textbox", name="Table sugar").fill("12 g g")
        page.keyboard.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("Table sugar: “g g” is not a unit")
        page.get_by_role("textbox", name="Table sugar").fill("60,5")
        page.keyboard.press("Enter")
        expect(made).to_contain_text(re.compile("like rock|Scoops at −(9|10) °C"))
        page.get_by_role("button", name="rock", exact=True).click()
        page.get_by_label("Note").fill("Sugar ran out.\nÄrger!")
        page.get_by_label("Note").blur()
        expect(page.get_by_role("button", name="rock", exact=True)).to_have_attribute("aria-pressed", "true")
        page.wait_for_load_state("networkidle")
        page.reload()
        expect(page.get_by_role("textbox", name="Table sugar")).to_have_value("60,5")
        expect(page.get_by_label("Note")).to_have_value("Sugar ran out.\nÄrger!")
        self.assertEqual(page.locator("[data-side='As planned']").inner_text(), planned)
        to_station(page, "Batches")
        expect(page.get_by_role("listitem").filter(has_text="Batch 3")).to_contain_text("rock")


class MakeAtOnceTest(BrowserCase):
    """Pressing “Make it” right after typing."""

    def test_what_was_typed_last_is_what_is_made(self) -> None:
        self.browse(self.type_and_make)
        batch = Batch.objects.of(self.kitchen).first()
        assert batch is not None
        self.assertEqual(batch.revision.content["lines"][3]["grams"], 99)

    def type_and_make(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Table sugar").fill("99")
        page.get_by_role("button", name="Make it").click()
        page.get_by_role("region", name="What now").wait_for()
        page.get_by_role("link", name="Sheet", exact=True).click()
        page.get_by_role("checkbox", name="Table sugar is in").wait_for()

    def test_a_line_without_an_amount_is_asked_for(self) -> None:
        self.browse(self.make_unfinished)

    def make_unfinished(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        add_line(page, "honey")
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_role("alert")).to_contain_text("Honey has no amount yet")
        amount(page, "Honey").fill("5")
        expect(page.get_by_role("alert")).to_have_count(0)


class SheetOnPaperTest(BrowserCase):
    """The printed sheet."""

    def test_print_shows_the_sheet_alone(self) -> None:
        self.browse(self.print_sheet)

    def print_sheet(self, page: Page) -> None:
        to_station(page, "Batches")
        page.get_by_role("link", name="Quince sorbet").click()
        page.get_by_role("heading", name="Quince sorbet").wait_for()
        page.emulate_media(media="print")
        expect(page.get_by_role("navigation", name="Stations")).to_be_hidden()
        expect(page.get_by_role("button", name="Print")).to_be_hidden()
        expect(page.get_by_role("region", name="Sheet").get_by_text("Quince puree, cooked")).to_be_visible()
        expect(page.get_by_role("heading", name="Which lots went in?")).to_be_hidden()
        for size in ("A4", "Letter"):
            self.assertTrue(page.pdf(format=size).startswith(b"%PDF"))
