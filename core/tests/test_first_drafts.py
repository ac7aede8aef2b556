"""First drafts: every approach's draft lies in the bands of its style and eats without a fault."""

from __future__ import annotations

import pytest

from conftest import staged
from jalebi_core.advice.first_drafts import FirstDraft, approaches, first_draft
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.figures import figures_of
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import STAGES, styles
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.phases import phases_of

DRAFTS = [(approach.key, style) for approach in approaches().values() for style in approach.drafts]

OF_WHIPPED_FOAM = {"sand", "butter", "melt"}
"""What comes with little water, much fat and much air, and cannot be balanced away."""


def made(draft: FirstDraft) -> Mix:
    return staged(*draft.lines, style=draft.style, overrun_pct=draft.overrun_pct)


def out_of_band(mix: Mix) -> list[str]:
    found, overrun = analyse_mix(mix), mix.overrun_used_pct
    cold = phases_of(found.row, overrun, frozen_at(found.row, -18.0), -18.0)
    figures = figures_of(found, cold, mix.bands)
    return [
        f"{figure.quantity.name} {figure.value:.2f} of {figure.band}"
        for figure in figures
        if figure.band and not figure.band[0] - 0.05 <= figure.value <= figure.band[1] + 0.05
    ]


@pytest.mark.parametrize(("approach", "style"), DRAFTS)
def test_a_first_draft_of_a_kilogram_is_one_and_lies_in_its_bands(approach: str, style: str) -> None:
    mix = made(first_draft(style, approach, 1000))
    assert mix.mass_g == pytest.approx(1000, abs=3)
    assert out_of_band(mix) == []
    low, high = styles()[style].bands["overrun_pct"]
    assert low <= mix.overrun_used_pct <= high


@pytest.mark.parametrize(("approach", "style"), DRAFTS)
def test_a_first_draft_eats_without_a_fault(approach: str, style: str) -> None:
    faults = {
        found.key for found in outcomes_of(made(first_draft(style, approach, 1000)), -18.0) if found.state != "in"
    }
    assert faults <= (OF_WHIPPED_FOAM if style == "no-churn" else set())


def test_every_style_can_be_begun_and_every_method_keeps_to_the_stages() -> None:
    assert {style for approach in approaches().values() for style in approach.drafts} == set(styles())
    assert all(stage in STAGES for approach in approaches().values() for stage, _ in approach.method)


def test_a_batch_is_scaled_and_weighed_as_a_scale_shows_it() -> None:
    draft = first_draft("gelato", "eggless", 1850)
    assert sum(grams for _, grams, _ in draft.lines) == pytest.approx(1850, abs=5)
    assert {slug: grams for slug, grams, _ in draft.lines}["locust-bean-gum"] == 3.7


@pytest.mark.parametrize(
    ("style", "approach", "batch_g", "message"),
    [("sorbet", "cooked-custard", 1000, "makes frozen custard"), ("sorbet", "alchemy", 1000, "not an approach"),
     ("sorbet", "blended-fruit", 0, "50 g to"), ("sorbet", "blended-fruit", float("nan"), "50 g to"),
     ("", "blended-fruit", 1000, "makes sorbet")],
)  # fmt: skip
def test_what_cannot_be_begun_is_refused_by_name(style: str, approach: str, batch_g: float, message: str) -> None:
    with pytest.raises(MixError, match=message):
        first_draft(style, approach, batch_g)
