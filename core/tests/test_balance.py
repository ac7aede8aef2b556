"""Balance: aims reached with little change, never worse, whole steps, reasons that are proved, and jobs."""

from __future__ import annotations

import json
from contextlib import suppress
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from conftest import mix_of, staged
from jalebi_core.advice.additions import MOST_SHARE_PCT
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.balance.job_context import JobContext, alone
from jalebi_core.balance.jobs import JOBS, request_of
from jalebi_core.balance.quantities import keys, quantity_of
from jalebi_core.balance.reasons import reasons_for
from jalebi_core.balance.request import Aim, BalanceRequest, Limits, Share
from jalebi_core.balance.robustness import balance_robustly, chances_of
from jalebi_core.balance.solving import Balanced, balance, solved
from jalebi_core.balance.summary import summary
from jalebi_core.formats.balance_file import read_request
from jalebi_core.formats.balance_report import balance_report
from jalebi_core.model.composition import fat
from jalebi_core.model.errors import BalanceError, JalebiError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.shelf.catalogue import ingredients

PRICED = {slug: replace(item, price_per_kg=2.0 + len(slug) / 5) for slug, item in ingredients().items()}
BASE = mix_of(("whole-milk", 600), ("cream-36", 130), ("skim-milk-powder", 30), ("sugar", 140), style="ice-cream")
MAY_ADD = (ingredients()["dextrose"], ingredients()["glucose-syrup-de42"], ingredients()["inulin"])
IN_IT = {line.ingredient.slug for line in BASE.lines if line.ingredient}
COMMON = {slug: ingredients()[slug] for slug in MOST_SHARE_PCT if slug not in IN_IT}
PRICED_BASE = replace(
    BASE, lines=tuple(replace(line, ingredient=PRICED[line.ingredient.slug]) for line in BASE.lines if line.ingredient)
)
SOME = ["fat", "msnf", "sugars", "total_solids", "sweetness", "protein"]
ALL_PINNED = {number: Limits.pinned(line.grams) for number, line in enumerate(BASE.lines)}


def after(found: Balanced) -> Mix:
    problem = found.problem
    lines = [problem.request.mix.lines[number] for number in problem.numbers]
    lines += [Line(one, 0.0) for one in problem.request.may_add]
    weighed = tuple(replace(line, grams=float(grams)) for line, grams in zip(lines, found.grams, strict=True))
    return replace(problem.request.mix, lines=weighed)


@pytest.mark.parametrize(("stratum", "by"), [("milk-fat", 2.0), ("sugars", -2.0), ("milk-solids", 1.0), ("egg", 1.0)])
def test_a_share_that_is_aimed_at_alone_leaves_the_rest_eating_as_it_does(stratum: str, by: float) -> None:
    mix = mix_of(
        ("whole-milk", 520), ("cream-36", 200), ("skim-milk-powder", 40), ("sugar", 130), ("egg-yolk", 60),
        ("honey", 24), style="frozen-custard",
    )  # fmt: skip
    wanted = float(by_stratum(mix.row())[list(STRATA).index(stratum)]) + by
    found = balance(
        alone(JobContext(mix, -18.0, ingredients()), (Aim(f"stratum-{stratum}", wanted - 0.1, wanted + 0.1),))
    )
    assert all(found.met), str(summary(found))
    grams = dict(zip((line.ingredient.name for line in mix.lines), found.grams.tolist(), strict=False))
    assert (grams["Egg yolk"] == 60) is (stratum != "egg")
    assert float(by_stratum(after(found).row())[list(STRATA).index(stratum)]) == pytest.approx(wanted, abs=0.15)


def test_aims_are_reached_and_the_figures_are_those_of_the_rounded_mix() -> None:
    aims = (Aim("fat", 9, 11), Aim("msnf", 9, 10), Aim("sweetness", 14, 15), Aim("scoop_c", -14.5, -13.5))
    found = balance(BalanceRequest(BASE, aims, may_add=MAY_ADD))
    assert all(found.met)
    mix = after(found)
    assert mix.mass_g == pytest.approx(BASE.mass_g, abs=0.1)
    assert found.after[0] == pytest.approx(float(fat(mix.row())))
    assert found.after[3] == pytest.approx(float(analyse_mix(mix).scoop_c))
    assert np.all(np.abs(found.grams * 100 - np.round(found.grams * 100)) < 1e-6)


