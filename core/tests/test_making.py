"""Making a batch: steps from the mix, weighing, the pot by way, machines by kind, what was noted and what it means."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import mix_of
from jalebi_core.data import read_toml
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.tub import PLACES, Vessel
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.machines import machine
from jalebi_core.production.making.base_weight import base_gap, without_water
from jalebi_core.production.making.critical import critical_points
from jalebi_core.production.making.layout import making_way
from jalebi_core.production.making.method import making_steps
from jalebi_core.production.making.noticed import MOST, noticed_by_line
from jalebi_core.production.making.process import Noted, pasteurisation_credit, process_quantities
from jalebi_core.production.making.steps import PARTS, MakingBench, MakingStep, Preparation, own_step
from jalebi_core.production.runs import forecast_run
from jalebi_core.production.scaling import Piece
from jalebi_core.shelf.catalogue import find

AT_SIX = datetime(2026, 11, 27, 6, 0, tzinfo=UTC)


def staged(style: str, *lines: tuple[str, float, str | None]) -> Mix:
    return Mix("Test", tuple(Line(find(slug), grams, stage) for slug, grams, stage in lines), style, 30.0)


CUSTARD = staged(
    "frozen-custard",
    ("whole-milk", 488, "pot"),
    ("cream-36", 118, "pot"),
    ("skim-milk-powder", 36, "pot"),
    ("sugar", 141, "pot"),
    ("locust-bean-gum", 1, "dry"),
    ("guar-gum", 1, "dry"),
    ("egg-yolk", 72, "yolks"),
    ("cream-36", 118, "off-heat"),
    ("salt", 1, "off-heat"),
)
SORBET = staged(
    "sorbet", ("water", 216, "pot"), ("sugar", 190, "pot"), ("quince-puree", 552, "cold"), ("lemon-juice", 14, "cold")
)
COLD = staged("sorbet", ("strawberry-puree", 600, "cold"), ("sugar", 200, "cold"), ("water", 150, "cold"))
NO_CHURN = staged("no-churn", ("cream-36", 600, "cold"), ("condensed-milk", 300, "cold"))
PUDDING = staged("gelato", ("whole-milk", 700, "pot"), ("sugar", 150, "pot"), ("corn-starch", 25, "dry"))


def bench_for(mix: Mix, kind: str = "compressor", bowl_l: float = 2.0, runs: int = 1, **said: object) -> MakingBench:
    of_kind = machine("Machine", kind, bowl_l)
    run = forecast_run(mix, of_kind, Conditions(), runs)
    return MakingBench(machine=of_kind, run=run, runs=runs, hardens_in=PLACES["blast"], **said)  # type: ignore[arg-type]


def steps(mix: Mix, **said: object) -> dict[str, MakingStep]:
    found = making_steps(mix, bench_for(mix, **said))  # type: ignore[arg-type]
    assert len({step.id for step in found}) == len(found)
    parts = [list(PARTS).index(step.part) for step in found]
    assert parts == sorted(parts)
    return {step.id: step for step in found}


def test_the_way_decides_the_steps_and_none_stands_there_for_nothing() -> None:
    custard, sorbet, cold = steps(CUSTARD), steps(SORBET), steps(COLD)
    assert [making_way(mix) for mix in (CUSTARD, SORBET, COLD, NO_CHURN)] == ["cook", "syrup", "blend", "whip"]
    assert {"yolks", "cook", "strain", "off-heat", "cool", "age"} <= custard.keys()
    assert {"syrup", "cool", "cold", "taste"} <= sorbet.keys()
    assert not sorbet.keys() & {"yolks", "cook", "scald", "off-heat", "strain"}
    assert "blend" in cold
    assert not cold.keys() & {"warm", "syrup", "cool", "thermometer", "bath", "base-weight"}
    assert list(sorbet).index("taste") > list(sorbet).index("cold")
    assert list(custard).index("taste") < list(custard).index("cool")


def test_every_kind_of_step_is_built_for_some_mix() -> None:
    layered = staged("ice-cream", ("whole-milk", 600, "pot"), ("sugar", 160, "pot"), ("cream-36", 200, "pot"),
                     ("cocoa-powder-22", 40, "pot"), ("dark-chocolate-70", 60, "layer"))  # fmt: skip
    granita = staged("granita", ("water", 800, "pot"), ("sugar", 160, "pot"))
    kinds = {step.kind for mix in (CUSTARD, SORBET, COLD, layered, PUDDING) for step in steps(mix).values()}
    for kind, litres in (("canister", 2.0), ("ice-and-salt", 4.0), ("bag", 3.0)):
        kinds |= {step.kind for step in making_steps(SORBET, bench_for(SORBET, kind, litres))}
    more = staged("gelato", ("whole-milk", 600, "pot"), ("sugar", 150, "pot"), ("tea-leaves", 9, "pot"),
                  ("gelatin", 4, "pot"), ("hazelnut-paste", 80, "off-heat"))  # fmt: skip
    kinds |= {step.kind for mix in (more, PUDDING) for step in steps(mix).values()}
    rum = staged("no-churn", ("cream-36", 500, "cold"), ("condensed-milk", 250, "cold"), ("rum-40", 20, "cold"))
    kinds |= {step.kind for step in making_steps(rum, MakingBench())}
    ahead = (Preparation("quince jam", ("steep", "reduce", "macerate")),)
    for mix in (NO_CHURN, granita):
        kinds |= {step.kind for step in making_steps(mix, MakingBench(preparations=ahead))}
    kinds.add(own_step("own.1", "24 cones filled").kind)
    assert kinds == set(read_toml("making.toml")) - {"refused", "check"}


def test_gums_go_onto_five_times_their_sugar_and_yolks_come_last() -> None:
    order = [step for step in steps(CUSTARD).values() if step.part == "weigh"]
    names = [CUSTARD.lines[step.lines[0]].ingredient.slug for step in order]
    assert names[:3] == ["sugar", "locust-bean-gum", "guar-gum"]
    assert names[-1] == "egg-yolk"
    assert "10 g of it into the dry bowl" in " ".join(str(said) for said in order[0].do)
    gum = order[1].weighing
    assert gum is not None
    assert gum.fine
    assert gum.high_g - gum.target_g == pytest.approx(0.1)


def test_what_nobody_notices_is_the_mixs_own() -> None:
    noticed = noticed_by_line(CUSTARD, -18.0)
    sugar, salt = noticed[3], noticed[8]
    assert sugar is not None
    assert salt is not None
    assert 3 < sugar.grams < 12
    assert sugar.what == "sweeter or less sweet"
    assert salt.what == "saltier or flatter"
    assert all(
        one is None or one.grams <= MOST * line.grams + 1e-9 for one, line in zip(noticed, CUSTARD.lines, strict=True)
    )


def test_whole_pieces_are_counted_and_weighed() -> None:
    found = making_steps(CUSTARD, bench_for(CUSTARD, pieces={6: Piece("yolk", 18.0)}))
    yolks = next(step for step in found if step.lines == (6,) and step.part == "weigh")
    assert str(yolks.do[0]).startswith("Count 4 yolks, then weigh them")


def test_temperatures_are_those_of_the_way() -> None:
    custard = steps(CUSTARD)
    assert (custard["cook"].readings[0].low, custard["cook"].readings[0].high) == (82.0, 84.0)
    assert custard["warm"].least_min == 10
    assert (custard["cook"].critical, custard["cool"].critical, custard["age"].critical) == ("heated", "cooled", "aged")
    assert custard["yolks"].choice == ("in parts", "all together")
    assert "boil" in steps(PUDDING)
    assert steps(SORBET)["syrup"].critical is None


def test_the_bucket_is_loaded_in_layers_and_every_run_is_packed() -> None:
    found = {step.id: step for step in making_steps(SORBET, bench_for(SORBET, "ice-and-salt", 4.0, runs=2))}
    assert {"ice", "load.1", "load.2", "churn.2", "pack.2", "harden.2"} <= found.keys()
    assert "3 layers" in " ".join(str(said) for said in found["load.1"].do)
    assert "pour in" not in " ".join(str(said) for said in found["churn.1"].do)
    assert any("gloves" in str(said).lower() for said in (*found["ice"].mind, *found["load.1"].mind))


def test_layers_are_lifts_of_the_tub() -> None:
    mix = staged("ice-cream", ("whole-milk", 600, "pot"), ("sugar", 160, "pot"), ("dark-chocolate-70", 96, "layer"))
    found = {step.id: step for step in making_steps(mix, bench_for(mix, tub=Vessel(50.0, 100.0)))}
    said = " ".join(str(one) for one in found["pack.1"].do)
    assert "4 lifts of 25 mm in each tub" in said
    assert "of dark chocolate 70 %" in said


def test_what_was_never_heated_keeps_no_longer_whoever_signs() -> None:
    assert steps(COLD, keeps_min=7 * 1440)["age"].most_min == 3 * 1440
    assert steps(CUSTARD, keeps_min=7 * 1440)["age"].most_min == 7 * 1440


def test_cooled_is_five_degrees_as_the_sentence_says() -> None:
    assert steps(CUSTARD)["cool"].readings[0].high == 5.0
    six = notes((0, "cool", "began", "", None), (30, "cool", "read", "cooled_c", 6.0))
    assert found_of(six)["cooled"] == "open"


def test_fresh_is_served_and_never_hardened() -> None:
    found = steps(SORBET, fresh=True)
    assert not found.keys() & {"harden.1", "temper", "tubs"}


@given(st.floats(0.2, 8.0))
def test_a_bigger_batch_has_the_same_steps(times: float) -> None:
    bigger = Mix(
        "Test", tuple(Line(line.ingredient, line.grams * times, line.stage) for line in COLD.lines), "sorbet", 30.0
    )
    usual, scaled = (making_steps(mix, MakingBench(fresh=True)) for mix in (COLD, bigger))
    assert [step.id for step in usual] == [step.id for step in scaled]
    for one, other in zip(usual, scaled, strict=True):
        if one.weighing and other.weighing:
            assert other.weighing.target_g == pytest.approx(times * one.weighing.target_g)
            assert other.weighing.low_g <= other.weighing.target_g <= other.weighing.high_g


def test_a_lighter_base_is_put_to_water_sieve_or_spill() -> None:
    assert list(base_gap(CUSTARD, 976, 971).said) == ["none"]
    gap = base_gap(CUSTARD, 976, 930)
    assert list(gap.said) == ["water", "sieve", "spill"]
    assert "46 g of water boiled off" in str(gap.said["water"])
    assert without_water(CUSTARD, 46).mass_g == pytest.approx(CUSTARD.mass_g - 46)
    for weighed in (1100, 300):
        with pytest.raises(MixError):
            base_gap(CUSTARD, 976, weighed)


def notes(*said: tuple[float, str, str, str, float | None]) -> list[Noted]:
    return [
        Noted(step, what, AT_SIX + timedelta(minutes=at), key, value, "Keeper") for at, step, what, key, value in said
    ]


MADE = notes(
    (0, "thermometer", "read", "ice_water_c", 1.0),
    (20, "cook", "read", "heated_c", 84.0),
    (30, "cool", "began", "", None),
    (45, "cool", "read", "cooled_c", 6.0),
    (50, "age", "began", "", None),
    (60, "clean", "done", "", None),
    (830, "rouse.1", "read", "base_in_c", 5.5),
    (830, "churn.1", "began", "", None),
    (858, "churn.1", "read", "draw_c", -4.0),
    (858, "churn.1", "done", "", None),
    (865, "harden.1", "began", "", None),
    (985, "harden.1", "read", "core_c", -10.0),
    (1045, "harden.1", "read", "core_c", -14.0),
)


def found_of(said: Sequence[Noted]) -> dict[str, str]:
    return {point.key: point.state for point in critical_points(making_steps(CUSTARD, bench_for(CUSTARD)), said)}


def test_what_was_noted_is_the_process() -> None:
    quantities = process_quantities(making_steps(CUSTARD, bench_for(CUSTARD)), MADE, predicted_min=20, fill_pct=70)
    assert quantities == pytest.approx(
        {
            "heated_c": 83.0,
            "base_in_c": 4.5,
            "draw_c": -5.0,
            "fill_pct": 70,
            "aged_h": 13,
            "harden_h": 3,
            "churn_ratio": 1.4,
        }
    )


def test_critical_points_are_met_by_what_was_noted() -> None:
    everything = dict.fromkeys(("heated", "cooled", "aged", "allergens", "hardened"), "met")
    assert found_of(MADE) == {**everything, "foreign_bodies": "open"}
    looked = notes((0, "look-through", "done", "", None))
    assert found_of([*looked, *MADE]) == {**everything, "foreign_bodies": "met"}
    assert set(found_of([]).values()) == {"open"}


def test_a_base_that_nothing_heats_is_met_once_it_is_cold() -> None:
    lines = tuple(Line(find(slug), grams, "cold") for slug, grams in (("water", 500), ("sugar", 160)))
    steps = making_steps(Mix("Cold", lines, "sorbet"), MakingBench())
    for read, state in ((9.0, "open"), (4.0, "met")):
        points = critical_points(steps, notes((0, "chill", "read", "cooled_c", read)))
        assert {one.key: one.state for one in points}["cold_base"] == state


def test_readings_in_the_pot_count_towards_pasteurisation() -> None:
    held = notes((0, "warm", "read", "pot_c", 80.0), (0.5, "cook", "read", "heated_c", 80.0))
    assert pasteurisation_credit(held, "us") == pytest.approx(30 / 25, rel=0.02)
    assert pasteurisation_credit(held[:1], "us") is None
    warm = notes((0, "warm", "read", "pot_c", 60.0), (30, "cook", "read", "heated_c", 60.0))
    assert pasteurisation_credit(warm, "eu") == 0


def test_too_cold_too_slow_or_too_long_is_missed() -> None:
    assert found_of(notes((0, "cook", "read", "heated_c", 79.0)))["heated"] == "missed"
    slow = notes((0, "cool", "began", "", None), (500, "cool", "read", "cooled_c", 4.0))
    assert found_of(slow)["cooled"] == "missed"
    forgotten = notes((0, "age", "began", "", None), (5000, "churn.1", "began", "", None))
    assert found_of(forgotten)["aged"] == "missed"


def test_a_plain_mix_without_stages_can_be_made_too() -> None:
    found = making_steps(mix_of(("whole-milk", 600), ("cream-36", 200), ("sugar", 160)), MakingBench())
    assert {"warm", "scald", "age"} & {step.id for step in found}
