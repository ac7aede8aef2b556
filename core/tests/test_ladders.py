"""Ladders and grids of a mix, and one base that is split late."""

from __future__ import annotations

from itertools import permutations
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.shelf.catalogue import find
from jalebi_core.tasting.factors import ByAim, ByGrams, ByShare
from jalebi_core.tasting.ladder import ladder
from jalebi_core.tasting.split import split
from jalebi_core.tasting.telling_apart import figures_as_tasted
from test_trials import CUSTARD


def grams_of(mix: Mix, slug: str) -> float:
    return sum(line.grams for line in mix.lines if line.ingredient.slug == slug)


@given(st.lists(st.floats(0, 25), min_size=2, max_size=6, unique=True), st.sampled_from([None, 0, 4]))
def test_a_ladder_by_grams_keeps_the_mass(steps: list[float], taker: int | None) -> None:
    made = ladder(CUSTARD, [ByGrams(2, tuple(steps), taker)])
    for rung, step in zip(made.rungs, steps, strict=True):
        assert rung.mix.mass_g == pytest.approx(CUSTARD.mass_g)
        assert grams_of(rung.mix, "skim-milk-powder") == pytest.approx(step)


@given(st.lists(st.floats(0, 100), min_size=2, max_size=6, unique=True))
def test_a_ladder_by_share_is_gram_for_gram(shares: list[float]) -> None:
    made = ladder(CUSTARD, [ByShare(4, find("dextrose"), tuple(shares))])
    for rung, share in zip(made.rungs, shares, strict=True):
        assert grams_of(rung.mix, "dextrose") == pytest.approx(1.5 * share)
        assert rung.mix.mass_g == pytest.approx(CUSTARD.mass_g)


def test_a_grid_has_the_first_factor_slowest_and_says_what_differs() -> None:
    made = ladder(CUSTARD, [ByAim("fat", (10.0, 12.0), (0, 1, 2)), ByShare(4, find("dextrose"), (0, 30))])
    assert [rung.key for rung in made.rungs] == ["A", "B", "C", "D"]
    assert [rung.steps for rung in made.rungs] == [(10, 0), (10, 30), (12, 0), (12, 30)]
    assert "fat 12" in str(made.rungs[3].name) and "30 % dextrose" in str(made.rungs[3].name)
    assert [float(figures_as_tasted(rung.mix, -14)["fat"]) for rung in made.rungs] == pytest.approx(
        [10, 10, 12, 12], abs=0.1
    )


def test_a_ladder_by_aim_holds_what_is_to_be_held() -> None:
    made = ladder(CUSTARD, [ByAim("fat", (9.0, 12.0), (0, 1, 2, 4), ("sweetness",))])
    now = figures_as_tasted(CUSTARD, -14)["sweetness"]
    for rung in made.rungs:
        assert figures_as_tasted(rung.mix, -14)["sweetness"] == pytest.approx(now, rel=0.045)
    assert "sweetness as far as nobody notices" in str(made.held[0])


@pytest.mark.parametrize(
    ("factors", "said"),
    [
        ([], "one thing or two"),
        ([ByGrams(99, (0, 2))], "no line 99"),
        ([ByGrams(0, (520,))], "2 to 12 rungs"),
        ([ByGrams(0, (1, 1))], "each of them once"),
        ([ByGrams(2, (-3, 2))], "less than nothing"),
        ([ByGrams(2, (0, 30), 2)], "its own difference"),
        ([ByGrams(4, (150, 400), 3)], "not enough egg yolk"),
        ([ByGrams(4, (150, 4000))], "no room for anything else"),
        ([ByShare(4, find("dextrose"), (0, 120))], "0 to 100"),
        ([ByAim("fat", (6, 9), ())], "which lines may move for fat"),
        ([ByAim("fat", (9, 40), (0, 1))], "“fat 40 %” is out of reach"),
        ([ByAim("fat", (9, 10), (0, 1), ("beauty",))], "cannot be held"),
        ([ByAim("beauty", (9, 10), (0, 1))], "cannot be aimed at"),
        ([ByAim("cost_per_kg", (9, 10), (0, 1))], "has no price"),
    ],
)
def test_what_makes_no_ladder_is_refused_by_name(factors: list[Any], said: str) -> None:
    with pytest.raises(TastingError) as refused:
        ladder(CUSTARD, factors)
    assert said in str(refused.value)


def test_a_base_is_split_where_the_variants_part() -> None:
    one = {("milk", "pot"): 500.0, ("sugar", "yolks"): 150.0, ("tea", "off-heat"): 10.0, ("rum", "cold"): 5.0}
    other = {**one, ("sugar", "yolks"): 105.0, ("dextrose", "yolks"): 45.0}
    found = split([("A", one), ("B", other)], 10)
    assert found.at == "yolks"
    assert {line.ingredient: line.grams for line in found.base} == pytest.approx({"milk": 1100.0, "sugar": 231.0})
    assert found.base_g == pytest.approx(2 * 1.1 * 605)
    assert [portion.total_g for portion in found.portions] == pytest.approx([665, 665])
    assert ("tea", 10.0) in [(line.ingredient, line.grams) for line in found.portions[0].add]


def test_variants_in_which_nothing_differs_are_one_base() -> None:
    found = split([("A", {("milk", None): 1.0}), ("B", {("milk", None): 1.0})], 0)
    assert (found.at, found.base_g, found.portions[0].add) == (None, 2.0, ())


@given(
    st.lists(
        st.dictionaries(st.sampled_from(list(permutations(("milk", "sugar"), 1))), st.floats(0, 100), min_size=1),
        min_size=2,
        max_size=5,
    )
)
def test_a_split_weighs_every_gram(variants: list[dict[tuple[str, ...], float]]) -> None:
    amounts = [(f"V{at}", {(key[0], None): grams for key, grams in one.items()}) for at, one in enumerate(variants)]
    found = split(amounts, 0)
    for (_, own), portion in zip(amounts, found.portions, strict=True):
        assert portion.total_g == pytest.approx(sum(own.values()), abs=0.02)
