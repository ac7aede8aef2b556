"""Machines: fill, runs, air, and what changes when a full batch follows a trial."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.model.errors import MachineError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.density import density_kg_l
from jalebi_core.production.machines import Machine, class_change, fill_of, full_run_g, machine, machine_kinds
from jalebi_core.shelf.catalogue import catalogue

CANISTER = machine("Canister", "canister", 1.5)


def milk_ice(grams: float = 1000, overrun_pct: float = 25) -> Mix:
    parts = (("whole-milk", 0.6, "pot"), ("cream-36", 0.22, "pot"), ("sugar", 0.18, "pot"))
    lines = tuple(Line(catalogue()[slug].ingredient, part * grams, stage) for slug, part, stage in parts)
    return Mix("milk ice", lines, "ice-cream", overrun_pct)


def test_volume_in_is_mass_over_density_and_air_comes_on_top() -> None:
    fill = fill_of(milk_ice(1000), CANISTER)
    assert fill.in_l == pytest.approx(1.0 / float(density_kg_l(milk_ice().row())))
    assert fill.out_l == pytest.approx(fill.in_l * 1.25)
    assert fill.in_pct == pytest.approx(100 * fill.in_l / 1.5)


def test_too_much_for_one_run_is_split_into_equal_runs_that_fit() -> None:
    fill = fill_of(milk_ice(2000), CANISTER)
    assert fill.runs == 2
    assert fill.out_pct <= CANISTER.kind.most
    assert fill.message.startswith("2 equal runs, each ")


@given(grams=st.floats(20, 200_000), bowl=st.floats(0.2, 60), air=st.floats(0, 150))
def test_runs_are_the_fewest_that_fit_and_hold_all_of_it(grams: float, bowl: float, air: float) -> None:
    mix = milk_ice(grams, air)
    density = float(density_kg_l(mix.row()))
    for kind in machine_kinds().values():
        one = Machine("m", kind, bowl)
        fill = fill_of(mix, one)
        if fill.runs < 1000:
            assert fill.word != "overfull"
            assert fill.out_pct <= kind.most + 1e-6
        if fill.runs > 1:
            assert fill.out_pct * fill.runs / (fill.runs - 1) > kind.most
        assert fill.runs * fill.in_l == pytest.approx(grams / 1000 / density)


def test_a_full_run_fills_to_the_most_and_not_a_gram_more() -> None:
    mix = milk_ice()
    most_g = full_run_g(mix, CANISTER)
    assert fill_of(milk_ice(most_g), CANISTER).runs == 1
    assert fill_of(milk_ice(most_g), CANISTER).out_pct == pytest.approx(CANISTER.kind.most)
    assert fill_of(milk_ice(most_g * 1.001), CANISTER).runs == 2


def test_what_is_folded_in_does_not_fill_the_machine() -> None:
    mix = milk_ice()
    nuts = Line(catalogue()["sugar"].ingredient, 300, "mix-in")
    assert fill_of(replace(mix, lines=(*mix.lines, nuts)), CANISTER) == fill_of(mix, CANISTER)


def test_words_go_with_the_share_of_the_bowl() -> None:
    words = [fill_of(milk_ice(grams), CANISTER).word for grams in (200, 600, 1100)]
    assert words == ["scant", "part-full", "nearly full"]
    assert fill_of(milk_ice(200), machine("Tub", "no-churn", 1.5)).word == "nearly full"


def test_air_that_the_machine_does_not_beat_in_is_said() -> None:
    assert fill_of(milk_ice(overrun_pct=25), CANISTER).air_message is None
    assert "more than a canister bowl usually beats in (15–35 %)" in (
        fill_of(milk_ice(overrun_pct=80), CANISTER).air_message or ""
    )
    assert "less" in (fill_of(milk_ice(overrun_pct=5), CANISTER).air_message or "")


def test_a_trial_that_fitted_does_not_prove_the_full_batch() -> None:
    trial, full = fill_of(milk_ice(500), CANISTER), fill_of(milk_ice(1100), CANISTER)
    message = class_change(trial, full, CANISTER) or ""
    assert "was part-full" in message and "now nearly full" in message and "more slowly" in message
    assert "faster" in (class_change(full, trial, CANISTER) or "")
    assert class_change(trial, trial, CANISTER) is None


def test_kinds_are_in_order_and_warn_of_salt_ice() -> None:
    kinds = machine_kinds()
    assert set(kinds) == {
        "canister", "compressor", "ice-and-salt", "batch-freezer", "soft-serve", "bag", "cook-and-freeze", "no-churn",
    }  # fmt: skip
    for kind in kinds.values():
        assert 0 <= kind.least <= kind.part <= kind.most <= 100
        assert 0 <= kind.air[0] < kind.air[1]
    for key in ("ice-and-salt", "bag"):
        assert "gloves" in (kinds[key].caution or "")


@pytest.mark.parametrize("bowl", [0, -1, 501, float("nan"), float("inf")])
def test_a_bowl_that_cannot_be_is_refused(bowl: float) -> None:
    with pytest.raises(MachineError, match="a bowl of"):
        machine("m", "canister", bowl)


def test_an_unknown_kind_is_refused_with_those_there_are() -> None:
    with pytest.raises(MachineError, match="Use one of canister, compressor"):
        machine("m", "teapot", 1)
