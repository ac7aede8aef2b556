"""What stays dissolved, what a frozen mix consists of, and what other schools say of it."""

from __future__ import annotations

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import DAIRY, mix_of, mixes, solution
from jalebi_core.assessment.analysis import WHOLE_DEGREES_C, analyse_mix
from jalebi_core.assessment.serving_conditions import serving_conditions_of
from jalebi_core.assessment.serving_sum import SERVING_BANDS, serving_sums
from jalebi_core.formats.report import report
from jalebi_core.model.composition import Composition
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.freezing import frozen_at, frozen_pct, initial_freezing_c, liquid, temperature_at_frozen_c
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.phases import Phases, phases_of
from jalebi_core.physics.solubility import ERYTHRITOL, LACTOSE
from jalebi_core.physics.sucrose_equivalents import comparison_line


def cold(mix: Mix, celsius: float = -18.0) -> Phases:
    row = mix.row()
    return phases_of(row, np.array(mix.overrun_used_pct), frozen_at(row, celsius), celsius)


def sweetened_with_erythritol(grams: float) -> Mix:
    return mix_of(("whole-milk", 600), ("cream-36", 250), ("erythritol", grams), ("sugar", 60))


def test_solubility_passes_through_what_was_measured_and_falls_in_the_cold() -> None:
    assert float(ERYTHRITOL.g_per_100g(np.array(25.0))) == pytest.approx(61)
    assert float(LACTOSE.g_per_100g(np.array(25.0))) == pytest.approx(21.6, abs=0.3)
    for line in (ERYTHRITOL, LACTOSE):
        assert np.all(np.diff(line.g_per_100g(np.arange(-32.0, 26.0))) > 0)


def test_erythritol_alone_freezes_out_at_its_eutectic_and_weak_solutions_as_if_nothing_crystallised() -> None:
    weak, strong = solution("erythritol", 3.0), solution("erythritol", 25.0)
    assert float(initial_freezing_c(liquid(weak.row()))) == pytest.approx(-0.47, abs=0.02)
    at = frozen_pct(liquid(strong.row()), np.array([-3.0, -4.0, -18.0]))
    assert at[0] == 0
    assert at[1] == at[2] == 100


def test_erythritol_beyond_its_solubility_softens_no_more() -> None:
    little, much = (float(frozen_at(sweetened_with_erythritol(grams).row(), -18.0)) for grams in (50.0, 150.0))
    water = [mix.row()[0] for mix in map(sweetened_with_erythritol, (50.0, 150.0))]
    unfrozen = [(1 - ice / 100) * w for ice, w in zip((little, much), water, strict=True)]
    assert unfrozen[1] < 1.05 * unfrozen[0]
    glucose = float(
        frozen_at(mix_of(("whole-milk", 600), ("cream-36", 250), ("dextrose", 150), ("sugar", 60)).row(), -18.0)
    )
    assert glucose < much - 5


@given(mixes(), st.floats(1.0, 400.0))
def test_the_curve_stays_monotone_and_inverts_with_erythritol_in_any_mix(mix: Mix, grams: float) -> None:
    more = mix_of(("erythritol", grams)).lines
    of = liquid(Mix("m", (*mix.lines, *more)).row())
    curve = frozen_pct(of, WHOLE_DEGREES_C)
    assert np.all(np.diff(curve) >= -1e-6)
    frozen_through = float(of.free_water_g - curve[18] / 100 * of.water_g) < 1e-9  # as it is from the eutectic down
    if 1 < curve[18] < 99 and float(of.water_g) > 1 and not frozen_through:
        assert float(temperature_at_frozen_c(of, curve[18])) == pytest.approx(-18.0, abs=0.02)


def test_where_erythritol_is_the_only_solute_all_freezes_at_its_eutectic() -> None:
    starch = Ingredient(Composition("Pure starch", {"starch": 100}))
    others = mix_of(("rose-water", 200.0), ("erythritol", 50.0)).lines
    of = liquid(Mix("starch", (Line(starch, 600.0), *others)).row())
    at = np.array([-3.4, -3.6, -18.0])
    free_pct = float(100 * of.free_water_g / of.water_g)
    assert frozen_pct(of, at)[0] < free_pct - 1
    assert frozen_pct(of, at)[1:] == pytest.approx([free_pct, free_pct])


@given(mixes(), st.floats(-32.0, 0.0))
def test_phases_close(mix: Mix, celsius: float) -> None:
    row, found = mix.row(), cold(mix, celsius)
    bound = float(liquid(row).water_g - liquid(row).free_water_g)
    assert float(found.ice_g + found.unfrozen_water_g) + bound == pytest.approx(float(row[0]), abs=1e-6)
    assert 0 <= float(found.ice_volume_pct) <= 110
    assert float(found.crystals_g) >= 0


def test_a_usual_ice_cream_is_a_third_ice_by_volume_and_its_liquid_is_thick_with_sugar() -> None:
    found = cold(mix_of(*DAIRY, overrun_pct=50.0))
    assert float(found.ice_volume_pct) == pytest.approx(37, abs=4)
    assert 60 < float(found.strength_pct) < 75
    assert float(found.lactose_in_water) > float(found.lactose_soluble)


def test_places_get_softer_from_the_freezer_to_the_spoon() -> None:
    freezer, cabinet, serving = serving_conditions_of(mix_of(*DAIRY, style="gelato"), -18.0, -14.0)
    assert (freezer.t_c, cabinet.t_c, serving.t_c) == (-18, -14, -12)
    assert freezer.firmness > cabinet.firmness > serving.firmness
    assert serving.unfrozen_water_g > freezer.unfrozen_water_g


