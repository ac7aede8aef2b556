"""Debian's Chromium, and what a person does with Jalebi's pages; knows nothing of the server."""

from __future__ import annotations

from playwright.sync_api import Locator, Page

CHROMIUM = "/usr/bin/chromium"
CHROMIUM_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def open_mix(page: Page, name: str) -> None:
    """Open a mix from the list and wait for its verdict."""
    page.get_by_role("link", name=name).click()
    page.locator("[data-verdict]", has_text="freezer").wait_for()


def amount(page: Page, line: str, which: int = 0) -> Locator:
    """Return the amount field of a line, by its name."""
    return page.get_by_role("textbox", name=line, exact=True).nth(which)


def verdict(page: Page) -> str:
    """Return the verdict as read."""
    return page.locator("[data-verdict]").inner_text()


def wait_until_kept(page: Page) -> None:
    """Wait until the last edit is on the server: the word “keeping…” may come and go."""
    page.wait_for_timeout(350)
    page.get_by_role("status").filter(has_text="kept").first.wait_for()
