"""Gluts: what comes of an ingredient that must go, and a split that is sensible."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.glut import Outlet, outlet_of, split_glut
from jalebi_core.production.machines import full_run_g, machine
from jalebi_core.shelf.catalogue import find

SORBET = Mix(
    "Quince sorbet",
    tuple(Line(find(slug), grams, "pot") for slug, grams in (("quince-puree", 600), ("sugar", 180), ("water", 220))),
    "sorbet",
    25,
)
CANISTER = machine("Bowl", "canister", 1.5)


def test_a_mix_says_what_comes_of_all_of_it() -> None:
    outlet = outlet_of(SORBET, "quince-puree", None)
    assert outlet is not None
    grams, litres = outlet.made_of(6000)
    assert grams == pytest.approx(10_000)
    assert litres == pytest.approx(10 * outlet.makes_l)
    assert outlet_of(SORBET, "cream-36", None) is None


def test_no_more_is_churned_now_than_the_machine_takes_in_a_day() -> None:
    outlet = outlet_of(SORBET, "quince-puree", CANISTER)
    assert outlet is not None
    assert outlet.most_g == pytest.approx(3 * 0.6 * full_run_g(SORBET, CANISTER))
    jam = Outlet(500, 620)
    assert outlet.most_g is not None
    churned, *kept = split_glut(6000, outlet, [jam, jam])
    assert outlet.most_g - 50 < churned <= outlet.most_g
    assert churned % 50 == kept[0] % 50 == 0
    assert split_glut(500, outlet, [jam]) == (500, 0)
    assert split_glut(6000, outlet, []) == (6000,)
    assert split_glut(6000, None, [jam, jam]) == (0, 3000, 3000)


@given(st.floats(1, 1e5), st.none() | st.floats(1, 1e5), st.integers(0, 3))
def test_a_split_is_all_of_it(grams: float, most: float | None, keeping: int) -> None:
    split = split_glut(grams, Outlet(100, 200, 0.2, most), [Outlet(100, 90)] * keeping)
    assert sum(split) == pytest.approx(grams)
    assert min(split) >= -1e-6
