"""What no target is worth: the ends that Balance keeps to whatever it is asked, over many mixes and targets."""

from __future__ import annotations

from dataclasses import replace
from math import inf

from hypothesis import given, settings
from hypothesis import strategies as st

from jalebi_core.balance.ceilings import hard_most_pct, is_dairy
from jalebi_core.balance.job_context import JobContext, is_dosed, unasked
from jalebi_core.balance.pulls import GOVERNED, held
from jalebi_core.balance.quantities import quantity_of
from jalebi_core.balance.reasons import reasons_for
from jalebi_core.balance.request import Aim, BalanceRequest
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.model.mix import Mix
from jalebi_core.shelf.catalogue import ingredients
from test_judged_balances import MIXES, mix_named

TARGETS = {
    "fat": (0, 30),
    "msnf": (0, 20),
    "protein": (0, 12),
    "sweetness": (5, 35),
    "total_solids": (20, 55),
    "scoop_c": (-25, -5),
    "firmness": (40, 95),
    "energy_kcal": (60, 400),
}
_SLACK = 0.06


@st.composite
def wishes(draw: st.DrawFn) -> tuple[Mix, tuple[Aim, ...]]:
    mix = mix_named(draw(st.sampled_from(sorted(MIXES))))
    aims = []
    for of in draw(st.lists(st.sampled_from(sorted(TARGETS)), min_size=1, max_size=2, unique=True)):
        value = draw(st.integers(*TARGETS[of]))
        aims.append(Aim(of, value, inf) if draw(st.booleans()) else Aim(of, -inf, value))
    return mix, tuple(aims)


def asked(mix: Mix, aims: tuple[Aim, ...]) -> BalanceRequest:
    context = JobContext(mix, -18.0, ingredients())
    request = BalanceRequest(mix, aims, unasked(mix, aims), may_add=context.common(), caps_give=True)
    return held(request)


def balanced_mix(found: Balanced) -> Mix:
    request = found.problem.request
    lines = [
        replace(request.mix.lines[at], grams=float(g))
        for at, g in zip(found.problem.numbers, found.grams, strict=False)
    ]
    coming = zip(request.may_add, found.grams[found.problem.lines :], strict=True)
    lines += [replace(lines[0], ingredient=one, grams=float(grams)) for one, grams in coming if grams > 0]
    return replace(request.mix, lines=tuple(lines))


@settings(max_examples=30, deadline=None)
@given(wishes())
def test_no_target_passes_what_is_ever_right(wish: tuple[Mix, tuple[Aim, ...]]) -> None:
    mix, aims = wish
    found = balance(asked(mix, aims))
    for ingredient, now_g, grams in zip(
        [*(mix.lines[at].ingredient for at in found.problem.numbers), *found.problem.request.may_add],
        found.problem.now,
        found.grams,
        strict=True,
    ):
        most = hard_most_pct(ingredient, mix, 100 * float(now_g) / mix.mass_g) * mix.mass_g / 100
        assert grams <= most + _SLACK, (ingredient.name, now_g, grams)
        if ingredient.kind == "water" and is_dairy(mix):
            assert grams <= now_g + _SLACK
    for at, number in enumerate(found.problem.numbers):
        line = mix.lines[number]
        if all(is_dosed(line, aim.of) for aim in aims):
            assert found.grams[at] == found.problem.now[at], line.ingredient.name


@settings(max_examples=30, deadline=None)
@given(wishes())
def test_what_nobody_aims_at_stays_in_the_style(wish: tuple[Mix, tuple[Aim, ...]]) -> None:
    mix, aims = wish
    found = balance(asked(mix, aims))
    after = balanced_mix(found)
    spoken = {key for aim in aims for key in (aim.of, *GOVERNED.get(aim.of, ()))}
    for of in {"fat", "msnf", "sugars", "total_solids", "sweetness"} - spoken:
        if of in mix.bands:
            quantity = quantity_of(of, None, mix, ())
            was, now = quantity.of_mix(mix), quantity.of_mix(after)
            low, high = mix.bands[of]
            slack = _SLACK + 0.02 * was
            assert min(low, was) - slack <= now <= max(high, was) + slack, (of, was, now)


@settings(max_examples=20, deadline=None)
@given(wishes())
def test_what_is_not_met_says_why_or_nothing_and_names_no_line_for_its_pin_that_nobody_pinned(
    wish: tuple[Mix, tuple[Aim, ...]],
) -> None:
    found = balance(asked(*wish))
    for unmet in reasons_for(found, {}):
        assert "pinned" not in str(unmet.because)
        assert all(one.kind != "unpin" for one in unmet.would_help)
        assert "cannot be at" in str(unmet.because)


@settings(max_examples=20, deadline=None)
@given(wishes())
def test_once_met_there_is_nothing_left_to_do(wish: tuple[Mix, tuple[Aim, ...]]) -> None:
    mix, aims = wish
    found = balance(asked(mix, aims))
    if all(found.met):
        again = balance(asked(balanced_mix(found), aims))
        assert all(again.met)
        assert not again.changed
