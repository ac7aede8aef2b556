"""Make: from a press to the next step, the page after a long day, and a reload without a server."""

from __future__ import annotations

import re
import time
from statistics import median
from typing import Final

from playwright.sync_api import BrowserContext, Page, ViewportSize, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.pages import open_mix, sign_in, to_station
from launch.demo_server import DemoServer

from .figure import Figure

_BATCHES = 3
_LINES = 10
_WARM_PRESSES = 100
_DAY_PRESSES = 800
"""What two people press on a long day."""
_RELOADS = 3
_TABLET: Final[ViewportSize] = {"width": 1024, "height": 768}

# The clock starts before the press and stops when the frame is painted in which another step stands on top.
_TIMED_PRESS = """
async () => {
  const title = () => document.querySelector("section[aria-label='What now'] h1").textContent;
  const button = [...document.querySelectorAll("button")].find((one) => one.textContent === "It is in");
  const before = title();
  const began = performance.now();
  button.click();
  while (title() === before) {
    if (performance.now() - began > 5000) throw new Error("no other step came");
    await new Promise((resolve) => requestAnimationFrame(resolve));
  }
  return performance.now() - began;
}
"""


def figures(server: DemoServer) -> list[Figure]:
    """Measure batches at work on a served demo kitchen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        context = browser.new_context(viewport=_TABLET)
        page = context.new_page()
        sign_in(page, server.address, server.person, server.password)
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        presses = [press for _ in range(_BATCHES) for press in _presses(page)]
        grown = _heap_after_day(page)
        reloads = _reloads(context, page)
        browser.close()
    return [
        Figure("press to the next step in Chromium", median(presses), 100.0, "ms"),
        Figure(f"heap after {_DAY_PRESSES} presses, beside after {_WARM_PRESSES}", grown, 1.1, "×"),
        Figure("a batch is back after a reload without a server", median(reloads), 2000.0, "ms"),
    ]


def _begin(page: Page) -> None:
    to_station(page, "Bench", "Mixes")
    open_mix(page, "Smoked tea custard")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("navigation", name="Steps").get_by_role("button", name="Table sugar", exact=True).click()


def _presses(page: Page) -> list[float]:
    _begin(page)
    durations = []
    for _ in range(_LINES):
        durations.append(float(page.evaluate(_TIMED_PRESS)))
        page.wait_for_timeout(60)
    page.get_by_text("All is noted").wait_for()
    page.get_by_role("link", name="All batches").click()
    return durations


def _heap_after_day(page: Page) -> float:
    _begin(page)
    page.get_by_role("button", name="Whole part").click()
    row = page.get_by_role("checkbox", name=re.compile("^Table sugar"))
    for _ in range(_WARM_PRESSES):
        row.click()
    before = _heap(page)
    for _ in range(_DAY_PRESSES - _WARM_PRESSES):
        row.click()
    page.get_by_text("All is noted").wait_for()
    return _heap(page) / before


def _heap(page: Page) -> float:
    """Return the bytes in use after what nobody needs was collected."""
    session = page.context.new_cdp_session(page)
    session.send("HeapProfiler.collectGarbage")
    session.send("Performance.enable")
    metrics = {one["name"]: one["value"] for one in session.send("Performance.getMetrics")["metrics"]}
    session.detach()
    return float(metrics["JSHeapUsedSize"])


def _reloads(context: BrowserContext, page: Page) -> list[float]:
    durations = []
    context.set_offline(True)
    for _ in range(_RELOADS):
        began = time.perf_counter()
        page.reload()
        page.get_by_role("region", name="What now").wait_for()
        durations.append(1000 * (time.perf_counter() - began))
    context.set_offline(False)
    return durations
