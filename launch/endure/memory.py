"""Ten minutes of typing, two hundred edits a minute: what the page and the server hold before and after."""

from __future__ import annotations

import time
from pathlib import Path

from playwright.sync_api import CDPSession, Page, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.pages import amount, open_mix, sign_in
from launch.bench.figure import Figure
from launch.demo_server import DemoServer, demo_server

_MINUTES = 10
_EDITS_A_MINUTE = 200
_WARM_UP = 300
"""Edits before the first reading: caches, pools and compiled code are filled by then."""


def figures() -> list[Figure]:
    """Type and weigh the memory."""
    with demo_server() as server, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, server.address, server.person, server.password)
        open_mix(page, "Smoked tea custard")
        held = page.context.new_cdp_session(page)
        _type(page, _WARM_UP)
        before = _page_bytes(held), _server_bytes(server)
        _type(page, _MINUTES * _EDITS_A_MINUTE)
        after = _page_bytes(held), _server_bytes(server)
        browser.close()
    page_grew, server_grew = (100 * (now / then - 1) for then, now in zip(before, after, strict=True))
    return [
        Figure(f"page grows in {_MINUTES * _EDITS_A_MINUTE} edits", page_grew, 10.0, "%"),
        Figure("server grows meanwhile", server_grew, 1.0, "%"),
        Figure("page holds in the end", after[0] / 1e6, 100.0, "MB"),
    ]


def _type(page: Page, edits: int) -> None:
    """Type so many amounts, each as a step of its own, at the pace that is asked."""
    sugar = amount(page, "Table sugar")
    for edit in range(edits):
        began = time.monotonic()
        sugar.fill(str(80 + edit % 60))
        page.keyboard.press("Enter")
        page.wait_for_timeout(max(0.0, 60_000 / _EDITS_A_MINUTE - 1000 * (time.monotonic() - began)))


def _page_bytes(held: CDPSession) -> float:
    held.send("HeapProfiler.collectGarbage")
    return float(held.send("Runtime.getHeapUsage")["usedSize"])


def _server_bytes(server: DemoServer) -> float:
    """Return what all processes of the server hold in memory of their own, pages that workers share by their share."""
    stats = Path("/proc").glob("[0-9]*/stat")
    return float(sum(_own_bytes(int(stat.parent.name)) for stat in stats if _is_of(stat, server)))


def _is_of(stat: Path, server: DemoServer) -> bool:
    try:
        return f"127.0.0.1:{server.port}".encode() in (stat.parent / "cmdline").read_bytes()
    except OSError:
        return False


def _own_bytes(pid: int) -> int:
    """Return anonymous memory: the share in a library's file changes when any other program that has it open ends."""
    lines = Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines()
    return next(int(line.split()[1]) * 1024 for line in lines if line.startswith("Pss_Anon:"))
