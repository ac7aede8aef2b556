"""Every main view: rules of accessibility, narrow screens, and the door."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any

from playwright.sync_api import Page, TimeoutError, ViewportSize, expect

from browser.browser_case import BrowserCase
from browser.pages import (
    to_at_work,
    to_balance,
    to_batches,
    to_bench,
    to_costs,
    to_decided,
    to_doses,
    to_figures,
    to_glut,
    to_hand_over,
    to_hours,
    to_ice,
    to_kitchen,
    to_label,
    to_learnt,
    to_line,
    to_lot,
    to_machines,
    to_make,
    to_mixes,
    to_new_trial,
    to_notes,
    to_over_time,
    to_paste,
    to_people,
    to_plan,
    to_pot,
    to_preparation,
    to_recipe,
    to_revisions,
    to_run,
    to_share,
    to_sheet,
    to_shelf,
    to_size,
    to_stock_taking,
    to_table,
    to_take_in,
    to_taste,
    to_tastings,
    to_trial,
    to_trials,
    to_units,
)
from launch.places import WEB

AXE = (WEB / "node_modules/axe-core/axe.min.js").read_text(encoding="utf-8")
RULES = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}
COLOURS = {"runOnly": ["color-contrast", "link-in-text-block"]}
WIDE: ViewportSize = {"width": 1280, "height": 800}
NARROW: tuple[ViewportSize, ...] = ({"width": 1024, "height": 768}, {"width": 390, "height": 844})


def in_light(page: Page) -> None:
    page.emulate_media(color_scheme="light", reduced_motion="reduce")


def in_dark(page: Page) -> None:
    page.emulate_media(color_scheme="dark", reduced_motion="reduce")


BEFORE_MAKING = (
    *(to_mixes, to_bench, to_share, to_balance, to_shelf, to_preparation, to_recipe, to_paste),
    *(to_kitchen, to_units, to_people, to_over_time, to_plan, to_hours),
)
FROM_MAKING_ON = (
    *(to_batches, to_sheet, to_make, to_hand_over, to_at_work),
    *(to_trials, to_new_trial, to_trial, to_decided, to_tastings, to_taste, to_learnt, to_doses),
)


def faults(page: Page, rules: Any = RULES, *, idle: bool = True) -> list[str]:
    if idle:
        page.wait_for_load_state("networkidle")
    page.evaluate(AXE)
    found: Any = page.evaluate("rules => axe.run(document, rules)", rules)
    return [f"{fault['id']}: {fault['nodes'][0]['html'][:150]}" for fault in found["violations"]]


# Targets of at least 24 px, WCAG 2.5.8; what stands within a sentence or a label is excepted there.
SMALL = """
() => [...document.querySelectorAll("a[href], button, input, select, textarea, [role=slider], [role=checkbox]")]
  .filter((one) => {
    const box = one.getBoundingClientRect();
    const shown = box.width > 1 && box.height > 1 && getComputedStyle(one).visibility !== "hidden";
    const inSentence = one.closest("p, summary, label") !== null || one.closest("[data-edge]") !== null;
    return shown && !inSentence && (box.height < 23.9 || box.width < 23.9);
  })
  .map((one) => `${one.tagName} ${one.getAttribute("aria-label") ?? one.textContent}`)
