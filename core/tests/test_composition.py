"""Mass balances: closure, refusal, blending."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import DAIRY, mix_of, mixes
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.data import read_shelf_section, read_toml, shelf_sections
from jalebi_core.model.components import COMPONENTS, KEYS
from jalebi_core.model.composition import Composition, blend, components_of, total_solids, trait_of
from jalebi_core.model.errors import CompositionError, MixError
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.mix import Mix
from jalebi_core.model.strata import by_stratum
from jalebi_core.physics.energy import energy_kcal
from jalebi_core.regulation.allergens import ALLERGENS, US_NINE, allergens_of
from jalebi_core.shelf.catalogue import CatalogueEntry, catalogue, closest


@pytest.mark.parametrize("item", catalogue().values(), ids=lambda item: item.ingredient.slug)
def test_every_shelf_row_closes_and_states_its_basis(item: CatalogueEntry) -> None:
    assert sum(item.ingredient.composition.per_100g.values()) == pytest.approx(100, abs=0.05)
    assert len(item.basis) > 5
    assert components_of(item.ingredient.row).sum() == pytest.approx(100)


@pytest.mark.parametrize(
    "item",
    [item for item in catalogue().values() if item.ingredient.facts.energy_kcal is not None],
    ids=lambda item: item.ingredient.slug,
)
def test_energy_comes_out_as_public_tables_state_it(item: CatalogueEntry) -> None:
    assert item.ingredient.facts.energy_kcal is not None
    assert energy_kcal(item.ingredient.row) == pytest.approx(item.ingredient.facts.energy_kcal, rel=0.12, abs=2)


def test_the_shelf_says_of_everything_how_sure_it_is_how_long_it_keeps_and_which_allergens_it_has() -> None:
    for item in catalogue().values():
        assert Facts.from_dict(item.ingredient.facts.as_dict()) == item.ingredient.facts
        assert item.ingredient.facts.keeps is not None
        assert set(item.ingredient.allergens) <= set(ALLERGENS)
        assert item.ingredient.kind != "gum" or (
            item.ingredient.facts.for_guests and item.ingredient.facts.dose_pct and item.ingredient.facts.hydrates
        )
    assert set(US_NINE) < set(ALLERGENS)
    yolk = catalogue()["egg-yolk"].ingredient.facts
    assert "salmonella" in (yolk.at_stage("cold", with_milk=False) or "")
    assert yolk.at_stage("yolks", with_milk=True) is None
    assert yolk.at_stage(None, with_milk=True) is None
    assert "Curdles" in (catalogue()["buttermilk"].ingredient.facts.at_stage("pot", with_milk=False) or "")
    lemon = catalogue()["lemon-juice"].ingredient.facts
    assert "hot milk" in (lemon.at_stage("pot", with_milk=True) or "")
    assert lemon.at_stage("pot", with_milk=False) is None, "a sorbet has no milk that could curdle"
    assert allergens_of(catalogue()["wheat-flour"].ingredient.composition, ["wheat"]) == ("wheat", "gluten")


@pytest.mark.parametrize(
    ("facts", "message"),
    [({"sure": "quite"}, "sure"), ({"animal": "moss"}, "animal"), ({"colour": "red"}, "colour"),
     ({"trim_pct": 100}, "trim_pct"), ({"keeps": {"days": 3, "in": "shed"}}, "keeps"),
     ({"warnings": "hot"}, "warnings"), ({"for_guests": "x" * 401}, "for_guests")],
)  # fmt: skip
def test_facts_that_cannot_be_are_named(facts: dict[str, object], message: str) -> None:
    with pytest.raises(CompositionError, match=message):
        Facts.from_dict(facts)


def test_every_component_states_its_source() -> None:
    assert len(COMPONENTS) == 33
    assert all(component.source for component in COMPONENTS)


@given(mixes())
def test_mass_closes_in_every_mix(mix: Mix) -> None:
    row = mix.row()
    assert components_of(row).sum() == pytest.approx(100)
    assert by_stratum(row).sum() == pytest.approx(100)
    parts = dict(zip(KEYS, components_of(row), strict=True))
    assert total_solids(row) == pytest.approx(100 - parts["water"] - parts["ethanol"])


@given(mixes(), st.floats(0.01, 100))
def test_scaling_a_mix_changes_nothing_but_its_mass(mix: Mix, factor: float) -> None:
    scaled = Mix(
        mix.name,
        tuple(type(line)(line.ingredient, line.grams * factor, line.stage) for line in mix.lines),
        mix.style,
        mix.overrun_pct,
    )
    one, other = analyse_mix(mix), analyse_mix(scaled)
    np.testing.assert_allclose(one.row, other.row, rtol=1e-9, atol=1e-12)
    np.testing.assert_allclose(one.frozen_pct, other.frozen_pct, rtol=1e-6, atol=1e-6)
    assert other.volume_l == pytest.approx(float(one.volume_l) * factor)


def test_blend_of_nothing_is_zero_not_an_error() -> None:
    assert np.all(blend(np.zeros(1), catalogue()["sugar"].ingredient.row[None, :]) == 0)


def test_milk_solids_follow_the_dairy_proportions() -> None:
    milk = catalogue()["whole-milk"].ingredient.composition.per_100g
    solids = milk["lactose"] + milk["milk_protein"] + milk["milk_salts"]
    assert solids == pytest.approx(8.7)
    assert milk["lactose"] / solids == pytest.approx(0.545, abs=0.005)


def test_yolk_solids_tell_yolk_from_whole_egg() -> None:
    assert trait_of(mix_of(*DAIRY, ("egg-yolk", 30.0)).row(), "yolk_solids") == pytest.approx(1.5)


@pytest.mark.parametrize(
    ("per_100g", "says"),
    [
        ({"water": 50}, "does not close"),
        ({"water": 120, "sucrose": -20}, "cannot be negative"),
        ({"water": 50, "sugar": 50}, "unknown part “sugar”"),
        ({"water": float("nan")}, "not a number"),
        ({"water": "100"}, "not a number"),
        ({"water": True}, "not a number"),
        ({}, "does not close"),
    ],
)
def test_impossible_compositions_are_refused_by_name(per_100g: dict[str, float], says: str) -> None:
    with pytest.raises(CompositionError, match=says) as refused:
        Composition("Odd syrup", per_100g)
    assert "Odd syrup" in str(refused.value)


@pytest.mark.parametrize(
    "data",
    [
        {"per_100g": {"water": 100}},
        {"name": "x" * 10_000, "per_100g": {"water": 100}},
        {"name": "bell\x07", "per_100g": {"water": 100}},
        {"name": "Odd", "per_100g": [100]},
        {"name": "Odd", "per_100g": {"water": 100}, "colour": "red"},
        {"name": "Odd", "per_100g": {"water": 100}, "higher_saccharides_molar_mass": 3},
    ],
)
def test_odd_ingredient_data_is_refused(data: dict[str, object]) -> None:
    with pytest.raises(CompositionError):
        Composition.from_dict(data)


@pytest.mark.parametrize("item", catalogue().values(), ids=lambda item: item.ingredient.slug)
def test_ingredients_survive_being_written_and_read(item: CatalogueEntry) -> None:
    again = Composition.from_dict(item.ingredient.composition.as_dict())
    np.testing.assert_array_equal(again.row, item.ingredient.row)


def test_small_gaps_are_closed_in_proportion() -> None:
    row = components_of(Composition("label", {"water": 79.8, "sucrose": 19.95}).row)
    assert row.sum() == pytest.approx(100)
    assert row[KEYS.index("sucrose")] / row[KEYS.index("water")] == pytest.approx(0.25)


def test_a_mix_must_weigh_something() -> None:
    with pytest.raises(MixError, match="weighs nothing"):
        mix_of(("sugar", 0.0))


def test_misspelled_names_find_their_neighbours() -> None:
    assert "whole-milk" in closest("hole-milk", catalogue())


@pytest.mark.parametrize("item", catalogue().values(), ids=lambda item: item.ingredient.slug)
def test_allergens_are_known_and_never_less_than_the_composition_shows(item: CatalogueEntry) -> None:
    assert set(item.ingredient.allergens) <= set(ALLERGENS)
    assert set(allergens_of(item.ingredient.composition, item.ingredient.allergens)) == set(item.ingredient.allergens)


def test_the_shelf_read_by_sections_is_the_shelf_read_whole() -> None:
    whole = {}
    for kind in {kind for kind, _ in shelf_sections().values()}:
        whole |= read_toml(f"shelf/{kind}.toml")
    assert whole == {slug: read_shelf_section(slug)[1] for slug in shelf_sections()}
