"""What guests must be told of a mix: where it applies, with its figure, and nowhere else."""

from __future__ import annotations

import pytest

from conftest import mix_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.regulation.cautions import REGIONS, caution_keys, cautions_of
from jalebi_core.shelf.catalogue import find, ingredients

MILK = (("whole-milk", 700.0), ("sugar", 150.0))


def told(*lines: tuple[str, float], region: str = "eu") -> dict[str, float | None]:
    return {caution.key: caution.value for caution in cautions_of(mix_of(*lines), region)}


def staged(slug: str, stage: str | None) -> Mix:
    return Mix("staged", (Line(find("whole-milk"), 700, "pot"), Line(find(slug), 80, stage)))


def test_a_plain_milk_ice_needs_no_caution_anywhere() -> None:
    for region in REGIONS:
        assert told(*MILK, region=region) == {}


@pytest.mark.parametrize("region", REGIONS)
def test_polyols_are_told_above_a_tenth_and_xylitol_at_any_dose(region: str) -> None:
    assert "polyols" not in told(*MILK, ("maltitol", 90.0), region=region)
    found = told(*MILK, ("maltitol", 100.0), ("xylitol", 10.0), region=region)
    assert found["polyols"] == pytest.approx(100 * 110 / 960, rel=0.01)
    assert "xylitol" in told(*MILK, ("xylitol", 1.0), region=region)


def test_glycerol_names_the_child_that_a_portion_is_too_much_for() -> None:
    (caution,) = [one for one in cautions_of(mix_of(("water", 980.0), ("glycerol", 20.0))) if one.key == "glycerol"]
    assert caution.value == pytest.approx(2, rel=0.02)
    assert "up to 16 kg" in caution.said
    assert "glycerol" not in told(("water", 990.0), ("glycerol", 10.0))


def test_alcohol_is_by_volume_and_a_spoon_of_extract_is_none() -> None:
    found = told(("water", 900.0), ("neutral-spirit-40", 100.0))
    assert found["alcohol"] == pytest.approx(100 * 0.1 * 0.3329 / 0.789 / (1 / 0.99), rel=0.02)
    assert told(*MILK, ("vanilla-extract", 5.0)) == {}


def test_cassia_tonka_coffee_and_liquorice_by_their_traces() -> None:
    assert told(*MILK, ("cinnamon", 2.0))["coumarin"] == pytest.approx(10 * 300 * 2 / 852)
    assert "coumarin" not in told(*MILK, ("cinnamon", 1.0))
    assert set(told(*MILK, ("tonka-bean", 0.1), region="us")) == {"tonka"}
    assert told(*MILK, ("instant-coffee", 20.0))["caffeine"] == pytest.approx(3000 * 20 / 870)
    assert "caffeine" not in told(*MILK, ("cocoa-powder", 50.0))
    assert told(*MILK, ("liquorice", 10.0))["liquorice"] == pytest.approx(10 * 6000 * 10 / 860)


@pytest.mark.parametrize(
    ("slug", "key"),
    [
        ("egg-yolk", "raw-egg"),
        ("raw-milk", "raw-milk"),
        ("raspberry-puree", "frozen-berries"),
        ("wheat-flour", "raw-flour"),
    ],
)
def test_what_goes_through_the_heat_is_no_longer_raw(slug: str, key: str) -> None:
    for stage in ("cold", "churn", "off-heat", None):
        assert key in {caution.key for caution in cautions_of(staged(slug, stage))}
    for stage in ("pot", "yolks"):
        assert key not in {caution.key for caution in cautions_of(staged(slug, stage))}


def test_what_is_folded_in_counts_for_the_product() -> None:
    mix = Mix("beside", (Line(find("whole-milk"), 900, "pot"), Line(find("xylitol"), 30, "mix-in")))
    assert "xylitol" in {caution.key for caution in cautions_of(mix)}


def test_regions_differ() -> None:
    allulose = (*MILK, ("allulose", 60.0))
    assert [region for region in REGIONS if "not-authorised" in told(*allulose, region=region)] == ["eu", "uk", "ca"]
    stevia = (*MILK, ("steviol-glycosides", 0.2))
    assert [region for region in REGIONS if "intense-sweeteners" in told(*stevia, region=region)] == ["eu", "uk"]
    assert "intense-sweeteners" not in told(("whole-milk", 900.0), ("erythritol", 60.0), ("steviol-glycosides", 0.2))
    with pytest.raises(MixError, match="not a region"):
        cautions_of(mix_of(*MILK), "moon")


def test_each_place_has_its_own() -> None:
    mix = mix_of(*MILK, ("maltitol", 200.0))
    assert {caution.key for caution in cautions_of(mix, place="label")} == {"polyols", "sweeteners"}
    assert {caution.key for caution in cautions_of(mix, place="sheet")} == {"polyols"}
    assert all(caution.source and caution.said.endswith(".") for caution in cautions_of(mix))


def test_every_caution_of_a_row_is_known() -> None:
    used = {key for ingredient in ingredients().values() for key in ingredient.facts.cautions}
    assert {"raw-egg", "raw-milk", "raw-flour"} <= used
    assert used <= caution_keys()


def test_lemon_does_not_warn_of_milk_where_there_is_none() -> None:
    facts = find("lemon-juice").facts
    assert facts.at_stage("pot", with_milk=True)
    assert facts.at_stage("pot", with_milk=False) is None
    warning = {
        slug: ingredient.facts
        for slug, ingredient in ingredients().items()
        if ingredient.kind not in ("dairy", "nut")
        and "milk" in f"{ingredient.facts.if_heated} {ingredient.facts.if_not_heated}"
    }
    assert "lemon-juice" in warning
    assert [slug for slug, of_slug in warning.items() if not of_slug.only_with_milk] == []
