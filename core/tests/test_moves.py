"""Moves and the tangents of Balance: mass is kept, amounts can be weighed, and nothing unwelcome comes in."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from conftest import mix_of, mixes, staged
from jalebi_core.advice.additions import MOST_SHARE_PCT, ingredients_to_try
from jalebi_core.advice.moves import (
    Columns,
    as_weighed,
    named_directions,
    named_moves,
    searched_directions,
    whole_moves,
)
from jalebi_core.advice.roles import LIQUIDS, STRUCTURE, role_of
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.balance.programme import problem_of, tangent_of
from jalebi_core.balance.quantities import aimable
from jalebi_core.balance.request import Aim, BalanceRequest
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import catalogue, find, ingredients


def test_named_moves_speak_of_roles_or_of_the_shelf_and_cure_outcomes() -> None:
    roles = STRUCTURE | {"liquid", "fruit", "gum", "spirit"}
    faults = {f"{key} {state}" for key in outcome_scales() for state in ("low", "high")}
    for move in named_moves():
        for name in (move.gives, move.takes):
            assert name in roles or name in catalogue(), name
        assert set(move.cures) <= faults
    assert set(MOST_SHARE_PCT) <= set(catalogue())


@pytest.mark.parametrize(
    ("slug", "role"),
    [("whole-milk", "milk"), ("cream-36", "cream"), ("skim-milk-powder", "milk-powder"), ("sugar", "sugar"),
     ("dextrose", "dextrose"), ("honey", None), ("yogurt", None), ("coconut-milk", "plant-cream"),
     ("coconut-oil", "plant-fat"), ("oat-drink", "plant-drink"), ("egg-yolk", "yolk"), ("quince-puree", "fruit"),
     ("hazelnut-paste", None), ("rum-40", None), ("guar-gum", "gum"), ("allulose", "polyol")],
)  # fmt: skip
def test_roles_are_told_by_what_goods_are_made_of(slug: str, role: str | None) -> None:
    assert role_of(find(slug)) == role


@settings(max_examples=40)
@given(mixes(), st.floats(0.02, 1.0))
def test_every_move_keeps_the_mass_and_leaves_no_line_below_nothing(mix: Mix, part: float) -> None:
    columns = Columns(mix, ingredients(), ())
    directions = [*named_directions(columns, "firmness high"), *searched_directions(columns)]
    assume(directions)
    now = columns.grams
    grams = as_weighed(now, np.maximum(now + part * whole_moves(columns, directions), 0.0), mix.mass_g)
    np.testing.assert_allclose(grams.sum(axis=1), mix.mass_g, rtol=1e-5)
    assert (grams > -2e-3 * mix.mass_g).all()


def test_liquids_give_way_the_thinnest_and_biggest_first() -> None:
    mix = staged(
        ("cream-36", 300.0, "pot"), ("whole-milk", 200.0, "pot"), ("water", 250.0, "pot"), ("sugar", 90.0, "pot")
    )
    columns = Columns(mix, ingredients(), ())
    liquid = columns.liquid()
    assert liquid is not None
    assert columns.columns[liquid].ingredient.slug == "water"
    assert {role for roles in LIQUIDS for role in roles} <= STRUCTURE


def test_a_gum_comes_in_where_its_stage_is_hot_enough_for_it() -> None:
    hot = staged(("whole-milk", 800.0, "pot"), ("sugar", 160.0, "pot"))
    cold = staged(("whole-milk", 800.0, "cold"), ("sugar", 160.0, "cold"))
    found = []
    for mix in (hot, cold):
        columns = Columns(mix, ingredients(), ())
        taker = columns.taking("gum", 0)
        assert taker is not None
        found.append((columns.columns[taker].ingredient.slug, columns.columns[taker].stage))
    assert found == [("locust-bean-gum", "dry"), ("guar-gum", "cold")]


@given(mixes(), st.sampled_from(["vegan", "alcohol-free", "low-sugar", "without:sugar"]))
def test_nothing_that_offends_or_is_new_to_the_guests_is_tried(mix: Mix, restriction: str) -> None:
    has = {allergen for line in mix.lines if line.ingredient for allergen in line.ingredient.allergens}
    tried = ingredients_to_try(mix, ingredients(), (restriction,))
    assume(tried)
    for slug in tried:
        assert offence(ingredients()[slug], restriction) is None
        assert set(ingredients()[slug].allergens) <= has


def test_no_lactose_comes_into_a_mix_of_milk_without_any() -> None:
    mix = mix_of(("lactose-free-milk", 700), ("lactose-free-cream", 120), ("sugar", 150))
    assert "skim-milk-powder" not in ingredients_to_try(mix, ingredients(), ())
    assert "skim-milk-powder" in ingredients_to_try(mix_of(("whole-milk", 700), ("sugar", 150)), ingredients(), ())


@settings(max_examples=25)
@given(st.lists(st.floats(20, 400), min_size=4, max_size=4))
def test_tangents_are_exact_for_what_is_linear_and_close_for_the_cold(grams: list[float]) -> None:
    base = mix_of(("whole-milk", 600), ("cream-36", 130), ("skim-milk-powder", 30), ("sugar", 140))
    problem = problem_of(BalanceRequest(base, tuple(Aim(key, 0, 1) for key, _, _ in aimable()), mass_g=sum(grams)))
    there = np.array(grams)
    at = problem.now * there.sum() / problem.now.sum()
    tangent = tangent_of(problem, at)
    by_tangent = tangent.value + tangent.slopes @ (there - at)
    values = problem.values(there)
    linear = [quantity.linear for quantity in problem.quantities]
    assert 5 < sum(linear) < len(linear)
    assert by_tangent[linear] == pytest.approx(values[linear], rel=1e-6, abs=1e-6)
    near = at + 0.01 * (there - at)
    np.testing.assert_allclose(tangent.value + tangent.slopes @ (near - at), problem.values(near), rtol=0.02, atol=0.1)


def test_no_sugar_comes_into_what_is_sweetened_without() -> None:
    xylitol = mix_of(("whole-milk", 600), ("cream-36", 200), ("xylitol", 120))
    assert not {"sugar", "dextrose", "glucose-syrup-de42"} & set(ingredients_to_try(xylitol, ingredients(), ()))
    allulose = mix_of(("whole-milk", 600), ("cream-36", 200), ("allulose", 120))
    assert "sugar" not in ingredients_to_try(allulose, ingredients(), ())
    both = mix_of(("whole-milk", 600), ("sugar", 60), ("xylitol", 60))
    assert "dextrose" in ingredients_to_try(both, ingredients(), ())
