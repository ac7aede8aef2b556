"""Labels: three worked by hand to the letter, the rounding of two laws, and what is refused or not known."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from conftest import REFERENCE, reference_rows
from jalebi_core.formats.label_file import label_report
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.model.errors import MixError
from jalebi_core.regulation.rounding import daily_value, printed
from jalebi_core.shelf.catalogue import catalogue
from jalebi_core.shelf.label_facts import with_label_facts

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
