"""Restrictions, swaps, confusions and what stands beside the mix."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest

from conftest import DAIRY, mix_of, staged
from jalebi_core.advice.swaps import confusables, confused_with, confusions_for, swap_rules, swaps_for
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.formats.report import report
from jalebi_core.model.composition import fat
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.mix_ins import mix_ins_of, product_of, water_pulled_g
from jalebi_core.regulation.restrictions import RESTRICTIONS, checked_restriction, offence
from jalebi_core.shelf.catalogue import catalogue, find, ingredients

MIX = mix_of(*DAIRY, ("egg-yolk", 40.0))
AT = {slug: number for number, (slug, _) in enumerate((*DAIRY, ("egg-yolk", 40.0)))}


def test_every_slug_of_the_data_is_on_the_shelf() -> None:
    for rule in swap_rules():
        for slug in (*rule.of, rule.by, *rule.beside, *([rule.fill] if rule.fill else [])):
            assert slug in catalogue(), slug
    for group, differ in confusables():
        assert set(group) <= set(catalogue())
        assert differ.endswith(".")


@pytest.mark.parametrize(
    ("key", "offends", "bears"),
    [
        (
            "dairy-free",
            ["whole-milk", "milk-chocolate", "butter", "dark-chocolate-70", "biscuit-crumbs"],
            ["oat-drink", "cocoa-mass", "honey"],
        ),
        ("vegan", ["whole-milk", "honey", "gelatin", "egg-yolk"], ["coconut-cream", "sugar"]),
        ("egg-free", ["egg-yolk", "sponge-crumbs"], ["whole-milk"]),
        ("nut-free", ["hazelnut-paste", "peanut-paste", "almond-drink"], ["black-sesame-paste", "coconut-milk"]),
        ("gluten-free", ["wheat-flour", "malt-extract", "stout", "biscuit-crumbs"], ["rice-drink", "corn-starch"]),
        ("alcohol-free", ["vanilla-extract", "rum-40", "perry"], ["vanilla-pod"]),
        ("low-sugar", ["sugar", "honey", "condensed-milk", "dates"], ["erythritol", "strawberry-puree"]),
        ("no-gelatin", ["gelatin"], ["agar", "egg-yolk"]),
        ("vegetarian", ["gelatin", "marshmallow", "ricotta", "white-wine"], ["whole-milk", "honey", "egg-yolk"]),
        ("soy-free", ["soy-drink", "lecithin", "milk-chocolate"], ["sunflower-lecithin", "cocoa-powder"]),
        ("sesame-free", ["black-sesame-paste", "granola"], ["hazelnut-paste"]),
        ("peanut-free", ["peanut-paste", "granola"], ["hazelnut-paste"]),
        ("lactose-free", ["whole-milk", "lactose-powder", "biscuit-crumbs"], ["lactose-free-cream", "butterfat"]),
        ("sulphite-free", ["white-wine", "raisins", "coconut-milk"], ["strawberry-puree"]),
        ("low-sugar", ["lactose-powder"], ["allulose"]),
        ("without:guar-gum", ["guar-gum", "stabiliser-blend"], ["locust-bean-gum"]),
    ],
)
def test_restrictions_find_their_offenders(key: str, offends: list[str], bears: list[str]) -> None:
    assert checked_restriction(key) == key
    for slug in offends:
        assert offence(ingredients()[slug], key), slug
    for slug in bears:
        assert offence(ingredients()[slug], key) is None, slug


@pytest.mark.parametrize("key", ["halal-ish", "", None, "without:", "without:" + "x" * 61])
def test_an_unknown_restriction_is_refused(key: object) -> None:
    with pytest.raises(MixError, match="not a restriction"):
        checked_restriction(key)


def test_what_does_not_state_its_allergens_offends_those_that_need_it() -> None:
    unstated = replace(find("sugar"), slug="own", allergens=(), allergens_stated=False)
    needing = [key for key, restriction in RESTRICTIONS.items() if restriction.needs_stated_allergens]
    assert all("does not state" in (offence(unstated, key) or "") for key in needing)
    assert offence(unstated, "alcohol-free") is None


def test_swaps_are_ranked_keep_what_they_say_and_never_offend() -> None:
    swaps = swaps_for(MIX, AT["cream-36"], "cream-36", ingredients(), ["dairy-free", "nut-free"])
    assert len(swaps) >= 2
    assert [swap.effect.size for swap in swaps] == sorted(swap.effect.size for swap in swaps)
    for swap in swaps:
        assert all(offence(ingredients()[slug], "dairy-free") is None for slug, _ in swap.lines)
        if swap.equal == "fat":
            brought = sum(float(fat(find(slug).row)) * grams / 100 for slug, grams in swap.lines[:1])
            assert brought == pytest.approx(0.36 * 220, rel=0.01)
    assert "cashew-paste" not in [swap.by for swap in swaps]


def test_glycerol_for_spirit_stays_within_what_a_child_bears() -> None:
    mix = mix_of(("whole-milk", 900.0), ("rum-40", 100.0))
    (swap,) = [one for one in swaps_for(mix, 1, "rum-40", ingredients(), ["alcohol-free"]) if one.by == "glycerol"]
    assert dict(swap.lines)["glycerol"] == pytest.approx(25)
    assert sum(grams for _, grams in swap.lines) == pytest.approx(100)


@pytest.mark.parametrize("key", [key for key in RESTRICTIONS if key not in ("low-sugar",)])
def test_no_stand_in_brings_what_the_restriction_keeps_out(key: str) -> None:
    for slug in {slug for rule in swap_rules() for slug in rule.of}:
        mix = mix_of((slug, 100.0), ("water", 400.0))
        for swap in swaps_for(mix, 0, slug, ingredients(), [key]):
            assert all(offence(ingredients()[by], key) is None for by, _ in swap.lines), (slug, swap.by)


def test_a_swap_says_what_it_does_to_this_mix() -> None:
    sweetener = next(s for s in swaps_for(MIX, AT["sugar"], "sugar", ingredients()) if s.by == "xylitol")
    assert abs(sweetener.effect.sweetness_pod) < 0.6
    assert sweetener.effect.scoop_c < -3
    assert "°C colder (" in str(sweetener.effect.message)


def test_nothing_on_the_shelf_to_swap_with_is_no_error() -> None:
    assert swaps_for(MIX, 0, "water", ingredients()) == []
    assert swaps_for(MIX, AT["cream-36"], "cream-36", {}) == []


def test_a_mistaken_tin_is_told_with_its_effect() -> None:
    mix = mix_of(("condensed-milk", 300.0), ("cream-36", 500.0))
    mistake = confusions_for(mix, 0, "condensed-milk", ingredients())[0]
    assert mistake.other == "evaporated-milk"
    assert mistake.effect.sweetness_pod < -10
    assert "less sweet (" in str(mistake.effect.message)
    assert confused_with("water") == []


def test_whey_for_skim_milk_powder_is_told_by_its_lactose() -> None:
    mistakes = {found.other: found.effect for found in confusions_for(MIX, 2, "skim-milk-powder", ingredients())}
    assert mistakes["whey-powder"].lactose_in_water > 1
    assert "sandier (lactose in its water +" in str(mistakes["whey-powder"].message)
    assert "less protein" in str(mistakes["whey-powder"].message)


def test_less_lactose_is_not_said_to_make_sand() -> None:
    message = [
        str(swap.effect.message)
        for swap in swaps_for(MIX, 2, "skim-milk-powder", ingredients())
        if swap.effect.lactose_in_water < -1
    ]
    assert message
    assert all("less sandy (lactose in its water −" in sentence for sentence in message)


def test_what_stands_beside_the_mix_changes_the_product_and_not_the_mix() -> None:
    bits, sauce = Line(find("dark-chocolate-70"), 80.0, "mix-in"), Line(find("caramel-sauce"), 120.0, "layer")
    both = Mix(MIX.name, (*MIX.lines, bits, sauce), None, MIX.overrun_pct)
    np.testing.assert_array_equal(analyse_mix(both).row, analyse_mix(MIX).row)
    assert both.mass_g == MIX.mass_g
    product = product_of(both)
    assert product.mass_g == pytest.approx(MIX.mass_g + 200)
    assert product.volume_l > float(analyse_mix(MIX).volume_l) + 0.1
    chocolate, caramel = mix_ins_of(both, -18.0)
    assert chocolate.share_pct == pytest.approx(100 * 80 / product.mass_g)
    assert "cocoa butter" in str(chocolate.message)
    assert caramel.frozen_pct < 55
    assert "Stays soft" in str(caramel.message)
    data = report(both)
    assert [entry["name"] for entry in data["beside"]] == ["Dark chocolate 70 %", "Caramel sauce"]
    assert data["product"]["mass_g"] == pytest.approx(product.mass_g)


def test_dry_things_draw_water_and_wet_ones_do_not() -> None:
    assert water_pulled_g(find("honeycomb").composition, -18.0) > 20
    assert water_pulled_g(find("biscuit-crumbs").composition, -18.0) > 5
    assert water_pulled_g(find("strawberry-puree").composition, -18.0) == 0
    assert water_pulled_g(find("coconut-oil").composition, -18.0) == 0
    assert water_pulled_g(find("honeycomb").composition, -10.0) > water_pulled_g(find("honeycomb").composition, -25.0)


def test_a_mix_of_nothing_but_mix_ins_weighs_nothing() -> None:
    with pytest.raises(MixError, match="beside"):
        Mix("crumbs", (Line(find("biscuit-crumbs"), 100.0, "mix-in"),))


def test_bits_are_counted_by_scoop_and_crumbs_go_soft_sooner_where_it_is_warmer() -> None:
    mix = staged(("whole-milk", 700.0, "pot"), ("cream-36", 150.0, "pot"), ("sugar", 150.0, "pot"),
                 ("biscuit-crumbs", 60.0, "mix-in"), ("dark-chocolate-70", 1.0, "mix-in"))  # fmt: skip
    crumbs, chocolate = (str(found.message) for found in mix_ins_of(mix, -18.0, -14.0))
    assert "Bits of 6.5 mm: about " in crumbs
    days = [int(number) for number in re.findall(r"(\d+) days in the freezer and (\d+) in the cabinet", crumbs)[0]]
    assert days[0] > days[1] >= 1
    assert "of the scoops have none" in chocolate
    assert "crisp" not in chocolate


def test_twice_as_many_bits_leave_fewer_scoops_without() -> None:
    def without(grams: float) -> float:
        mix = staged(("whole-milk", 850.0, "pot"), ("sugar", 150.0, "pot"), ("biscuit-crumbs", grams, "mix-in"))
        (found,) = mix_ins_of(mix, -18.0)
        told = re.search(r"(\d+) % of the scoops have none", str(found.message))
        return float(told[1]) if told else 0.0

    assert without(3.0) > without(6.0) > 0
