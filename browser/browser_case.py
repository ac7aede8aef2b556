"""A browser for test cases: Playwright lives in one thread of its own, the database in the test's."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import cache
from importlib import import_module
from typing import Any, ClassVar, Final, TypeVar

from django.conf import settings
from django.db import connection
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Page, expect, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.demo_copy import demo_kitchen
from demo.kitchen import PERSON
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


@cache
def chromium_of_this_process() -> tuple[ThreadPoolExecutor, Browser]:
    """Return a browser and the one thread that may speak to it; both end with the process."""
    thread = ThreadPoolExecutor(max_workers=1)
    playwright = thread.submit(lambda: sync_playwright().start()).result()
    browser = thread.submit(lambda: playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)).result()

    return thread, browser


class BrowserCase(LiveServerTestCase):
    """A test case with the demo kitchen and a signed-in page; errors in the page fail the test.

    Nothing moves, the door is passed with a session made for it, and the
    scripts stay in the browser's cache from one test to the next: none of that is what these tests are about.
    """

    thread: ClassVar[ThreadPoolExecutor]
    context: ClassVar[BrowserContext]
    viewport: ClassVar[Any] = {"width": 1280, "height": 800}
    alone: ClassVar[bool] = True
    """Nothing is prepared for a class: its tests are shared among the processors one by one."""
    tasted: ClassVar[bool] = False
    """Whether the demo kitchen has its month of tasting; most tests are about one that has learnt nothing yet."""
    service_workers: ClassVar[Any] = "block"
    """What a worker answers no test can cut off; those that are about it allow it."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        import_module("scipy.optimize")  # as the server does before it answers anybody
        cls.thread, browser = chromium_of_this_process()
        cls.context = cls.thread.submit(cls._open, browser).result()

    @classmethod
    def _open(cls, browser: Browser) -> BrowserContext:
        context = browser.new_context(
            viewport=cls.viewport,
            accept_downloads=True,
            reduced_motion="reduce",
            service_workers=cls.service_workers,
        )
        context.set_default_timeout(PATIENCE_MS)
        expect.set_options(timeout=PATIENCE_MS)
        return context

    @classmethod
    def tearDownClass(cls) -> None:
        cls.thread.submit(cls.context.close).result()
        super().tearDownClass()

    def setUp(self) -> None:
        self.kitchen: Kitchen = demo_kitchen(tasted=self.tasted)
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
