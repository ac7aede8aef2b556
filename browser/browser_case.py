"""A browser for test cases: Playwright lives in one thread of its own, the database in the test's."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from importlib import import_module
from typing import Any, ClassVar, Final, TypeVar

from django.conf import settings
from django.db import connection
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from demo.kitchen import PERSON, make_demo
from kitchens.models import Kitchen

T = TypeVar("T")
PATIENCE_MS: Final = 45_000
"""A machine that has much else to do answers late; what never comes is still missed."""


def wait_until_idle(pause_s: float = 0.05, most_s: float = 5) -> None:
    """Return when the server has answered what the page sent while leaving, so that the database can be emptied."""
    working = "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()"
    quiet = 0
    for _ in range(int(most_s / pause_s)):
        with connection.cursor() as cursor:
            cursor.execute(f"{working} AND state <> 'idle'")
            quiet = quiet + 1 if cursor.fetchone() == (0,) else 0
        if quiet >= 3:
            return
        time.sleep(pause_s)


class BrowserCase(LiveServerTestCase):
    """A test case with the demo kitchen and a signed-in page; errors in the page fail the test.

    Nothing moves, the door is passed with a session made for it, and the
    scripts stay in the browser's cache from one test to the next: none of that is what these tests are about.
    """

    thread: ClassVar[ThreadPoolExecutor]
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]
    context: ClassVar[BrowserContext]
    viewport: ClassVar[Any] = {"width": 1280, "height": 800}
    tasted: ClassVar[bool] = False
    """Whether the demo kitchen has its month of tasting; most tests are about one that has learnt nothing yet."""
    service_workers: ClassVar[Any] = "block"
    """What a worker answers no test can cut off; those that are about it allow it."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        import_module("scipy.optimize")  # as the server does before it answers anybody
        cls.thread = ThreadPoolExecutor(max_workers=1)
        cls.thread.submit(cls._open).result()

    @classmethod
    def _open(cls) -> None:
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        cls.context = cls.browser.new_context(
            viewport=cls.viewport,
            accept_downloads=True,
            reduced_motion="reduce",
            service_workers=cls.service_workers,
        )
        cls.context.set_default_timeout(PATIENCE_MS)
        expect.set_options(timeout=PATIENCE_MS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.thread.submit(cls.browser.close).result()
        cls.thread.submit(cls.playwright.stop).result()
        cls.thread.shutdown()
        super().tearDownClass()

    def setUp(self) -> None:
        self.kitchen: Kitchen = make_demo(tasted=self.tasted)
        self.client.force_login(self.kitchen.people.get(name=PERSON), backend="kitchens.sign_in.PersonBackend")
        self.page_errors: list[str] = []
        self.page = self.thread.submit(self._signed_in).result()

    def tearDown(self) -> None:
        self.thread.submit(self._leave).result()
        wait_until_idle()
        self.assertEqual(self.page_errors, [])

    def _signed_in(self) -> Page:
        session = self.client.cookies[settings.SESSION_COOKIE_NAME].value
        self.context.add_cookies(
            [{"name": settings.SESSION_COOKIE_NAME, "value": session, "url": self.live_server_url}]
        )
        page = self.context.new_page()
        page.on("pageerror", lambda error: self.page_errors.append(str(error)))
        page.on("console", self._listen)
        page.goto(self.live_server_url)
        page.get_by_role("heading", name="Mixes").wait_for()
        return page

    def _listen(self, message: Any) -> None:
        """Failed answers are the server's to say; a policy violation or a broken script is ours."""
        if message.type == "error" and "Failed to load resource" not in message.text:
            self.page_errors.append(message.text)

    def _leave(self) -> None:
        """Leave every page, which may still send something, and nothing behind in the browser."""
        for page in self.context.pages:
            page.goto("about:blank")
        forgetting = self.context.pages[0]
        session = forgetting.context.new_cdp_session(forgetting)
        session.send("Storage.clearDataForOrigin", {"origin": self.live_server_url, "storageTypes": "all"})
        self.context.clear_cookies()
        self.context.clear_permissions()
        for page in self.context.pages:
            page.close()

    def browse(self, job: Callable[[Page], T]) -> T:
        """Do something with the page in the browser's thread and return what it found."""
        return self.thread.submit(job, self.page).result()