def test_the_change_is_the_least_and_only_as_many_goods_come_in_as_may() -> None:
    aims = (Aim("sweetness", 12, 13), Aim("scoop_c", -15, -14), Aim("total_solids", 38, 40))
    for most in (0, 1, 2):
        found = balance(BalanceRequest(BASE, aims, may_add=MAY_ADD, max_new=most))
        assert int((found.grams[found.problem.lines :] > 0).sum()) <= most
    assert balance(BalanceRequest(BASE, (Aim("fat", 0, 30),))).changed is False
    assert str(summary(balance(BalanceRequest(BASE, (Aim("fat", 0, 30),))))) == "Nothing needs to change."


def test_a_scoop_at_the_edge_of_ice_is_found_from_a_mix_that_never_sets() -> None:
    sweet = mix_of(("whole-milk", 500), ("dextrose", 330), ("invert-sugar", 250))
    assert np.isnan(analyse_mix(sweet).scoop_c)
    found = balance(BalanceRequest(sweet, (Aim("scoop_c", -20, -18),)))
    assert found.met == (True,)
    assert -20 <= float(analyse_mix(after(found)).scoop_c) <= -18


def test_changed_amounts_are_what_the_scale_shows() -> None:
    for scale in (0.1, 1.0, 5.0):
        found = balance(
            replace(
                BalanceRequest(BASE, (Aim("fat", 9, 12), Aim("sweetness", 12, 14))), scale_g=scale, fine_scale_g=scale
            )
        )
        moved = found.grams[np.abs(found.grams - found.problem.now) > 0.02]
        assert np.all(np.abs(moved / scale - np.round(moved / scale)) < 1e-6)
        assert found.grams.sum() == pytest.approx(BASE.mass_g, abs=scale / 2 + 0.01)
        assert all(found.met)


def test_pins_limits_steps_shares_and_ratios_are_kept() -> None:
    mix = mix_of(("whole-milk", 500), ("cream-36", 150), ("skim-milk-powder", 30), ("sugar", 140), ("egg-yolk", 34))
    limits = {3: Limits.pinned(140), 4: Limits(17, 120, 17), 0: Limits(400, 600)}
    shares, ratios = (Share((0, 1), 60, 90),), ((1, 2),)
    found = balance(BalanceRequest(mix, (Aim("yolk_solids", 3.8, 5), Aim("fat", 9, 12)), limits, shares, ratios))
    milk, cream, powder, sugar, yolk = found.grams
    assert sugar == 140
    assert yolk / 17 == pytest.approx(round(yolk / 17), abs=1e-6)
    assert 400 <= milk <= 600
    assert 60 <= 100 * (milk + cream) / found.grams.sum() <= 90
    assert cream / powder == pytest.approx(5.0, rel=0.02)


@settings(max_examples=40)
@given(st.lists(st.sampled_from(SOME), min_size=1, max_size=4, unique=True), st.data())
def test_any_wish_ends_no_worse_than_it_began_and_keeps_mass(of: list[str], data: st.DataObject) -> None:
    aims = []
    for key in of:
        low = data.draw(st.floats(0, 40))
        aims.append(Aim(key, low, low + data.draw(st.floats(0, 5))))
    found = balance(BalanceRequest(BASE, tuple(aims), may_add=MAY_ADD))
    problem = found.problem
    assert problem.weighted(problem.missed_by(found.after)) <= problem.weighted(problem.missed_by(found.before)) + 1e-9
    assert found.grams.sum() == pytest.approx(BASE.mass_g, abs=0.1)
    assert np.all(found.grams >= 0)
    assert np.array_equal(found.grams, balance(BalanceRequest(BASE, tuple(aims), may_add=MAY_ADD)).grams)


