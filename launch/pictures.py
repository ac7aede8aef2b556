"""`pictures`: one picture of each main view, made from a fresh demo kitchen, into docs/screenshots."""

from __future__ import annotations

import sys
from collections.abc import Callable

from playwright.sync_api import Browser, Page, sync_playwright

from browser.chromium import CHROMIUM, CHROMIUM_FLAGS
from browser.pages import (
    sign_in,
    to_advice,
    to_balance,
    to_batches,
    to_bench,
    to_churning,
    to_guest,
    to_kitchen,
    to_label,
    to_learnt,
    to_make,
    to_mixes,
    to_over_time,
    to_plan,
    to_sheet,
    to_shelf,
    to_taste,
    to_trial,
    to_weighing,
)

from .application import StandIns
from .demo_server import DemoServer, demo_server
from .places import ROOT, LaunchError

_FOLDER = ROOT / "docs/screenshots"
_DESK = (1280, 800)
_TABLET = (1024, 768)
_PHONE = (390, 844)

_NIGHT = ("bench-dark",)
_NEVER_IDLE = (to_weighing, to_churning, to_make)
"""Views that ask their instruments again and again."""
_SPEED = 60.0
"""Of the simulated instruments."""

_VIEWS: tuple[tuple[str, Callable[[Page], None], tuple[int, int]], ...] = (
    ("mixes", to_mixes, _DESK),
    ("bench", to_advice, _DESK),
    ("bench-dark", to_bench, _DESK),
    ("bench-phone", to_bench, _PHONE),
    ("over-time", to_over_time, _DESK),
    ("balance", to_balance, _DESK),
    ("label", to_label, _DESK),
    ("plan", to_plan, _DESK),
    ("trial", to_trial, _DESK),
    ("shelf", to_shelf, _DESK),
    ("kitchen", to_kitchen, _DESK),
    ("batches", to_batches, _DESK),
    ("sheet", to_sheet, _DESK),
    ("make", to_weighing, _TABLET),
    ("churn", to_churning, _TABLET),
    ("make-phone", to_make, _PHONE),
    ("taste", to_taste, _DESK),
    ("learnt", to_learnt, _DESK),
    ("guest-phone", to_guest, _PHONE),
)


def main() -> int:
    """Take the pictures."""
    try:
        with demo_server(stand_ins=StandIns(_SPEED)) as server, sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
            for name, view, size in _VIEWS:
                _take(browser, server, name, view, size)
            browser.close()
    except LaunchError as error:
        print(f"jalebi: {error}", file=sys.stderr)
        return 1
    return 0


def _take(browser: Browser, server: DemoServer, name: str, view: Callable[[Page], None], size: tuple[int, int]) -> None:
    page = browser.new_page(
        viewport={"width": size[0], "height": size[1]},
        reduced_motion="reduce",
        color_scheme="dark" if name in _NIGHT else "light",
    )
    sign_in(page, server.address, server.person, server.password)
    view(page)
    if view not in _NEVER_IDLE:
        page.wait_for_load_state("networkidle")
    page.screenshot(path=_FOLDER / f"{name}.png")
    page.context.close()
    print(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    sys.exit(main())
