"""Adjustments: exchanges that cure, side effects told, and the honest none."""

from __future__ import annotations

import pytest

from conftest import DAIRY, mix_of
from jalebi_core.advice.adjustments import Help, help_for
from jalebi_core.advice.exchanges import MOST_SHARE_PCT, exchanged
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import catalogue, ingredients


def styled(*lines: tuple[str, float], style: str = "ice-cream") -> Mix:
    return mix_of(*lines, style=style)


def helped(mix: Mix, *restrictions: str) -> dict[str, Help]:
    return {found.key: found for found in help_for(mix, -18.0, ingredients(), restrictions)}


HARD = styled(("whole-milk", 600), ("cream-36", 250), ("skim-milk-powder", 30), ("sugar", 110))


def test_what_is_tried_is_on_the_shelf() -> None:
    assert set(MOST_SHARE_PCT) <= set(catalogue())


def test_every_adjustment_does_what_it_says_when_it_is_done() -> None:
    for key, found in helped(HARD).items():
        for adjustment in found.adjustments:
            after = exchanged(HARD, adjustment.line, ingredients()[adjustment.slug], adjustment.grams)
            assert after.mass_g == pytest.approx(HARD.mass_g)
            now = {outcome.key: outcome for outcome in outcomes_of(after, -18.0)}[key]
            assert now.value == pytest.approx(adjustment.value, abs=0.2)
            assert (now.state == "in") == adjustment.cures


def test_a_hard_mix_is_softened_and_the_smallest_cure_comes_first() -> None:
    found = helped(HARD)["firmness"]
    assert found.adjustments
    assert all(adjustment.value < 84 for adjustment in found.adjustments)
    assert len({adjustment.slug for adjustment in found.adjustments}) == len(found.adjustments)
    assert found.cured
    assert all(adjustment.cures for adjustment in found.adjustments)


def test_too_sweet_is_cured_and_its_price_is_told() -> None:
    sweet = styled(*DAIRY, ("sugar", 60.0))
    found = helped(sweet)["sweetness"]
    assert found.cured
    assert "less sweet (" in str(found.adjustments[0].effect.message)
    assert found.adjustments[0].slug != "neutral-spirit-40"


def test_what_offends_is_not_tried_and_no_fault_needs_no_help() -> None:
    for found in helped(HARD, "alcohol-free", "low-sugar").values():
        for adjustment in found.adjustments:
            assert offence(ingredients()[adjustment.slug], "alcohol-free") is None
            assert offence(ingredients()[adjustment.slug], "low-sugar") is None
    assert all(not found.adjustments and found.otherwise for found in help_for(HARD, -18.0, {}))
    calm = styled(("whole-milk", 500), ("cream-36", 240), ("skim-milk-powder", 35), ("sugar", 120), ("dextrose", 45),
                  ("glycerol", 12), ("guar-gum", 2))  # fmt: skip
    assert all(outcome.state == "in" for outcome in outcomes_of(calm, -16.0)) == (
        help_for(calm, -16.0, ingredients()) == ()
    )


def test_no_lever_brings_an_allergen_or_alcohol_that_the_mix_does_not_have() -> None:
    sorbet = styled(("quince-puree", 550), ("water", 216), ("sugar", 190), ("pectin", 2), style="sorbet")
    offered = {adjustment.slug for found in help_for(sorbet, -18.0, ingredients()) for adjustment in found.adjustments}
    assert offered
    assert not offered & {"whole-milk", "cream-36", "skim-milk-powder", "neutral-spirit-40"}
    only_spirit = {"neutral-spirit-40": ingredients()["neutral-spirit-40"]}
    perry = styled(("pear-puree", 600), ("perry", 180), ("sugar", 120), style="sorbet")
    assert any(found.adjustments for found in help_for(perry, -18.0, only_spirit))
    assert not any(found.adjustments for found in help_for(sorbet, -18.0, only_spirit))


def test_a_dark_chocolate_mix_and_one_without_sugar_are_told_what_helps() -> None:
    chocolate = styled(("whole-milk", 500), ("dark-chocolate-70", 200), ("sugar", 60), ("cream-36", 100))
    told = {outcome.key: outcome for outcome in outcomes_of(chocolate, -18.0)}["firmness"]
    assert told.word in ("hard", "rock")
    assert "because 100 g of its water carry" in str(told.reason)
    assert helped(chocolate)["firmness"].adjustments
    bare = styled(("whole-milk", 600), ("cream-36", 300), ("skim-milk-powder", 40))
    found = helped(bare)["firmness"]
    assert {"dextrose", "glycerol", "sugar"} & {adjustment.slug for adjustment in (*found.adjustments, *found.together)}


def test_what_no_single_exchange_cures_is_carried_on_together_or_says_what_would() -> None:
    rock = styled(("water", 900), ("locust-bean-gum", 2), ("sugar", 20), style="sorbet")
    body = helped(rock)["body"]
    assert body.cured
    assert not any(adjustment.cures for adjustment in body.adjustments)
    assert [adjustment.cures for adjustment in body.together] == [False] * (len(body.together) - 1) + [True]
    mix = rock
    for adjustment in body.together:
        mix = exchanged(mix, adjustment.line, ingredients()[adjustment.slug], adjustment.grams)
    assert {outcome.key: outcome for outcome in outcomes_of(mix, -18.0)}["body"].state == "in"


def test_the_honest_none_names_a_temperature_or_the_line_to_begin_with() -> None:
    nuts = {"guar-gum": ingredients()["guar-gum"]}
    found = {one.key: one for one in help_for(HARD, -18.0, nuts)}
    assert not found["firmness"].cured
    assert "At −1" in str(found["firmness"].otherwise)
    sweet = styled(("honey", 900), ("water", 100))
    told = {one.key: one for one in help_for(sweet, -18.0, nuts)}["sweetness"].otherwise
    assert "Honey brings 100 %" in str(told)
    soft = {one.key: one for one in help_for(sweet, -12.0, nuts)}["firmness"].otherwise
    assert str(soft) == "No freezer cures it either."


@pytest.mark.parametrize(("tea", "state"), [(2.0, "low"), (60.0, "high")])
def test_a_faint_or_loud_flavour_is_brought_onto_its_ladder(tea: float, state: str) -> None:
    mix = styled(*DAIRY, ("matcha", tea))
    assert {outcome.key: outcome for outcome in outcomes_of(mix, -18.0)}["flavour"].state == state
    (adjustment,) = helped(mix)["flavour"].adjustments
    after = exchanged(mix, adjustment.line, ingredients()[adjustment.slug], adjustment.grams + 0.05)
    assert {outcome.key: outcome for outcome in outcomes_of(after, -18.0)}["flavour"].state == "in"