@settings(max_examples=15)
@given(st.integers(0, 10_000))
def test_what_cannot_be_is_explained_with_a_relaxation_that_does_it(seed: int) -> None:
    random = np.random.default_rng(seed)
    aims = (Aim("fat", float(random.uniform(14, 30))), Aim("total_solids", 0, float(random.uniform(25, 34))))
    request = BalanceRequest(BASE, aims, {1: Limits.pinned(130)}, may_add=MAY_ADD)
    for unmet in reasons_for(balance(request), COMMON):
        assert str(unmet.because).endswith(".")
        for relaxation in unmet.would_help:
            if relaxation.kind == "unpin":
                freed = replace(request, limits={})
            elif relaxation.kind == "drop":
                freed = replace(request, aims=tuple(aim for aim in aims if aim.of != relaxation.what))
            elif relaxation.kind == "allow":
                freed = replace(request, may_add=(*MAY_ADD, COMMON[relaxation.what]), max_new=3)
            else:
                continue
            result = solved(freed)
            assert result is not None
            problem, grams = result
            index = next(at for at, aim in enumerate(problem.request.aims) if aim.of == unmet.aim.of)
            assert problem.misses(grams)[index] < 0.01


def test_a_pinned_cream_is_named_with_what_it_would_have_to_be() -> None:
    (unmet,) = reasons_for(balance(BalanceRequest(BASE, (Aim("fat", 14),), {1: Limits.pinned(130)})), {})
    assert (
        str(unmet.because) == "Fat cannot be at least 14 %: Cream 36 % would move it most, and it is pinned at 130 g."
    )
    assert str(unmet.would_help[0].message).startswith("unpin Cream 36 %: it would be 2")
    assert str(unmet.would_help[-1].message) == f"make {unmet.nearest:.1f} % the least of fat"


def test_two_lines_of_one_name_are_told_apart_by_their_stage() -> None:
    mix = staged(
        ("whole-milk", 600, "pot"), ("cream-36", 60, "pot"), ("cream-36", 60, "off-heat"), ("sugar", 140, "pot")
    )
    pinned = {1: Limits.pinned(60), 2: Limits.pinned(60)}
    (unmet,) = reasons_for(balance(BalanceRequest(mix, (Aim("fat", 12),), pinned)), {})
    message = [str(relaxation.message) for relaxation in unmet.would_help[:2]]
    assert message[0].startswith("unpin Cream 36 % (in the pot)")
    assert message[1].startswith("unpin Cream 36 % (off the heat)")


def test_aims_that_pull_against_each_other_are_told() -> None:
    found = balance(BalanceRequest(BASE, (Aim("sweetness", 18, 19), Aim("total_solids", 12, 14))))
    assert any("pull against each other" in str(unmet.because) for unmet in reasons_for(found, {}))


@pytest.mark.parametrize(
    ("asked", "message"),
    [
        (BalanceRequest(BASE, ()), "nothing to aim at"),
        (BalanceRequest(BASE, (Aim("fat", 12, 10),)), "at least 12 and at most 10"),
        (BalanceRequest(BASE, (Aim("luck", 1, 2),)), "“luck” cannot be aimed at"),
        (BalanceRequest(BASE, (Aim("fat"),)), "neither a least nor a most"),
        (BalanceRequest(BASE, (Aim("fat", 1, 2, 0.0),)), "above 0"),
        (BalanceRequest(BASE, (Aim("frozen_pct", 1, 2, 1.0, 5.0),)), "asked at 5"),
        (BalanceRequest(BASE, (Aim("fat", 9),), ALL_PINNED), "Every line is pinned"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {0: Limits(5000)}), "more than the mix"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {at: Limits(0, 10) for at in range(4)}), "less than the mix"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {3: Limits(20, 30, 50)}), "in steps of 50 g nothing lies between"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {3: Limits(30, 20)}), "cannot both be"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {9: Limits()}), "no line 10"),
        (BalanceRequest(BASE, (Aim("cost_per_kg", 0, 1),)), "has no price"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {0: Limits(500)}, (Share((3,), 60),)), "No amounts keep all"),
        (BalanceRequest(BASE, (Aim("fat", 9),), {at: Limits(0, 900, 77) for at in range(4)}), "No amounts keep all"),
    ],
)  # fmt: skip
def test_requests_that_cannot_be_tried_are_a_sentence(asked: BalanceRequest, message: str) -> None:
    with pytest.raises(BalanceError, match=message):
        balance(asked)


