"""What is in the house: a delivery taken in, used in a batch, counted, traced, priced, and said on a label."""

from __future__ import annotations

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import FilePayload, Page, expect

from batches.models import Tub
from browser.browser_case import BrowserCase
from browser.pages import open_mix, pick, to_costs, to_house, to_label, to_mixes
from ingredients.models import Ingredient, Price
from mixes.models import Mix
from stock.models import Lot, Movement, stock_by_slug

CREAM = "cream-36"


class StockTest(BrowserCase):
    """From the back door to the tub."""

    def cream_g(self) -> float:
        return stock_by_slug(self.kitchen, timezone.localdate())[CREAM]

    def test_a_delivery_with_two_lots_is_used_in_a_batch_and_traced_to_its_tubs(self) -> None:
        before = self.cream_g()
        self.browse(self.deliver)
        self.assertAlmostEqual(self.cream_g() - before, 3000, delta=30)
        self.browse(self.use_in_batch)
        self.assertAlmostEqual(before + 3000 - self.cream_g(), 236, delta=30)
        tub = Tub.objects.of(self.kitchen).get(state=Tub.State.SOLD, batch__number__gt=1)
        self.assertEqual(tub.events.get(kind="sold").to, "Café at the weir")
        self.browse(self.trace)

    def deliver(self, page: Page) -> None:
        to_house(page)
        day = timezone.localdate()
        rows = [
            "ingredient,amount,supplier,lot,use by,price",
            f"Cream 36 %,1 kg,Lockside Dairy,A 1,{day + timedelta(days=1)},6.20",
            f"Cream 36 %,2 kg,Lockside Dairy,A 2,{day + timedelta(days=9)},soon",
        ]
        page.get_by_role("button", name="Delivery list…").click()
        dialog = page.get_by_role("dialog", name="Delivery list")
        field = dialog.get_by_label("The list")
        field.set_input_files(listed(rows))
        expect(dialog).to_contain_text("the price is “soon”", ignore_case=True)
        expect(dialog.get_by_role("button", name="Take all of it in")).to_be_disabled()
        rows[2] = rows[2].replace("soon", "12.40")
        field.set_input_files(listed(rows))
        dialog.get_by_role("button", name="Take all of it in").click()
        expect(dialog).to_contain_text("Taken in: 2 lots")
        dialog.get_by_role("button", name="Good").click()
        expect(page.get_by_role("region", name="In the house")).to_contain_text("A 1")

    def use_in_batch(self, page: Page) -> None:
        to_mixes(page)
        open_mix(page, "Smoked tea custard")
        page.get_by_role("button", name="Make it M").click()
        page.get_by_role("region", name="What now").wait_for()
        page.get_by_role("link", name="Sheet", exact=True).click()
        page.get_by_role("heading", name="Which lots went in?").wait_for()
        first = page.get_by_role("textbox", name="Cream 36 % from A 1, g").first
        expect(first).to_have_value("118")
        page.get_by_role("button", name="These went in").click()
        expect(page.get_by_role("region", name="Which lots went in?")).to_contain_text("118 g of lot A 1")
        form = page.get_by_role("form", name="Fill tubs")
        form.get_by_label("Tubs").fill("2")
        form.get_by_role("button", name="These tubs are filled").click()
        tubs = page.get_by_role("region", name="Tubs")
        expect(tubs.get_by_role("listitem")).to_have_count(2)
        tubs.get_by_role("button", name=re.compile("^What happened to L")).first.click()
        page.get_by_role("menuitem", name="Sold…").click()
        tubs.get_by_label("Sold to").fill("Café at the weir")
        tubs.get_by_role("button", name="Note it").click()
        expect(tubs).to_contain_text("sold, to Café at the weir")
        tubs.get_by_role("button", name="What is in them?").click()
        expect(tubs).to_contain_text("236 g Cream 36 % lot A 1")

    def trace(self, page: Page) -> None:
        to_house(page)
        house = page.get_by_role("region", name="In the house")
        house.get_by_role("listitem").filter(has_text="A 1").get_by_role("button", name="Cream 36 %").click()
        page.get_by_role("button", name="Where did it go?").click()
        trace = page.get_by_role("region", name="Where it went")
        expect(trace).to_contain_text("sold to Café at the weir")
        expect(trace).to_contain_text("the masses agree")

    def test_a_count_is_set_right_and_the_wrong_one_stays_to_be_seen(self) -> None:
        self.browse(self.count)
        lot = Lot.objects.of(self.kitchen).get(code="R 0417")
        counted = Movement.Kind.COUNTED
        self.assertEqual([one.counted_g for one in lot.movements.filter(kind=counted)], [950, 970])

    def count(self, page: Page) -> None:
        to_house(page)
        page.get_by_role("button", name="Take stock…").click()
        page.get_by_role("textbox", name="Cream 36 %, R 0417: there is").fill("950 g")
        page.get_by_role("button", name="Note the count").click()
        house = page.get_by_role("region", name="In the house")
        row = house.get_by_role("listitem").filter(has_text="R 0417")
        expect(row).to_contain_text("950 g")
        row.get_by_role("button", name="Cream 36 %").click()
        history = page.get_by_role("region", name="What happened")
        history.get_by_role("button", name="set right").last.click()
        form = page.get_by_role("form", name="Set it right")
        form.get_by_label("It was", exact=True).fill("2 kg more")
        form.get_by_label("Why it was wrong").fill("the lid was on the scale")
        form.get_by_role("button", name="Set right").click()
        expect(form.get_by_role("alert")).to_be_visible()
        form.get_by_label("It was", exact=True).fill("970 g")
        form.get_by_role("button", name="Set right").click()
        expect(history).to_contain_text("set right: counted 970 g")

    def test_a_price_shows_what_it_moves_before_it_counts(self) -> None:
        self.browse(self.raise_price)
        cream = Ingredient.objects.of(self.kitchen).get(slug=CREAM)
        self.assertEqual(cream.price, 8)
        self.assertEqual(Price.objects.of(self.kitchen).get(ingredient=cream).supplier, "Lockside Dairy")

    def raise_price(self, page: Page) -> None:
        to_house(page)
        page.get_by_role("button", name="Take in…").first.click()
        dialog = page.get_by_role("dialog")
        pick(page, "What came", "cream 36")
        dialog.get_by_label("How much").fill("1 kg")
        dialog.get_by_label("From").fill("Lockside Dairy")
        dialog.get_by_label("Price of it all").fill("8,00")
        dialog.get_by_role("button", name="It is in the house").click()
        expect(dialog).to_contain_text("8.00 € a kilo")
        expect(dialog.get_by_role("row", name=re.compile("Smoked tea custard"))).to_contain_text("+")
        dialog.get_by_role("button", name="Reckon with it from now on").click()
        expect(dialog).to_have_count(0)
        to_costs(page)
        costs = page.get_by_role("dialog", name="What it costs")
        costs.get_by_role("button", name="Cream 36 %").first.click()
        expect(costs).to_contain_text("Cream 36 %: +")
        costs.get_by_label("Minutes").fill("30")
        costs.get_by_label("€ an hour").fill("2o")
        expect(costs.get_by_role("alert")).to_be_visible()
        costs.get_by_label("€ an hour").fill("20")
        expect(costs).to_contain_text("the batch of")

    def test_a_label_is_printed_once_somebody_has_read_the_pack(self) -> None:
        chocolate = Ingredient.objects.of(self.kitchen).get(slug="dark-chocolate-70")
        mix = Mix.objects.of(self.kitchen).get(name="Smoked tea custard")
        mix.lines.filter(ingredient__slug="honey").update(ingredient=chocolate)
        self.browse(self.label)
        chocolate.refresh_from_db()
        self.assertEqual((chocolate.pack_read or {})["by"], "keeper")

    def label(self, page: Page) -> None:
        to_label(page)
        dialog = page.get_by_role("dialog", name="Draft of the label")
        expect(dialog).to_contain_text("Dark chocolate 70 % may hold milk or nuts")
        expect(dialog.get_by_role("button", name="Not printed before")).to_be_disabled()
        dialog.get_by_role("button", name="I have read the pack").click()
        expect(dialog.get_by_role("button", name="Print the draft")).to_be_enabled()
        dialog.get_by_text("Named or pictured").click()
        dialog.get_by_role("checkbox", name="black tea").check()
        expect(dialog).to_contain_text("black tea (1%)")
        page.emulate_media(media="print")
        printed = page.locator("article")
        expect(printed).to_contain_text("Draft: check it with your food authority")
        expect(printed).to_contain_text("black tea (1%)")
        expect(page.locator("#root")).to_be_hidden()
        page.emulate_media(media="screen")

    def test_a_glut_is_split_as_somebody_wants(self) -> None:
        self.browse(self.split)

    def split(self, page: Page) -> None:
        to_house(page)
        house = page.get_by_role("region", name="In the house")
        house.get_by_role("listitem").filter(has_text="Quince puree").get_by_role("button", name="Use it up…").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("All of it has a place.")
        dialog.get_by_role("region", name="Put up").get_by_label("Quince jam, g").fill("100")
        expect(dialog).to_contain_text("is left over")
        expect(dialog.get_by_role("region", name="Put up")).to_contain_text("keeps 120 days")
        page.keyboard.press("Escape")


def listed(rows: list[str]) -> FilePayload:
    return {"name": "list.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}
