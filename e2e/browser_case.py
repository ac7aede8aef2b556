"""A browser for test cases: Playwright lives in one thread of its own, the database in the test's."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any, ClassVar, TypeVar

from django.conf import settings
from django.db import connection
from django.test import LiveServerTestCase, override_settings
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, sync_playwright

from e2e.chromium import CHROMIUM, CHROMIUM_FLAGS, sign_in
from jalebi.demo_kitchen import PERSON, make_demo
from kitchens.models import Kitchen

T = TypeVar("T")


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


@override_settings(PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"])
class BrowserCase(LiveServerTestCase):
    """A test case with the demo kitchen and a signed-in page; errors in the page fail the test.

    Passwords are hashed quickly here, and nothing moves: neither is what these tests are about.
    """

    thread: ClassVar[ThreadPoolExecutor]
    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]
    viewport: ClassVar[Any] = {"width": 1280, "height": 800}

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.thread = ThreadPoolExecutor(max_workers=1)
        cls.thread.submit(cls._open).result()

    @classmethod
    def _open(cls) -> None:
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.thread.submit(cls.browser.close).result()
        cls.thread.submit(cls.playwright.stop).result()
        cls.thread.shutdown()
        super().tearDownClass()

    def setUp(self) -> None:
        self.kitchen: Kitchen = make_demo()
        self.page_errors: list[str] = []
        self.page = self.thread.submit(self._new_page).result()
        self.browse(lambda page: sign_in(page, self.live_server_url, PERSON, settings.DEMO_PASSWORD))

    def tearDown(self) -> None:
        self.thread.submit(self._close_page).result()
        wait_until_idle()
        self.assertEqual(self.page_errors, [])

    def _new_page(self) -> Page:
        context: BrowserContext = self.browser.new_context(
            viewport=self.viewport, accept_downloads=True, reduced_motion="reduce"
        )
        context.set_default_timeout(10_000)
        page = context.new_page()
        page.on("pageerror", lambda error: self.page_errors.append(str(error)))
        page.on("console", self._listen)
        return page

    def _listen(self, message: Any) -> None:
        """Failed answers are the server's to say; a policy violation or a broken script is ours."""
        if message.type == "error" and "Failed to load resource" not in message.text:
            self.page_errors.append(message.text)

    def _close_page(self) -> None:
        self.page.goto("about:blank")
        self.page.context.close()

    def browse(self, job: Callable[[Page], T]) -> T:
        """Do something with the page in the browser's thread and return what it found."""
        return self.thread.submit(job, self.page).result()
