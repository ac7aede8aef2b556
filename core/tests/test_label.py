"""Labels: three worked by hand to the letter, the rounding of two laws, and what is refused or not known."""

from __future__ import annotations

import json
import re
from dataclasses import replace
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from conftest import REFERENCE, reference_rows
from jalebi_core.formats.label_file import label_report
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.model.composition import Composition, components_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.label_facts import NUTRIENTS, OnLabel, read_nutrients, read_on_label
from jalebi_core.production.preparation import Part, Prepared, Step, prepare
from jalebi_core.regulation.nutrition import FATS, SUGARS, stated
from jalebi_core.regulation.preparation_label import Used, preparation_nutrients, preparation_on_label
from jalebi_core.regulation.rounding import daily_value, printed
from jalebi_core.shelf.catalogue import catalogue, with_label_facts_of_shelf
from jalebi_core.shelf.label_facts import with_label_facts
from jalebi_core.shelf.unlisted import unlisted

LABELS = REFERENCE / "label"


def report_of(content: dict[str, Any]) -> dict[str, Any]:
    return label_report(json.dumps(content).encode())


def worked(region: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((LABELS / f"worked-{region}.json").read_text(encoding="utf-8"))
    return found


def close(found: Any, expected: Any, at: str = "") -> None:
    """Compare plain data, numbers to nine digits, texts to the letter."""
    if isinstance(expected, dict):
        for key, value in expected.items():
            assert key in found, f"{at}.{key}"
            close(found[key], value, f"{at}.{key}")
    elif isinstance(expected, list):
        assert len(found) == len(expected), at
        for number, (one, value) in enumerate(zip(found, expected, strict=True)):
            close(one, value, f"{at}[{number}]")
    elif isinstance(expected, float | int) and not isinstance(expected, bool):
        assert found == pytest.approx(expected, rel=1e-9), at
    else:
        assert found == expected, at


@pytest.mark.parametrize("region", ["eu", "uk", "us"])
def test_a_label_worked_by_hand_comes_out_to_the_letter(region: str) -> None:
    expected = json.loads((LABELS / f"worked-{region}.label.json").read_text(encoding="utf-8"))
    close(report_of(worked(region)), expected)


@pytest.mark.parametrize("region", ["eu", "uk", "us"])
def test_the_schema_knows_what_labels_and_costs_read_and_analysing_leaves_it_alone(region: str) -> None:
    schema = json.loads((Path(__file__).parents[2] / "docs/mix.schema.json").read_text(encoding="utf-8"))
    jsonschema.validate(worked(region), schema)
    assert read_mix(json.dumps(worked(region)).encode()).name == worked(region)["name"]


@pytest.mark.parametrize(
    "row", reference_rows("label/rounding.csv"), ids=lambda row: f"{row['nutrient']} {row['value']} {row['region']}"
)
def test_figures_are_rounded_as_each_law_has_it(row: dict[str, str]) -> None:
    key, value = row["nutrient"], float(row["value"])
    found = daily_value(key, value) if row["region"] == "us-dv" else printed(key, value, row["region"])
    assert found == row["printed"]


def test_rows_of_the_shelf_that_state_nutrients_state_what_their_composition_can_hold() -> None:
    stating = [entry.ingredient for entry in catalogue().values() if entry.ingredient.nutrients is not None]
    assert len(stating) > 180
    for one in stating:
        assert one.on_label.names, one.slug
        with_label_facts(one, dict(one.nutrients or {}), None)


def test_what_is_not_stated_is_never_zero_and_is_named() -> None:
    content = worked("eu")
    del content["lines"][0]["ingredient"]["nutrients"]["saturates_g"]
    row = next(one for one in report_of(content)["nutrition"] if one["key"] == "saturates")
    assert row["raw"]["per_100g"] is None
    assert row["printed"]["per_serving"] is None
    assert row["missing"] == [content["lines"][0]["ingredient"]["name"]]
    assert 0 < row["at_least"] < 5.3


def of(lines: list[tuple[dict[str, Any], float]], **label: Any) -> dict[str, Any]:
    put = [{"ingredient": ingredient, "amount": grams} for ingredient, grams in lines]
    return report_of({"format": "jalebi.mix", "version": 1, "name": "Test", "lines": put, "label": label})


MILK = {"name": "Milk", "per_100g": {"water": 88, "milk_fat": 4, "lactose": 8}, "allergens": ["milk"]}
WATER = {"name": "Water", "per_100g": {"water": 100}, "allergens": []}
SUGAR = {"name": "Sugar", "per_100g": {"sucrose": 100}, "allergens": []}
GUM = {"per_100g": {"hydrocolloids": 90, "water": 10}, "allergens": []}


def test_neighbours_of_a_class_share_it_and_water_counts_from_five_in_a_hundred() -> None:
    gums = [
        ({**GUM, "name": name, "on_label": {"name": name, "class": "stabiliser"}}, grams)
        for name, grams in (("guar gum", 2.0), ("locust bean gum", 3.0))
    ]
    text = of([(MILK, 900), (WATER, 40), *gums], quid=["GUAR GUM"])["ingredients"]["text"]
    assert text == "**Milk**, stabilisers (locust bean gum, guar gum (<0.5%))"
    assert "Water" in of([(MILK, 900), (WATER, 60)])["ingredients"]["text"]
    assert "Water" in of([(MILK, 900), (WATER, 40)], region="us")["ingredients"]["text"]
    assert "Water" not in of([(MILK, 900), (WATER, 60)], finished_g=910)["ingredients"]["text"]


def test_compounds_show_their_parts_and_every_allergen_once() -> None:
    butter = {"name": "Cultured spread", "per_100g": {"milk_fat": 80, "water": 20}, "allergens": ["milk"]}
    compound = {
        **butter,
        "on_label": {"name": "spread", "parts": [{"name": "fat", "pct": 80}, {"name": "whey", "pct": 20}]},
    }
    assert of([(compound, 100)])["ingredients"]["text"] == "spread (fat, whey, contains **milk**)"
    spread = {**compound, "on_label": {**compound["on_label"], "spread": True}}
    assert of([(spread, 100)])["ingredients"]["text"] == "fat, whey"
    assert of([(butter, 100)])["ingredients"]["text"] == "Cultured spread (**milk**)"


def test_sweeteners_alcohol_and_earlier_runs_are_stated() -> None:
    erythritol = {
        "name": "Erythritol", "per_100g": {"erythritol": 100}, "allergens": [],
        "on_label": {"name": "erythritol", "class": "sweetener"},
    }  # fmt: skip
    codes = [one["code"] for one in of([(MILK, 700), (erythritol, 150)])["statements"]]
    assert codes == ["store", "with_sweeteners", "laxative"]
    both = of([(MILK, 700), (erythritol, 50), (SUGAR, 100)])
    assert [one["code"] for one in both["statements"]] == ["store", "with_sugars_and_sweeteners"]
    rum = {"name": "Rum", "per_100g": {"ethanol": 33, "water": 67}, "allergens": []}
    assert "contains alcohol (" in of([(MILK, 900), (rum, 50)])["statements"][-1]["text"]
    us = of([(MILK, 900), (SUGAR, 100)], region="us", may_contain=["nuts", "milk", "soy"])
    assert us["allergens"]["may_contain_statement"] == "May contain: Tree nuts, Soy"
    eu = of([(MILK, 900), (SUGAR, 100)], may_contain=["soy"])
    assert eu["allergens"]["may_contain_statement"] == "May contain: **soya**"


def test_the_nut_is_named_and_raw_milk_is_not_passed_over() -> None:
    us = of([("raw-milk", 500), ("hazelnut-paste", 80), ("chopped-almonds", 20), (SUGAR, 100)], region="us")
    assert us["allergens"]["statement"] == "Contains: Milk, Hazelnuts, Almonds"
    assert "Say on the pack that raw milk is in it" in us["cautions"][0]
    assert of([("whole-milk", 500), (SUGAR, 100)])["cautions"] == []


@pytest.mark.parametrize(
    ("label", "said"),
    [
        ({"region": "fr"}, "“fr” is none of them"),
        ({"language": "de"}, "“de” is not known"),
        ({"serving_g": 50, "serving_ml": 60}, "not both"),
        ({"finished_g": 100}, "Say more in finished_g"),
        ({"finished_g": 2000}, "Say no more in finished_g"),
        ({"net_ml": -1}, "net_ml of label is -1"),
        ({"quid": "milk"}, "quid of label is a list of texts"),
        ({"may_contain": ["stones"]}, "stones"),
        ({"colour": "red"}, "label is an object with"),
        ([], "label is an object with"),
    ],
)
def test_what_cannot_stand_on_a_label_is_named(label: Any, said: str) -> None:
    content = {"format": "jalebi.mix", "version": 1, "name": "Test", "label": label}
    lines = [{"ingredient": MILK, "amount": 900}, {"ingredient": SUGAR, "amount": 100}]
    with pytest.raises(MixError, match=re.escape(said)):
        report_of({**content, "lines": lines})


@pytest.mark.parametrize(
    ("facts", "said"),
    [
        ({"nutrients": {"saturates_g": 9}}, "cannot hold 9 g of saturates"),
        ({"nutrients": {"added_sugars_g": 20}}, "cannot hold 20 g of added sugars"),
        ({"nutrients": {"gold_g": 1}}, "“gold_g” is not a nutrient"),
        ({"nutrients": {"sodium_mg": "much"}}, "sodium_mg of Milk is much"),
        ({"nutrients": 5}, "are an object of figures"),
        ({"on_label": {"colour": "white"}}, "on_label of Milk"),
        ({"on_label": {"name": {"fr": "lait"}}}, "one by region"),
        ({"on_label": {"parts": [{"name": "fat", "pct": 200}]}}, "A part of Milk"),
        ({"on_label": {"name": "a\nb"}}, "A text on the label of Milk"),
    ],
)
def test_facts_for_a_label_that_cannot_be_are_refused(facts: dict[str, Any], said: str) -> None:
    with pytest.raises(MixError, match=re.escape(said)):
        of([({**MILK, **facts}, 100)])


_PARTLY_STATED = {
    "apple-juice-concentrate", "apricot-jam", "cider", "dulce-de-leche", "edible-petals", "elderflower",
    "green-food-colour", "lavender", "lemon-verbena", "malted-barley-powder", "oat-cream", "oat-drink", "perry",
    "red-food-colour", "rice-drink", "rose-petals", "stabiliser-blend", "tonka-bean",
}  # fmt: skip
"""What only the maker can tell, and plants of which no analysis is known; docs/file-formats.md lists them too."""


def test_nearly_every_row_of_the_shelf_states_all_that_labels_count() -> None:
    counted = set(NUTRIENTS) - {"protein_g", "fibre_g"}
    lacking = {
        slug
        for slug, entry in catalogue().items()
        if any(stated(entry.ingredient, key) is None for key in counted) or not entry.ingredient.on_label.names
    }
    assert lacking == _PARTLY_STATED
    assert len(lacking) <= 0.05 * len(catalogue())
    listed = (Path(__file__).parents[2] / "docs/file-formats.md").read_text(encoding="utf-8")
    assert all(f"`{slug}`" in listed for slug in lacking)


def test_no_row_of_the_shelf_states_more_than_it_can_hold() -> None:
    for entry in catalogue().values():
        one = entry.ingredient
        fat, sugars = (float(components_of(one.row) @ column) for column in (FATS, SUGARS))
        read_nutrients(one.nutrients, one.name, fat, sugars)


def test_a_compound_of_the_shelf_asks_for_its_parts() -> None:
    report = report_of({**worked("eu"), "lines": [{"ingredient": "caramel-sauce", "amount": 100}], "label": {}})
    assert report["cautions"] == ["Name what is in caramel sauce: it stands on the pack."]


def test_ash_of_cocoa_that_stands_apart_is_counted_once() -> None:
    mix = {"format": "jalebi.mix", "version": 1, "name": "Cocoa", "label": {"region": "us"}}
    apart = {"name": "Cocoa", "per_100g": {"water": 4, "cocoa_fat": 11, "cocoa_solids": 78, "other_ash": 7}}
    report = report_of({**mix, "lines": [{"ingredient": apart, "amount": 100}]})
    rows = {row["key"]: row["raw"]["per_100g"] for row in report["nutrition"]}
    assert rows["carbohydrate"] == pytest.approx(100 - 4 - 11 - 0.24 * 78 - 7)


def sugared(name: str = "Lemon sugar") -> Ingredient:
    facts = {"nutrients": {"added_sugars_g": 90}, "on_label": {"name": {"eu": "sugar", "us": "sugar"}}}
    return with_label_facts(unlisted(Composition(name, {"sucrose": 90, "water": 10}), (), ()), *facts.values())


def boiled_down(*parts: tuple[Ingredient, float], to_g: float) -> tuple[list[Used], Prepared]:
    made = prepare("Syrup", [Part(one.composition, grams) for one, grams in parts], [Step("reduce", measured_g=to_g)])
    return [Used(one, grams) for one, grams in parts], made


def test_what_only_loses_water_keeps_its_nutrients() -> None:
    cream = catalogue()["cream-36"].ingredient
    used, made = boiled_down((cream, 300), (sugared(), 100), to_g=300)
    found = preparation_nutrients(used, made.states[0], made.states[-1], made.yield_g)
    assert found["sodium_mg"] * made.yield_g == pytest.approx(27 * 300 + 0)
    assert found["added_sugars_g"] * made.yield_g == pytest.approx(90 * 100)
    assert "protein_g" not in found


def test_after_straining_nobody_says_what_has_gone() -> None:
    berries = catalogue()["raspberry-puree"].ingredient
    made = prepare("Juice", [Part(berries.composition, 200)], [Step("strain", share_pct=50)])
    assert preparation_nutrients([Used(berries, 200)], made.states[0], made.states[-1], made.yield_g) == {}


def shares_of(on_label: OnLabel) -> list[tuple[str, float]]:
    return [(part.name, round(part.pct, 9)) for part in on_label.parts]


def test_a_preparation_stands_in_the_list_by_its_parts_and_so_do_those_inside_it() -> None:
    cream = catalogue()["cream-36"].ingredient
    used, made = boiled_down((cream, 300), (sugared(), 100), to_g=250)
    inner = replace(cream, on_label=preparation_on_label("Jam", used, made.states[0], made.states[-1]))
    assert shares_of(inner.on_label) == [("cream", 120.0), ("sugar", 40.0)]
    outer = preparation_on_label("Swirl", [Used(inner, 100), Used(sugared(), 100)], *2 * (200 * cream.row / 100,))
    assert shares_of(outer) == [("cream", 60.0), ("sugar", 50.0), ("sugar", 20.0)]
    assert read_on_label(outer.as_data(), "Swirl") == outer


def test_nutrients_of_the_shelf_hold_only_for_its_composition() -> None:
    sugar = catalogue()["sugar"].ingredient
    assert with_label_facts_of_shelf(replace(sugar, nutrients=None)).nutrients == sugar.nutrients
    wet = replace(sugar, composition=Composition("Wet sugar", {"sucrose": 80, "water": 20}))
    assert with_label_facts_of_shelf(wet).nutrients is None
    assert with_label_facts_of_shelf(wet).on_label.names["eu"] == "sugar"
    assert with_label_facts_of_shelf(replace(sugar, slug="our-own", nutrients=None)).nutrients is None
