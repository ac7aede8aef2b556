"""Balance beside the mix: jobs, targets by keys and pointer, pins, and taking all, some or none."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import amount, choose, open_mix, to_balance, to_refusal, verdict, wait_until_saved
from jobs.models import Job
from mixes.models import Mix


class BalanceTest(BrowserCase):
    """The whole job."""

    def grams(self, mix: str, slug: str) -> float:
        line = Mix.objects.of(self.kitchen).get(name=mix).lines.get(ingredient__slug=slug)
        return line.grams or 0.0

    def test_a_job_is_proposed_taken_and_undone_in_one_step(self) -> None:
        self.browse(self.take_and_undo)
        self.assertGreater(self.grams("Quince sorbet", "dextrose"), 40)

    def take_and_undo(self, page: Page) -> None:
        to_balance(page)
        before = verdict(page)
        expect(page.locator("[data-proposal]")).to_contain_text("Every target is met.")
        water = re.search(r"→ ([\d.]+)", page.locator("[data-proposed]").first.inner_text())
        assert water is not None
        expect(amount(page, "Water")).to_have_value("216")
        page.get_by_role("button", name="Take it").click()
        expect(amount(page, "Water")).to_have_value(water[1])
        dextrose = amount(page, "Dextrose, monohydrate").input_value()
        expect(page.locator("[data-verdict]")).not_to_have_text(before)
        page.keyboard.press("Control+z")
        expect(amount(page, "Water")).to_have_value("216")
        expect(amount(page, "Dextrose, monohydrate")).to_have_value("26")
        page.keyboard.press("Control+Shift+z")
        expect(amount(page, "Dextrose, monohydrate")).to_have_value(dextrose)
        wait_until_saved(page)

    def test_a_long_one_becomes_a_job_that_ends_in_the_same_proposal(self) -> None:
        self.browse(self.be_sure)
        jobs = Job.objects.of(self.kitchen)
        self.assertEqual([(job.kind, job.state) for job in jobs], [("balance", "done")])

    def be_sure(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.keyboard.press("b")
        page.get_by_role("checkbox", name="in nine of ten batches").check()
        page.get_by_role("button", name="Balance", exact=True).last.click()
        expect(page.locator("[data-proposal]")).to_be_visible()

    def test_some_lines_are_taken_and_others_left(self) -> None:
        self.browse(self.take_some)
        self.assertEqual(self.grams("Quince sorbet", "dextrose"), 26)
        self.assertLess(self.grams("Quince sorbet", "water"), 200)

    def take_some(self, page: Page) -> None:
        to_balance(page)
        page.get_by_role("checkbox", name="Dextrose").uncheck()
        page.get_by_role("button", name="Take the ticked lines").click()
        expect(amount(page, "Water")).not_to_have_value("216")
        wait_until_saved(page)

    def test_a_sum_of_lines_holds_for_every_balance(self) -> None:
        self.browse(self.hold_together)
        self.assertGreaterEqual(self.grams("Quince sorbet", "quince-puree"), 599)

    def hold_together(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.keyboard.press("b")
        page.get_by_role("button", name="lines together").click()
        form = page.get_by_role("form", name="Lines together")
        form.get_by_role("checkbox", name="Quince puree").check()
        form.get_by_label("At least, %").fill("6o")
        expect(form.get_by_role("alert")).to_contain_text("from 0 to 100")
        form.get_by_label("At least, %").fill("60")
        form.get_by_role("button", name="Hold").click()
        expect(page.get_by_role("list", name="Rules")).to_contain_text("Quince puree, cooked: 60 to 100 %")
        page.get_by_role("button", name="Balance", exact=True).last.click()
        page.get_by_role("button", name="Take it").click()
        wait_until_saved(page)

    def test_what_cannot_be_reached_says_why_and_pins_stay(self) -> None:
        self.browse(self.refuse)
        pinned = Mix.objects.of(self.kitchen).get(name="Smoked tea custard").lines.filter(pinned=True)
        self.assertEqual([line.ingredient.slug for line in pinned], ["cream-36", "cream-36"])

    def refuse(self, page: Page) -> None:
        to_refusal(page)
        expect(page.get_by_role("region", name="Balance")).to_contain_text(
            "Cream 36 % would move it most, and it is pinned at 118 g"
        )
        page.get_by_role("button", name="Leave it").click()
        expect(page.locator("[data-proposal]")).to_have_count(0)
        expect(amount(page, "Cream 36 %")).to_have_value("118")
        wait_until_saved(page)

    def test_a_band_is_dragged_and_a_job_about_a_line_is_done(self) -> None:
        self.browse(self.drag_and_replace)
        slugs = (
            Mix.objects.of(self.kitchen).get(name="Smoked tea custard").lines.values_list("ingredient__slug", flat=True)
        )
        self.assertIn("maple-syrup", slugs)
        self.assertNotIn("honey", slugs)

    def drag_and_replace(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        page.locator("h1").click(position={"x": 1, "y": 1})
        page.get_by_role("button", name="Balance B").click()
        handle = page.get_by_role("slider", name="Sweetness, most")
        box = handle.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 30, y, steps=5)
        page.mouse.up()
        self.assertLess(float(handle.get_attribute("aria-valuenow") or 99), 17)
        page.get_by_role("button", name="Replace an ingredient").click()
        form = page.get_by_role("form", name="Replace an ingredient")
        choose(form.get_by_role("combobox", name="Which line"), "Honey")
        form.get_by_role("combobox", name="In its place").fill("maple")
        page.locator("[role=listbox][aria-busy=false] [role=option]").first.wait_for()
        page.keyboard.press("Enter")
        form.get_by_role("button", name="Do it").click()
        expect(page.locator("[data-proposal]")).to_contain_text("Honey becomes Maple syrup")
        page.get_by_role("button", name="Take it").click()
        expect(amount(page, "Maple syrup")).to_be_visible()
        wait_until_saved(page)
