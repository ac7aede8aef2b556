"""Instruments: the end of a run foretold, and a reading from the bridge to the screen of two browsers."""

from __future__ import annotations

import os
import re
import time
from math import exp, log
from pathlib import Path
from typing import Any, Final

import numpy as np
from playwright.sync_api import Browser, Page, ViewportSize, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.pages import open_mix, sign_in, to_station
from jalebi_core.heat.churn import Churned, Conditions, churn, churner
from jalebi_core.heat.churn_watch import expect, watch
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.model.mix import Line, Mix
from jalebi_core.shelf.catalogue import find
from launch.demo_server import DemoServer

from .figure import Figure, median_ms, p95

_RUNS: Final = 20
_STALLS: Final = 10
_MASS_G: Final = 700.0
_UNTUNED_SD: Final = 0.3
_NEAR_MIN: Final = 2.0
_EARLY_MIN: Final = 4.0
_WATCHED_S: Final = 30.0
_TABLET: Final[ViewportSize] = {"width": 1024, "height": 768}
_MIX: Final = (("whole-milk", 550), ("cream-36", 220), ("skim-milk-powder", 40), ("sugar", 160), ("dextrose", 30))

# Every answer with readings is timed to the frame after it, against the hour at which the bridge had the reading.
_TIMED_READINGS = """
() => {
  window.late = [];
  const asked = window.fetch;
  window.fetch = async (...args) => {
    const answer = await asked(...args);
    const url = String(args[0]?.url ?? args[0]);
    if (url.includes("/shown")) {
      const { shown } = await answer.clone().json();
      requestAnimationFrame(() => requestAnimationFrame(() => {
        for (const one of shown.slice(-1)) window.late.push(Date.now() - Date.parse(one.at));
      }));
    }
    return answer;
  };
}
"""


def watch_figures() -> list[Figure]:
    """Measure what the core foretells of runs that are watched."""
    mix = Mix("Watched", tuple(Line(find(slug), float(grams), "pot") for slug, grams in _MIX), "ice-cream", 30.0)
    table, machine = thermal(mix.row(), 0.0), churner("canister")
    expected = expect(table, _MASS_G, machine, Conditions(), _UNTUNED_SD)
    chance = np.random.default_rng(11)
    near, early = 0, 0
    for _ in range(_RUNS):
        factor = exp(chance.uniform(log(0.7), log(1.3)))
        run = churn(table, _MASS_G, churner("canister", factor=factor), Conditions())
        found = watch(table, expected, _shown(run, run.minutes / 2, chance))
        near += found.left_min is not None and abs(found.left_min - run.minutes / 2) <= _NEAR_MIN
    for _ in range(_STALLS):
        factor = exp(chance.uniform(log(0.7), log(1.3)))
        weak = Conditions(gel_frozen_pct=float(chance.uniform(34, 46)))
        run = churn(table, _MASS_G, churner("canister", factor=factor), weak)
        before = next(minute for minute, t_c, _, _ in run.seen if t_c <= run.seen[-1][1] + 0.05) - _EARLY_MIN
        early += watch(table, expected, _shown(run, before, chance)).stalls_c is not None
    log_of_half = _shown(run, 15.0, chance)
    return [
        Figure(f"of {_RUNS} runs known to 2 min at half time", near, 18, "", at_least=True),
        Figure(f"of {_STALLS} stalls foretold 4 min before", early, 9, "", at_least=True),
        Figure("a watched run re-estimated", median_ms(lambda: watch(table, expected, log_of_half), 20), 20.0, "ms"),
    ]


def _shown(run: Churned, until_min: float, chance: np.random.Generator) -> list[tuple[float, float]]:
    minutes = np.arange(0.0, until_min, 0.05)
    true = np.interp(minutes - 0.1, [one[0] for one in run.seen], [one[1] for one in run.seen])
    shown = true + chance.normal(0, 0.1, minutes.size) + chance.normal(0, 0.05)
    return list(zip(minutes.tolist(), shown.tolist(), strict=True))


def figures(server: DemoServer) -> list[Figure]:
    """Measure readings on their way to two browsers that each weigh a line."""
    with sync_playwright() as playwright:
        browsers = [playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS) for _ in range(2)]
        pages = [_weighing(browser, server) for browser in browsers]
        began, spent = time.monotonic(), _cpu_s(server)
        pages[0].wait_for_timeout(1000 * _WATCHED_S)
        share = (_cpu_s(server) - spent) / (time.monotonic() - began)
        late: list[float] = [one for page in pages for one in _late(page)]
        for browser in browsers:
            browser.close()
    return [
        Figure("reading to the screen, p95 of two browsers", p95(late), 400.0, "ms"),
        Figure("server and bridge meanwhile, of one core", 100 * share, 10.0, "%"),
    ]


def _weighing(browser: Browser, server: DemoServer) -> Page:
    page = browser.new_context(viewport=_TABLET).new_page()
    page.add_init_script(f"({_TIMED_READINGS})()")
    sign_in(page, server.address, server.person, server.password)
    to_station(page, "Bench", "Mixes")
    open_mix(page, "Smoked tea custard")
    page.get_by_role("button", name="Make it").click()
    steps = page.get_by_role("navigation", name="Steps")
    steps.get_by_role("button", name=re.compile("^Table sugar$")).first.click()
    page.locator("[data-shown]").wait_for()
    return page


def _late(page: Page) -> list[float]:
    late: Any = page.evaluate("window.late")
    return [float(one) for one in late]


def _cpu_s(server: DemoServer) -> float:
    """Return the processor seconds that server and bridge have used, with all their children."""
    leaders = {int(server.application.pid_file(part).read_text()) for part in ("server", "bridge")}
    ticks = 0
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit() and _session(int(entry.name)) in leaders:
            fields = (entry / "stat").read_text().rpartition(")")[2].split()
            ticks += int(fields[11]) + int(fields[12])
    return ticks / os.sysconf("SC_CLK_TCK")


def _session(pid: int) -> int:
    try:
        return os.getsid(pid)
    except ProcessLookupError:
        return 0
