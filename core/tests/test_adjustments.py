"""Adjustments: 62 mixes with what a cook would say to each proposal, and what no proposal may ever do."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings

from conftest import DAIRY, mix_of, mixes, staged
from jalebi_core.advice.adjustments import Adjustment, Help, help_for
from jalebi_core.advice.search import MOST_OFFERED
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.assessment.cautions import free_glucose_most
from jalebi_core.formats.advice_report import advice_report
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import bulk_sweetener
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.noticeable import HALF
from jalebi_core.regulation.identity_standards import identity_standards_of
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import find, ingredients

JUDGED = tomllib.loads((Path(__file__).parent / "data" / "judged_advice.toml").read_text(encoding="utf-8"))["mix"]
"""Mixes with faults, what is proposed against each, and what a pastry cook says to it; when a proposal changes it is
read and judged anew."""


def of_data(data: dict[str, Any]) -> Mix:
    lines = [(slug, float(grams), stage) for slug, grams, stage in data["lines"]]
    return staged(*lines, style=data["style"], overrun_pct=float(data["overrun_pct"]))


def judged(mix: Mix) -> dict[str, Outcome]:
    return {outcome.key: outcome for outcome in outcomes_of(mix, -18.0)}


def helped(mix: Mix, *restrictions: str, freezer_c: float = -18.0) -> dict[str, Help]:
    return {found.key: found for found in help_for(mix, freezer_c, ingredients(), restrictions)}


def tried(mix: Mix, adjustment: Adjustment) -> Mix:
    """Return a mix after an adjustment, as the Bench does it."""
    lines = list(mix.lines)
    for amount in adjustment.lines:
        if amount.line is None:
            lines.append(Line(find(amount.slug), amount.grams, amount.stage))
        else:
            lines[amount.line] = Line(lines[amount.line].ingredient, amount.grams, lines[amount.line].stage)
    overrun = mix.overrun_pct if adjustment.overrun_pct is None else adjustment.overrun_pct
    return Mix(mix.name, tuple(lines), mix.style, overrun, mix.aims)


@pytest.mark.parametrize("data", JUDGED, ids=lambda data: data["name"])
def test_proposals_are_those_that_were_judged(data: dict[str, Any]) -> None:
    found = {
        key: [str(one.said) for one in help.found] or [str(help.none)] for key, help in helped(of_data(data)).items()
    }
    assert found == {fault["key"]: fault["said"] for fault in data.get("fault", [])}


def test_four_of_five_proposals_are_what_a_cook_would_try_and_none_does_harm() -> None:
    judgements = [fault["judged"] for data in JUDGED for fault in data.get("fault", [])]
    assert len(JUDGED) >= 60
    assert set(judgements) <= {"would try", "honest none", "poor"}
    assert judgements.count("poor") <= 0.2 * len(judgements)
    assert len(judgements) > 80


@pytest.mark.parametrize("data", JUDGED, ids=lambda data: data["name"])
def test_no_proposal_brings_a_fault_loses_a_name_or_misses_its_own(data: dict[str, Any]) -> None:
    mix = of_data(data)
    before, names = judged(mix), {(one.region, one.name) for one in identity_standards_of(mix) if one.fits}
    for key, help in helped(mix).items():
        for adjustment in help.found:
            if not adjustment.lines and adjustment.overrun_pct is None:
                continue
            after = tried(mix, adjustment)
            now = judged(after)
            assert after.mass_g == pytest.approx(mix.mass_g, rel=1e-6)
            if key in now:
                assert now[key].state == "in", str(adjustment.said)
                assert now[key].value == pytest.approx(adjustment.value, abs=0.05)
            for other, outcome in now.items():
                was = before[other].beyond if other in before else 0.0
                if other != key:
                    assert outcome.beyond < max(HALF, was + 0.31), f"{adjustment.said} {other}"
            assert names <= {(one.region, one.name) for one in identity_standards_of(after) if one.fits}


@settings(max_examples=25)
@given(mixes())
def test_any_mix_gets_help_or_an_honest_none_for_each_fault(mix: Mix) -> None:
    faults = {key for key, outcome in judged(mix).items() if outcome.state in ("low", "high")}
    found = helped(mix)
    assert set(found) == faults
    for help in found.values():
        assert bool(help.found) != bool(help.none)
        assert len(help.found) <= MOST_OFFERED + 1
        for adjustment in help.found:
            assert str(adjustment.said).endswith(".")
            assert all(amount.grams >= 0 for amount in adjustment.lines)


def test_on_the_edge_nothing_is_offered() -> None:
    rich = mix_of(("whole-milk", 440), ("cream-36", 357), ("sugar", 150), ("skim-milk-powder", 45), style="ice-cream")
    assert judged(rich)["richness"].state == "edge"
    assert "richness" not in helped(rich)


def test_what_offends_is_not_tried_and_a_style_forbids_by_itself() -> None:
    hard = mix_of(("whole-milk", 520), ("cream-36", 290), ("skim-milk-powder", 30), ("xylitol", 90), style="low-sugar")
    for restrictions in ((), ("alcohol-free",)):
        for help in helped(hard, *restrictions).values():
            for amount in (amount for one in help.found for amount in one.lines if amount.line is None):
                assert offence(find(amount.slug), "low-sugar") is None
    from_the_mix = [one for help in help_for(hard, -18.0, {}) for one in help.found]
    assert all(amount.line is not None for one in from_the_mix for amount in one.lines)


def test_no_proposal_brings_an_allergen_or_alcohol_that_the_mix_does_not_have() -> None:
    sorbet = mix_of(("quince-puree", 550), ("water", 216), ("sugar", 150), style="sorbet")
    coming = {amount.slug for help in helped(sorbet).values() for one in help.found for amount in one.lines}
    assert coming
    assert not coming & {"whole-milk", "cream-36", "skim-milk-powder", "neutral-spirit-40"}


def test_free_glucose_stays_under_its_most() -> None:
    for data in JUDGED:
        mix = of_data(data)
        for help in helped(mix).values():
            for one in help.found:
                row, before = tried(mix, one).row(), mix.row()
                share = row[INDEX["glucose"]] / max(float(bulk_sweetener(row)), 1e-9)
                was = before[INDEX["glucose"]] / max(float(bulk_sweetener(before)), 1e-9)
                assert share <= max(free_glucose_most(mix) + 0.051, was + 0.001), str(one.said)


def test_the_consequence_is_said_the_biggest_first_and_much_glucose_too() -> None:
    sweet = mix_of(*DAIRY, ("sugar", 25.0), style="ice-cream")
    said = [str(one.said) for one in helped(sweet)["sweetness"].found]
    assert any("glucose syrup DE 42 for" in sentence for sentence in said)
    assert all(": sweetness " in sentence for sentence in said)
    assert all("Besides: " in sentence or "Nothing else" in sentence for sentence in said)


def test_a_mix_that_is_fine_as_served_is_first_left_alone() -> None:
    custard = mix_of(("whole-milk", 460), ("cream-36", 230), ("skim-milk-powder", 40), ("sugar", 130), ("dextrose", 35),
                     ("egg-yolk", 70), style="frozen-custard")  # fmt: skip
    first = helped(custard, freezer_c=-24.0)["firmness"].found[0]
    assert (first.lines, first.overrun_pct) == ((), None)
    assert "Leave the recipe" in str(first.said)


@pytest.mark.parametrize(("tea", "state"), [(2.0, "low"), (30.0, "high")])
def test_a_faint_or_loud_flavour_is_brought_onto_its_ladder(tea: float, state: str) -> None:
    mix = mix_of(*DAIRY, ("matcha", tea), style="ice-cream")
    assert judged(mix)["flavour"].state == state
    (adjustment,) = helped(mix)["flavour"].found
    assert judged(tried(mix, adjustment))["flavour"].state == "in"


def test_never_too_much_fruit_but_too_much_rum() -> None:
    assert judged(mix_of(("mango-puree", 850), ("sugar", 150), style="sorbet"))["flavour"].state == "in"
    assert judged(mix_of(*DAIRY, ("rum-40", 100), style="ice-cream"))["flavour"].state == "high"


def test_advice_as_data_names_lines_amounts_and_sentences() -> None:
    mix = of_data(JUDGED[0])
    for entry in advice_report(mix):
        assert set(entry) == {"fault", "found", "none"}
        for one in entry["found"]:
            assert set(one) == {"lines", "overrun_pct", "said"}
            assert all(set(line) == {"line", "ingredient", "stage", "grams"} for line in one["lines"])
