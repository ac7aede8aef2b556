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


def sign_in(page: Page, address: str, name: str, password: str) -> None:
    """Go through the door and wait for the list of mixes."""
    page.goto(address)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Mixes").wait_for()


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


def to_shelf(page: Page) -> None:
    """The shelf, searched, with one ingredient opened."""
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("searchbox").fill("egg")
    page.get_by_text("Egg yolk", exact=True).click()


def to_mixes(page: Page) -> None:
    """The list of mixes."""
    page.get_by_role("link", name="Bench", exact=True).click()
    page.get_by_role("heading", name="Smoked tea custard").wait_for()


def to_bench(page: Page) -> None:
    """A mix on the Bench."""
    to_mixes(page)
    open_mix(page, "Smoked tea custard")


def to_batches(page: Page) -> None:
    """The list of batches."""
    page.get_by_role("link", name="Batches").click()
    page.get_by_role("link", name="Smoked tea custard").wait_for()


def to_sheet(page: Page) -> None:
    """The sheet of a batch."""
    to_batches(page)
    page.get_by_role("link", name="Smoked tea custard").click()
    page.get_by_role("group", name="In the pot").wait_for()
