"""Pasted recipes: lines, sources, method, and what is doubtful."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.formats.recipe.method import Method, steps_of
from jalebi_core.formats.recipe.paste import take_apart
from jalebi_core.formats.recipe.reading import Makes, Recipe, read_recipe
from jalebi_core.model.errors import RecipeError
from jalebi_core.quantities.typed_line import read_line
from jalebi_core.shelf.ingredient_search import search_index

LINES = list(
    csv.DictReader(Path(__file__).with_name("data").joinpath("recipe_lines.csv").read_text("utf-8").splitlines())
)

RECIPES = tomllib.loads(Path(__file__).with_name("data").joinpath("recipes.toml").read_text("utf-8"))["recipe"]

TEXT = """Raspberry ripple custard
Serves 6, makes about 1 litre

Ingredients
For the custard:
2 cups whole milk
1 cup heavy cream
3/4 cup sugar
4 egg yolks
2 cups raspberry puree, reduced to a third
a few handfuls of mint leaves
salt to taste

Method
1. Heat the milk and cream in a saucepan until steaming.
2. Whisk the yolks with the sugar, then temper. Cook to 82 °C.
3. Take it off the heat and stir in the salt. Chill overnight.
4. Churn, adding the raspberry puree in the last minutes.
"""


def understood(text: str) -> Recipe:
    return read_recipe(text, search_index())


def test_lines_are_read_as_people_mean_them_and_none_wrongly_in_silence() -> None:
    amounts, firsts = 0, 0
    for row in LINES:
        line = understood(row["line"]).lines[0]
        amounts += line.typed.replace(",", ".") == row["amount"]
        right = bool(line.choices) and line.choices[0].slug == row["first"]
        firsts += right
        assert right or line.doubts, row["line"]
        assert line.sure <= right, row["line"]
    assert len(LINES) >= 120
    assert amounts / len(LINES) >= 0.97
    assert firsts / len(LINES) >= 0.92


def test_whole_recipes_are_read_line_by_line_with_their_stages() -> None:
    stages = lines = 0
    for told in RECIPES:
        recipe = understood(told["text"])
        assert recipe.style == told.get("style"), recipe.name
        assert (recipe.makes.ml if recipe.makes else None) == told.get("makes_ml"), recipe.name
        assert len(recipe.lines) == len(told["lines"]), recipe.name
        for line, (slug, stage) in zip(recipe.lines, told["lines"], strict=True):
            lines += 1
            stages += line.stage == (None if stage == "?" else stage)
            assert not slug or line.choices[0].slug == slug, line.line.raw
            assert line.stage is not None or line.doubts, line.line.raw
    assert len(RECIPES) == 12
    assert stages / lines >= 0.95


def test_nothing_that_is_pasted_disappears() -> None:
    lines = ["200 g cream", "handful of crushed biscuits", "mixed berries", "something pink"]
    recipe = understood("\n".join(["Crumble ice", *lines, "Heat the cream and churn."]))
    assert [line.line.raw for line in recipe.lines] == lines
    assert recipe.lines[1].grams == pytest.approx(36)
    berries, pink = recipe.lines[2:]
    assert not berries.sure
    assert len(berries.choices) > 2
    assert pink.doubts
    assert all(any(line.line.raw in question for question in recipe.questions) for line in (berries, pink))


def test_a_stated_strength_is_kept_to_or_asked_about() -> None:
    asked = ("100 g cream 35 %", "100 g chocolate 70 %", "100 g cream 38 %")
    by_strength = {line: understood(line).lines[0] for line in asked}
    assert [line.choices[0].slug for line in by_strength.values()] == ["cream-35", "dark-chocolate-70", "cream-36"]
    assert by_strength["100 g cream 38 %"].doubts == ("38 % is asked for; the nearest on the shelf has 36 %.",)


def test_american_recipes_keep_their_cups_and_others_the_kitchens() -> None:
    american = understood("2 cups heavy cream\n1 tbsp + 1 tsp sugar\nHeat to 170 °F and churn.")
    assert [line.typed for line in american.lines] == ["2 us cups", "1 us tbsp + 1 us tsp"]
    assert american.lines[0].grams == pytest.approx(2 * 236.588 * 0.994, rel=0.01)
    british = understood("2 cups double cream\n1 tbsp caster sugar")
    assert [line.typed for line in british.lines] == ["2 cups", "1 tbsp"]


@pytest.mark.parametrize(
    ("line", "form", "grams"),
    [
        ("1 cup strawberries", "whole", 0.64 * 250),
        ("1 cup strawberry puree", None, 1.04 * 250),
        ("1 cup sliced strawberries", "chopped", 0.7 * 250),
        ("1 cup walnuts", None, 0.495 * 250),
        ("1 cup walnuts, chopped", "chopped", 0.495 * 250),
        ("1 cup sifted icing sugar", "sifted", 0.42 * 250),
        ("100 g walnut halves", "whole", 100),
    ],
)
def test_what_is_whole_or_cut_weighs_what_it_weighs_by_cup(line: str, form: str | None, grams: float) -> None:
    found = understood(line).lines[0]
    assert found.form == form
    assert found.grams == pytest.approx(grams, rel=0.02)


def test_what_is_left_open_is_offered() -> None:
    recipe = understood(
        "Tea ice\n500 g milk or oat milk\n20 g black tea\n200 ml red wine\n1 tbsp rum (optional)\n"
        "Heat the milk, add the tea and steep 5 minutes, then strain. Simmer the wine until reduced by half. Churn."
    )
    milk, tea, wine, rum = recipe.lines
    assert "oat milk" in " ".join(milk.doubts)
    assert tea.steeped
    assert "preparation" in " ".join(tea.doubts)
    assert wine.line.reduced_to == pytest.approx(0.5)
    assert rum.line.optional


@pytest.mark.parametrize(
    ("text", "amount", "name"),
    [
        ("1 (12 fl oz) can evaporated milk", "1 tin 12 fl oz", "evaporated milk"),
        ("heaped", "", "heaped"),
        ("1 heaped tbsp cocoa", "1 tbsp", "cocoa"),
        ("the juice of some limes", "", "limes juice"),
        ("2 cups cream (or whole milk)", "2 cups", "cream"),
        ("240 ml / 1 cup milk", "240 ml", "milk"),
        ("12 g g sugar", "12 g", "g sugar"),
    ],
)
def test_a_line_gives_its_amount_and_its_name(text: str, amount: str, name: str) -> None:
    line = read_line(text)
    assert (line.amount, line.name) == (amount, name)


def test_a_reduction_is_noticed_whichever_way_it_is_said() -> None:
    assert read_line("300 g plum puree, reduced by a quarter").reduced_to == pytest.approx(0.75)
    assert read_line("300 g plum puree, cooked down to half").reduced_to == pytest.approx(0.5)
    assert read_line("300 g plum puree").reduced_to is None


HOSTILE = Path(__file__).with_name("data") / "hostile_texts.toml"
READ_ALL = """
import sys, tomllib
from jalebi_core.formats.recipe.reading import read_recipe
from jalebi_core.model.errors import RecipeError
from jalebi_core.shelf.ingredient_search import search_index
for kind in tomllib.load(sys.stdin.buffer)["text"]:
    print(kind["name"], flush=True)
    repeated = kind["repeated"] * (300_000 // len(kind["repeated"]))
    try:
        read_recipe(kind["before"] + repeated + kind.get("after", ""), search_index())
    except RecipeError:
        pass
print("all read")
"""


def test_no_text_keeps_the_reader_from_ending() -> None:
    """Many of these took minutes once; together they take a second, and the child is given forty times that."""
    with HOSTILE.open("rb") as texts:
        child = subprocess.Popen([sys.executable, "-c", READ_ALL], stdin=texts, stdout=subprocess.PIPE, text=True)
    try:
        names, _ = child.communicate(timeout=40)
    except subprocess.TimeoutExpired:
        child.kill()
        names, _ = child.communicate()
    assert names.splitlines()[-1] == "all read"


@given(st.text(max_size=300))
def test_no_line_breaks_the_reader(text: str) -> None:
    assert read_line(text).raw == " ".join(text.split())


def test_a_text_is_taken_apart() -> None:
    recipe = understood(TEXT)
    assert recipe.name == "Raspberry ripple custard"
    assert recipe.makes == Makes("Serves 6, makes about 1 litre", "1 litre", 1000, 6)
    assert [line.choices[0].slug for line in recipe.lines] == [
        "whole-milk", "cream-36", "sugar", "egg-yolk", "raspberry-puree", "mint", "salt",
    ]  # fmt: skip
    assert [line.stage for line in recipe.lines[:5]] == ["pot", "pot", "yolks", "yolks", "churn"]
    assert [bool(line.doubts) for line in recipe.lines] == [False, False, False, False, False, True, True]


def test_the_method_is_kept_whole_and_goes_from_stage_to_stage() -> None:
    steps = understood(TEXT).steps
    assert [step.stage for step in steps] == ["pot", "yolks", "pot", "off-heat", "cold", "churn"]
    assert " ".join(step.text for step in steps).startswith("Heat the milk and cream in a saucepan until steaming.")
    assert Method(TEXT.splitlines()).stage_of("cinnamon") is None
    assert steps_of(["Serve."]) == steps_of(["  Serve.  "])


def test_a_page_is_read_by_its_recipe_data_and_a_bare_page_by_its_text() -> None:
    data = {
        "@graph": [
            {"@type": "WebSite"},
            {
                "@type": ["Recipe"],
                "name": "Quince &amp; honey sorbet",
                "recipeYield": ["4", "4 servings"],
                "recipeIngredient": ["500 g quince purée", "120 g honey"],
                "recipeInstructions": [{"@type": "HowToSection", "itemListElement": [{"text": "Boil. Churn."}]}],
            },
        ]
    }
    page = f'<html><script type="application/ld+json">{json.dumps(data)}</script><p>400 g other things</p></html>'
    for text in (page, json.dumps(data)):
        source = take_apart(text)
        assert source.name == "Quince & honey sorbet"
        assert source.ingredient_lines == ("500 g quince purée", "120 g honey")
        assert source.servings == 4
        assert steps_of(source.method)[1].stage == "churn"
    bare = take_apart(
        "<h1>Sorbet</h1><ul><li>500 g <b>quince</b> puree</li><li>120 g honey</li></ul><script>1 g x</script>"
    )
    assert bare.ingredient_lines == ("500 g quince puree", "120 g honey")


@pytest.mark.parametrize(
    ("text", "message"),
    [
        ("", "nothing to read"),
        ("Once upon a time there was a canal lock.", "No ingredient"),
        ("\n".join(f"{n} g sugar" for n in range(1, 2001)), "2000 lines"),
        ("\n".join(f"{n} g sugar" for n in range(1, 400)), "399 ingredient lines"),
        ('{"name": ', "JSON"),
        ('{"name": "x"}', "schema.org"),
        ("[" * 5000, "JSON"),
    ],
)
def test_what_holds_no_recipe_is_told(text: str, message: str) -> None:
    with pytest.raises(RecipeError, match=message):
        take_apart(text)


def test_an_unknown_thing_and_another_language_are_doubtful_and_nothing_is_lost() -> None:
    recipe = understood("250 g Schlagobers\n100 g sucre de canne\n2 dl mjölk\n2 cups zzyzx")
    assert [line.line.raw for line in recipe.lines][2:] == ["2 dl mjölk", "2 cups zzyzx"]
    assert [line.choices[0].slug for line in recipe.lines[:2]] == ["cream-36", "sugar"]
    assert [line.choices for line in recipe.lines[2:]] == [(), ()]
    assert all("Nothing on the shelf" in line.doubts[0] for line in recipe.lines[2:])


def test_a_percentage_that_is_no_share_makes_its_line_doubtful_and_loses_no_other() -> None:
    recipe = understood("100 % cocoa powder\n200 g sugar\n0.3 % guar gum")
    assert [bool(line.doubts) for line in recipe.lines] == [True, False, False]
    assert "leaves no room" in recipe.lines[0].doubts[-1]


def test_cups_and_grams_of_one_recipe_come_out_alike() -> None:
    cups = understood("2 cups whole milk\n1 cup whipping cream\n3/4 cup sugar\n4 egg yolks").lines
    grams = understood("515 g whole milk\n249 g whipping cream\n160 g sugar\n68 g egg yolks").lines
    for by_cup, by_gram in zip(cups, grams, strict=True):
        assert by_cup.choices[0].slug == by_gram.choices[0].slug
        assert by_cup.grams == pytest.approx(by_gram.grams, rel=0.02)


def test_images_within_a_page_are_passed_over_and_no_line_of_the_recipe_is_lost() -> None:
    image = "iVBORw0KGgo" * 40_000
    page = f'<p>120 g sugar</p><img src="data:image/png;base64,{image}"><p>200 g milk</p><!-- 1 g x --><p>1 g salt'
    assert take_apart(page).ingredient_lines == ("120 g sugar", "200 g milk", "1 g salt")
    data = json.dumps({"@type": "Recipe", "recipeIngredient": ["1 g salt"], "image": f"data:image/png;base64,{image}"})
    assert take_apart(f'<script type="application/ld+json">{data}</script>').ingredient_lines == ("1 g salt",)


@pytest.mark.parametrize("ingredients", [7, {"name": "1 g salt"}, None, True, [[], {}], "", [None]])
def test_data_whose_ingredients_are_no_list_of_texts_holds_no_recipe(ingredients: object) -> None:
    with pytest.raises(RecipeError, match=r"No ingredient|schema\.org"):
        take_apart(json.dumps({"@type": "Recipe", "recipeIngredient": ingredients}))


def test_a_long_method_in_one_paragraph_is_kept_and_a_line_beyond_measure_is_cut() -> None:
    method = " ".join(f"Stir the custard for {n} minutes." for n in range(1, 200))
    recipe = understood(f"Ingredients\n1 g salt\n2 g {'very ' * 200}fine sugar\nMethod\n{method}")
    assert len(recipe.steps) == 199
    assert [len(line.line.raw) <= 300 for line in recipe.lines] == [True, True]


@pytest.mark.parametrize(
    ("text", "name", "amount"),
    [
        ("Whole milk 3,5 % … 480 g", "Whole milk 3,5 %", "480 g"),
        ("milk: 1 000 ml", "milk", "1 000 ml"),
        ("sugar - 120 g.", "sugar", "120 g"),
        ("7 up 200 ml", "up 200 ml", "7"),
    ],
)
def test_an_amount_may_stand_at_the_end_of_a_line(text: str, name: str, amount: str) -> None:
    line = read_line(text)
    assert (line.name, line.amount) == (name, amount)
