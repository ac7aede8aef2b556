"""Aims: bands of one's own in the place of a style's, in files and out again, and refusals that name the aim."""

from __future__ import annotations

import json

import pytest

from conftest import DAIRY, mix_of
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.formats.mix_file import read_mix, write_mix
from jalebi_core.model.aims import bands_for, checked_aims, read_aims, write_aims
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import styles


def test_an_aim_stands_before_the_kitchens_and_both_before_the_style() -> None:
    bands = bands_for("gelato", {"fat": (5.0, 7.0), "msnf": (7.0, 9.0)}, {"fat": (6.0, 6.5)})
    assert bands["fat"] == (6.0, 6.5)
    assert bands["msnf"] == (7.0, 9.0)
    assert bands["sugars"] == styles()["gelato"].bands["sugars"]


def test_an_aim_changes_the_judgement_and_the_reason_says_so() -> None:
    mix = mix_of(*DAIRY, style="ice-cream")
    aimed = Mix(mix.name, mix.lines, mix.style, mix.overrun_pct, {"fat": (4.0, 6.0)})
    richness = {outcome.key: outcome for outcome in outcomes_of(aimed, -18.0)}["richness"]
    assert (richness.state, richness.band) == ("high", (4.0, 6.0))
    assert str(richness.reason).endswith("The aim is 4 to 6.")


def test_aims_go_into_a_mix_file_and_come_back() -> None:
    written = write_mix("m", "gelato", 30, [{"ingredient": "sugar", "amount": 100}], aims={"fat": (4.0, 6.0)})
    assert read_mix(json.dumps(written).encode()).aims == {"fat": (4.0, 6.0)}
    assert read_aims([{"of": "serve_c", "max": -12}]) == {"serve_c": (-32.0, -12.0)}
    assert write_aims({}) == []


@pytest.mark.parametrize(
    ("aims", "message"),
    [({"fat": [14, 10]}, "Fat is asked to be at least 14 and at most 10"), ({"luck": [0, 1]}, "“luck” is not an aim"),
     ({"fat": [0, 120]}, "0 to 100"), ({"fat": [float("nan"), 1]}, "two numbers"), ({"fat": 3}, "two numbers"),
     ({"serve_c": [-40, -10]}, "−32 to 0"), ([], "by quantity"), ({"fat": [True, False]}, "two numbers")],
)  # fmt: skip
def test_aims_that_cannot_be_are_refused_by_name(aims: object, message: str) -> None:
    with pytest.raises(MixError, match=message):
        checked_aims(aims)


@pytest.mark.parametrize(
    "aims", [{}, [3], [{"of": "fat"}], [{"of": "fat", "min": 1, "weight": 2}], [{"of": "fat", "min": 1}] * 2]
)
def test_aims_of_a_file_that_cannot_be_read_are_refused(aims: object) -> None:
    with pytest.raises(MixError):
        read_aims(aims)
