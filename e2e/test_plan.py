"""The Plan station: a service typed, a dinner worked back, a step moved, an impossible day cured, a day carried out."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import to_hours, to_plan, to_station
from plans.models import Plan, Workplace


class PlanTest(BrowserCase):
    """Whole jobs, as a keeper does them."""

    def new_plan(self, page: Page, *services: str) -> None:
        to_station(page, "Plan")
        page.get_by_role("button", name="New plan").click()
        for text in services:
            page.get_by_label("Add what is to be ready").fill(text)
            page.keyboard.press("Enter")
            expect(page.get_by_label("Add what is to be ready")).to_have_value("")
        self.wait_for_plan(page)

    def wait_for_plan(self, page: Page) -> None:
        """Wait until the station is no longer busy; where it stood still moving, a press might miss its button."""
        expect(page.get_by_role("region", name="Plan", exact=True)).to_have_attribute("aria-busy", "false")

    def test_a_dinner_is_typed_worked_back_moved_and_let_go(self) -> None:
        self.browse(self.plan_a_dinner)
        plan = Plan.objects.of(self.kitchen).first()
        assert plan is not None
        assert plan.answer is not None
        self.assertEqual((plan.services[0]["amount"], plan.services[0]["fresh"], plan.pins), ("1 l", True, {}))
        self.assertEqual(plan.answer["status"], "optimal")

    def plan_a_dinner(self, page: Page) -> None:
        to_station(page, "Plan")
        page.get_by_role("button", name="New plan").click()
        line = page.get_by_label("Add what is to be ready")
        line.fill("1 L quince sorbet")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("does not say when it is served")
        expect(line).to_have_value("1 L quince sorbet")
        line.fill("1 L quince sorbet by tomorrow 19:30, fresh")
        page.keyboard.press("Enter")
        expect(page.get_by_role("region", name="Plan", exact=True)).to_contain_text("Quince sorbet is on time.")
        self.wait_for_plan(page)
        weigh = page.get_by_role("group", name="The plan").get_by_role("button", name=re.compile("^Weigh Quince")).first
        before = weigh.get_attribute("aria-label")
        weigh.focus()
        page.keyboard.press("Alt+Shift+ArrowLeft")
        slip = page.get_by_label("What may slip")
        expect(slip.get_by_role("button", name="Let it go")).to_be_visible()
        self.wait_for_plan(page)
        assert before is not None
        expect(weigh).not_to_have_attribute("aria-label", before)
        slip.get_by_role("button", name="Let it go").click()
        expect(slip.get_by_role("button", name="Let it go")).to_have_count(0)
        self.wait_for_plan(page)

    def test_an_impossible_day_is_cured_by_its_button(self) -> None:
        self.browse(self.cure)
        workplace = Workplace.objects.of(self.kitchen).get()
        self.assertEqual(workplace.content["people"][0]["hours"][0]["start"], 17 * 60)

    def cure(self, page: Page) -> None:
        to_hours(page)
        page.get_by_role("button", name="Take out Helper").click()
        hours = page.get_by_label("Hours of Keeper")
        hours.fill("Mon-Sun 5 o'clock")
        expect(page.get_by_role("alert")).to_contain_text("Write it like")
        hours.fill("Mon-Sun 17:00-22:00")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        self.new_plan(page, "1 L smoked tea custard by tomorrow 20:30")
        panel = page.get_by_role("region", name="Plan", exact=True)
        expect(panel).to_contain_text("Smoked tea custard is on time.")
        page.get_by_label("Add what is to be ready").fill("1 L quince sorbet by 19:00, fresh")
        page.keyboard.press("Enter")
        expect(panel).to_contain_text(re.compile("on time|late"))
        self.wait_for_plan(page)
        page.get_by_role("button", name=re.compile("^Quince sorbet")).first.click()
        dialog = page.get_by_role("dialog", name="Quince sorbet")
        dialog.get_by_label("Served").fill(self.hour_of(page, "17:20"))
        dialog.get_by_role("button", name="Keep").click()
        expect(panel).to_contain_text("late")
        helps = panel.get_by_role("button", name=re.compile("later$|is there from"))
        expect(helps.first).to_be_visible()
        helps.first.click()
        expect(panel).to_contain_text("Both are on time.")
        self.wait_for_plan(page)

    def hour_of(self, page: Page, hour: str) -> str:
        served = page.get_by_role("dialog").get_by_label("Served").input_value()
        return f"{served[:10]}T{hour}"

    def test_a_started_day_is_planned_around_what_happens(self) -> None:
        self.browse(self.carry_out)
        plan = Plan.objects.of(self.kitchen).get(name="The weekend board")
        self.assertEqual(plan.state, "started")
        self.assertEqual([one["kind"] for one in plan.changes], [])
        self.assertEqual(plan.events.count(), 1)

    def carry_out(self, page: Page) -> None:
        to_plan(page)
        self.wait_for_plan(page)
        page.get_by_role("button", name="Start the day").click()
        expect(page.get_by_text("Started", exact=True)).to_be_visible()
        self.wait_for_plan(page)
        page.get_by_role("button", name="More").click()
        page.get_by_role("menuitem", name="Something went otherwise").click()
        page.get_by_role("button", name="Helper is gone").click()
        expect(page.get_by_text("Helper is gone from")).to_be_visible()
        self.wait_for_plan(page)
        page.get_by_role("button", name="Take the last one back").click()
        expect(page.get_by_text("Helper is gone from")).to_have_count(0)
        self.wait_for_plan(page)
        slip = page.get_by_label("What may slip")
        slip.get_by_role("button", name=re.compile("Weigh")).click()
        slip.get_by_role("button", name="Began now").click()
        self.wait_for_plan(page)
        expect(slip).to_contain_text("begun")
        page.get_by_role("button", name="Get ready").click()
        expect(page.get_by_role("dialog", name="Get ready")).to_contain_text("Weigh for Smoked tea custard")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Make Quince sorbet").click()
        expect(page.get_by_role("region", name="What now")).to_contain_text("Then:")
        page.go_back()
        expect(page.get_by_role("link", name=re.compile("^Batch 3 of Quince sorbet"))).to_be_visible()
        page.get_by_role("button", name="More").click()
        with page.expect_download() as download:
            page.get_by_role("menuitem", name="Calendar file, everybody").click()
        self.assertIn("BEGIN:VALARM", download.value.path().read_text(encoding="utf-8"))


class PhonePlanTest(BrowserCase):
    """The list of what is next, with a thumb."""

    viewport: ClassVar[Any] = {"width": 390, "height": 844}

    def test_what_is_next_is_read_on_a_phone(self) -> None:
        self.browse(self.read_next)

    def read_next(self, page: Page) -> None:
        to_plan(page)
        tasks = page.get_by_role("list", name="Tasks")
        expect(tasks.get_by_role("listitem").first).to_contain_text("Smoked tea custard")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
