"""Exchanges and the tangents of Balance: what is worked out at once is what one by one would give."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import mix_of, mixes
from jalebi_core.advice.adjustments import help_for
from jalebi_core.advice.exchanges import MOST_SHARE_PCT, exchanged, exchanges_of, ingredients_to_try
from jalebi_core.balance.programme import problem_of, tangent_of
from jalebi_core.balance.quantities import aimable
from jalebi_core.balance.request import Aim, BalanceRequest
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import ingredients


@settings(max_examples=30)
@given(mixes(), st.data())
def test_every_exchange_keeps_the_mass_and_makes_the_row_that_it_says(mix: Mix, data: st.DataObject) -> None:
    tried = exchanges_of(mix, ingredients(), ingredients_to_try(mix, ingredients(), ()))
    if tried is None:
        return
    index = data.draw(st.integers(0, len(tried.grams) - 1))
    line, slug = tried.of(index)
    after = exchanged(mix, line, ingredients()[slug], float(tried.grams[index]))
    assert after.mass_g == pytest.approx(mix.mass_g)
    assert all(one.grams >= -1e-9 for one in after.lines)
    np.testing.assert_allclose(after.row(), tried.rows[index], atol=1e-6)


@given(mixes(), st.sampled_from(["vegan", "alcohol-free", "low-sugar", "without:sugar"]))
def test_nothing_that_offends_or_is_new_to_the_guests_is_tried(mix: Mix, restriction: str) -> None:
    has = {allergen for line in mix.lines if line.ingredient for allergen in line.ingredient.allergens}
    for slug in ingredients_to_try(mix, ingredients(), (restriction,)):
        assert offence(ingredients()[slug], restriction) is None
        assert set(ingredients()[slug].allergens) <= has


@settings(max_examples=25)
@given(mixes())
def test_any_mix_gets_help_or_an_honest_none_for_each_fault(mix: Mix) -> None:
    for found in help_for(mix, -18.0, ingredients()):
        assert found.adjustments or found.otherwise
        assert found.cured == (bool(found.together) or any(adjustment.cures for adjustment in found.adjustments))
        assert not (found.cured and found.otherwise)
        assert all(adjustment.slug in MOST_SHARE_PCT or found.key == "flavour" for adjustment in found.adjustments)


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
    for index, quantity in enumerate(problem.quantities):
        if quantity.linear:
            assert by_tangent[index] == pytest.approx(values[index], rel=1e-6, abs=1e-6)
    near = at + 0.01 * (there - at)
    np.testing.assert_allclose(tangent.value + tangent.slopes @ (near - at), problem.values(near), rtol=0.02, atol=0.1)