def test_serving_sums_read_the_bands_and_count_salt_and_syrup_as_each_custom_has_it() -> None:
    mix = mix_of(("whole-milk", 600), ("sugar", 150), ("glucose-syrup-de42", 100), ("salt", 5))
    whole, one_particle, as_dextrose = serving_sums(mix)
    assert whole.per_kg == pytest.approx(10 * float(freezing_power_pac(mix.row())))
    assert whole.per_kg - one_particle.per_kg == pytest.approx(585.7 * 5 / 855 * 10, rel=0.03)
    solids = 100 * (1 - find_water("glucose-syrup-de42") / 100)
    assert as_dextrose.per_kg - whole.per_kg == pytest.approx(
        1000 / 855 * (1.9 * solids - float(freezing_power_pac(mix_of(("glucose-syrup-de42", 1)).row()))), rel=0.02
    )
    assert len(serving_sums(mix_of(("whole-milk", 600), ("sugar", 150)))) == 1 + 0


def find_water(slug: str) -> float:
    return float(mix_of((slug, 1.0)).row()[0])


def test_the_bands_of_the_adding_up_school_land_where_the_curve_scoops() -> None:
    """A dairy gelato in each band has about 70 % of its water frozen at the temperature of the band."""
    for low, high, celsius in SERVING_BANDS:
        base = (("whole-milk", 650.0), ("cream-36", 100.0), ("skim-milk-powder", 45.0), ("dextrose", 40.0))
        for sugar in np.arange(60.0, 320.0, 5.0):
            mix = mix_of(*base, ("sugar", float(sugar)))
            if abs(10 * float(freezing_power_pac(mix.row())) - (low + high) / 2) < 4:
                assert serving_sums(mix)[0].serve_c == celsius
                assert 67 < float(frozen_at(mix.row(), celsius)) < 75
                break
        else:
            raise AssertionError(f"no mix lands in {low:g} to {high:g}")


def test_sums_outside_every_band_say_so() -> None:
    assert serving_sums(mix_of(("whole-milk", 1)))[0].serve_c is None
    assert "colder than −14" in str(serving_sums(mix_of(("dextrose", 300), ("water", 600)))[0].message)


def test_the_comparison_line_agrees_with_the_curve_for_sucrose_and_ends_with_its_table() -> None:
    mix = mix_of(*DAIRY)
    line = comparison_line(mix.row())
    curve = analyse_mix(mix)
    for celsius, frozen in zip(line.t_c, line.frozen_pct, strict=True):
        if frozen <= 55:
            assert float(temperature_at_frozen_c(liquid(curve.row), np.array(frozen))) == pytest.approx(
                celsius, abs=0.5
            )
    assert "table" in line.message
    assert "polyols" in comparison_line(mix_of(("water", 80), ("maltitol", 20)).row()).message
    assert comparison_line(mix_of(("sugar", 90), ("water", 10)).row()).t_c == ()


def test_cabinet_data_is_plain_and_complete() -> None:
    data = report(mix_of(*DAIRY))["cabinet"]
    assert [place["key"] for place in data["places"]] == ["freezer", "cabinet", "serving"]
    assert data["serving_sums"][0]["counted"].startswith("both")
    assert len(data["sucrose_equivalents"]["curve"]) > 20


@pytest.mark.parametrize(
    "parts",
    [{"water": 100}, {"ethanol": 100}, {"ethanol": 40, "water": 60}, {"sucrose": 100}, {"erythritol": 100},
     {"sodium_chloride": 30, "water": 70}, {"hydrocolloids": 5, "water": 95}, {"milk_fat": 60, "water": 40},
     {"milk_fat": 100}],
)  # fmt: skip
def test_extremes_have_places_sums_and_a_line(parts: dict[str, float]) -> None:
    extreme = Mix("extreme", (Line(Ingredient(Composition("extreme", parts)), 100.0),), "sorbet", 0.0)
    data = report(extreme)["cabinet"]
    assert all(np.isfinite(place["firmness"]) and place["word"] for place in data["places"])
    assert data["serving_sums"] and data["sucrose_equivalents"]["said"]
    for style in (None, "sorbet", "low-sugar"):
        json.dumps(report(replace(extreme, style=style)), allow_nan=False)


@pytest.mark.parametrize(
    ("parts", "key", "message"),
    [({"hydrocolloids": 5, "water": 95}, "slip", "Slimy"), ({"milk_fat": 60, "water": 40}, "butter", "Buttery"),
     ({"sucrose": 70, "water": 30}, "sweetness", "Cloying"), ({"erythritol": 30, "water": 70}, "grit", "Gritty"),
     ({"lactose": 20, "water": 80}, "sand", "Sandy"), ({"water": 100}, "firmness", "Rock")],
)  # fmt: skip
def test_extremes_are_called_by_their_name(parts: dict[str, float], key: str, message: str) -> None:
    extreme = Mix("extreme", (Line(Ingredient(Composition("extreme", parts)), 100.0),), None, 30.0)
    found = report(extreme)["outcomes"][key]
    assert found["reason"].startswith(message)
    assert found["terms"]


def test_brine_and_spirit_beyond_what_is_known_say_that_they_are_estimates() -> None:
    for parts, message in (({"sodium_chloride": 30, "water": 70}, "brine"), ({"ethanol": 40, "water": 60}, "alcohol")):
        extreme = Mix("extreme", (Line(Ingredient(Composition("extreme", parts)), 100.0),), None, 0.0)
        assert any(message in caution and "estimate" in caution for caution in report(extreme)["cautions"])
