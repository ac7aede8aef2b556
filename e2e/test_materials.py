"""Materials: a pasted recipe with a reduction and an infusion, own ingredients, swaps, restrictions, files."""

from __future__ import annotations

import re

from django.utils import timezone
from playwright.sync_api import FilePayload, Page, Route, expect

from browser.browser_case import BrowserCase
from browser.pages import (
    add_line,
    amount,
    choose,
    open_mix,
    pick,
    to_mixes,
    to_paste,
    to_recipe,
    to_shelf,
    wait_until_saved,
)
from ingredients.models import Ingredient
from mixes.models import Mix
from stock.models import stock_by_slug


class PasteTest(BrowserCase):
    """From a recipe in cups to a picture on the Bench, by keyboard."""

    def test_a_recipe_in_cups_with_a_reduction_and_an_infusion(self) -> None:
        self.browse(self.paste_and_settle)
        mix = Mix.objects.of(self.kitchen).get(name="Raspberry custard")
        lines = {line.ingredient.name: line.grams for line in mix.lines.select_related("ingredient")}
        self.assertEqual(len(lines), 7)
        self.assertAlmostEqual(lines["Egg yolk"] or 0, 68)
        reduced = next(name for name in lines if name.startswith("Raspberry puree, reduced"))
        self.assertAlmostEqual(lines[reduced] or 0, 527 / 3, delta=1)
        self.assertAlmostEqual(lines["Tea milk"] or 0, 515 - 15, delta=1)
        self.assertIn("Chill overnight, then churn.", [step["text"] for step in mix.method])

    def paste_and_settle(self, page: Page) -> None:
        to_paste(page)
        expect(page.get_by_role("status").first).to_contain_text("3 lines wait for you.")
        page.keyboard.press("1")
        page.keyboard.type("2 handfuls")
        page.keyboard.press("Enter")
        page.keyboard.press("Delete")
        page.keyboard.press("Enter")
        page.keyboard.type("1 g")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Put it on the Bench")).to_be_focused()
        page.keyboard.press("Enter")
        expect(page.locator("[data-verdict]")).to_contain_text("Scoops at")
        self.steep(page)
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="The recipe’s method").click()
        expect(page.get_by_role("dialog")).to_contain_text("Serves 6. Makes 1 litre.")
        expect(page.get_by_role("dialog")).to_contain_text("temper and cook to 82 °C.")

    def test_a_mix_goes_out_as_a_file_and_comes_in_again(self) -> None:
        self.browse(self.out_and_in)
        first, second = Mix.objects.of(self.kitchen).filter(name="Quince sorbet")
        same = [[(line.ingredient_id, line.grams, line.pinned) for line in mix.lines.all()] for mix in (first, second)]
        self.assertEqual(*same)
        self.assertEqual(second.lines.get(pinned=True).ingredient.slug, "sugar")

    def out_and_in(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        message = page.locator("[data-verdict]").inner_text()
        amount(page, "Table sugar").focus()
        page.keyboard.press("Alt+p")
        with page.expect_download() as download:
            self.save_as_file(page)
        self.assertEqual(download.value.suggested_filename, "quince-sorbet.jalebi.json")
        add_line(page, "dextrose")
        self.save_as_file(page)
        expect(page.get_by_role("alert")).to_contain_text("has no amount yet. Give it one or remove the line.")
        page.keyboard.press("Control+z")
        wait_until_saved(page)
        to_recipe(page)
        page.get_by_label("or from a file").set_input_files(download.value.path())
        expect(page.locator("[data-verdict]")).to_have_text(message)
        expect(page.get_by_text("pinned", exact=True)).to_be_visible()

    def save_as_file(self, page: Page) -> None:
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="Save as a mix file").click()

    def steep(self, page: Page) -> None:
        page.get_by_role("button", name="Change line Whole milk 3.5 %").click()
        page.get_by_role("menuitem", name="Look closer").click()
        page.get_by_role("button", name="Prepare it first").click()
        page.get_by_role("textbox", name="Name").fill("Tea milk")
        pick(page, "What else goes in?", "10 g black tea")
        expect(page.get_by_role("textbox", name="Amount of Black tea leaves")).to_have_value("10 g")
        page.get_by_role("checkbox", name="taken out again").last.check()
        page.get_by_role("button", name="Add a step").click()
        page.get_by_role("menuitem", name="Steep and take out").click()
        expect(page.get_by_text("The leaves, pressed, keep 15 g of 515 g.")).to_be_visible()
        page.get_by_role("button", name="Use it in the mix").click()
        expect(amount(page, "Tea milk")).to_have_value("500.1")
        wait_until_saved(page)

    def test_pasting_a_recipe_on_the_bench_opens_it_and_nonsense_is_told(self) -> None:
        self.browse(self.paste_on_bench)

    def paste_on_bench(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.get_by_role("combobox", name="Add from the shelf").evaluate(
            """field => {
                const clipboardData = new DataTransfer();
                clipboardData.setData("text", "100 g sugar\\n200 g water");
                field.dispatchEvent(new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }));
            }"""
        )
        expect(page.get_by_text("Every line is clear.")).to_be_visible()
        page.get_by_role("button", name="Paste another text").click()
        page.get_by_label("The recipe as you have it").fill("Once upon a time")
        page.get_by_role("button", name="Read it").click()
        expect(page.get_by_role("alert")).to_contain_text("No ingredient with an amount was found")
        expect(page.get_by_role("textbox")).to_have_value("Once upon a time")


class SwapTest(BrowserCase):
    """Restrictions mark, swaps mend."""

    def test_a_custard_without_egg_and_a_yolk_as_weighed_here(self) -> None:
        self.browse(self.swap_yolks)
        mix = Mix.objects.of(self.kitchen).get(name="Smoked tea custard")
        self.assertEqual(mix.restrictions, ["egg-free"])
        self.assertNotIn("egg-yolk", [line.ingredient.slug for line in mix.lines.select_related("ingredient")])
        self.assertEqual(
            Ingredient.objects.of(self.kitchen).get(slug="egg-yolk").to_composition().pieces, {"yolk": 18.4}
        )

    def swap_yolks(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Egg yolk").fill("4 yolks")
        page.get_by_role("button", name="For whom").click()
        page.get_by_role("menuitemcheckbox", name="egg-free").click()
        page.keyboard.press("Escape")
        expect(page.get_by_text("Egg yolk contains egg.")).to_be_visible()
        page.get_by_role("button", name="What could stand in?").click()
        page.get_by_role("dialog").get_by_role("textbox", name="yolk").fill("18,4")
        page.get_by_role("button", name="weighed so").click()
        expect(page.get_by_text("= 74 g, by yolk 18.4 g")).to_be_attached()
        page.get_by_role("button", name=re.compile("^Swap for")).first.click()
        expect(amount(page, "Egg yolk")).to_have_count(0)
        expect(page.get_by_text("contains egg.")).to_have_count(0)
        wait_until_saved(page)

    def test_mix_ins_stand_beside_the_mix(self) -> None:
        self.browse(self.fold_in)

    def fold_in(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        before = page.locator("[data-verdict]").inner_text()
        page.mouse.move(250, 430)  # a pointer that rests where the list will open chooses nothing
        add_line(page, "80 dark chocolate 70")
        expect(page.get_by_text("Not Dark chocolate 55 %")).to_be_visible()
        page.get_by_role("button", name="Change line Dark chocolate 70 %").click()
        page.get_by_role("menuitem", name="Folded in, beside the mix").click()
        expect(page.get_by_text("Its cocoa butter sets hard at −18 °C")).to_be_visible()
        self.assertEqual(page.locator("[data-verdict]").inner_text(), before)


class ShelfTest(BrowserCase):
    """The shelf as a place to work."""

    def test_an_own_cream_from_its_label_with_price_stock_and_version(self) -> None:
        self.browse(self.add_own)
        row = Ingredient.objects.of(self.kitchen).get(slug="farm-cream")
        self.assertEqual((row.price, row.version), (2.4, 2))
        self.assertAlmostEqual(row.to_composition().per_100g["milk_fat"], 30, delta=0.1)
        self.assertEqual(stock_by_slug(self.kitchen, timezone.localdate())[row.slug], 2000)

    def add_own(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("button", name="Own ingredient").click()
        page.get_by_role("textbox", name="Name").fill("Farm cream")
        pick(page, "What on the shelf is it most like?", "cream 30")
        for field, value in (
            ("Energy, kcal", "120"),
            ("Fat, g", "30"),
            ("Carbohydrate, g", "3,3"),
            ("– sugars, g", "3,3"),
        ):
            page.get_by_role("textbox", name=field).fill(value)
        expect(page.get_by_role("dialog")).to_contain_text("The label says 120 kcal, its parts give")
        page.get_by_role("textbox", name="Fat, g").fill("130")
        expect(page.get_by_role("alert")).to_contain_text("adds up to")
        page.get_by_role("textbox", name="Fat, g").fill("30")
        page.get_by_role("textbox", name="Energy, kcal").fill("284")
        page.get_by_role("combobox", name="How the milk or egg is sold").click()
        page.get_by_role("option", name="Pasteurised or cooked").click()
        page.get_by_role("button", name="Put it on the shelf").click()
        page.get_by_role("searchbox").fill("farm cream")
        page.get_by_text("Farm cream", exact=True).click()
        page.get_by_role("button", name="Price, names, weights…").click()
        page.get_by_role("textbox", name="Price").fill("2,40")
        page.get_by_role("textbox", name="for a pack of g").fill("500")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("4.80 € a kilo")).to_be_visible()
        page.get_by_role("button", name="Take in…").last.click()
        page.get_by_role("textbox", name="How much").fill("some")
        page.get_by_role("button", name="It is in the house").click()
        expect(page.get_by_role("alert")).to_contain_text("not an amount")
        page.get_by_role("textbox", name="How much").fill("2 kg")
        page.get_by_role("button", name="It is in the house").click()
        expect(page.get_by_role("region", name="In the house")).to_contain_text("Farm cream")

    def test_a_choice_waits_for_its_answer_when_the_field_is_left(self) -> None:
        self.browse(self.choose_before_the_answer)

    def choose_before_the_answer(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("button", name="Own ingredient").click()
        like = page.get_by_role("combobox", name="What on the shelf is it most like?")
        held: list[Route] = []
        page.route(re.compile("/typed-lines[?]"), lambda request: held.append(request))
        pick(page, "What on the shelf is it most like?", "cream 30")
        page.get_by_role("textbox", name="Fat, g").fill("30")
        expect(like).to_have_value("")
        for request in held:
            request.continue_()
        expect(like).to_have_value("Cream 30 %")

    def test_it_is_found_by_what_it_brings_and_whom_it_suits(self) -> None:
        self.browse(self.find)

    def find(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("searchbox").fill("")
        choose(page.get_by_label("What it brings"), "brings milk fat")
        expect(page.get_by_role("main").locator("summary").first).to_contain_text("Clarified butter")
        choose(page.get_by_label("Whom it suits"), "dairy-free")
        expect(page.get_by_text("Nothing on the shelf is like that.")).to_be_visible()
        choose(page.get_by_label("What it brings"), "bringing anything")
        page.get_by_role("searchbox").fill("cream")
        expect(page.get_by_role("main")).to_contain_text("Coconut cream 22 %")
        expect(page.locator("summary").filter(has_text="Cream 36 %")).to_have_count(0)

    def test_ingredients_come_in_from_a_file_after_a_look(self) -> None:
        self.browse(self.bring_in)
        self.assertTrue(Ingredient.objects.of(self.kitchen).filter(name="Lock syrup").exists())

    def bring_in(self, page: Page) -> None:
        to_shelf(page)
        page.get_by_role("button", name="Files of ingredients").click()
        page.get_by_role("menuitem", name="Import ingredients…").click()
        data = b"name;water;sucrose\nLock syrup;33,5;66,5\nHalf;10;10\n"
        file = FilePayload(name="ingredients.csv", mimeType="text/csv", buffer=data)
        page.get_by_label("The file").set_input_files(file)
        expect(page.get_by_role("dialog")).to_contain_text("1 new, 0 changed, 0 as they are, 1 that cannot be read.")
        expect(page.get_by_role("dialog")).to_contain_text("Row 3: “Half” does not close")
        page.get_by_role("button", name="Bring in the rows that can be read").click()
        expect(page.get_by_role("dialog")).to_contain_text("Done: 1 new")

    def test_a_restriction_of_the_kitchen_holds_for_every_mix(self) -> None:
        self.browse(self.restrict)
        self.kitchen.refresh_from_db()
        self.assertEqual((self.kitchen.restrictions, self.kitchen.currency), (["nut-free"], "kr"))

    def restrict(self, page: Page) -> None:
        page.get_by_role("link", name="Sluice No. 9").click()
        page.get_by_role("link", name="Whom it must suit").click()
        page.get_by_role("checkbox", name="nut-free", exact=True).check()
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        page.get_by_role("link", name="Units and region").click()
        page.get_by_role("textbox", name="Currency").fill("kr")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Kept.")).to_be_visible()
        to_mixes(page)
        open_mix(page, "Hazelnut without sugar")
        expect(page.get_by_text("Hazelnut paste, roasted contains nuts.")).to_be_visible()
        expect(page.get_by_text("kr a litre")).to_be_visible()
