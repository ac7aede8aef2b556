"""The interface: what the first load weighs, and from an edit to its repaint in Chromium."""

from __future__ import annotations

import json
from collections.abc import Iterable
from statistics import median
from urllib.parse import urlsplit

from playwright.sync_api import Page, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.pages import sign_in, to_bench
from jalebi_core.shelf.catalogue import catalogue
from launch.demo_server import DemoServer

from .figure import Figure, p95
from .server_speed import Client

_EDITS = 60
_WARM = 10  # edits before the clock counts: what is measured is the afternoon, not its first minute
_LINES = 40

# The clock starts before the input event and stops when the frame is painted in which the drawings' text has changed.
_TIMED_EDIT = """
async (text) => {
  const fields = [...document.querySelectorAll("input[data-amount]")];
  const field = fields.find((candidate) => candidate.labels[0].textContent === "Table sugar");
  const marks = () => [...document.querySelectorAll("main svg text")].map((t) => t.textContent).join();
  const before = marks();
  const began = performance.now();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(field, text);
  field.dispatchEvent(new Event("input", { bubbles: true }));
  while (marks() === before) {
    if (performance.now() - began > 5000) throw new Error("nothing was repainted");
    await new Promise((resolve) => requestAnimationFrame(resolve));
  }
  const painted = new MessageChannel(); // its message comes after the frame that is under way
  const end = new Promise((resolve) => { painted.port2.onmessage = resolve; });
  painted.port1.postMessage(null);
  await end;
  return performance.now() - began;
}
"""


def figures(server: DemoServer) -> list[Figure]:
    """Measure the interface on a served demo kitchen."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        first_page, bench = _weights(page, server)
        guests = _weight_of_guests(browser.new_page(), server)
        durations = _edits(page, server)
        with_forecasts = _edits(page, server, over_time=True)
        browser.close()
    return [
        Figure("scripts and styles of the first page, compressed", first_page, 150.0, "kB"),
        Figure("scripts and styles of the Bench in all, compressed", bench, 200.0, "kB"),
        Figure("the page of guests in all, compressed", guests, 100.0, "kB"),
        Figure(f"edit to repaint in Chromium, {_LINES} lines, p95", p95(durations), 60.0, "ms"),
        Figure("the same, median", median(durations), 60.0, "ms"),
        Figure("the same with a machine and cold over time, p95", p95(with_forecasts), 60.0, "ms"),
    ]


def _weight_of_guests(page: Page, server: DemoServer) -> float:
    """Return what a guest's phone fetches for a link, in kB, compressed; of a link that leads nowhere it is as much."""
    fetched: set[str] = set()
    page.on("response", lambda response: fetched.add(urlsplit(response.url).path))
    page.goto(f"{server.address}guest/nobodys")
    page.wait_for_load_state("networkidle")
    page.close()
    return _compressed(server, fetched)


def _weights(page: Page, server: DemoServer) -> tuple[float, float]:
    """Return what is fetched in kB, compressed: for the list of mixes after signing in, and with a mix opened."""
    fetched: set[str] = set()
    page.on("response", lambda response: fetched.add(urlsplit(response.url).path))
    sign_in(page, server.address, server.person, server.password)
    page.wait_for_load_state("networkidle")
    first_page = _compressed(server, fetched)
    to_bench(page)
    page.wait_for_load_state("networkidle")
    return first_page, _compressed(server, fetched)


def _compressed(server: DemoServer, fetched: Iterable[str]) -> float:
    files = (server.interface / f"{path.lstrip('/')}.br" for path in fetched if path.endswith((".js", ".css")))
    return sum(path.stat().st_size for path in files) / 1000


def _long_mix(server: DemoServer) -> int:
    """Make a mix of so many lines, sugar among them, and return its number."""
    client = Client(server.port, server.person, server.password)
    made = json.loads(client.call("POST", client.in_kitchen("/mixes"), {"name": "Forty lines", "style": "ice-cream"}))
    others = [slug for slug in catalogue() if slug != "sugar"][: _LINES - 1]
    lines = [{"ingredient": slug, "typed": "20", "unit": "g", "stage": "pot"} for slug in ("sugar", *others)]
    machine = json.loads(client.call("GET", client.in_kitchen("/machines")))[0]["id"]
    draft = {"name": made["name"], "style": made["style"], "machine": machine, "lines": lines}
    client.call("PUT", client.in_kitchen(f"/mixes/{made['id']}"), draft, made["version"])
    return int(made["id"])


def _edits(page: Page, server: DemoServer, *, over_time: bool = False) -> list[float]:
    page.goto(f"{server.address}bench/{_long_mix(server)}")
    page.locator("[data-verdict]", has_text="freezer").wait_for()
    page.wait_for_load_state("networkidle")
    if over_time:
        page.get_by_role("radio", name="over time").click()
        page.locator("[data-over-time]").wait_for()
    durations = []
    for edit in range(_WARM + _EDITS):
        durations.append(float(page.evaluate(_TIMED_EDIT, str(60 + 2 * edit))))
        page.wait_for_timeout(60)
    return durations[_WARM:]
