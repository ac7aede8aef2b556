"""Cold over time by hand: a run that stalls and is helped, a tub taken out, ice and salt, a pot, a logged run."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import amount, to_advice, to_ice, to_over_time, to_pot, to_run, to_sheet, wait_until_saved
from kitchens.learnt import learnt_by
from kitchens.models import Machine
from mixes.models import Mix


class ColdTest(BrowserCase):
    """The machine, the tub, the bucket and the pot."""

    def test_a_run_that_stalls_is_helped_by_one_press(self) -> None:
        self.browse(self.help_the_run)
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        grams = sum(float(line.grams or 0) for line in mix.lines.all())
        self.assertLess(grams, 850)
        assert mix.machine is not None
        self.assertEqual(mix.machine.name, "Compressor")

    def help_the_run(self, page: Page) -> None:
        to_run(page)
        dialog = page.get_by_role("dialog")
        expect(dialog.locator("[data-said]")).to_contain_text(re.compile("^Stalls at −.* the bowl is spent"))
        dialog.get_by_role("button", name=re.compile(r"^Make \d+ g$")).click()
        expect(dialog.locator("[data-said]")).to_contain_text("Drawn after")
        dialog.get_by_role("row", name=re.compile("^Compressor")).get_by_role("button", name="take it").click()
        page.keyboard.press("Escape")
        expect(page.locator("[data-run]")).to_contain_text("Drawn after")
        wait_until_saved(page)

    def test_a_base_that_cannot_be_is_named_and_the_last_forecast_stays(self) -> None:
        self.browse(self.type_nonsense)

    def type_nonsense(self, page: Page) -> None:
        to_run(page)
        base = page.get_by_label("Base, °C")
        base.fill("warm")
        expect(page.get_by_role("alert")).to_contain_text("−5 °C to 100 °C.")
        base.fill("4,5")
        expect(page.get_by_role("alert")).to_have_count(0)
        expect(page.locator("[data-said]")).to_contain_text("Drawn after")

    def test_the_machine_line_follows_the_mix(self) -> None:
        self.browse(self.follow_the_mix)

    def follow_the_mix(self, page: Page) -> None:
        to_advice(page)
        run = page.locator("[data-run]")
        expect(run).to_contain_text("Drawn after")
        before = run.inner_text()
        amount(page, "Water").fill("900")
        expect(run).not_to_have_text(before)
        expect(run).to_contain_text(re.compile("Drawn after|Stalls at"))

    def test_a_tub_is_taken_out_for_nine_o_clock(self) -> None:
        self.browse(self.take_out)

    def take_out(self, page: Page) -> None:
        to_over_time(page)
        said = page.locator("[data-over-time]")
        on_the_counter = said.inner_text()
        moment = page.get_by_role("slider", name="Moment")
        first = moment.get_attribute("aria-valuetext")
        moment.press("ArrowRight")
        moment.press("PageUp")
        expect(moment).not_to_have_attribute("aria-valuetext", first or "")
        air = page.get_by_role("slider", name="Temperature around the tub")
        for _ in range(4):
            air.press("PageDown")
        expect(said).not_to_have_text(on_the_counter)
        box = page.get_by_role("slider", name="Time in the cold").bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] - 60, box["y"] + 20, steps=4)
        page.mouse.up()
        expect(said).to_contain_text("After")
        page.get_by_role("button", name="Tub and places").click()
        page.get_by_role("checkbox", name="and goes back into the cold").click()
        expect(said).to_contain_text("frozen again")

    def test_ice_and_salt_are_taken_for_the_batch(self) -> None:
        self.browse(self.take_ice)

    def take_ice(self, page: Page) -> None:
        to_ice(page)
        dialog = page.get_by_role("dialog")
        salt = dialog.get_by_label("Salt, g")
        salt.fill("600")
        expect(dialog.get_by_text(re.compile("of the salt never dissolves"))).to_be_visible()
        dialog.get_by_role("button", name="Take these").click()
        expect(salt).not_to_have_value("600")
        dialog.get_by_role("slider").fill("120")
        expect(dialog.get_by_text(re.compile("^After 120 min standing"))).to_be_visible()

    def test_a_custard_is_cooled_two_ways_and_its_record_read(self) -> None:
        self.browse(self.cool)

    def cool(self, page: Page) -> None:
        to_pot(page)
        dialog = page.get_by_role("dialog")
        before = dialog.get_by_role("row", name=re.compile("^in the fridge")).inner_text()
        dialog.get_by_label("Held back cold, g").fill("118")
        expect(dialog.get_by_role("row", name=re.compile("^in the fridge"))).not_to_have_text(before)
        record = dialog.get_by_label(re.compile("^Thermometer"))
        record.fill("0 69\nhot")
        expect(dialog.get_by_role("alert").first).to_contain_text("Line 2 of the record is “hot”")
        record.fill("0 69\n15 69\n30 69")
        expect(dialog.get_by_text("100 % of what pasteurises it")).to_be_visible()

    def test_logged_minutes_tune_the_machine(self) -> None:
        machine = Machine.objects.of(self.kitchen).get(name="Canister")
        self.kitchen.refresh_from_db()
        before = learnt_by(self.kitchen).tuning[machine.pk]
        self.browse(self.log_again)
        self.kitchen.refresh_from_db()
        after = learnt_by(self.kitchen).tuning[machine.pk]
        self.assertEqual(after.runs, before.runs)
        self.assertLess(after.factor, 0.87)

    def log_again(self, page: Page) -> None:
        to_sheet(page)
        page.get_by_role("button", name="take it back").click()
        page.get_by_label("Minutes").fill("40")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("slower than its kind")).to_be_visible()
