"""What holds for a whole kitchen: its settings, its doses, its list of mixes, its notes, and its first two minutes."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from browser.browser_case import BrowserCase
from browser.pages import (
    amount,
    choose,
    open_mix,
    press_option,
    sign_in,
    to_mixes,
    to_people,
    to_station,
    wait_until_saved,
)
from demo.kitchen import PERSON
from ingredients.models import Ingredient as IngredientRow
from kitchens.models import Machine
from mixes.models import Mix, Note


class KitchenTest(BrowserCase):
    """Settings by hand."""

    def test_a_kitchen_sets_its_cabinet_its_scale_and_what_may_come_in(self) -> None:
        self.browse(self.set_kitchen)
        self.kitchen.refresh_from_db()
        self.assertEqual((self.kitchen.cabinet_c, self.kitchen.scale_g), (-12.5, 0.1))
        self.assertEqual(self.kitchen.may_come_in, ["fructose"])

    def test_the_licences_of_fonts_and_packages_ship(self) -> None:
        self.browse(self.read_licences)

    def read_licences(self, page: Page) -> None:
        page.get_by_role("link", name="Sluice No. 9").click()
        page.get_by_role("link", name="Licences of fonts and packages").click()
        expect(page.locator("body")).to_contain_text("SIL OPEN FONT LICENSE")

    def set_kitchen(self, page: Page) -> None:
        page.get_by_role("link", name="Sluice No. 9").click()
        cabinet = page.get_by_label("Serving cabinet, °C")
        cabinet.fill("5")
        self.keep(page)
        expect(page.get_by_role("alert")).to_contain_text("At most 0 °C.")
        cabinet.fill("-12,5")
        self.keep(page)
        expect(page.get_by_text("Kept.")).to_be_visible()
        page.get_by_role("link", name="Scales and losses").click()
        page.get_by_label("What the scale shows, g").fill("0,1")
        self.keep(page)
        expect(page.get_by_text("Kept.")).to_be_visible()
        page.get_by_role("link", name="What Balance may bring in").click()
        page.get_by_role("combobox", name="Ingredients that may come in").fill("fructose")
        page.locator("[role=listbox][aria-busy=false] [role=option]").first.wait_for()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Not Fructose")).to_be_visible()
        self.keep(page)
        expect(page.get_by_text("Kept.")).to_be_visible()
        to_mixes(page)
        open_mix(page, "Quince sorbet")
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("In the cabinet at −12.5 °C")

    def keep(self, page: Page) -> None:
        page.get_by_role("button", name="Keep this").click()

    def test_somebody_new_signs_in_until_they_work_here_no_more(self) -> None:
        self.browse(self.let_in)
        self.assertEqual([person.name for person in self.kitchen.people.filter(is_active=True)], [PERSON])

    def let_in(self, page: Page) -> None:
        to_people(page)
        name = page.get_by_label("Somebody new")
        name.fill(PERSON)
        page.get_by_role("button", name="Let them in").click()
        expect(page.get_by_role("alert")).to_be_visible()
        name.fill("Brina")
        page.get_by_role("button", name="Let them in").click()
        password = page.get_by_role("status").locator("code").inner_text()
        assert page.context.browser is not None
        elsewhere = page.context.browser.new_context(reduced_motion="reduce")
        theirs = elsewhere.new_page()
        sign_in(theirs, self.live_server_url, "Brina", password)
        to_people(theirs)
        expect(theirs.get_by_role("listitem").filter(has_text="that is you")).to_contain_text("Brina")
        page.get_by_role("button", name="Brina works here no more").click()
        expect(page.get_by_text("Brina", exact=True)).to_have_count(0)
        theirs.reload()
        expect(theirs.get_by_label("Password")).to_be_visible()
        elsewhere.close()

    def test_the_first_two_minutes_in_an_empty_kitchen(self) -> None:
        Mix.objects.of(self.kitchen).update(put_away=True)
        Machine.objects.of(self.kitchen).delete()
        self.browse(self.begin)
        mix = Mix.objects.of(self.kitchen).get(name="Lemon balm gelato")
        self.assertEqual((mix.machine.name if mix.machine else None, mix.revisions.count()), ("canister bowl", 1))

    def begin(self, page: Page) -> None:
        page.reload()
        expect(page.get_by_role("button", name="Open the demo kitchen’s mixes")).to_be_visible()
        page.get_by_role("button", name="Start from a style").click()
        page.get_by_role("textbox", name="Name").fill("Lemon balm gelato")
        choose(page.get_by_role("dialog").get_by_label("Style"), "gelato")
        page.get_by_role("button", name="Start this mix").click()
        steps = page.get_by_role("region", name="First steps")
        expect(steps.get_by_label("done")).to_have_count(2)
        press_option(page.get_by_role("combobox", name="Machine"), "machines of this kitchen…")
        page.get_by_role("button", name="Add this machine").click()
        expect(page.get_by_role("dialog")).to_contain_text("canister bowl, 1.5 L")
        page.keyboard.press("Escape")
        expect(page.locator("[data-fill]")).to_contain_text("with air")
        steps.get_by_role("button", name="Keep it").click()
        page.keyboard.type("As begun")
        page.keyboard.press("Enter")
        page.keyboard.press("Escape")
        expect(steps).to_contain_text("That is the whole way round.")
        steps.get_by_role("button", name="Put the first steps away").click()
        expect(steps).to_have_count(0)
        wait_until_saved(page)

    def test_mixes_are_found_starred_tagged_and_archived(self) -> None:
        self.browse(self.keep_order)
        quince = Mix.objects.of(self.kitchen).get(name="Quince sorbet")
        self.assertEqual((quince.starred, quince.tags), (True, ["autumn", "guests", "tree"]))
        self.assertTrue(Mix.objects.of(self.kitchen).get(name="Oat and date").put_away)

    def keep_order(self, page: Page) -> None:
        page.get_by_role("searchbox").fill("fruit")
        expect(page.get_by_role("listitem").filter(has=page.get_by_role("heading"))).to_have_count(2)
        page.get_by_role("searchbox").fill("quince")
        expect(page.get_by_text("1 mix", exact=True)).to_be_visible()
        page.get_by_role("button", name="Star Quince sorbet").click()
        page.get_by_role("button", name="More about Quince sorbet").click()
        page.get_by_role("menuitem", name="Tags").click()
        page.get_by_role("textbox", name="Tags").fill("Tree, autumn,, guests")
        page.get_by_role("button", name="Keep these tags").click()
        expect(page.get_by_text("autumn, guests, tree")).to_be_visible()
        page.get_by_role("searchbox").fill("")
        page.get_by_role("button", name="starred", exact=True).click()
        expect(page.get_by_text("2 mixes")).to_be_visible()
        page.get_by_role("button", name="starred", exact=True).click()
        page.get_by_role("button", name="More about Oat and date").click()
        page.get_by_role("menuitem", name="Put it into the archive").click()
        expect(page.get_by_role("heading", name="Oat and date")).to_have_count(0)
        page.get_by_role("button", name="archive", exact=True).click()
        expect(page.get_by_role("heading", name="Oat and date")).to_be_visible()
        page.get_by_role("searchbox").fill("nothing like it")
        page.get_by_role("button", name="Show all of them").click()
        expect(page.get_by_text("7 mixes")).to_be_visible()

    def test_notes_are_written_beside_a_mix_and_found_again(self) -> None:
        self.browse(self.write_notes)
        note = Note.objects.of(self.kitchen).select_related("ingredient").get(text="Peel it last.")
        self.assertEqual(note.ingredient.slug if note.ingredient else None, "quince-puree")

    def write_notes(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.get_by_role("link", name="Mixes").focus()
        page.keyboard.press("n")
        page.keyboard.type("Peel it last.")
        choose(page.get_by_role("combobox", name="About"), "Quince puree, cooked, wherever it goes in")
        page.get_by_role("textbox", name="New note").press("Control+Enter")
        strip = page.get_by_role("complementary", name="Our notes")
        expect(strip.get_by_role("listitem").first).to_contain_text("Peel it last.Quince puree, cooked,")
        strip.get_by_role("button", name="Remove the note “Colour is best").click()
        expect(strip.get_by_text("Colour is best")).to_have_count(0)
        page.keyboard.press("Escape")
        expect(strip).to_have_count(0)

    def test_the_table_is_sorted_and_copied_into_a_spreadsheet(self) -> None:
        copied = self.browse(self.copy_table)
        rows = [line.split("\t") for line in copied.splitlines()]
        self.assertEqual(rows[0][:3], ["Line", "Weight, g", "Share, %"])
        self.assertEqual([row[0] for row in rows[1:3]], ["Smoked tea milk", "Cream 36 %"])
        self.assertEqual(rows[-1][:2], ["The mix", "1000"])
        self.assertAlmostEqual(sum(float(row[1]) for row in rows[1:-1]), 1000)

    def copy_table(self, page: Page) -> str:
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        to_mixes(page)
        open_mix(page, "Smoked tea custard")
        page.get_by_role("button", name="table", exact=True).click()
        page.get_by_role("button", name="Fat, g").click()
        expect(page.get_by_role("columnheader", name="Fat, g")).to_have_attribute("aria-sort", "descending")
        page.get_by_role("button", name="Weight, g").click()
        page.get_by_role("button", name="Copy").click()
        expect(page.get_by_text("Copied: paste it into a spreadsheet.")).to_be_visible()
        page.emulate_media(media="print")
        expect(page.locator("[data-sheet]")).to_contain_text("The table")
        expect(page.get_by_role("dialog")).to_be_hidden()
        page.emulate_media(media="screen")
        text: str = page.evaluate("navigator.clipboard.readText()")
        return text

    def test_amounts_are_read_in_per_cent_per_kg_and_cups(self) -> None:
        self.browse(self.change_view)

    def change_view(self, page: Page) -> None:
        to_mixes(page)
        open_mix(page, "Smoked tea custard")
        for name, sugar in (("per cent", "11.3 %"), ("per kg", "113 g"), ("cups", "½ cup + ½ tbsp")):
            page.get_by_role("radio", name=name, exact=True).click()
            expect(amount(page, "Table sugar")).to_have_value(sugar)
        amount(page, "Table sugar").focus()
        expect(amount(page, "Table sugar")).to_have_value("113")
        page.keyboard.press("Tab")
        expect(amount(page, "Egg yolk")).to_have_value("4¼ yolks")
        page.reload()
        expect(amount(page, "Egg yolk")).to_have_value("4¼ yolks")

    def test_a_kitchen_sets_the_ladder_of_a_flavour(self) -> None:
        self.browse(self.set_ladder)
        facts = IngredientRow.objects.of(self.kitchen).get(slug="matcha").facts
        self.assertEqual(facts["strength_g_kg"], [5, 12.5])

    def set_ladder(self, page: Page) -> None:
        to_station(page, "Shelf")
        page.get_by_role("searchbox").fill("matcha")
        page.get_by_text("Matcha", exact=True).first.click()
        expect(page.get_by_text("Flavours a mix at 8–25 g per kg")).to_be_visible()
        page.get_by_role("button", name="Price, names, weights").click()
        page.get_by_label("Weakest dose").fill("30")
        page.get_by_label("Strongest dose").fill("12,5")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_role("alert")).to_contain_text("the weakest dose must be below the strongest")
        page.get_by_label("Weakest dose").fill("5")
        page.get_by_role("button", name="Keep this").click()
        expect(page.get_by_text("Flavours a mix at 5–12.5 g per kg")).to_be_visible()
