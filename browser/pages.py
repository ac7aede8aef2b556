"""What a person does with Jalebi's pages; knows nothing of the server."""

from __future__ import annotations

import re
from typing import Final

from playwright.sync_api import Locator, Page, expect

_LINES_OF_CUSTARD: Final = 11
_HALF_A_RUN_MS: Final = 14_000
"""At sixty times the speed."""


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


def wait_until_saved(page: Page) -> None:
    """Wait until the last edit is on the server: the word “saving…” may come and go."""
    page.wait_for_timeout(350)
    page.get_by_role("status").filter(has_text=re.compile("^saved$")).first.wait_for()


def to_station(page: Page, name: str, title: str | None = None) -> None:
    """A station; the one before it stays on the screen, with a search and links of its own, until this one is drawn.

    A batch at work has the whole screen, and is left first.
    """
    if page.get_by_role("link", name="All batches", exact=True).is_visible():
        page.get_by_role("link", name="All batches", exact=True).click()
        page.get_by_role("heading", name="Make", exact=True).wait_for()
    page.get_by_role("navigation").get_by_role("link", name=name, exact=True).click()
    page.get_by_role("heading", name=title or name, level=1, exact=True).wait_for()


def to_shelf(page: Page) -> None:
    """The shelf, searched, with one ingredient opened."""
    to_station(page, "Shelf")
    page.get_by_role("searchbox").fill("egg yolk")
    page.get_by_text("Egg yolk", exact=True).click()
    page.get_by_text("How sure").wait_for()


def to_house(page: Page) -> None:
    """What is in the house."""
    to_station(page, "Shelf")
    page.get_by_role("region", name="In the house").get_by_role("listitem").first.wait_for()


def to_lot(page: Page) -> None:
    """One lot and what happened to it."""
    to_house(page)
    page.get_by_role("button", name="Cream 36 %").first.click()
    page.get_by_role("button", name="Where did it go?").click()
    page.get_by_role("region", name="Where it went").wait_for()


def to_take_in(page: Page) -> None:
    """The form for what comes into the house."""
    to_house(page)
    page.get_by_role("button", name="Take in…").first.click()
    pick(page, "What came", "cream 36")
    page.get_by_label("How much").wait_for()


def to_glut(page: Page) -> None:
    """Where a glut can go."""
    to_house(page)
    page.get_by_role("button", name="Use it up…").first.click()
    page.get_by_text("All of it has a place.").wait_for()


def to_stock_taking(page: Page) -> None:
    """The list for taking stock."""
    to_house(page)
    page.get_by_role("button", name="Take stock…").click()
    page.get_by_role("button", name="Note the count").wait_for()


def to_costs(page: Page) -> None:
    """What a mix costs."""
    to_bench(page)
    page.get_by_role("button", name=re.compile("a litre")).click()
    page.get_by_text("the batch of").wait_for()


def to_mixes(page: Page) -> None:
    """The list of mixes."""
    to_station(page, "Bench", "Mixes")
    page.get_by_role("heading", name="Smoked tea custard").wait_for()


def to_bench(page: Page) -> None:
    """A mix on the Bench."""
    to_mixes(page)
    open_mix(page, "Smoked tea custard")


def to_advice(page: Page) -> None:
    """A mix with faults on the Bench, and what would help it."""
    to_mixes(page)
    open_mix(page, "Quince sorbet")
    page.get_by_role("heading", name="Would help").wait_for()


def to_over_time(page: Page) -> None:
    """How a mix goes cold over time, in its tub."""
    to_bench(page)
    page.get_by_role("radio", name="over time").click()
    page.locator("[data-over-time]", has_text="Scoops from").wait_for()


def to_run(page: Page) -> None:
    """How a mix freezes in its machine, where it stalls, and what would help."""
    to_advice(page)
    page.locator("[data-run]").get_by_role("button").click()
    page.get_by_label("Base, °C").fill("25")
    page.get_by_label("Bowl frozen, h").fill("9")
    page.get_by_role("heading", name="Would do it").wait_for()


def to_ice(page: Page) -> None:
    """Ice and salt for a mix."""
    to_bench(page)
    page.get_by_role("button", name="More about this mix").click()
    page.get_by_role("menuitem", name="Ice and salt…").click()
    page.get_by_role("button", name="Take these").wait_for()


