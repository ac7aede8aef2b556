"""How a mix will eat: outcomes with terms and reasons, protected names, and their edges."""

from __future__ import annotations

from importlib import import_module

import numpy as np
import pytest
from hypothesis import given

from conftest import DAIRY, mix_of, mixes, staged
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.assessment.gums import working_gum_pct
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import Eating, eating
from jalebi_core.formats.report import report
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import Composition, blend
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import styles
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.regulation.identity_standards import identity_standards_of
from jalebi_core.shelf.catalogue import catalogue


def judged(
    *lines: tuple[str, float], style: str | None = None, overrun: float = 30.0, at: float = -18.0
) -> dict[str, Outcome]:
    plain = mix_of(*lines, overrun_pct=overrun)
    mix = Mix(plain.name, plain.lines, style, overrun)
    return {outcome.key: outcome for outcome in outcomes_of(mix, at)}


def test_every_track_is_computed_and_names_a_function_that_exists() -> None:
    for key, outcome_scale in outcome_scales().items():
        assert key in Eating.__dataclass_fields__ or key == "flavour"
        module, name = outcome_scale.rule.rsplit(".", 1)
        assert callable(getattr(import_module(f"jalebi_core.{module}"), name))
        assert outcome_scale.scale[0] <= outcome_scale.band[0] < outcome_scale.band[1] <= outcome_scale.scale[1]


def test_firmness_of_the_outcome_is_that_of_the_analysis_and_moves_with_the_freezer() -> None:
    found = judged(*DAIRY)["firmness"]
    assert found.value == pytest.approx(float(analyse_mix(mix_of(*DAIRY)).firmness))
    assert judged(*DAIRY, at=-12.0)["firmness"].value < found.value
    assert "% of its water is ice at −18 °C" in str(found.reason)


def test_a_dark_chocolate_mix_sets_hard_and_a_mix_without_sugar_like_rock() -> None:
    chocolate = judged(
        ("whole-milk", 500), ("dark-chocolate-70", 200), ("sugar", 60), ("cream-36", 100), style="ice-cream"
    )
    assert chocolate["firmness"].state == "high"
    bare = mix_of(("whole-milk", 600), ("cream-36", 300), ("skim-milk-powder", 40))
    bare = Mix(bare.name, bare.lines, "ice-cream", 30.0)
    assert {o.key: o for o in outcomes_of(bare, -18.0)}["firmness"].word == "rock"
    assert any("hardly any sugar" in message for message in report(bare)["cautions"])
    assert report(mix_of(*DAIRY, style="ice-cream"))["cautions"] == []


def test_a_lean_mix_with_gum_is_told_what_the_gum_does_not_mend() -> None:
    lean = judged(("skim-milk", 800), ("sugar", 150), ("guar-gum", 3), style="ice-cream")
    assert "not its watery feel" in str(lean["iciness"].reason)
    assert lean["richness"].word == "no fat"
    sorbet = judged(("water", 600), ("sugar", 200), ("guar-gum", 3), style="sorbet")
    assert "not its watery feel" not in str(sorbet["iciness"].reason)


@pytest.mark.parametrize(
    ("key", "less", "more"),
    [
        ("iciness", ("guar-gum", 3.0), ("water", 150.0)),
        ("sand", ("water", 100.0), ("skim-milk-powder", 80.0)),
        ("richness", ("water", 100.0), ("cream-36", 200.0)),
        ("sweetness", ("water", 100.0), ("sugar", 50.0)),
        ("body", ("water", 100.0), ("skim-milk-powder", 50.0)),
        ("slip", ("water", 100.0), ("xanthan-gum", 5.0)),
        ("grit", ("water", 100.0), ("erythritol", 90.0)),
        ("butter", ("milk-protein-85", 40.0), ("cream-48", 900.0)),
        ("melt", ("neutral-spirit-40", 80.0), ("water", 200.0)),
    ],
)  # fmt: skip
def test_each_outcome_moves_the_way_a_cook_expects(key: str, less: tuple[str, float], more: tuple[str, float]) -> None:
    base = (*DAIRY, ("xanthan-gum", 1.0), ("erythritol", 20.0), ("cream-48", 200.0))

    def value(*lines: tuple[str, float]) -> float:
        mix = mix_of(*lines)
        return float(
            getattr(
                eating(mix.row(), np.array(30.0), frozen_at(mix.row(), -18.0), -18.0, np.array(working_gum_pct(mix))),
                key,
            )
        )

    assert value(*base, less) < value(*base) + 1e-9
    assert value(*base, more) > value(*base)


