"""A mix in the kitchen's machines: runs, minutes, air and ice, and what a log teaches."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from conftest import DAIRY, mix_of
from jalebi_core.assessment.analysis import WHOLE_DEGREES_C
from jalebi_core.heat.churn import Conditions, churner_kinds
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.machines import Machine, Programme, Tuning, machine, machine_kinds
from jalebi_core.production.runs import churner_of, forecast_run, ice_load, is_stirred, logged_factor, tuning_of
from jalebi_core.tasting.log import Batch, Facts, Log, LogMachine, Made
from jalebi_core.tasting.parameters import learn

MIX = mix_of(*DAIRY)
CANISTER = machine("The blue one", "canister", 1.5)


def of_size(mix: Mix, times: float) -> Mix:
    return replace(mix, lines=tuple(Line(line.ingredient, times * line.grams) for line in mix.lines))


def test_every_kind_is_forecast_but_the_one_that_is_not_stirred() -> None:
    assert [key for key, kind in machine_kinds().items() if not is_stirred(kind)] == ["no-churn"]
    assert set(churner_kinds()) < set(machine_kinds())
    for kind in churner_kinds():
        found = forecast_run(MIX, machine(kind, kind, 2.0), Conditions())
        assert found.run.minutes > 0
        assert found.litres == pytest.approx(found.fill.in_l * found.fill.runs * (1 + found.air_pct / 100))
        assert (found.ice is not None) == (kind in ("ice-and-salt", "bag"))


def test_a_batch_too_large_for_one_run_takes_equal_ones() -> None:
    found = forecast_run(of_size(MIX, 2), CANISTER, Conditions())
    assert found.fill.runs == 2
    assert found.mass_g == pytest.approx(MIX.mass_g)
    assert found.run == forecast_run(MIX, CANISTER, Conditions()).run


def test_a_full_bowl_takes_less_air_and_a_stalled_one_least() -> None:
    part, full, stalled = (
        forecast_run(mix, CANISTER, conditions).air_pct
        for mix, conditions in (
            (of_size(MIX, 0.6), Conditions()),
            (MIX, Conditions()),
            (MIX, Conditions(gel_frozen_pct=20)),
        )
    )
    assert stalled < full < part == 35


def test_a_stalled_run_names_changes_that_each_let_it_be_drawn() -> None:
    conditions = Conditions(start_c=25, prefreeze_h=9)
    found = forecast_run(MIX, CANISTER, conditions)
    assert not found.run.drawn
    assert {remedy.kind for remedy in found.remedies} >= {"colder-base", "freeze-longer", "smaller", "runs"}
    assert all(remedy.run.drawn for remedy in found.remedies)
    smaller = next(remedy.to for remedy in found.remedies if remedy.kind == "smaller")
    assert forecast_run(of_size(MIX, smaller / MIX.mass_g), CANISTER, conditions).run.drawn
    assert str(found.said).startswith("Stalls at −")


def test_no_remedy_fills_a_bowl_to_more_than_it_holds() -> None:
    found = forecast_run(of_size(MIX, 2.2), CANISTER, Conditions(), runs=1)
    assert not found.run.drawn
    assert [remedy.kind for remedy in found.remedies] == ["smaller", "runs"]
    smaller = of_size(MIX, found.remedies[0].to / MIX.mass_g)
    assert forecast_run(smaller, CANISTER, Conditions()).fill.out_pct <= 90
    assert forecast_run(of_size(MIX, 2.2 / found.remedies[1].to), CANISTER, Conditions()).fill.runs == 1


def test_a_programme_says_where_it_is_drawn_and_when_it_stops() -> None:
    soft, short = Programme("soft", draw_c=-3.5), Programme("short", max_min=10)
    usual = forecast_run(MIX, CANISTER, Conditions())
    assert forecast_run(MIX, CANISTER, Conditions(), programme=soft).run.minutes < usual.run.minutes
    assert not forecast_run(MIX, CANISTER, Conditions(), programme=short).run.drawn


def tuned(factors: list[float]) -> Tuning:
    """Return what a log of runs says, in which the machine was so many times as fast as its kind."""
    facts = Facts(WHOLE_DEGREES_C, WHOLE_DEGREES_C, churn_min=30.0)
    day = date(2026, 6, 1)
    batches = tuple(
        Batch(f"b{number}", day, facts, "m", made=Made(churn_min=30 / factor)) for number, factor in enumerate(factors)
    )
    found = learn(Log(machines=(LogMachine("m", (20, 40)),), batches=batches))
    return next(tuning_of(one.posterior) for one in found if one.key == "churn_factor")


def test_an_untuned_forecast_is_wide_and_a_tuned_one_narrow() -> None:
    def width(one: Machine) -> float:
        found = forecast_run(of_size(MIX, 0.7), one, Conditions())
        assert found.earliest_min is not None
        assert found.latest_min is not None
        return found.latest_min - found.earliest_min

    wide, narrow = (
        width(replace(machine("m", "compressor", 1.5), tuning=tuning)) for tuning in (Tuning(), tuned([1.0] * 5))
    )
    assert narrow < wide / 2


def test_logged_minutes_teach_the_factor() -> None:
    quick = replace(CANISTER, tuning=Tuning(1.4))
    minutes = forecast_run(MIX, quick, Conditions(), helped=False).run.minutes
    factor = logged_factor(MIX, CANISTER, Conditions(), minutes)
    assert factor == pytest.approx(1.4, abs=0.02)
    learnt = tuned([factor] * 4)
    assert 1.2 < learnt.factor < factor
    assert learnt.runs == 4
    assert churner_of(replace(CANISTER, tuning=learnt)).factor == learnt.factor
    assert tuned([3.0] * 50).factor == 2.5
    assert tuned([1.0, 1.0, 1.0, 0.4]).factor == pytest.approx(1.0, abs=0.1)


def test_a_bucket_is_filled_where_the_heat_wants_less() -> None:
    table = thermal(MIX.row(), 30.0)
    bucket = machine("bucket", "ice-and-salt", 4.0)
    little, much = (ice_load(table, grams, bucket, 4.0) for grams in (500.0, 20_000.0))
    assert little.ice_g == pytest.approx(4560)
    assert much.ice_g > little.ice_g
    assert little.salt_g / little.ice_g == pytest.approx(much.salt_g / much.ice_g)
