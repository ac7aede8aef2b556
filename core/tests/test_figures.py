"""Sweetness, freezing power, firmness, volume and the verdict made of them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import DAIRY, mix_of, solution
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.cautions import cautions
from jalebi_core.assessment.serving_conditions import served_of
from jalebi_core.assessment.uncertainty import scooping_uncertainty_c
from jalebi_core.assessment.verdict import verdict
from jalebi_core.formats.report import report
from jalebi_core.model.components import INDEX, KEYS
from jalebi_core.model.composition import WIDTH, Composition, trait_of
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.firmness import air_factor, firmness, firmness_word, hardening
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.freezing_power import freezing_power_pac, freezing_power_per_100g_water
from jalebi_core.physics.phases import phases_of
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.shelf.catalogue import catalogue, find


def pure(component: str) -> Composition:
    return Composition(component, {component: 100})


@pytest.mark.parametrize(
    ("component", "power"),
    [
        ("sucrose", 100), ("glucose", 190), ("fructose", 190), ("galactose", 190), ("allulose", 190),
        ("lactose", 100), ("maltose", 100), ("glycerol", 372), ("ethanol", 743), ("erythritol", 280),
        ("xylitol", 225), ("sorbitol", 188), ("acids", 178), ("sodium_chloride", 1171),
        ("milk_salts", 0), ("milk_protein", 0), ("milk_fat", 0),
    ],
)  # fmt: skip
def test_freezing_power_of_pure_substances(component: str, power: float) -> None:
    assert float(freezing_power_pac(pure(component).row)) == pytest.approx(power, abs=0.6)


@pytest.mark.parametrize(
    ("slug", "solids", "dextrose_equivalent"), [("glucose-syrup-de42", 80, 42), ("maltodextrin-de18", 95, 18)]
)
def test_syrups_have_the_freezing_power_of_their_dextrose_equivalent(
    slug: str, solids: float, dextrose_equivalent: float
) -> None:
    per_solids = float(freezing_power_pac(find(slug).row)) / solids * 100
    assert per_solids == pytest.approx(1.9 * dextrose_equivalent, rel=0.02)


def test_dextrose_monohydrate_and_inulin_and_extract() -> None:
    assert float(freezing_power_pac(find("dextrose").row)) == pytest.approx(173, abs=1)
    assert 20 <= float(freezing_power_pac(find("inulin").row)) / 0.96 <= 60
    assert find("vanilla-extract").composition.per_100g["ethanol"] == pytest.approx(28.9)


def test_freezing_power_per_water_is_undefined_without_water() -> None:
    assert float(freezing_power_per_100g_water(solution("sucrose", 20).row())) == pytest.approx(25)
    assert np.isnan(freezing_power_per_100g_water(pure("sucrose").row))


@pytest.mark.parametrize(
    ("slug", "sweetness"),
    [
        ("sugar", 100),
        ("dextrose", 65.5),
        ("fructose", 150),
        ("glucose-syrup-de42", 40),
        ("maltodextrin-de18", 14.3),
        ("water", 0),
    ],
)
def test_sweetness_of_shelf_goods(slug: str, sweetness: float) -> None:
    assert float(sweetness_pod(find(slug).row)) == pytest.approx(sweetness, abs=0.1)


@pytest.mark.parametrize(
    ("value", "word"),
    [
        (0, "liquid"), (0.1, "slushy"), (39.9, "slushy"), (40, "soft-serve"), (55, "very soft"), (60, "soft scoop"),
        (67, "scoops"), (72.9, "scoops"), (73, "stiff"), (78, "hard"), (82, "rock"), (100, "rock"),
    ],
)  # fmt: skip
def test_firmness_words(value: float, word: str) -> None:
    assert firmness_word(value) == word


def test_air_softens_as_the_convention_says() -> None:
    assert float(air_factor(np.float64(30))) == 1
    assert float(firmness(np.zeros(WIDTH), np.float64(76), np.float64(80))) == pytest.approx(70, abs=0.2)


def test_scooping_temperature_is_where_firmness_is_seventy() -> None:
    mix = mix_of(*DAIRY, overrun_pct=60)
    scoop = float(analyse_mix(mix).scoop_c)
    assert float(analyse_mix(mix, freezer_c=scoop).firmness) == pytest.approx(70, abs=1e-6)


@given(st.floats(-30, -5))
def test_colder_freezers_are_never_softer(freezer_c: float) -> None:
    mix = mix_of(*DAIRY)
    assert analyse_mix(mix, freezer_c=freezer_c).firmness <= analyse_mix(mix, freezer_c=freezer_c - 1).firmness + 1e-9


def test_density_of_milk_cream_and_syrup() -> None:
    assert float(analyse_mix(mix_of(("whole-milk", 1.0))).density_kg_l) == pytest.approx(1.03, abs=0.005)
    assert float(analyse_mix(mix_of(("cream-36", 1.0))).density_kg_l) == pytest.approx(1.0, abs=0.01)
    assert float(analyse_mix(mix_of(("coconut-oil", 1.0))).density_kg_l) == pytest.approx(0.93)


def test_air_adds_its_share_of_volume() -> None:
    plain, airy = (analyse_mix(mix_of(*DAIRY, overrun_pct=overrun)) for overrun in (0, 50))
    assert float(airy.volume_l) == pytest.approx(1.5 * float(plain.volume_l))
    assert float(plain.volume_l) == pytest.approx(0.97 / float(plain.density_kg_l))


@pytest.mark.parametrize(
    ("mix", "freezer_c", "says"),
    [
        (mix_of(*DAIRY), -18.0, "From your −18 °C freezer it is hard."),
        (mix_of(*DAIRY), -9.0, "From your −9 °C freezer it is a soft scoop."),
        (
            mix_of(("neutral-spirit-40", 100.0)),
            -18.0,
            "Never quite sets to a scoop. From your −18 °C freezer it is liquid.",
        ),
        (mix_of(("sugar", 100.0)), -18.0, "Nothing freezes here: there is no water that could turn to ice."),
    ],
)
def test_verdict_says_what_a_cook_would(mix: Mix, freezer_c: float, says: str) -> None:
    assert str(verdict(analyse_mix(mix, freezer_c=freezer_c), freezer_c)).endswith(says)


def told(mix: Mix) -> list[str]:
    found, overrun = analyse_mix(mix), np.array(mix.overrun_used_pct)
    messages = cautions(
        mix, found, phases_of(found.row, overrun, frozen_at(found.row, -18.0), -18.0), -18.0, served_of(mix)
    )
    return [str(message) for message in messages]


def test_cautions_name_assumptions_and_limits() -> None:
    assumed = mix_of(*DAIRY, overrun_pct=None)
    assert "30 % is assumed" in told(assumed)[0]
    strong = mix_of(("neutral-spirit-40", 100.0))
    assert "alcohol" in " ".join(told(strong))
    gritty = mix_of(*DAIRY, ("erythritol", 80.0))
    assert "gritty" in " ".join(told(gritty))
    dry = mix_of(("sugar", 100.0))
    assert "no water" in " ".join(told(dry))


def test_report_has_every_figure_as_plain_data() -> None:
    figures = report(mix_of(*DAIRY))
    assert [point["t_c"] for point in figures["freezing"]["curve"]] == list(range(0, -31, -1))
    assert figures["per_100g"]["fat"] == pytest.approx(figures["per_100g"]["milk_fat"])
    assert figures["firmness"]["word"] == "hard"
    empty = report(Mix("oil", (Line(find("coconut-oil"), 1.0),)))
    assert empty["freezing"]["initial_c"] is None and empty["freezing"]["scoop_c"] is None


def with_added(slug: str, grams: float) -> tuple[float, float]:
    """Return by how much firmness and the curve move when so much goes into a plain gelato."""
    plain = (("whole-milk", 700.0), ("cream-36", 100.0), ("sugar", 170.0))
    before, after = analyse_mix(mix_of(*plain)), analyse_mix(mix_of(*plain, (slug, grams)))
    return float(after.firmness - before.firmness), float(after.frozen_pct[18] - before.frozen_pct[18])


@pytest.mark.parametrize("slug", ["cocoa-powder-22", "cocoa-butter", "hazelnut-paste", "black-sesame-paste"])
def test_chocolate_and_nuts_come_out_harder_and_not_softer(slug: str) -> None:
    harder, frozen = with_added(slug, 60.0)
    assert harder > 0.9
    assert frozen < 0.5


def test_cocoa_and_cocoa_butter_together_harden_a_plain_gelato_as_the_convention_says() -> None:
    row = mix_of(("whole-milk", 920.0), ("cocoa-butter", 20.0), ("dark-chocolate-70", 60.0)).row()
    parts = dict(zip(KEYS, row, strict=False))
    expected = 0.43 * parts["cocoa_fat"] + 0.87 * parts["cocoa_solids"]
    assert float(hardening(row)) == pytest.approx(expected)
    assert float(firmness(row, np.float64(60), np.float64(30))) == pytest.approx(60 + expected)


def test_milk_fat_and_fruit_harden_nothing_and_neither_does_what_is_not_frozen() -> None:
    for slug in ("cream-36", "strawberry-puree", "egg-yolk", "coconut-oil"):
        assert float(hardening(find(slug).row)) == 0.0
    assert float(firmness(find("hazelnut-paste").row, np.float64(0), np.float64(30))) == 0.0


def test_nuts_and_seeds_say_how_much_of_their_fat_is_theirs() -> None:
    rows = {slug: entry.ingredient.row for slug, entry in catalogue().items() if entry.ingredient.kind == "nut"}
    assert len(rows) > 20
    for slug, row in rows.items():
        assert 0 < float(trait_of(row, "nut_fat")) <= float(row[INDEX["other_fat"]]) + 0.5, slug


def test_scoop_marks_are_as_sure_as_the_ingredients() -> None:
    exact = mix_of(("water", 700), ("sugar", 200), ("dextrose", 60))
    assert scooping_uncertainty_c(exact) == 0.7
    fruity = mix_of(("strawberry-puree", 700), ("sugar", 160), ("dextrose", 60))
    assert 0.75 < scooping_uncertainty_c(fruity) < 2.5