"""
CHAIN = ("Goes in", "In the tub", "Going cold", "How it eats")


def too_wide(page: Page) -> list[str]:
    """The screens that the page does not fit into."""
    found = []
    for size in NARROW:
        page.set_viewport_size(size)
        try:
            page.wait_for_function("width => document.documentElement.scrollWidth <= width", arg=size["width"])
        except TimeoutError:
            found.append(f"wider than {size['width']}")
    page.set_viewport_size(WIDE)
    return found


def small_targets(page: Page) -> list[str]:
    found: list[str] = page.evaluate(SMALL)
    return found


def all_faults(page: Page) -> list[str]:
    """Look at a view by day, by its widths, and then at its colours by night."""
    found = faults(page) + small_targets(page) + too_wide(page)
    in_dark(page)
    found += [f"by night {fault}" for fault in faults(page, COLOURS, idle=False)]
    in_light(page)
    return found


def faults_of_dialog(page: Page) -> list[str]:
    found = faults(page) + small_targets(page)
    page.keyboard.press("Escape")
    return found


def seen(page: Page, views: Sequence[Callable[[Page], None]], look: Callable[[Page], list[str]]) -> list[str]:
    """Go through views and return what is found wrong in each."""
    found = []
    for view in views:
        view(page)
        found += [f"{view.__name__}: {fault}" for fault in look(page)]
    return found


class AccessTest(BrowserCase):
    """axe, widths and sizes on every main view."""

    tasted = True

    def test_no_view_before_making_breaks_a_rule_or_is_wider_than_its_screen(self) -> None:
        self.browse(in_light)
        self.assertEqual(self.browse(lambda page: seen(page, BEFORE_MAKING, all_faults)), [])

    def test_no_view_from_making_on_breaks_a_rule_or_is_wider_than_its_screen(self) -> None:
        self.browse(in_light)
        self.assertEqual(self.browse(lambda page: seen(page, FROM_MAKING_ON, all_faults)), [])

    def test_no_dialog_breaks_a_rule(self) -> None:
        self.browse(in_light)
        dialogs = (
            *(to_line, to_figures, to_size, to_revisions, to_table, to_machines, to_notes),
            to_run,
            to_ice,
            to_pot,
            to_label,
            to_lot,
            to_stock_taking,
            to_take_in,
            to_costs,
            to_glut,
        )
        self.assertEqual(self.browse(lambda page: seen(page, dialogs, faults_of_dialog)), [])


class WordsTest(BrowserCase):
    """What is said where something is drawn, open, sought or refused."""

    def test_drawings_are_told_in_words_in_the_order_of_the_senses(self) -> None:
        self.browse(self.hear_the_drawings)

    def hear_the_drawings(self, page: Page) -> None:
        to_bench(page)
        tub = page.get_by_role("img", name="In the tub: ")
        expect(tub).to_have_accessible_name(re.compile(r"Milk fat.*Sugars.*Water.*ice at −18.*air at 25 %", re.I))
        cold = page.get_by_role("img", name="Going cold: ")
        expect(cold).to_have_accessible_name(re.compile(r"first ice.*scoops.*your freezer", re.I))
        bar = page.get_by_role("img", name="Table sugar: 113 g sugars")
        expect(bar).to_be_visible()
        order = [page.get_by_role("region", name=name) for name in CHAIN]
        tops = page.evaluate(
            "regions => regions.map((region) => region.getAttribute('aria-labelledby'))",
            [one.element_handle() for one in order],
        )
        within = page.evaluate(
            "names => [...document.querySelectorAll('section[aria-labelledby]')]"
            ".map((one) => one.getAttribute('aria-labelledby')).filter((name) => names.includes(name))",
            tops,
        )
        self.assertEqual(within, tops)

    def test_the_shelf_is_searched_by_any_of_its_names(self) -> None:
        self.browse(self.search_shelf)

    def search_shelf(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("searchbox").fill("carob")
        expect(page.get_by_role("main")).to_contain_text("Locust bean gum")
        expect(page.get_by_text("Egg yolk", exact=True)).to_have_count(0)
        page.get_by_role("searchbox").fill("unobtainium")
        expect(page.get_by_text("Nothing on the shelf is called “unobtainium”")).to_be_visible()

    def test_the_door_says_what_is_wrong_and_signing_out_closes_it(self) -> None:
        self.browse(self.through_the_door)

    def through_the_door(self, page: Page) -> None:
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Name").fill("keeper")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not fit together")
        self.assertEqual(faults(page), [])
        page.goto(f"{self.live_server_url}/batches")
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