def test_air_makes_it_snowy_and_too_much_gum_slimy_and_states_follow_bands() -> None:
    assert judged(*DAIRY, overrun=100)["snow"].word == "snowy"
    assert judged(*DAIRY, ("xanthan-gum", 10.0))["slip"].word == "slimy"
    sweet = judged(*DAIRY, ("sugar", 200.0), style="ice-cream")["sweetness"]
    assert (sweet.state, sweet.word) == ("high", "cloying")
    assert "13 to 17 is usual for ice cream" in str(sweet.reason)
    assert "grit" not in judged(*DAIRY)


@given(mixes())
def test_any_mix_is_judged_with_finite_figures_and_a_reason(mix: Mix) -> None:
    for style in (None, *styles()):
        for outcome in outcomes_of(Mix(mix.name, mix.lines, style, mix.overrun_pct), -18.0):
            assert np.isfinite(outcome.value)
            assert outcome.word
            assert str(outcome.reason)[0].isupper()
            assert str(outcome.reason).endswith(".")


@pytest.mark.parametrize("part", ["water", "ethanol", "sucrose", "sodium_chloride", "hydrocolloids", "milk_fat"])
def test_pure_substances_are_judged_too(part: str) -> None:
    pure = Mix("pure", (Line(Ingredient(Composition("pure", {part: 100})), 100.0),), "ice-cream", 30.0)
    assert len(outcomes_of(pure, -18.0)) >= 7
    assert identity_standards_of(pure) is not None


def test_many_mixes_are_worked_out_at_once_as_one_by_one() -> None:
    rows = np.array([item.ingredient.row for item in list(catalogue().values())[:20]])
    grams = np.random.default_rng(3).uniform(1, 100, size=(50, 20))
    mixed = blend(grams, rows)
    many = eating(mixed, np.full(50, 30.0), frozen_at(mixed, -18.0), -18.0, np.zeros(50))
    one = eating(mixed[7], np.array(30.0), frozen_at(mixed[7], -18.0), -18.0, np.array(0.0))
    for key in Eating.__dataclass_fields__:
        assert float(getattr(many, key)[7]) == pytest.approx(float(getattr(one, key)), rel=1e-6, abs=1e-9)


def test_protected_names_are_decided_by_their_figures() -> None:
    rich = mix_of(("cream-36", 320), ("whole-milk", 450), ("skim-milk-powder", 60), ("sugar", 150), ("egg-yolk", 40))
    fits = {(name.region, name.name): name for name in identity_standards_of(rich)}
    assert fits["United States", "frozen custard"].fits
    assert not fits["United States", "ice cream"].fits
    assert "yolk solids" in fits["United States", "ice cream"].because
    eggless = (("cream-36", 320.0), ("whole-milk", 450.0), ("skim-milk-powder", 60.0), ("sugar", 150.0))
    airy = mix_of(*eggless, overrun_pct=120.0)
    told = {(name.region, name.name): name for name in identity_standards_of(airy)}["United States", "ice cream"]
    assert not told.fits
    assert "a litre with its air" in told.because
    assert identity_standards_of(mix_of(("water", 700), ("sugar", 250))) == ()


def test_the_report_carries_outcomes_and_names() -> None:
    data = report(mix_of(*DAIRY))
    assert set(data["outcomes"]) >= {"firmness", "sweetness", "iciness"}
    assert set(data["outcomes"]["firmness"]) == {"value", "word", "band", "terms", "reason"}
    assert data["names"][0]["region"] == "United States"


