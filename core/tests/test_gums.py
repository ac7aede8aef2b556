"""Gums: dose, heat, pairs, sugar to blend into, and the scale."""

from __future__ import annotations

import pytest

from conftest import mix_of, staged
from jalebi_core.assessment.gums import Gum, gums_of
from jalebi_core.formats.report import report
from jalebi_core.model.mix import Mix
from jalebi_core.shelf.catalogue import ingredients

MILK = ("whole-milk", 850.0, "pot")
SUGAR = ("sugar", 147.0, "pot")


def gum(mix: Mix, scale_g: float = 0.01) -> Gum:
    return gums_of(mix, scale_g).gums[0]


def test_dose_of_mix_and_of_water_against_the_usual_one() -> None:
    found = gum(staged(MILK, SUGAR, ("guar-gum", 2.0, "dry")))
    assert found.dose_pct == pytest.approx(0.2, abs=0.001)
    assert found.in_water_pct == pytest.approx(0.2 / 0.747, abs=0.005)
    assert (found.word, found.works) == ("within", True)
    assert gum(staged(MILK, SUGAR, ("guar-gum", 50.0, "dry"))).word == "over"
    assert gum(staged(MILK, SUGAR, ("guar-gum", 0.4, "dry"))).word == "under"


@pytest.mark.parametrize(
    ("lines", "works"),
    [((MILK, ("locust-bean-gum", 2.0, "dry")), True),
     ((("whole-milk", 850.0, "cold"), ("locust-bean-gum", 2.0, "dry")), False),
     ((MILK, ("locust-bean-gum", 2.0, "cold")), False),
     ((MILK, ("locust-bean-gum", 2.0, None)), None),
     ((("whole-milk", 850.0, "cold"), ("guar-gum", 2.0, "cold")), True)],
)  # fmt: skip
def test_a_hot_set_gum_in_a_cold_process_is_told(
    lines: tuple[tuple[str, float, str | None], ...], works: bool | None
) -> None:
    found = gum(staged(*lines))
    assert found.works is works
    assert any("here it stays cold" in str(message) for message in found.advice) == (works is False)


def test_a_gum_wants_five_times_its_weight_in_sugar() -> None:
    assert any(
        "10 g or more of the sugar" in str(message)
        for message in gum(staged(MILK, SUGAR, ("guar-gum", 2.0, "dry"))).advice
    )
    alone = gum(staged(MILK, ("guar-gum", 2.0, "dry"), ("honey", 150.0, "pot")))
    assert any("too little" in str(message) and "shear" in str(message) for message in alone.advice)


def test_what_the_scale_cannot_weigh_gets_a_pre_blend_that_it_can() -> None:
    mix = staged(MILK, SUGAR, ("locust-bean-gum", 1.3, "dry"))
    assert gum(mix, 0.01).weighable
    coarse = gum(mix, 1.0)
    assert not coarse.weighable
    assert any(
        "Blend 20 g of it with 380 g of sugar and keep that in a jar: weigh 26 g" in str(message)
        for message in coarse.advice
    )
    assert any("finer one" in str(message) for message in gum(mix, 20.0).advice)
    unsweet = staged(MILK, ("sugar", 20, "pot"), ("locust-bean-gum", 1.3, "dry"))
    assert any("finer one" in str(message) for message in gum(unsweet, 1.0).advice)


def test_pairs_are_told_whether_they_gel_or_help() -> None:
    both = staged(MILK, SUGAR, ("locust-bean-gum", 1.0, "dry"), ("xanthan-gum", 1.0, "dry"))
    assert "gel" in gums_of(both, 0.01).pairs[0]
    assert gums_of(staged(MILK, SUGAR, ("guar-gum", 1.0, "dry")), 0.01).pairs == ()


def test_two_lines_of_one_gum_are_one_dose_and_a_layer_is_none() -> None:
    twice = gums_of(staged(MILK, ("guar-gum", 1.0, "dry"), ("guar-gum", 1.0, "cold")), 0.01).gums
    assert [found.dose_pct for found in twice] == [pytest.approx(2 / 8.52, abs=0.01)] * 2
    assert gums_of(staged(MILK, ("gelatin", 5.0, "layer")), 0.01).gums == ()


def test_the_data_names_every_gum_with_a_dose_on_the_shelf() -> None:
    dosed = [slug for slug, item in ingredients().items() if item.facts.dose_pct]
    assert len(dosed) >= 15
    data = report(mix_of(("water", 5000.0), *((slug, 5.0) for slug in dosed)))["gums"]
    assert len(data["lines"]) == len(dosed)
    assert all(line["said"] for line in data["lines"])
    assert data["total_pct"] > 0.5


def test_a_gum_without_water_has_a_dose_and_no_water_to_be_counted_in() -> None:
    found = gum(mix_of(("guar-gum", 5.0), ("coconut-oil", 95.0)))
    assert found.word == "over"
    assert gums_of(mix_of(("coconut-oil", 95.0)), 1.0).total_in_water_pct == 0
