"""Working on a mix: typing, keyboard and dragging, how it eats and the freezer."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, Route, expect

from browser.browser_case import BrowserCase
from browser.pages import add_line, amount, choose, open_mix, take_first, verdict, wait_until_saved
from mixes.models import Mix


class TypingTest(BrowserCase):
    """Amounts and lines."""

    def lines(self, name: str) -> list[tuple[str, float | None, str | None]]:
        mix = Mix.objects.of(self.kitchen).get(name=name)
        return [(line.ingredient.slug, line.grams, line.stage) for line in mix.lines.select_related("ingredient")]

    def test_a_new_mix_with_the_keyboard_alone(self) -> None:
        self.browse(self.new_mix_by_keyboard)
        self.assertEqual(
            self.lines("Milk ice"),
            [("whole-milk", 600, "pot"), ("sugar", 120, "pot"), ("cream-36", 250, "pot"), ("salt", 1.5, "pot")],
        )

    def new_mix_by_keyboard(self, page: Page) -> None:
        page.get_by_role("button", name="New mix").focus()
        page.keyboard.press("Enter")
        page.keyboard.type("Milk ice")
        page.keyboard.press("Enter")
        page.get_by_role("textbox", name="Name of the mix").wait_for()
        page.keyboard.press("/")
        for typed in ("600 whole milk", "120 g caster", "¼ kg cream 36"):
            page.keyboard.type(typed)
            take_first(page)
        page.keyboard.type("sea salt")
        take_first(page)
        page.keyboard.type("1,5")
        expect(page.locator("[data-verdict]")).to_contain_text("Scoops at")
        expect(page.get_by_text("= 250 g")).to_be_visible()
        page.keyboard.press("ArrowUp")
        page.keyboard.press("Alt+ArrowUp")
        expect(amount(page, "Cream 36 %")).to_have_value("251")
        page.keyboard.press("Control+z")
        expect(amount(page, "Cream 36 %")).to_have_value("¼ kg")
        wait_until_saved(page)

    def test_yolks_and_cups_are_typed_as_in_a_recipe(self) -> None:
        self.browse(self.type_a_recipe)
        grams = {slug: weight for slug, weight, _ in self.lines("Quince sorbet")}
        self.assertAlmostEqual(grams["egg-yolk"] or 0, 68)
        self.assertAlmostEqual(grams["cream-36"] or 0, 125 * 0.998, delta=2)
        self.assertAlmostEqual(grams["butter"] or 0, 56.7, delta=0.1)
        self.assertAlmostEqual(grams["lemon-juice"] or 0, 45)

    def type_a_recipe(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        for typed in ("4 yolks", "½ cup cream 36", "2 ounces butter", "juice of 1 lemon"):
            add_line(page, typed)
        expect(page.get_by_text("= 68 g, by yolk 17 g")).to_be_visible()
        expect(page.get_by_text("cup of 250 ml")).to_be_visible()
        expect(page.get_by_text("Contains milk and egg.")).to_be_visible()
        wait_until_saved(page)

    def test_edits_are_there_after_an_immediate_reload(self) -> None:
        self.browse(self.edit_and_reload)
        self.assertIn(("sugar", 42.5242846875, "pot"), self.lines("Smoked tea custard"))
        self.assertIn(("honey", 25, "off-heat"), self.lines("Smoked tea custard"))

    def edit_and_reload(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Table sugar").fill("1 1/2 oz")
        page.reload()
        expect(amount(page, "Table sugar")).to_have_value("1 1/2 oz")
        amount(page, "Honey").fill("25")
        wait_until_saved(page)
        expect(page.get_by_role("alert")).to_have_count(0)

    def test_what_is_typed_at_once_when_a_field_is_reached_is_all_there(self) -> None:
        self.browse(self.type_at_once)
        self.assertIn(("sugar", 90, "pot"), self.lines("Smoked tea custard"))

    def type_at_once(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Table sugar").evaluate(
            """async (field) => {
                field.focus();
                await null;
                document.execCommand("insertText", false, "9");
                for (let frame = 0; frame < 3; frame++) await new Promise(requestAnimationFrame);
                document.execCommand("insertText", false, "0");
            }"""
        )
        expect(amount(page, "Table sugar")).to_have_value("90")
        amount(page, "Honey").click()
        page.keyboard.type("31")
        expect(amount(page, "Honey")).to_have_value("31")
        amount(page, "Honey").click()
        page.keyboard.press("End")
        page.keyboard.type(",5")
        expect(amount(page, "Honey")).to_have_value("31,5")
        wait_until_saved(page)

    def test_lines_are_typed_faster_than_the_shelf_answers(self) -> None:
        self.browse(self.type_ahead)
        self.assertEqual(
            self.lines("Smoked tea custard")[-3:],
            [("salt", 1, "off-heat"), ("maple-syrup", 30, "off-heat"), ("cinnamon", 2, "off-heat")],
        )

    def type_ahead(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        held: list[Route] = []
        page.route(re.compile("/typed-lines[?]"), lambda request: held.append(request))
        page.keyboard.press("/")
        for typed in ("30 maple syrup", "2 cinnamon"):
            page.keyboard.type(typed)
            page.keyboard.press("Enter")
            expect(page.get_by_role("combobox", name="Add from the shelf")).to_have_value("")
        page.keyboard.type("1 moon dust")
        page.keyboard.press("Enter")
        page.keyboard.type("5 hon")
        page.unroute(re.compile("/typed-lines[?]"))
        expect(page.get_by_text("“1 moon dust” was not put in: it is not on the shelf.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(amount(page, "Maple syrup")).to_have_value("30")
        expect(amount(page, "Cinnamon, ground")).to_have_value("2")
        page.keyboard.type("1 unobtainium")
        page.keyboard.press("Enter")
        expect(page.get_by_role("combobox", name="Add from the shelf")).to_have_value("1 unobtainium")
        expect(page.get_by_text("Nothing on the shelf is called “unobtainium”")).to_be_visible()
        page.keyboard.press("Escape")
        page.route(re.compile("/typed-lines[?]"), lambda request: request.abort())
        page.keyboard.type("3 nutmeg")
        page.keyboard.press("Enter")
        expect(page.get_by_text("“3 nutmeg” was not put in: the shelf did not answer.")).to_be_visible()
        expect(page.get_by_text("Nothing on the shelf is called")).to_have_count(0)
        expect(page.get_by_role("combobox", name="Add from the shelf")).to_have_value("3 nutmeg")
        page.unroute(re.compile("/typed-lines[?]"))
        wait_until_saved(page)

    def test_lines_move_between_stages_and_go_and_come_back(self) -> None:
        self.browse(self.move_lines)
        slugs = [(slug, stage) for slug, _, stage in self.lines("Smoked tea custard")]
        self.assertNotIn("salt", [slug for slug, _ in slugs])
        self.assertIn(("honey", "cold"), slugs)
        pot = [slug for slug, stage in slugs if stage == "pot"]
        self.assertLess(pot.index("dextrose"), pot.index("sugar"))
        self.assertEqual([stage for slug, stage in slugs if slug == "cream-36"], ["pot", "off-heat"])

    def move_lines(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        page.get_by_role("button", name="Change line Honey").click()
        page.get_by_role("menuitem", name="Stirred in cold").click()
        expect(page.get_by_role("group", name="Stirred in cold")).to_contain_text("Honey")
        page.get_by_role("button", name="Change line Dextrose, monohydrate").click()
        page.get_by_role("menuitem", name="Move up").click()
        for _ in range(2):
            page.get_by_role("button", name="Change line Sea salt").click()
            page.get_by_role("menuitem", name="Remove this line").click()
            expect(amount(page, "Sea salt")).to_have_count(0)
            page.keyboard.press("Control+z")
            expect(amount(page, "Sea salt")).to_have_count(1)
        page.keyboard.press("Control+Shift+z")
        expect(amount(page, "Sea salt")).to_have_count(0)
        wait_until_saved(page)

    def test_amounts_that_cannot_be_meant_are_said_and_lose_nothing(self) -> None:
        self.browse(self.type_nonsense)
        self.assertIn(("sugar", 113, "pot"), self.lines("Smoked tea custard"))

    def type_nonsense(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        before = verdict(page)
        for typed in ("-3", "1e9", "1,000", "12 g g"):
            amount(page, "Table sugar").fill("113")
            amount(page, "Table sugar").fill(typed)
            error = page.get_by_text("Until then it counts as 113 g.")
            expect(error).to_contain_text("Table sugar: ")
            self.assertEqual(verdict(page), before)
        wait_until_saved(page)
        page.reload()
        expect(amount(page, "Table sugar")).to_have_value("12 g g")
        expect(page.get_by_text("Until then it counts as 113 g.")).to_be_visible()

    def test_a_copy_is_worked_on_alone(self) -> None:
        self.browse(self.copy_mix)
        self.assertEqual(self.lines("Quince sorbet")[1], ("sugar", 145, "pot"))
        self.assertEqual(self.lines("Quince sorbet 2")[1], ("sugar", 100, "pot"))

    def copy_mix(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="Copy this mix").click()
        page.get_by_role("button", name="Make the copy").click()
        expect(page.get_by_role("textbox", name="Name of the mix")).to_have_value("Quince sorbet 2")
        amount(page, "Table sugar").fill("100")
        wait_until_saved(page)


class EatingTest(BrowserCase):
    """How it eats, why, and what would help."""

    def test_a_fault_is_named_with_its_reason_and_mended_with_one_press(self) -> None:
        self.browse(self.mend)
        gum = Mix.objects.of(self.kitchen).get(name="Quince sorbet").lines.get(ingredient__slug="pectin")
        self.assertGreater(gum.grams or 0, 3)

    def mend(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        page.get_by_role("button", name="Iciness a little icy").click()
        eats = page.get_by_role("region", name="How it eats")
        expect(eats).to_contain_text("gum holds back 19 % of its growth")
        page.get_by_text("Why", exact=True).click()
        expect(eats).to_contain_text("rule assessment.outcomes.ungoverned_ice_g")
        page.get_by_role("button", name=re.compile("^Try: .*more pectin")).first.click()
        expect(page.get_by_role("button", name="Iciness smooth", exact=True)).to_be_visible()
        expect(amount(page, "Water")).not_to_have_value("216")
        page.keyboard.press("Control+z")
        expect(amount(page, "Water")).to_have_value("216")
        page.keyboard.press("Control+Shift+z")
        wait_until_saved(page)

    def test_the_rule_behind_a_label_is_two_steps_away(self) -> None:
        self.kitchen.region = "us"
        self.kitchen.save()
        self.browse(self.ask_why)

    def ask_why(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        verdict_panel = page.get_by_role("region", name="Verdict")
        for name, rule in (
            ("Scoops at", "physics.firmness.scooping_frozen_pct"),
            ("Kept and served", "assessment.serving_conditions.serving_conditions_of"),
            ("Cost", "production.cost.cost_of"),
            ("Fill", "production.machines.fill_of"),
        ):
            self.rule_behind(page, verdict_panel.get_by_role("button", name=f"why {name}"), name, rule)
        eats = page.get_by_role("region", name="How it eats")
        eats.get_by_text("Why", exact=True).click()
        for name, rule in (
            ("Firmness", "physics.firmness.firmness"),
            ("Sand", "assessment.outcomes.per_100g_water"),
        ):
            eats.get_by_role("button", name=name).first.click()
            self.rule_behind(page, eats.get_by_role("button", name=f"why {name}"), name, rule)
        page.get_by_role("button", name="the figures behind it").click()
        figures = page.get_by_role("dialog", name="The figures behind it")
        for name, rule in (
            ("Dose", "assessment.gums.gums_of"),
            ("Protected names", "regulation.identity_standards.identity_standards_of"),
        ):
            self.rule_behind(page, figures.get_by_role("button", name=f"why {name}"), name, rule)

    def rule_behind(self, page: Page, why: Locator, name: str, rule: str) -> None:
        why.click()
        expect(page.get_by_role("dialog", name=name, exact=True)).to_contain_text(f"Function {rule}")
        page.keyboard.press("Escape")

    def test_every_figure_says_why_and_takes_an_aim(self) -> None:
        self.browse(self.look_closer)
        mix = Mix.objects.of(self.kitchen).get(name="Smoked tea custard")
        self.assertEqual(mix.aims, {"fat": [14.5, 16]})
        self.kitchen.refresh_from_db()
        self.assertEqual(self.kitchen.aims, {"frozen-custard": {"msnf": [6, 8]}})

    def look_closer(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        page.get_by_role("button", name="the figures behind it").click()
        figures = page.get_by_role("dialog", name="The figures behind it")
        figures.get_by_role("button", name="why MSNF").click()
        expect(figures).to_contain_text("Function model.composition.msnf.")
        expect(figures).to_contain_text("adding-up school")
        expect(figures).to_contain_text("Guar gum and locust bean gum help each other")
        figures.get_by_role("button", name="set aim of Fat").click()
        figures.get_by_label("from", exact=True).fill("16")
        figures.get_by_label("to", exact=True).fill("14,5")
        expect(figures.get_by_role("status")).to_contain_text("turn the two round")
        expect(figures.get_by_role("button", name="For this mix")).to_be_disabled()
        figures.get_by_label("from", exact=True).fill("14,5")
        figures.get_by_label("to", exact=True).fill("16")
        figures.get_by_role("button", name="For this mix").click()
        expect(figures).to_contain_text("aim 14.5–16.0")
        figures.get_by_role("button", name="set aim of MSNF").click()
        figures.get_by_label("from", exact=True).fill("6")
        figures.get_by_label("to", exact=True).fill("8")
        figures.get_by_role("button", name="For every frozen custard here").click()
        expect(figures).to_contain_text("our aim 6–8")
        page.keyboard.press("Escape")
        page.get_by_role("button", name=re.compile("^Richness")).click()
        expect(page.get_by_role("region", name="How it eats")).to_contain_text("The aim is 14.5 to 16")
        wait_until_saved(page)

    def test_a_line_lights_its_share_and_says_how_well_it_must_be_weighed(self) -> None:
        self.browse(self.point_at_lines)

    def point_at_lines(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        amount(page, "Table sugar").focus()
        expect(page.locator("[data-tolerance]")).to_contain_text("Table sugar: 11.3 % of the mix.")
        expect(page.get_by_role("region", name="Going cold")).to_contain_text("of what keeps it liquid")
        expect(page.locator("[data-tolerance]")).to_contain_text(
            re.compile(r"Weigh to ± [\d.]+\sg. Off by [\d.]+\sg alone, it gets ")
        )
        expect(page.get_by_role("button", name="Sweetness")).to_contain_text("70 %")
        page.get_by_text("Honey", exact=True).hover()
        expect(page.locator("[data-tolerance]")).to_contain_text("Honey: 2.4 % of the mix.")

    def test_a_mix_begins_from_style_and_school_and_is_compared_with_its_revision(self) -> None:
        self.browse(self.begin_and_compare)
        mix = Mix.objects.of(self.kitchen).get(name="Plain gelato")
        self.assertAlmostEqual(sum(line.grams or 0 for line in mix.lines.all()), 1500, delta=60)

    def begin_and_compare(self, page: Page) -> None:
        page.get_by_role("button", name="New mix").click()
        page.get_by_role("textbox", name="Name").fill("Plain gelato")
        choose(page.get_by_role("dialog").get_by_label("Style"), "gelato")
        choose(page.get_by_label("Begin with"), "Starch-set")
        page.get_by_label("Batch, g").fill("1500")
        page.get_by_role("button", name="Start this mix").click()
        expect(page.locator("[data-verdict]")).to_contain_text("freezer")
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="Revisions").click()
        page.get_by_label("Name of this point").fill("As begun")
        page.get_by_role("button", name="Keep this revision").click()
        expect(page.get_by_role("dialog").get_by_text("As begun")).to_be_visible()
        page.keyboard.press("Escape")
        amount(page, "Table sugar").fill("150")
        page.get_by_role("button", name="Compare on the chart").click()
        page.get_by_role("menuitemcheckbox", name="Revision 1, As begun").click()
        page.get_by_role("menuitemcheckbox", name="sucrose equivalents").click()
        page.keyboard.press("Escape")
        expect(page.get_by_role("region", name="Going cold")).to_contain_text("Dotted, by sucrose equivalents.")
        page.get_by_role("button", name="More about this mix").click()
        page.get_by_role("menuitem", name="Revisions").click()
        page.get_by_role("button", name="1 As begun").click()
        expect(page.get_by_role("dialog")).to_contain_text("Table sugar −52 g → ")
        page.get_by_role("button", name="Go back to 1").click()
        expect(amount(page, "Table sugar")).to_have_value("202")
        page.keyboard.press("Control+z")
        expect(amount(page, "Table sugar")).to_have_value("150")
        wait_until_saved(page)

    def test_what_would_help_is_tried_and_undone_at_once(self) -> None:
        self.browse(self.mend_firmness)

    def mend_firmness(self, page: Page) -> None:
        open_mix(page, "Quince sorbet")
        amount(page, "Table sugar").fill("60")
        expect(page.locator("[data-verdict]")).to_contain_text("like rock")
        page.get_by_role("button", name=re.compile("^Sweetness")).click()
        before = verdict(page)
        page.get_by_role("button", name=re.compile("^Try: .*more table sugar for")).first.click()
        expect(page.get_by_role("button", name=re.compile("^Sweetness full"))).to_be_visible()
        page.locator("h1").click()
        page.keyboard.press("Control+z")
        expect(page.locator("[data-verdict]")).to_have_text(before)


class FreezerTest(BrowserCase):
    """The freezer's mark."""

    def test_dragging_and_keys_move_the_freezer_and_everything_answers(self) -> None:
        self.browse(self.move_freezer)
        self.kitchen.refresh_from_db()
        self.assertEqual(self.kitchen.freezer_c, -14)

    def move_freezer(self, page: Page) -> None:
        open_mix(page, "Smoked tea custard")
        slider = page.get_by_role("slider", name="Freezer temperature")
        box = slider.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] - 8, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 60, steps=6)
        page.mouse.up()
        expect(page.locator("[data-verdict]")).not_to_contain_text("−18 °C freezer")
        dragged = float(slider.get_attribute("aria-valuenow") or 0)
        self.assertTrue(-17 < dragged < -10, dragged)
        slider.focus()
        page.keyboard.press("ArrowDown")
        expect(slider).to_have_attribute("aria-valuenow", f"{dragged - 0.5:g}")
        page.get_by_role("button", name=re.compile("back to −18.°C")).click()
        expect(page.locator("[data-verdict]")).to_contain_text("From your −18 °C freezer it is hard.")
        slider.focus()
        page.keyboard.press("PageUp")
        expect(page.locator("[data-verdict]")).to_contain_text("From your −14 °C freezer it is stiff.")
        page.get_by_role("button", name="this is our freezer").click()
        expect(page.get_by_text("width: % ice")).to_be_visible()
