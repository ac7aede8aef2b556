"""Two people on one browser: what one of them pressed is never recorded as the other's unless that is meant."""

from __future__ import annotations

from typing import Final

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.models import Session
from django.db.models import QuerySet
from playwright.sync_api import Page, expect

from batches.models import Batch, Event
from batches.record import begin_batch
from browser.browser_case import BrowserCase
from browser.pages import sign_in
from demo.kitchen import PERSON
from kitchens.models import Person
from mixes.models import Mix

OTHER: Final = "Ottilie"
PASSWORD: Final = "three wet spoons"


class TwoPeopleTest(BrowserCase):
    """The keeper of a batch has no connection; the session ends; somebody else takes the tablet."""

    def setUp(self) -> None:
        super().setUp()
        keeper = Person.objects.get(name=PERSON)
        Person.objects.create_user(OTHER, self.kitchen, PASSWORD)
        self.batch: Batch = begin_batch(keeper, Mix.objects.of(self.kitchen).get(name="Quince sorbet").pk)

    def test_presses_wait_for_who_made_them(self) -> None:
        self.browse(self.press_without_connection)
        self.end_the_session()
        self.browse(self.come_back_as_another)
        self.assertFalse(self.noted().exists())
        self.browse(self.come_back_as_the_keeper)
        self.assertEqual(self.by(), PERSON)

    def test_presses_are_handed_on_knowingly(self) -> None:
        self.browse(self.press_without_connection)
        self.end_the_session()
        self.browse(self.come_back_as_another)
        self.browse(self.send_as_mine)
        self.assertEqual(self.by(), OTHER)

    def test_a_page_that_is_still_another_persons_notes_nothing(self) -> None:
        self.browse(self.open_batch)
        self.client.force_login(Person.objects.get(name=OTHER), backend="kitchens.sign_in.PersonBackend")
        session = self.client.cookies[settings.SESSION_COOKIE_NAME].value
        self.browse(lambda page: self.press_with_the_session_of_another(page, session))
        self.assertFalse(self.noted().exists())

    def by(self) -> str:
        """Return who is recorded for the one press."""
        by = self.noted().get().by
        return "" if by is None else by.name

    def noted(self) -> QuerySet[Event]:
        return Event.objects.filter(batch=self.batch)

    def end_the_session(self) -> None:
        for session in Session.objects.all():
            if SESSION_KEY in session.get_decoded():
                session.delete()
        self.client.session.flush()

    def open_batch(self, page: Page) -> None:
        page.goto(f"{self.live_server_url}/make/{self.batch.pk}")
        page.get_by_role("region", name="What now").wait_for()

    def press(self, page: Page) -> None:
        page.get_by_role("button", name="Clean", exact=True).click()

    def press_without_connection(self, page: Page) -> None:
        self.open_batch(page)
        page.context.set_offline(True)
        self.press(page)
        expect(page.get_by_text("No connection: 1 press is kept")).to_be_visible()

    def come_back_as_another(self, page: Page) -> None:
        page.context.set_offline(False)
        expect(page.get_by_label("Password")).to_be_visible()
        sign_in(page, self.live_server_url, OTHER, PASSWORD)
        page.get_by_role("navigation").get_by_role("link", name="Make", exact=True).click()
        expect(page.get_by_role("region", name=f"Presses of {PERSON}")).to_contain_text("1 press")

    def come_back_as_the_keeper(self, page: Page) -> None:
        page.get_by_role("button", name="Sign out").click()
        expect(page.get_by_label("Password")).to_be_visible()
        sign_in(page, self.live_server_url, PERSON, settings.DEMO_PASSWORD)
        self.open_batch(page)
        self.wait_until_sent(page)

    def send_as_mine(self, page: Page) -> None:
        page.get_by_role("button", name="Send it as mine").click()
        expect(page.get_by_role("region", name=f"Presses of {PERSON}")).to_have_count(0)
        self.wait_until_sent(page)

    def wait_until_sent(self, page: Page) -> None:
        for _ in range(200):
            if page.evaluate("Object.keys(localStorage).every((key) => !key.includes('/press/'))"):
                return
            page.wait_for_timeout(100)
        self.fail("the press is still on the device")

    def press_with_the_session_of_another(self, page: Page, session: str) -> None:
        page.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": self.live_server_url}]
        )
        self.press(page)
        expect(page.get_by_role("region", name=f"Presses of {PERSON}")).to_contain_text("1 press")
