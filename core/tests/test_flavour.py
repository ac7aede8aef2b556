"""Flavour strength, what each line has its share in, and how exactly it must be weighed."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings

from conftest import DAIRY, mix_of, mixes
from jalebi_core.advice.contributions import CONTRIBUTIONS, contributions_of
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.flavour import doses_of, together
from jalebi_core.model.composition import fat
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.weighing import tolerances_of
from jalebi_core.production.scaling import KitchenConstants
from jalebi_core.shelf.catalogue import ingredients


def test_the_flavour_furthest_up_its_ladder_leads() -> None:
    mix = mix_of(*DAIRY, ("matcha", 15.0), ("vanilla-pod", 2.0))
    lead, second = doses_of(mix)
    assert (lead.flavouring, second.flavouring) == ("Matcha", "Vanilla pod")
    assert lead.g_per_kg == pytest.approx(1000 * 15 / 987)
    flavour = {outcome.key: outcome for outcome in outcomes_of(mix, -18.0)}["flavour"]
    assert flavour.state == "in"
    assert "Matcha at 15.2 g per kg leads" in str(flavour.reason)
    assert "flavour" not in {outcome.key for outcome in outcomes_of(mix_of(*DAIRY), -18.0)}


def test_what_was_steeped_out_again_still_flavours() -> None:
    tea, milk = ingredients()["tea-leaves"], ingredients()["whole-milk"]
    (steeped,) = together([(milk, 1000.0), (tea, 20.0)], 970.0)
    assert steeped.share_pct == pytest.approx(2000 / 970)
    facts = Facts.from_dict({"flavourings": [{"name": "Tea", "share_pct": 2.0, "ladder": [10, 35]}]})
    assert Facts.from_dict(facts.as_dict()) == facts


@pytest.mark.parametrize(
    "facts",
    [{"strength_g_kg": [5, 5]}, {"strength_g_kg": [1]}, {"strength_g_kg": "much"}, {"flavourings": 3},
     {"flavourings": [{"name": "Tea"}]}, {"flavourings": [{"name": 1, "share_pct": 1, "ladder": [1, 2]}]}],
)  # fmt: skip
def test_odd_ladders_are_refused(facts: dict[str, object]) -> None:
    with pytest.raises(CompositionError):
        Facts.from_dict(facts)


@given(mixes())
def test_shares_of_all_lines_are_the_whole(mix: Mix) -> None:
    shares = contributions_of(mix)
    assert shares.shape == (len(mix.base), len(CONTRIBUTIONS))
    whole = shares.sum(axis=0)
    assert np.all((np.abs(whole - 100) < 1e-6) | (whole == 0))


def test_the_share_in_richness_is_that_of_the_fat() -> None:
    mix = mix_of(*DAIRY)
    cream = contributions_of(mix)[1, CONTRIBUTIONS.index("richness")]
    of_cream = 220 * float(fat(ingredients()["cream-36"].composition.row))
    assert cream == pytest.approx(100 * of_cream / (970 * float(fat(mix.row()))))


@settings(max_examples=30)
@given(mixes())
def test_any_mix_has_a_tolerance_for_every_line(mix: Mix) -> None:
    found = tolerances_of(mix, KitchenConstants(), -18.0)
    assert [one.line for one in found] == [at for at, line in enumerate(mix.lines) if line.grams > 0]
    assert all(one.close_g > 0 for one in found)