def to_label(page: Page) -> None:
    """The draft of the label of a mix."""
    to_bench(page)
    page.get_by_role("button", name="More about this mix").click()
    page.get_by_role("menuitem", name="Draft of the label…").click()
    page.get_by_role("dialog").get_by_text("Ingredients:").wait_for()


def to_pot(page: Page) -> None:
    """The pot of a mix: how it cools, and what its heat was worth."""
    to_bench(page)
    page.get_by_role("button", name="More about this mix").click()
    page.get_by_role("menuitem", name="Pot and cooling…").click()
    page.get_by_text("in the salted ice bath", exact=True).wait_for()


def to_plan(page: Page) -> None:
    """The demo's plan, looked for where that has not been done yet."""
    to_station(page, "Plan")
    page.get_by_role("link", name="The weekend board").click()
    page.get_by_role("heading", name="The weekend board", level=1).wait_for()
    if page.get_by_role("button", name="Plan it").is_visible():
        page.get_by_role("button", name="Plan it").click()
    page.get_by_role("list", name="Tasks").wait_for()


def to_hours(page: Page) -> None:
    """Who is there when."""
    to_kitchen(page)
    page.get_by_role("link", name="The working day").click()
    page.get_by_text("Who is there when").wait_for()


def to_batches(page: Page) -> None:
    """The list of batches."""
    to_station(page, "Batches")
    page.get_by_role("link", name="Smoked tea custard").first.wait_for()


def to_make(page: Page) -> None:
    """A batch at work: a line that is being weighed."""
    to_mixes(page)
    open_mix(page, "Smoked tea custard")
    page.get_by_role("button", name="Make it").click()
    page.get_by_role("button", name="Whole part").wait_for()
    steps = page.get_by_role("navigation", name="Steps")
    if not steps.is_visible():
        page.get_by_role("button", name=re.compile(r"^\d+ of \d+$")).click()
    steps.get_by_role("button", name="Table sugar", exact=True).click()
    page.get_by_label("It weighs").fill("117")


def to_weighing(page: Page) -> None:
    """A line on the scale, most of it poured; only with simulated instruments."""
    to_make(page)
    page.get_by_label("It weighs").fill("")
    page.locator("[data-shown]").wait_for()
    page.get_by_text("let it stand still a moment").wait_for(state="detached")
    hands = page.get_by_role("group", name="Simulated instruments").get_by_role("button", name=re.compile("^Pour "))
    for _ in range(8):
        hands.first.click()
    page.get_by_text(re.compile("2[0-9].g to go$")).wait_for()
    page.evaluate("scrollTo(0, 0)")


def to_churning(page: Page) -> None:
    """A run that is watched; only with simulated instruments."""
    to_make(page)
    page.get_by_label("It weighs").fill("")
    for _ in range(_LINES_OF_CUSTARD):
        page.get_by_role("button", name="It is in").click()
    steps = page.get_by_role("navigation", name="Steps")
    steps.get_by_role("button", name=re.compile("^Churn to")).click()
    page.get_by_role("button", name="It runs").click()
    page.get_by_role("button", name="Pour in and start").click()
    page.get_by_text(re.compile("ake it out in about")).first.wait_for()
    page.wait_for_timeout(_HALF_A_RUN_MS)
    page.evaluate("scrollTo(0, 0)")


def to_hand_over(page: Page) -> None:
    """The end of a batch."""
    to_make(page)
    page.get_by_role("button", name="Hand over").click()
    page.get_by_role("region", name="Critical points").wait_for()


def to_at_work(page: Page) -> None:
    """The batches that are being made."""
    to_make(page)
    page.get_by_role("link", name="All batches").click()
    page.get_by_role("link", name="Smoked tea custard").first.wait_for()


def to_sheet(page: Page) -> None:
    """The sheet of a batch."""
    to_batches(page)
    page.get_by_role("link", name="Smoked tea custard").first.click()
    page.get_by_role("group", name="In the pot").wait_for()


