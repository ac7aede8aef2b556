"""Scaling: to a mass, a volume, portions, stock, runs; whole pieces and what they shift; steps of scales."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.model.errors import ScalingError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.machines import fill_of, machine
from jalebi_core.production.mix_ins import product_of
from jalebi_core.production.scaling import (
    KitchenConstants,
    Piece,
    portions_of,
    scaled,
    times_for_line,
    times_for_litres,
    times_for_mass,
    times_for_portions,
    times_for_runs,
)
from jalebi_core.shelf.catalogue import find

KEPT = KitchenConstants()
YOLK = Piece("yolk", 17)


def custard() -> Mix:
    parts = (
        ("whole-milk", 560, "pot"),
        ("cream-36", 220, "pot"),
        ("skim-milk-powder", 36, "pot"),
        ("sugar", 140, "pot"),
        ("egg-yolk", 68, "yolks"),
        ("guar-gum", 1.5, "dry"),
        ("salt", 1, "off-heat"),
    )
    return Mix(
        "custard", tuple(Line(find(slug), float(grams), stage) for slug, grams, stage in parts), "frozen-custard", 25
    )


YOLKS = 4


def test_by_mass_by_litres_by_portions_and_by_runs_reach_what_is_asked() -> None:
    mix = custard()
    assert mix.mass_g * times_for_mass(mix, 2000) == pytest.approx(2000)
    product_l = product_of(mix).volume_l
    assert product_l * times_for_litres(mix, 3, KEPT) * 0.96 == pytest.approx(3)
    tubs = scaled(mix, times_for_portions(mix, 6, 500, KEPT), KitchenConstants(0.01, 0.01))
    assert portions_of(tubs.mix, 500, KEPT) == pytest.approx(6, abs=1)
    canister = machine("Canister", "canister", 1.5)
    two = scaled(mix, times_for_runs(mix, 2, canister), KitchenConstants(0.001, 0.001)).mix
    assert two.mass_g == pytest.approx(mix.mass_g * times_for_runs(mix, 2, canister), abs=0.01)
    fill = fill_of(two, canister)
    assert (fill.runs, round(fill.out_pct)) == (2, 89)


@settings(deadline=None, max_examples=40)
@given(runs=st.integers(1, 6), bowl_l=st.floats(0.8, 12), yolks=st.booleans())
def test_full_runs_stay_so_many_when_weighed(runs: int, bowl_l: float, yolks: bool) -> None:
    one = machine("m", "canister", bowl_l)
    times = times_for_runs(custard(), runs, one)
    found = scaled(custard(), times, KEPT, {YOLKS: YOLK} if yolks else None)
    assert fill_of(found.mix, one).runs == runs


def test_what_is_in_the_house_sets_the_size() -> None:
    mix = custard()
    times = times_for_line(mix, 0, 812)
    assert scaled(mix, times, KEPT).mix.lines[0].grams == 812


def test_losses_ask_for_more_and_leave_fewer_portions() -> None:
    mix = custard()
    assert times_for_litres(mix, 1, KitchenConstants(loss_pct=6)) > times_for_litres(
        mix, 1, KitchenConstants(loss_pct=2)
    )
    assert portions_of(mix, 65, KitchenConstants(loss_pct=20)) < portions_of(mix, 65, KitchenConstants(loss_pct=0))


def test_gums_and_little_amounts_go_to_the_fine_scale_and_the_rest_to_the_scale() -> None:
    found = scaled(custard(), 1.37, KEPT).mix
    by_name = {line.ingredient.name: line.grams for line in found.lines}
    milk, *_, gum, salt = by_name.values()
    assert milk == round(milk) == round(560 * 1.37)
    assert gum == pytest.approx(2.1)
    assert salt == pytest.approx(1.4)


def test_whole_yolks_stay_whole_and_the_rest_makes_up_for_them() -> None:
    mix = custard()
    found = scaled(mix, 1.4, KEPT, {YOLKS: YOLK})
    assert found.counts == {YOLKS: 6}
    assert found.mix.lines[YOLKS].grams == 6 * 17
    assert found.mix.mass_g == pytest.approx(mix.mass_g * 1.4, abs=1)
    before, after = analyse_mix(mix), analyse_mix(found.mix)
    assert float(after.fat) == pytest.approx(float(before.fat), abs=0.65)
    assert float(after.scoop_c) == pytest.approx(float(before.scoop_c), abs=0.45)
    assert found.mix.lines[5].grams == pytest.approx(2.1)


def test_far_from_a_whole_count_the_rest_is_better_than_rounding_alone() -> None:
    mix = custard()
    found = scaled(mix, 0.36, KEPT, {YOLKS: YOLK})
    assert found.counts == {YOLKS: 1}
    by = {one.name: abs(one.after - one.before) for one in found.deviations}
    assert by["Fat"] <= 0.65
    assert by["Solids"] <= 1.25


def test_a_size_at_which_pieces_come_whole_is_named() -> None:
    near = scaled(custard(), 1.4, KEPT, {YOLKS: YOLK}).nearest
    assert [str(one.message).partition(" make")[0] for one in near] == ["5 yolks", "6 yolks"]
    assert near[0].mass_g == pytest.approx(custard().mass_g * 5 / 4)


def test_never_fewer_than_one_piece() -> None:
    assert scaled(custard(), 0.05, KitchenConstants(0.1, 0.01), {YOLKS: YOLK}).counts == {YOLKS: 1}


@settings(deadline=None, max_examples=60)
@given(times=st.floats(0.05, 50))
def test_scaling_changes_nothing_but_the_size(times: float) -> None:
    mix = custard()
    found = scaled(mix, times, KitchenConstants(1e-6, 1e-6))
    before, after = analyse_mix(mix), analyse_mix(found.mix)
    for key in ("fat", "total_solids", "sweetness_pod", "scoop_c"):
        assert float(getattr(after, key)) == pytest.approx(float(getattr(before, key)), rel=1e-4)
    assert found.mix.mass_g == pytest.approx(mix.mass_g * times, rel=1e-4)


def test_a_mix_that_cannot_make_up_says_what_rounding_does() -> None:
    yolks = find("egg-yolk")
    mix = Mix("yolks", (Line(yolks, 68.0, "yolks"),))
    found = scaled(mix, 1.4, KEPT, {0: YOLK})
    assert found.mix.lines[0].grams == 6 * 17
    assert found.effect == found.rounded


@pytest.mark.parametrize("grams", [0, -1, float("nan"), float("inf")])
def test_no_size_is_refused(grams: float) -> None:
    with pytest.raises(ScalingError, match="is no size"):
        times_for_mass(custard(), grams)


@pytest.mark.parametrize("times", [1e-6, 1e9, float("nan")])
def test_a_size_that_nobody_makes_is_refused(times: float) -> None:
    with pytest.raises(ScalingError, match="cannot be made here"):
        scaled(custard(), times, KEPT)


def test_portions_of_no_size_are_refused() -> None:
    with pytest.raises(ScalingError, match="a portion of 0 ml"):
        times_for_portions(custard(), 6, 0, KEPT)


def test_a_line_that_weighs_nothing_sets_no_size() -> None:
    mix = custard()
    empty = replace(mix, lines=(*mix.lines, replace(mix.lines[0], grams=0.0)))
    with pytest.raises(ScalingError, match="weighs nothing"):
        times_for_line(empty, 7, 100)
