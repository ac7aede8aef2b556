"""A whole afternoon on the Bench without the mouse, and what it must remember."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import amount, choose, open_mix, take_first, wait_until_saved
from mixes.models import Mix, Revision


class AfternoonTest(BrowserCase):
    """Start from a style, paste, edit, compare, scale, name, print: with the keyboard alone."""

    def test_the_whole_job_without_the_mouse(self) -> None:
        self.browse(self.begin_from_a_style)
        self.browse(self.edit_and_compare_with_yesterday)
        self.browse(self.scale_to_two_runs_with_whole_yolks)
        self.browse(self.name_and_print)
        mix = Mix.objects.of(self.kitchen).get(name="Bay custard")
        kept = Revision.objects.of_all_kitchens().filter(mix=mix).order_by("number")
        self.assertEqual(
            [(one.number, one.name, one.parent) for one in kept], [(1, "Yesterday", None), (2, "Two runs", 1)]
        )
        self.assertEqual(kept[1].note, "for Saturday")
        yolks = next(line for line in kept[1].content["lines"] if line["slug"] == "egg-yolk")
        self.assertRegex(yolks["typed"], r"^\d+ yolks$")
        self.assertAlmostEqual(yolks["grams"] / 17 % 1, 0)

    def begin_from_a_style(self, page: Page) -> None:
        page.get_by_role("button", name="New mix").focus()
        page.keyboard.press("Enter")
        page.keyboard.type("Bay custard")
        page.keyboard.press("Tab")
        page.keyboard.type("frozen")
        page.keyboard.press("Tab")
        page.keyboard.type("cooked")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        page.locator("[data-verdict]", has_text="freezer").wait_for()

    def edit_and_compare_with_yesterday(self, page: Page) -> None:
        page.keyboard.press("k")
        page.keyboard.type("Yesterday")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog").get_by_text("the draft was made from this one")).to_be_visible()
        page.keyboard.press("Escape")
        amount(page, "Table sugar").focus()
        for _ in range(12):
            page.keyboard.press("Alt+ArrowDown")
        page.keyboard.press("Enter")
        page.get_by_role("link", name="Mixes").focus()
        page.keyboard.press("/")
        page.keyboard.type("30 g honey")
        take_first(page)
        expect(amount(page, "Honey")).to_have_value("30 g")
        page.get_by_role("link", name="Mixes").focus()
        page.keyboard.press("k")
        page.get_by_role("button", name="1 Yesterday").focus()
        page.keyboard.press("Enter")
        expect(page.locator("[data-difference]")).to_contain_text("Honey new, 30 g, Table sugar −12 g →")
        page.get_by_role("button", name="Compare with the mix").focus()
        page.keyboard.press("Enter")

    def scale_to_two_runs_with_whole_yolks(self, page: Page) -> None:
        page.get_by_role("link", name="Mixes").focus()
        page.keyboard.press("s")
        dialog = page.get_by_role("dialog", name="Another size")
        dialog.get_by_role("combobox", name="By").focus()
        page.keyboard.press("Enter")
        page.keyboard.type("full")
        page.keyboard.press("Enter")
        dialog.get_by_label("Egg yolk: each yolk whole").focus()
        page.keyboard.press("Space")
        expect(dialog).to_contain_text("Canister: 2 equal runs")
        expect(dialog).to_contain_text(re.compile(r"With \d+ yolks"))
        expect(dialog).to_contain_text("12 to 24 h in the freezer before each run")
        dialog.get_by_role("button", name="Take this size").focus()
        page.keyboard.press("Enter")
        expect(dialog).to_have_count(0)
        expect(page.locator("[data-fill]")).to_contain_text("2 equal runs, each")

    def name_and_print(self, page: Page) -> None:
        page.get_by_role("link", name="Mixes").focus()
        page.keyboard.press("k")
        page.keyboard.type("Two runs")
        page.keyboard.press("Tab")
        page.keyboard.type("for Saturday")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog").get_by_text("Two runs", exact=False).first).to_be_visible()
        page.keyboard.press("Escape")
        wait_until_saved(page)
        page.emulate_media(media="print")
        sheet = page.locator("[data-sheet]")
        expect(sheet).to_contain_text("revision 2, Two runs")
        expect(sheet).to_contain_text("In the machine: 2 equal runs")
        expect(sheet).to_contain_text("yolks")
        expect(page.get_by_role("button", name="Make it")).to_be_hidden()
        page.emulate_media(media="screen")
        expect(sheet).to_have_count(0)


class MemoryTest(BrowserCase):
    """Undo over a reload, another window on the same mix, and what Escape puts back."""

    def sugar(self) -> float | None:
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        grams: float | None = mix.lines.get(ingredient__slug="sugar").grams
        return grams

    def test_undo_and_redo_reach_back_over_a_reload(self) -> None:
        self.browse(self.undo_after_reload)
        self.assertEqual(self.sugar(), 120)

    def undo_after_reload(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        for typed in ("130", "120", "110"):
            amount(page, "Table sugar").fill(typed)
            page.keyboard.press("Enter")
        wait_until_saved(page)
        page.reload()
        expect(amount(page, "Table sugar")).to_have_value("110")
        for before in ("120", "130", "145"):
            page.keyboard.press("Control+z")
            expect(amount(page, "Table sugar")).to_have_value(before)
        page.reload()
        expect(amount(page, "Table sugar")).to_have_value("145")
        for after in ("130", "120"):
            page.keyboard.press("Control+Shift+z")
            expect(amount(page, "Table sugar")).to_have_value(after)
        wait_until_saved(page)

    def test_escape_puts_back_what_stood_there(self) -> None:
        self.browse(self.type_and_think_again)
        self.assertEqual(self.sugar(), 145)

    def type_and_think_again(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        message = page.locator("[data-verdict]").inner_text()
        amount(page, "Table sugar").fill("20")
        expect(page.locator("[data-verdict]")).not_to_have_text(message)
        page.keyboard.press("Escape")
        expect(amount(page, "Table sugar")).to_have_value("145")
        expect(page.locator("[data-verdict]")).to_have_text(message)
        wait_until_saved(page)

    def test_a_second_window_is_shown_what_changed_and_chooses(self) -> None:
        self.browse(self.work_in_two_windows)
        self.assertEqual(self.sugar(), 100)

    def work_in_two_windows(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        other = page.context.new_page()
        other.goto(page.url)
        expect(amount(other, "Table sugar")).to_have_value("145")
        amount(page, "Table sugar").fill("130")
        page.keyboard.press("Enter")
        expect(amount(other, "Table sugar")).to_have_value("130")
        expect(other.get_by_role("alert")).to_have_count(0)
        amount(other, "Table sugar").fill("145")  # not left yet: what is typed waits to be sent
        amount(page, "Table sugar").fill("120")
        page.keyboard.press("Enter")
        alert = other.get_by_role("alert")
        expect(alert).to_contain_text("Yours, compared with what is saved now: Table sugar +25 g")
        alert.get_by_role("button", name="Take theirs").click()
        expect(amount(other, "Table sugar")).to_have_value("120")
        expect(alert).to_have_count(0)
        amount(page, "Table sugar").fill("130")
        amount(other, "Table sugar").fill("100")
        other.keyboard.press("Enter")
        wait_until_saved(other)
        mine = page.get_by_role("alert")
        expect(mine).to_contain_text("Table sugar +30 g")
        mine.get_by_role("button", name="Keep mine instead").click()
        wait_until_saved(page)
        expect(amount(other, "Table sugar")).to_have_value("130")
        amount(other, "Table sugar").fill("100")
        other.keyboard.press("Enter")
        wait_until_saved(other)
        other.close()


class HandsTest(BrowserCase):
    """Several lines at once, others in their place, limits and notes, bars and strata that are dragged."""

    def test_several_lines_are_pinned_moved_and_taken_out_together(self) -> None:
        self.browse(self.choose_lines)
        lines = Mix.objects.of(self.kitchen).get(name="Smoked tea custard").lines
        self.assertEqual([line.ingredient.slug for line in lines.filter(pinned=True)], ["sugar", "dextrose"])
        self.assertEqual([line.grams for line in lines.filter(pinned=True)], [124.3, 30.8])
        self.assertFalse(lines.filter(ingredient__slug="salt").exists())

    def choose_lines(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Table sugar").evaluate(
            "async (field) => { field.focus(); document.getElementById('add-line').focus();"
            " for (let frame = 0; frame < 3; frame++) await new Promise(requestAnimationFrame) }"
        )
        expect(page.locator("#add-line")).to_be_focused()
        amount(page, "Table sugar").focus()
        page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Alt+x")
        chosen = page.get_by_role("group", name="Chosen lines")
        expect(chosen).to_contain_text("2 lines")
        chosen.get_by_role("button", name="Pin").click()
        chosen.get_by_label("Times as much").fill("1,1")
        page.keyboard.press("Enter")
        expect(amount(page, "Table sugar")).to_have_value("124.3")
        chosen.get_by_role("button", name="let go").click()
        amount(page, "Sea salt").focus()
        page.keyboard.press("Alt+Backspace")
        expect(amount(page, "Sea salt")).to_have_count(0)
        expect(amount(page, "Honey")).to_be_focused()
        wait_until_saved(page)

    def test_another_in_its_place_with_limits_and_a_note(self) -> None:
        self.browse(self.replace_and_hold)
        mix = Mix.objects.of(self.kitchen).get(name="Smoked tea custard")
        line = mix.lines.get(ingredient__slug="maple-syrup")
        self.assertEqual((line.typed, line.stage, line.note), ("24", "off-heat", "dark, from the market"))
        self.assertEqual((line.least_g, line.most_g, line.step_g), (10, 40, 2.5))
        self.assertEqual(mix.lines.get(ingredient__slug="egg-yolk").whole, "yolk")

    def replace_and_hold(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Honey").focus()
        page.keyboard.press("Alt+r")
        page.keyboard.type("maple")
        page.locator("[role=listbox][aria-busy=false] [role=option]").first.wait_for()
        page.keyboard.press("Enter")
        expect(amount(page, "Maple syrup")).to_have_value("24")
        amount(page, "Maple syrup").focus()
        page.keyboard.press("Alt+l")
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("note on this line").fill("dark, from the market")
        dialog.get_by_label("at least, g").fill("50")
        dialog.get_by_label("at most, g").fill("40")
        expect(dialog.get_by_role("alert")).to_contain_text("At least 50 g is asked too.")
        dialog.get_by_label("at most, g").press("Escape")
        dialog.get_by_label("at least, g").fill("10")
        dialog.get_by_label("at most, g").fill("40")
        dialog.get_by_label("in steps of, g").fill("2,5")
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_text("dark, from the market · 10 to 40 g, in steps of 2.5 g")).to_be_visible()
        amount(page, "Egg yolk").focus()
        page.keyboard.press("Alt+l")
        choose(dialog.get_by_label("comes in"), "whole pieces: yolk")
        page.keyboard.press("Escape")
        expect(page.get_by_text("each yolk whole")).to_be_visible()
        wait_until_saved(page)

    def test_bars_and_strata_are_dragged(self) -> None:
        self.browse(self.drag)
        lines = Mix.objects.of(self.kitchen).get(name="Smoked tea custard").lines
        self.assertLess(lines.get(ingredient__slug="sugar").grams or 0, 100)

    def drag(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        key = amount(page, "Table sugar").get_attribute("data-amount")
        bar = page.locator(f"[data-bar='{key}']").bounding_box()
        assert bar is not None
        page.mouse.move(bar["x"] + bar["width"] - 2, bar["y"] + bar["height"] / 2)
        page.mouse.down()
        page.mouse.move(bar["x"] + bar["width"] - 32, bar["y"] + bar["height"] / 2, steps=6)
        page.mouse.up()
        wait_until_saved(page)
        dragged = amount(page, "Table sugar").input_value()
        self.assertTrue(60 < float(dragged) < 100, dragged)
        page.keyboard.press("Control+z")
        expect(amount(page, "Table sugar")).to_have_value("113")
        page.keyboard.press("Control+Shift+z")
        expect(amount(page, "Table sugar")).to_have_value(dragged)
        edge = page.get_by_role("slider", name="Milk fat")
        edge.focus()
        for _ in range(2):
            page.keyboard.press("Shift+ArrowUp")
        page.keyboard.press("Enter")
        expect(page.locator("[data-proposal]")).to_contain_text("Cream 36 %", timeout=30_000)
        expect(page.get_by_role("slider", name="Milk fat, least")).to_be_visible()
        wait_until_saved(page)