RECIPE = """Raspberry custard
Serves 6, makes about 1 litre

2 cups whole milk
1 cup heavy cream
3/4 cup sugar
4 egg yolks
2 cups raspberry puree, reduced to a third
a few handfuls of mint leaves
1 tbsp moon dust
salt to taste

Method
Heat the milk and cream in a pan. Whisk the yolks with the sugar, temper and cook to 82 °C.
Take off the heat and stir in the raspberry puree. Chill overnight, then churn.
"""


def to_recipe(page: Page) -> None:
    """Where a recipe or a mix file comes in."""
    to_mixes(page)
    page.get_by_role("link", name="Paste a recipe").click()
    page.get_by_role("heading", name="Paste a recipe").wait_for()


def to_paste(page: Page) -> None:
    """A pasted recipe, some of whose lines wait."""
    to_recipe(page)
    page.get_by_role("textbox").fill(RECIPE)
    page.keyboard.press("Control+Enter")
    page.get_by_role("heading", name="Is this what is meant?").wait_for()


def to_preparation(page: Page) -> None:
    """A preparation of the shelf."""
    to_station(page, "Shelf")
    page.get_by_role("searchbox").fill("rhubarb cooked down")
    page.get_by_text("Rhubarb, cooked down", exact=True).click()
    page.get_by_role("link", name="See what it is made from").click()
    page.get_by_text("stop at 1460 g with the pot").first.wait_for()


def to_line(page: Page) -> None:
    """One line of a mix looked at closely."""
    to_bench(page)
    page.get_by_role("button", name="Change line Skim-milk powder").click()
    page.get_by_role("menuitem", name="Look closer").click()
    page.get_by_text("at equal").first.wait_for()


def to_figures(page: Page) -> None:
    """The figures behind a mix."""
    to_bench(page)
    page.get_by_role("button", name="the figures behind it").click()
    page.get_by_role("button", name="why MSNF").click()


def to_size(page: Page) -> None:
    """Another size of a mix, with whole yolks."""
    to_bench(page)
    page.get_by_role("button", name="resize").click()
    page.get_by_label("Weight").fill("1,4 kg")
    page.get_by_label("Egg yolk: each yolk whole").check()
    page.get_by_role("dialog").get_by_text("6 yolks, 102 g").wait_for()


def to_revisions(page: Page) -> None:
    """The revisions of a mix, one of them compared with the mix as it is now."""
    to_mixes(page)
    open_mix(page, "Quince sorbet")
    page.get_by_role("heading", name="Would help").wait_for()
    page.get_by_role("link", name="Mixes").focus()
    page.keyboard.press("k")
    page.get_by_role("button", name="1 First try").click()
    page.locator("[data-difference]").wait_for()


def to_table(page: Page) -> None:
    """The cook's table of a mix."""
    to_bench(page)
    page.get_by_role("button", name="table", exact=True).click()
    page.get_by_role("row", name="The mix").wait_for()


def to_notes(page: Page) -> None:
    """The kitchen's notes beside a mix."""
    to_bench(page)
    page.get_by_role("button", name="notes").click()
    page.get_by_text("The tea turns bitter").wait_for()


def to_kitchen(page: Page) -> None:
    """What holds for the whole kitchen, at its machines."""
    page.get_by_role("navigation", name="Stations").get_by_role("link").last.click()
    page.get_by_text("ice-and-salt bucket: filled to").wait_for()


def to_units(page: Page) -> None:
    """How the kitchen writes quantities."""
    to_kitchen(page)
    page.get_by_role("link", name="Units and region").click()
    page.get_by_role("combobox", name="Temperatures").wait_for()


def to_people(page: Page) -> None:
    """Who signs in to the kitchen."""
    to_kitchen(page)
    page.get_by_role("link", name="People", exact=True).click()
    page.get_by_text("that is you").wait_for()


def to_machines(page: Page) -> None:
    """The machines of the kitchen."""
    to_bench(page)
    press_option(page.get_by_role("combobox", name="Machine"), "machines of this kitchen…")
    page.get_by_text("ice-and-salt bucket: filled to").wait_for()


def to_share(page: Page) -> None:
    """A mix on the Bench while one of its lines is typed in."""
    to_bench(page)
    amount(page, "Table sugar").focus()
    page.locator("[data-tolerance]", has_text="Weigh to ±").wait_for()