def test_every_quantity_can_be_aimed_at_and_is_the_analysis_own() -> None:
    for key in [*keys(), "sugar"]:
        found = balance(BalanceRequest(PRICED_BASE, (Aim(key, -50, 900),)))
        assert found.met == (True,)
    assert quantity_of("sugar", None, BASE, ()).name == "Table sugar"
    assert balance(BalanceRequest(BASE, (Aim("sugar", 15, 15.2),))).after[0] == pytest.approx(15.1, abs=0.12)


@pytest.mark.parametrize("job", ["less-sweet", "richer", "leaner", "cheaper"])
def test_a_job_in_one_press_does_what_it_says(job: str) -> None:
    found = balance(request_of(job, JobContext(PRICED_BASE, -18.0, PRICED)))
    assert found.changed
    assert found.met[0]


def test_softer_goes_as_far_as_its_style_allows_and_says_what_stops_it() -> None:
    found = balance(request_of("softer", JobContext(PRICED_BASE, -18.0, PRICED)))
    assert found.after[0] < found.before[0] - 5
    (unmet,) = reasons_for(found, {})
    assert "sweetness may not pass 17; MSNF may not pass 11.5 %" in str(unmet.because)
    row = found.grams @ found.problem.rows / found.grams.sum()
    for of in ("sweetness", "msnf", "sugars"):
        value = quantity_of(of, None, PRICED_BASE, ()).value
        assert value is not None
        assert float(value(row)) <= PRICED_BASE.bands[of][1] + 0.05


def test_cheaper_costs_less() -> None:
    found = balance(request_of("cheaper", JobContext(PRICED_BASE, -18.0, PRICED)))
    now, then = (float(np.dot(found.problem.prices, grams)) for grams in (found.problem.now, found.grams))
    assert then < now


def test_jobs_about_a_line_use_it_up_take_it_out_replace_it_or_fit_to_another() -> None:
    fruit = mix_of(("strawberry-puree", 500), ("water", 200), ("sugar", 180), ("dextrose", 40), style="sorbet")
    asked = JobContext(fruit, -18.0, ingredients(), line=0, grams=812.0)
    used = balance(request_of("use-up", asked))
    assert used.grams[0] == pytest.approx(812)
    assert used.grams.sum() == pytest.approx(920 * 812 / 500, abs=1.5)
    assert used.changed
    assert "Strawberry puree +312 g" in str(summary(used))
    assert np.all(np.abs(used.grams - np.round(used.grams)) < 0.06)
    out = balance(request_of("without", replace(asked, line=3)))
    assert out.grams[3] == 0
    assert out.met[:3] == (True, True, True)
    other = balance(request_of("replace", replace(asked, ingredient=ingredients()["raspberry-puree"])))
    assert other.problem.request.mix.lines[0].ingredient.name.startswith("Raspberry")
    fitted = balance(request_of("fit", replace(asked, ingredient=ingredients()["mango-puree"])))
    assert fitted.grams[0] == pytest.approx(500, rel=0.25)
    more = balance(request_of("more-fruit", asked))
    assert more.grams[0] >= 1.14 * 500


