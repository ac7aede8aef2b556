"""What every maker knows: which way a change moves a mix. And the solver against an independent one."""

from __future__ import annotations

from math import isnan

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from conftest import DAIRY, mix_of, mixes
from jalebi_core.assessment.analysis import Analysis, analyse_mix
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import blend, components_of, fat
from jalebi_core.model.mix import Mix
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.model.styles import Style, checked_stage, checked_style, styles
from jalebi_core.physics.freezing import (
    dissolved_erythritol_mol,
    liquid,
    ln_ice_activity,
    ln_water_activity,
    unfrozen_free_water_g,
)
from jalebi_core.shelf.catalogue import find


def with_line(slug: str, grams: float, *, instead_of: str | None = None) -> Analysis:
    """Return the dairy mix with a line added, or with it standing in for as much of another."""
    lines = [(name, amount - grams if name == instead_of else amount) for name, amount in DAIRY]
    return analyse_mix(mix_of(*lines, (slug, grams)))


PLAIN = analyse_mix(mix_of(*DAIRY))


@pytest.mark.parametrize("slug", ["sugar", "dextrose", "fructose", "honey", "glycerol", "neutral-spirit-40", "salt"])
def test_whatever_dissolves_softens_and_lowers_first_ice(slug: str) -> None:
    changed = with_line(slug, 15)
    assert changed.firmness < PLAIN.firmness
    assert changed.initial_c < PLAIN.initial_c
    assert changed.scoop_c < PLAIN.scoop_c


def test_dextrose_for_sugar_is_softer_and_less_sweet() -> None:
    changed = with_line("dextrose", 40, instead_of="sugar")
    assert changed.scoop_c < PLAIN.scoop_c
    assert changed.sweetness_pod < PLAIN.sweetness_pod


def test_maltodextrin_for_sugar_is_harder_and_less_sweet() -> None:
    changed = with_line("maltodextrin-de18", 40, instead_of="sugar")
    assert changed.scoop_c > PLAIN.scoop_c
    assert changed.sweetness_pod < PLAIN.sweetness_pod


def test_water_hardens_and_dulls() -> None:
    changed = with_line("water", 150)
    assert changed.scoop_c > PLAIN.scoop_c
    assert changed.sweetness_pod < PLAIN.sweetness_pod
    assert changed.total_solids < PLAIN.total_solids


def test_fat_moves_neither_first_ice_nor_the_share_of_water_that_is_ice() -> None:
    changed = with_line("butterfat", 50)
    assert float(changed.initial_c) == pytest.approx(float(PLAIN.initial_c), abs=0.01)
    np.testing.assert_allclose(changed.frozen_pct, PLAIN.frozen_pct, atol=0.1)


def test_salt_lowers_by_both_its_ions() -> None:
    salted, sugared = with_line("salt", 5), with_line("sugar", 5)
    by_salt, by_sugar = (float(PLAIN.initial_c - changed.initial_c) for changed in (salted, sugared))
    one_ion_alone = 342.3 / 58.44
    assert 1.2 * one_ion_alone < by_salt / by_sugar < 2 * one_ion_alone


def test_cocoa_holds_water_and_so_hardens_less_than_it_dilutes_but_leaves_less_to_freeze() -> None:
    of, plain = liquid(mix_of(*DAIRY, ("cocoa-powder", 50)).row()), liquid(mix_of(*DAIRY).row())
    held, held_before = of.water_g - of.free_water_g, plain.water_g - plain.free_water_g
    assert float(held - held_before) > 1


@given(mixes(), st.floats(0, 100), st.floats(1, 100))
def test_more_air_is_never_firmer(mix: Mix, overrun: float, more: float) -> None:
    airy = Mix(mix.name, mix.lines, mix.style, overrun)
    airier = Mix(mix.name, mix.lines, mix.style, overrun + more)
    less, much = analyse_mix(airier), analyse_mix(airy)
    assert less.firmness <= much.firmness + 1e-9
    assert less.volume_l > much.volume_l
    if not isnan(less.scoop_c):
        assert less.scoop_c <= much.scoop_c + 1e-9


@given(st.lists(st.floats(0.5, 500), min_size=3, max_size=3), st.floats(0.1, 0.9))
def test_a_blend_of_blends_is_the_blend_of_all(grams: list[float], share: float) -> None:
    rows = np.array([find(slug).row for slug in ("whole-milk", "sugar", "egg-yolk")])
    amounts = np.array(grams)
    parts = np.array([amounts * share, amounts * (1 - share)])
    both = blend(parts.sum(axis=1), blend(parts, rows))
    np.testing.assert_allclose(both, blend(amounts, rows), rtol=1e-9)


@settings(max_examples=60)
@given(mixes(), st.floats(-30, -2))
def test_the_solver_agrees_with_a_general_root_finder(mix: Mix, celsius: float) -> None:
    of = liquid(mix.row())
    target = float(ln_ice_activity(np.array(celsius)))
    free = float(of.free_water_g)

    def dissolved(water: float) -> FloatArray:
        return dissolved_erythritol_mol(of, np.array(water), np.array(celsius))

    assume(free > 1 and float(ln_water_activity(of, np.array(free), dissolved(free))) > target)
    assume(float(of.molecules_mol + of.osmoles_mol + of.salt_mol) > 1e-6)
    expected = brentq(
        lambda water: float(ln_water_activity(of, np.array(water), dissolved(water))) - target, 1e-9, free, xtol=1e-12
    )
    assert float(unfrozen_free_water_g(of, np.array(celsius))) == pytest.approx(expected, rel=1e-8, abs=1e-8)


@given(mixes())
def test_strata_leave_nothing_out(mix: Mix) -> None:
    brought = dict(zip(STRATA, by_stratum(mix.row()), strict=True))
    assert sum(brought.values()) == pytest.approx(float(components_of(mix.row()).sum()))
    assert brought["milk-fat"] <= fat(mix.row()) + 1e-9


@pytest.mark.parametrize("style", styles().values(), ids=lambda style: style.slug)
def test_bands_run_from_low_to_high(style: Style) -> None:
    bands = style.bands
    assert bands and all(low <= high for low, high in bands.values())


def test_nothing_said_is_no_style_and_no_stage() -> None:
    assert checked_style(None) is None and checked_style("") is None
    assert checked_stage(None) is None and checked_stage("pot") == "pot"