def to_balance(page: Page) -> None:
    """A proposal of Balance beside the mix."""
    to_mixes(page)
    open_mix(page, "Quince sorbet")
    page.get_by_role("region", name="How it eats").get_by_role("button", name="Balance").click()
    page.get_by_role("button", name="Softer from my freezer").click()
    page.locator("[data-proposal]").wait_for()


def to_refusal(page: Page) -> None:
    """Targets that cannot be reached, and why."""
    to_bench(page)
    for which in (0, 1):
        amount(page, "Cream 36 %", which).focus()
        page.keyboard.press("Alt+p")
    page.get_by_role("region", name="How it eats").get_by_role("button", name="Balance").click()
    for end in ("most", "least"):
        page.get_by_role("slider", name=f"Fat, {end}").focus()
        for _ in range(4):
            page.keyboard.press("PageUp")
    page.get_by_role("button", name="Balance", exact=True).click()
    page.get_by_text("Would help").first.wait_for()


def add_line(page: Page, typed: str) -> None:
    """Type into the field that finds things on the shelf, and put the first answer into the mix."""
    page.get_by_role("combobox", name="Add from the shelf").fill(typed)
    take_first(page)


def take_first(page: Page) -> None:
    """Take the first answer, once the answers are those to what was typed last."""
    page.locator("[role=listbox][aria-busy=false] [role=option]").first.wait_for()
    page.keyboard.press("Enter")


def choose(field: Locator, option: str) -> None:
    """Choose an option of a select; the focus comes back a moment later, and would be taken from the next field."""
    press_option(field, option)
    expect(field).to_be_focused()


def press_option(field: Locator, option: str) -> None:
    """Press an option of a select that leads elsewhere."""
    field.click()
    field.page.get_by_role("option", name=option, exact=True).click()


def pick(page: Page, field: str, name: str) -> None:
    """Pick an ingredient by typing its name."""
    page.get_by_role("combobox", name=field).fill(name)
    page.keyboard.press("Enter")


def to_trials(page: Page) -> None:
    """The trials, newest first."""
    to_station(page, "Trials")
    page.get_by_role("link", name="How much dextrose?").wait_for()


def to_new_trial(page: Page) -> None:
    """A ladder about to be begun, with what it would be."""
    to_station(page, "Trials")
    page.get_by_role("link", name="New trial").click()
    page.get_by_role("heading", name="Make once, split late").wait_for()


def to_trial(page: Page) -> None:
    """An open trial: four rungs, one base, a test that waits for answers."""
    to_trials(page)
    page.get_by_role("link", name="How much dextrose?").click()
    page.get_by_role("button", name="Close and reveal").wait_for()


def to_decided(page: Page) -> None:
    """A trial whose test was closed and that was decided."""
    to_trials(page)
    page.get_by_role("link", name="Is less date enough?").click()
    page.get_by_role("heading", name="What next").wait_for()


def to_tastings(page: Page) -> None:
    """Batches to be tasted."""
    to_station(page, "Taste")
    page.get_by_role("link", name="Toasted barley ice cream, batch").first.wait_for()


def to_taste(page: Page) -> None:
    """An icy batch with its cards, and why it is so."""
    to_tastings(page)
    page.get_by_role("link", name="Toasted barley ice cream, batch").first.click()
    page.get_by_text("Did it thaw, on the way or on the counter?").wait_for()


def to_learnt(page: Page) -> None:
    """What the kitchen has learnt."""
    to_station(page, "Taste")
    page.get_by_role("link", name="What Jalebi has learnt here").click()
    page.get_by_text("was −18.0").wait_for()


def to_guest(page: Page) -> None:
    """The page of a guest with the cups of one taster."""
    to_trial(page)
    page.get_by_role("button", name="Links for guests").click()
    page.get_by_role("button", name="Make a link for Isolde").click()
    page.goto(page.get_by_text("/guest/").inner_text())
    page.get_by_role("button", name="I may eat all of this").click()


def to_doses(page: Page) -> None:
    """The kitchen's own ladders of flavour and colour."""
    to_station(page, "Taste")
    page.get_by_role("link", name="Flavour and colour").click()
    page.get_by_role("heading", name="A dose that was tasted").wait_for()
