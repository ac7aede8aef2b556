"""Own ingredients from labels and readings."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat, sugars
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.energy import energy_kcal, energy_kj
from jalebi_core.shelf.catalogue import catalogue, find
from jalebi_core.shelf.custom_ingredients import Label, at_brix, brix_of, from_label

CREAM = Label(fat=30, carbohydrate=3.3, sugars=3.3, protein=2.3, salt=0.08, energy_kcal=292)


def part(name: str, label: Label, like: str | None, key: str) -> float:
    return float(from_label(name, label, find(like).composition if like else None).composition.row[INDEX[key]])


def test_a_label_takes_its_kinds_from_what_it_is_like() -> None:
    assert part("Cream", CREAM, "cream-36", "milk_fat") == pytest.approx(30, abs=0.1)
    assert part("Cream", CREAM, "cream-36", "lactose") == pytest.approx(3.3, abs=0.1)
    assert part("Cream", CREAM, "cream-36", "milk_salts") == pytest.approx(0.5, abs=0.1)
    assert part("Cream", CREAM, None, "other_fat") == pytest.approx(30, abs=0.1)
    assert from_label("Cream", CREAM, find("cream-36").composition).doubts == ()


@pytest.mark.parametrize(
    "slug",
    ["whole-milk", "condensed-milk", "hazelnut-paste", "dark-chocolate-70", "milk-chocolate", "honey", "oat-drink"],
)
def test_the_label_of_a_shelf_row_leads_back_to_its_row(slug: str) -> None:
    row = find(slug).row
    starch = row[INDEX["starch"]] + row[INDEX["higher_saccharides"]]
    all_sugars = float(sugars(row)) + row[INDEX["lactose"]] - row[INDEX["higher_saccharides"]]
    protein = sum(row[INDEX[key]] for key in ("milk_protein", "egg_protein", "other_protein"))
    label = Label(
        fat=float(fat(row)),
        carbohydrate=float(all_sugars + starch + row[INDEX["cocoa_solids"]]),
        sugars=float(all_sugars),
        fibre=float(row[INDEX["fibre"]]),
        protein=float(protein),
        salt=float(row[INDEX["sodium_chloride"]]),
    )
    again = from_label(slug, label, find(slug).composition).composition.row
    for key in ("sucrose", "glucose", "fructose", "lactose", "milk_fat", "cocoa_fat", "other_fat", "cocoa_solids"):
        assert again[INDEX[key]] == pytest.approx(row[INDEX[key]], abs=0.6), key


def test_a_serving_is_brought_to_100_g() -> None:
    serving = Label(fat=9, carbohydrate=1, sugars=1, protein=0.7, energy_kcal=88)
    assert serving.per_100g_of(30).fat == pytest.approx(30)
    assert serving.per_100g_of(30).energy_kcal == pytest.approx(293.3, abs=0.1)
    with pytest.raises(CompositionError, match="serving"):
        serving.per_100g_of(0)


@pytest.mark.parametrize(
    ("label", "message"),
    [
        (Label(fat=60, carbohydrate=50), "adds up to 110"),
        (Label(carbohydrate=5, sugars=9), "carbohydrate includes the sugars"),
        (Label(fat=-1), "fat is −1"),
        (Label(fat=float("nan")), "fat is nan"),
        (Label(fat=50, water=60), "adds up to 110"),
    ],
)
def test_a_label_that_cannot_be_is_told(label: Label, message: str) -> None:
    with pytest.raises(CompositionError, match=message):
        from_label("Paste", label)


def test_energy_that_does_not_agree_is_a_doubt_not_an_error() -> None:
    doubts = from_label("Cream", Label(fat=30, energy_kcal=120), find("cream-36").composition).doubts
    assert "120 kcal" in doubts[0]
    assert float(energy_kcal(find("sugar").row)) == pytest.approx(400)
    assert float(energy_kj(find("sugar").row)) == pytest.approx(1700)


def test_a_reading_moves_what_dissolves() -> None:
    strawberry = find("strawberry-puree").composition
    usual = brix_of(strawberry)
    riper = at_brix(strawberry, usual * 1.3)
    assert brix_of(riper) == pytest.approx(usual * 1.3, abs=0.01)
    assert riper.row[INDEX["fibre"]] == pytest.approx(strawberry.row[INDEX["fibre"]], abs=0.01)
    assert brix_of(at_brix(strawberry, usual)) == pytest.approx(usual, abs=0.01)


@pytest.mark.parametrize(("slug", "brix"), [("strawberry-puree", 45), ("strawberry-puree", 1), ("coconut-oil", 5)])
def test_a_reading_that_the_fruit_cannot_have_is_told(slug: str, brix: float) -> None:
    with pytest.raises(CompositionError, match="°Brix"):
        at_brix(find(slug).composition, brix)


def test_every_fruit_of_the_shelf_can_be_read_a_fifth_riper() -> None:
    for item in catalogue().values():
        if item.ingredient.kind == "fruit" and 5 < brix_of(item.ingredient.composition) < 20:
            assert at_brix(item.ingredient.composition, brix_of(item.ingredient.composition) * 1.2).row.sum() > 99


FIGURE = st.floats(0, 60)


@given(FIGURE, FIGURE, st.floats(0, 1), FIGURE, FIGURE, st.sampled_from([None, *sorted(catalogue())]))
def test_any_label_closes_or_is_refused(
    fat_g: float, carbohydrate: float, sugary: float, fibre: float, protein: float, like: str | None
) -> None:
    label = Label(fat=fat_g, carbohydrate=carbohydrate, sugars=carbohydrate * sugary, fibre=fibre, protein=protein)
    try:
        made = from_label("any", label, find(like).composition if like else None).composition
    except CompositionError:
        return
    assert sum(made.per_100g.values()) == pytest.approx(100, abs=0.5)
    assert float(fat(made.row)) == pytest.approx(fat_g, rel=0.01, abs=0.01)


FRESH = sorted(
    s
    for s, item in catalogue().items()
    if item.ingredient.kind == "fruit" and brix_of(item.ingredient.composition) < 20
)


@given(st.sampled_from(FRESH), st.floats(0.5, 0.95) | st.floats(1.05, 1.9))
def test_a_riper_fruit_freezes_later_and_is_sweeter(slug: str, ripeness: float) -> None:
    fruit = find(slug).composition
    try:
        read = at_brix(fruit, brix_of(fruit) * ripeness)
    except CompositionError:
        return
    before, after = (analyse_mix(Mix("fruit", (Line(Ingredient(one), 100.0),))) for one in (fruit, read))
    assert (float(after.sweetness_pod) >= float(before.sweetness_pod)) == (ripeness >= 1)
    assert (float(after.initial_c) <= float(before.initial_c) + 1e-9) == (ripeness >= 1)
