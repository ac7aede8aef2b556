"""First drafts: every school's draft lies in the bands of its style and eats without a fault."""

from __future__ import annotations

import pytest

from conftest import staged
from jalebi_core.analysis import analyse_mix
from jalebi_core.errors import MixError
from jalebi_core.figures import figures_of
from jalebi_core.first_drafts import FirstDraft, first_draft, schools
from jalebi_core.judgement import outcomes_of
from jalebi_core.mix import Mix
from jalebi_core.outcomes import frozen_at
from jalebi_core.phases import phases_of
from jalebi_core.styles import STAGES, styles

DRAFTS = [(school.key, style) for school in schools().values() for style in school.drafts]

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


@pytest.mark.parametrize(("school", "style"), DRAFTS)
def test_a_first_draft_of_a_kilogram_is_one_and_lies_in_its_bands(school: str, style: str) -> None:
    mix = made(first_draft(style, school, 1000))
    assert mix.mass_g == pytest.approx(1000, abs=3)
    assert out_of_band(mix) == []
    low, high = styles()[style].bands["overrun_pct"]
    assert low <= mix.overrun_used_pct <= high


@pytest.mark.parametrize(("school", "style"), DRAFTS)
def test_a_first_draft_eats_without_a_fault(school: str, style: str) -> None:
    faults = {found.key for found in outcomes_of(made(first_draft(style, school, 1000)), -18.0) if found.state != "in"}
    assert faults <= (OF_WHIPPED_FOAM if style == "no-churn" else set())


def test_every_style_can_be_begun_and_every_method_keeps_to_the_stages() -> None:
    assert {style for school in schools().values() for style in school.drafts} == set(styles())
    assert all(stage in STAGES for school in schools().values() for stage, _ in school.method)


def test_a_batch_is_scaled_and_weighed_as_a_scale_shows_it() -> None:
    draft = first_draft("gelato", "eggless", 1850)
    assert sum(grams for _, grams, _ in draft.lines) == pytest.approx(1850, abs=5)
    assert {slug: grams for slug, grams, _ in draft.lines}["locust-bean-gum"] == 3.7


@pytest.mark.parametrize(
    ("style", "school", "batch_g", "said"),
    [("sorbet", "cooked-custard", 1000, "makes frozen custard"), ("sorbet", "alchemy", 1000, "not a school"),
     ("sorbet", "blended-fruit", 0, "50 g to"), ("sorbet", "blended-fruit", float("nan"), "50 g to"),
     ("", "blended-fruit", 1000, "makes sorbet")],
)  # fmt: skip
def test_what_cannot_be_begun_is_refused_by_name(style: str, school: str, batch_g: float, said: str) -> None:
    with pytest.raises(MixError, match=said):
        first_draft(style, school, batch_g)
