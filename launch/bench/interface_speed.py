"""The interface: what the first load weighs, and from an edit to its repaint in Chromium."""

from __future__ import annotations

from playwright.sync_api import Page, sync_playwright

from e2e.chromium import CHROMIUM, CHROMIUM_FLAGS, open_mix, sign_in
from launch.demo_server import DemoServer

from .figure import Figure, p95

_EDITS = 60

# The clock starts before the input event and stops a frame after the drawings' text has changed.
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
  await new Promise((resolve) => requestAnimationFrame(resolve));
  return performance.now() - began;
}
"""


def figures(server: DemoServer) -> list[Figure]:
    """Measure the interface on a served demo kitchen."""
    scripts = sum(path.stat().st_size for path in (server.interface / "assets").glob("*.js.gz")) / 1000
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        durations = _edits(page, server)
        browser.close()
    return [
        Figure("JavaScript of the first load, compressed", scripts, 250.0, "kB"),
        Figure("edit to repaint in Chromium, p95", p95(durations), 100.0, "ms"),
    ]


def _edits(page: Page, server: DemoServer) -> list[float]:
    sign_in(page, server.address, server.person, server.password)
    open_mix(page, "Smoked tea custard")
    durations = []
    for edit in range(_EDITS):
        durations.append(float(page.evaluate(_TIMED_EDIT, str(60 + 2 * edit))))
        page.wait_for_timeout(60)
    return durations