def test_a_gum_that_stays_cold_holds_no_ice_and_boiled_starch_does() -> None:
    milk, sugar = ("whole-milk", 830.0), ("sugar", 160.0, "pot")
    warm = staged((*milk, "pot"), sugar, ("locust-bean-gum", 2.0, "dry"))
    cold = staged((*milk, "cold"), ("sugar", 160.0, "cold"), ("locust-bean-gum", 2.0, "cold"))
    starch = staged((*milk, "pot"), sugar, ("corn-starch", 20.0, "pot"))
    found = [{one.key: one.value for one in outcomes_of(mix, -18.0)}["iciness"] for mix in (warm, cold, starch)]
    assert found[1] > found[0] + 5
    assert found[2] < found[1] - 3


def test_air_and_fat_make_a_scoop_stand_longer() -> None:
    assert judged(*DAIRY, overrun=80)["melt"].value > judged(*DAIRY, overrun=20)["melt"].value
    lean, fat = (("skim-milk", 700.0), ("sugar", 150.0)), (("skim-milk", 540.0), ("cream-36", 160.0), ("sugar", 150.0))
    lean_ice, fat_ice = (judged(*lines)["iciness"].terms[0].value for lines in (lean, fat))
    assert judged(*fat)["melt"].value / fat_ice > judged(*lean)["melt"].value / lean_ice


def test_words_are_the_same_for_all_styles() -> None:
    sherbet = judged(("water", 600), ("whole-milk", 250), ("cream-36", 8), ("sugar", 220), style="sherbet")
    assert (sherbet["richness"].word, sherbet["richness"].state) == ("lean", "in")
    assert judged(*DAIRY, style="ice-cream")["sweetness"].word == judged(*DAIRY, style="sorbet")["sweetness"].word
    sorbet = judged(("strawberry-puree", 600), ("water", 150), ("sugar", 190), style="sorbet")
    assert (sorbet["richness"].word, sorbet["richness"].state) == ("no fat", "in")


def test_number_word_and_state_come_from_one_rounding() -> None:
    scale = outcome_scales()["sweetness"]
    assert scale.word_for(18.96) == scale.word_for(19.0) != scale.word_for(18.94)
    assert scale.state_for(17.04, 0.1, (13.0, 17.0)) == "in"
    assert scale.state_for(17.06, 0.1, (13.0, 17.0)) == "edge"
    assert scale.state_for(19.0, 0.6, (13.0, 17.0)) == "high"


@pytest.mark.parametrize(
    ("value", "words"), [(72.6, ("scoops", "stiff")), (70.0, ("scoops",)), (66.6, ("soft scoop", "scoops"))]
)
def test_near_a_border_both_words_are_said(value: float, words: tuple[str, ...]) -> None:
    assert outcome_scales()["firmness"].words_near(value) == words


def test_less_than_half_a_step_beyond_is_the_edge_and_is_said_so() -> None:
    rich = judged(("whole-milk", 440), ("cream-36", 357), ("sugar", 150), ("skim-milk-powder", 45), style="ice-cream")
    assert rich["richness"].state == "edge"
    assert "on the edge" in str(rich["richness"].reason)


def test_fresh_styles_are_judged_as_served() -> None:
    lines = (
        ("whole-milk", 690.0),
        ("cream-36", 90.0),
        ("skim-milk-powder", 42.0),
        ("sugar", 125.0),
        ("dextrose", 40.0),
    )
    served, kept = judged(*lines, style="soft-serve", overrun=40.0), judged(*lines, style="gelato")
    assert served["firmness"].word == "soft-serve"
    assert kept["firmness"].value > served["firmness"].value + 15
    assert "iciness" not in served


@pytest.mark.parametrize(
    ("lines", "style", "overrun", "said"),
    [((("whole-milk", 830.0), ("sugar", 60.0), ("dextrose", 110.0)), "gelato", 30.0, "free glucose"),
     (DAIRY, "gelato", 70.0, "70 % of air is more"),
     (DAIRY, "frozen-custard", 30.0, "make no frozen custard"),
     (DAIRY, "dairy-free", 30.0, "Not dairy-free: it holds milk")],
)  # fmt: skip
def test_what_does_not_go_with_the_style_is_said(
    lines: tuple[tuple[str, float], ...], style: str, overrun: float, said: str
) -> None:
    mix = mix_of(*lines, overrun_pct=overrun, style=style)
    assert any(said in caution for caution in report(mix)["cautions"])