@pytest.mark.parametrize("job", list(JOBS))
def test_a_job_without_what_it_needs_says_so(job: str) -> None:
    water = mix_of(("water", 900), ("sugar", 100))
    with suppress(BalanceError):
        assert balance(request_of(job, JobContext(water, -18.0, ingredients()))).grams.sum() == pytest.approx(
            1000, abs=0.1
        )
    if JOBS[job].asks:
        with pytest.raises(BalanceError, match="Say"):
            request_of(job, JobContext(water, -18.0, ingredients()))
    with pytest.raises(BalanceError, match="not a job"):
        request_of("magic", JobContext(water, -18.0, ingredients()))


def test_chances_are_told_and_a_sure_balance_has_better_ones() -> None:
    fruit = mix_of(("strawberry-puree", 600), ("water", 180), ("sugar", 150), ("dextrose", 60), style="sorbet")
    aims = (Aim("sweetness", 21.9, 26), Aim("total_solids", 26, 33))
    plain = balance(BalanceRequest(fruit, aims))
    sure = balance_robustly(BalanceRequest(fruit, aims))
    assert np.all((chances_of(plain) >= 0) & (chances_of(plain) <= 1))
    assert sure.chances.min() >= chances_of(plain).min()
    assert sure.chances.min() >= 0.85
    assert np.array_equal(chances_of(plain), chances_of(plain))


FILE = {
    "format": "jalebi.mix", "version": 1, "name": "Plain", "style": "ice-cream",
    "lines": [
        {"ingredient": "whole-milk", "amount": 600},
        {"ingredient": "cream-36", "amount": 130, "pin": True},
        {"ingredient": "skim-milk-powder", "amount": 30, "max_g": 60},
        {"ingredient": "sugar", "amount": 140},
        {"ingredient": "egg-yolk", "amount": 34, "piece_g": 17, "max_g": 68},
    ],
    "aims": [{"of": "fat", "min": 14}, {"of": "scoop_c", "min": -15, "max": -13, "weight": 2}],
    "may_add": ["dextrose"], "max_new": 1,
}  # fmt: skip


def test_a_file_with_a_request_is_read_and_answered_as_data() -> None:
    request = read_request(json.dumps(FILE).encode())
    assert request.limits == {1: Limits.pinned(130), 2: Limits(0, 60), 4: Limits(0, 68, 17)}
    assert request.aims[1] == Aim("scoop_c", -15, -13, 2)
    data = balance_report(balance(request), ingredients(), 0.01)
    assert set(data) == {"lines", "aims", "unmet", "changed", "said", "seconds"}
    assert data["aims"][0]["max"] is None
    assert data["unmet"][0]["of"] == "fat"
    assert data["unmet"][0]["would_help"][0].startswith("unpin Cream")
    assert json.dumps(data)


@pytest.mark.parametrize(
    ("changes", "message"),
    [({"aims": []}, "nothing to aim at"), ({"aims": [{"of": "fat", "mim": 3}]}, "an aim is"),
     ({"aims": [{"of": "fat", "min": "much"}]}, "not a number"), ({"aims": [{"of": "fat", "min": 10**400}]}, "is inf"),
     ({"may_add": ["moon-dust"]}, "may_add: there is no"),
     ({"may_add": "sugar"}, "list of at most"), ({"max_new": 1.5}, "whole number"), ({"max_new": 99}, "from none to"),
     ({"lines": [{"ingredient": "sugar", "amount": 5, "pin": "yes"}]}, "pin is true or false"),
     ({"lines": [{"ingredient": "sugar", "amount": 5, "step_g": 0}]}, "step_g is 0"),
     ({"lines": [{"ingredient": "sugar", "amount": 5, "step_g": 1, "piece_g": 2}]}, "not in both"),
     ({"lines": [{"ingredient": "egg-yolk", "amount": 5, "piece": "yolk", "piece_g": 2}]}, "not in both"),
     ({"lines": [{"ingredient": "moon-dust", "amount": 5}]}, "Line 1"), ({"luck": 1}, "not a key")],
)  # fmt: skip
def test_a_file_that_cannot_be_balanced_is_a_sentence(changes: dict[str, object], message: str) -> None:
    with pytest.raises(JalebiError, match=message):
        balance(read_request(json.dumps(FILE | changes).encode()))
