"""Saving a mix: two people on one mix, an answer that is lost, and work without a connection."""

from __future__ import annotations

from unittest import mock

from django.db import OperationalError
from playwright.sync_api import Page, Route, expect

from browser.browser_case import BrowserCase
from browser.pages import amount, open_mix, verdict, wait_until_saved
from mixes.models import Mix


def _names(route: Route) -> set[str]:
    return {name.title() for name in route.request.headers}


class SavingTest(BrowserCase):
    """Other people, and no connection."""

    def test_two_people_on_one_mix_are_told_and_nothing_is_overwritten(self) -> None:
        self.browse(self.open_and_look_no_further)
        theirs = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        theirs.version += 1
        theirs.overrun_pct = 44
        theirs.save()
        self.browse(self.keep_mine_as_a_copy)
        theirs.refresh_from_db()
        self.assertEqual(theirs.overrun_pct, 44)
        mine = Mix.objects.of(self.kitchen).get(name="Quince sorbet (mine)")
        self.assertEqual(mine.lines.get(ingredient__slug="sugar").grams, 77)

    def open_and_look_no_further(self, page: Page) -> None:
        """Open the mix; what others save of it from now on is met only when ours is sent."""
        open_mix(page, "Quince sorbet")
        page.route("**/mixes/*", lambda route: route.abort() if "If-None-Match" in _names(route) else route.continue_())

    def keep_mine_as_a_copy(self, page: Page) -> None:
        amount(page, "Table sugar").fill("77")
        expect(page.get_by_role("alert")).to_contain_text("Somebody else changed this mix")
        page.get_by_role("button", name="Keep mine as a copy").click()
        expect(page.get_by_role("textbox", name="Name of the mix")).to_have_value("Quince sorbet (mine)")
        expect(amount(page, "Table sugar")).to_have_value("77")

    def test_what_another_saves_is_shown_within_two_seconds_to_who_only_looks(self) -> None:
        self.browse(lambda page: open_mix(page, "Quince sorbet"))
        theirs = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        theirs.version += 1
        theirs.overrun_pct = 44
        theirs.save()
        self.browse(
            lambda page: expect(page.get_by_role("textbox", name="Air % overrun")).to_have_value("44", timeout=2_500)
        )
        self.browse(self.edit_after_theirs)
        theirs.refresh_from_db()
        self.assertEqual((theirs.overrun_pct, theirs.lines.get(ingredient__slug="sugar").grams), (44, 77))

    def edit_after_theirs(self, page: Page) -> None:
        amount(page, "Table sugar").fill("77")
        page.keyboard.press("Enter")
        wait_until_saved(page)
        expect(page.get_by_role("alert")).to_have_count(0)

    def test_what_is_typed_while_the_database_is_away_is_kept_and_saved_when_it_is_back(self) -> None:
        away = OperationalError("the connection is closed")
        with mock.patch("mixes.api.save_draft", side_effect=away), self.assertLogs("api.problems"):
            self.browse(self.type_without_a_database)
        self.browse(wait_until_saved)
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        self.assertEqual(mix.lines.get(ingredient__slug="sugar").grams, 91)

    def type_without_a_database(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        amount(page, "Table sugar").fill("91")
        page.keyboard.press("Enter")
        expect(page.get_by_text("no connection: kept in this browser")).to_be_visible()

    def test_a_page_that_comes_too_early_shows_the_mix_by_itself_later(self) -> None:
        address = f"{self.live_server_url}/bench/{Mix.objects.of(self.kitchen).get(name='Quince sorbet').pk}"
        away = OperationalError("the connection is closed")
        with mock.patch("mixes.api._out", side_effect=away), self.assertLogs("api.problems"):
            self.browse(lambda page: self.open_without_a_database(page, address))
        self.browse(lambda page: expect(amount(page, "Table sugar")).to_be_visible())

    def open_without_a_database(self, page: Page, address: str) -> None:
        page.goto(address)
        expect(page.get_by_text("this is tried again by itself")).to_be_visible()

    def test_a_save_whose_answer_is_lost_is_nobody_elses(self) -> None:
        self.browse(self.lose_an_answer)
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        self.assertEqual(mix.lines.get(ingredient__slug="sugar").grams, 88)

    def lose_an_answer(self, page: Page) -> None:
        def arrive_and_break(route: Route) -> None:
            if route.request.method == "PUT":
                route.fetch()
                route.abort()
            else:
                route.continue_()

        open_mix(page, "Quince sorbet")
        page.route("**/api/v1/kitchens/*/mixes/*", arrive_and_break)
        amount(page, "Table sugar").fill("77")
        page.keyboard.press("Enter")
        expect(page.get_by_text("no connection")).to_be_visible()
        page.unroute("**/api/v1/kitchens/*/mixes/*")
        amount(page, "Table sugar").fill("88")
        page.keyboard.press("Enter")
        wait_until_saved(page)
        expect(page.get_by_role("alert")).to_have_count(0)

    def test_edits_without_a_connection_are_kept_and_sent_later(self) -> None:
        self.browse(self.edit_offline)
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        self.assertEqual(mix.lines.get(ingredient__slug="sugar").grams, 88)

    def edit_offline(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        message = verdict(page)
        adjustments = page.get_by_role("heading", name="Would help")
        expect(adjustments).to_be_visible()
        page.context.set_offline(True)
        amount(page, "Table sugar").fill("88")
        expect(page.get_by_text("no connection: kept in this browser")).to_be_visible()
        expect(adjustments).to_have_count(0)
        page.context.set_offline(False)
        wait_until_saved(page)
        expect(page.get_by_text("no connection")).to_have_count(0)
        expect(page.locator("[data-verdict]")).not_to_have_text(message)
        page.route("**/api/**", lambda route: route.abort())
        amount(page, "Table sugar").fill("145")
        expect(page.get_by_text("no connection")).to_be_visible()
        page.unroute("**/api/**")
        wait_until_saved(page)
        expect(page.locator("[data-verdict]")).to_have_text(message)
        amount(page, "Table sugar").fill("88")
        wait_until_saved(page)

    def test_signing_out_asks_before_it_forgets_what_was_not_sent(self) -> None:
        self.browse(self.sign_out_offline)
        mix = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        self.assertEqual(mix.lines.get(ingredient__slug="sugar").grams, 88)

    def sign_out_offline(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.context.set_offline(True)
        amount(page, "Table sugar").fill("88")
        expect(page.get_by_text("no connection")).to_be_visible()
        page.get_by_role("button", name="Sign out").click()
        dialog = page.get_by_role("dialog", name="Edits of one mix were not sent yet")
        dialog.get_by_role("button", name="Sign out and forget them").click()
        expect(dialog.get_by_role("alert")).to_contain_text("You are still signed in, and nothing was forgotten.")
        dialog.get_by_role("button", name="Stay").click()
        page.context.set_offline(False)
        wait_until_saved(page)
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_label("Password")).to_be_visible()