def test_butter_is_judged_only_where_it_is_churned() -> None:
    lines = (("cream-48", 600.0), ("whole-milk", 200.0), ("sugar", 150.0))
    assert judged(*lines, style="ice-cream")["butter"].state == "high"
    assert "butter" not in judged(*lines, style="no-churn")


def test_lecithin_never_cures_butter_and_lean_mixes_are_not_asked() -> None:
    rich = (("cream-48", 520.0), ("whole-milk", 200.0), ("sugar", 140.0))
    plain, with_lecithin = judged(*rich), judged(*rich, ("sunflower-lecithin", 3.0))
    assert with_lecithin["butter"].value == pytest.approx(plain["butter"].value, abs=0.2)
    assert plain["butter"].state == "high"
    oat = judged(("oat-drink", 720.0), ("coconut-oil", 60.0), ("sugar", 150.0))
    assert oat["butter"].word == "clean"
    assert "butter" not in judged(("water", 400.0), ("sugar", 150.0))


@pytest.mark.parametrize(
    ("grams", "word", "state"),
    [
        (0.0, None, None),
        (1.0, "seasoned", "in"),
        (2.6, "seasoned", "in"),
        (6.0, "salty", "high"),
        (15.0, "too salty", "high"),
    ],
)
def test_salt_is_judged_by_what_lines_bring(grams: float, word: str | None, state: str | None) -> None:
    salted = judged(("whole-milk", 700.0), ("cream-36", 200.0), ("sugar", 150.0), ("salt", grams)).get("saltiness")
    assert (salted.word if salted else None, salted.state if salted else None) == (word, state)


def test_salted_butter_bears_more_salt() -> None:
    lines = (("whole-milk", 700.0), ("sugar", 150.0), ("salt", 4.0))
    assert judged(*lines, ("butter", 60.0))["saltiness"].state == "high"
    assert judged(*lines, ("salted-butter", 60.0))["saltiness"].state == "in"


def test_tartness_is_acid_against_sweetness_and_wanted_of_a_frozen_yogurt() -> None:
    sour = (("water", 500.0), ("sugar", 170.0), ("lemon-juice", 120.0))
    sorbet, gelato = judged(*sour, style="sorbet")["tartness"], judged(*sour, style="gelato")["tartness"]
    assert (sorbet.word, sorbet.state, gelato.state) == ("tart", "in", "high")
    assert sorbet.value == pytest.approx(100 * float(mix_of(*sour).row()[INDEX["acids"]]) / 22.4, rel=0.06)
    milk = (("whole-milk", 600.0), ("sugar", 130.0))
    assert "tartness" not in judged(*milk, style="gelato")
    assert judged(*milk, style="frozen-yogurt")["tartness"].state == "low"


def test_a_step_that_nobody_tastes_is_none() -> None:
    tart, salt = outcome_scales()["tartness"].noticed, outcome_scales()["saltiness"].noticed
    assert float(tart.steps(0.1, 0.6)) == 0
    assert float(salt.steps(0.0, 0.04)) == 0
    assert float(tart.steps(1.0, 1.1)) == pytest.approx(1)


def test_rich_runs_off_later_than_lean_and_gum_holds_it_too() -> None:
    def melt(*lines: tuple[str, float]) -> float:
        return judged(*lines, overrun=30)["melt"].value

    mixes = [(545, 255), (390, 410), (232, 568)]
    minutes = [melt(("cream-36", cream), ("whole-milk", milk), ("sugar", 180)) for cream, milk in mixes]
    assert minutes == sorted(minutes, reverse=True)
    bare = (("cream-36", 390.0), ("whole-milk", 410.0), ("sugar", 180.0))
    for gums in ([("xanthan-gum", 1.5)], [("guar-gum", 1.2), ("xanthan-gum", 0.5)]):
        assert 1.15 <= melt(*bare, *gums) / minutes[1] <= 1.4
    assert melt(*bare, ("egg-yolk", 60)) > 1.05 * minutes[1]
