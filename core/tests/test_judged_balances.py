"""Balance read as a cook reads it: jobs and aims on real mixes, what is proposed, and what is said to it."""

from __future__ import annotations

import tomllib
from dataclasses import replace
from math import inf
from pathlib import Path
from typing import Any

import pytest

from conftest import staged
from jalebi_core.balance.job_context import JobContext, unasked
from jalebi_core.balance.jobs import request_of
from jalebi_core.balance.pulls import held
from jalebi_core.balance.request import Aim, BalanceRequest
from jalebi_core.balance.solving import Balanced, balance
from jalebi_core.balance.summary import summary
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.mix import Mix
from jalebi_core.shelf.catalogue import ingredients

DATA = Path(__file__).parent / "data"
MIXES = {data["name"]: data for data in tomllib.loads((DATA / "judged_advice.toml").read_text("utf-8"))["mix"]}
JUDGED = tomllib.loads((DATA / "judged_balances.toml").read_text("utf-8"))["balance"]


def mix_named(name: str) -> Mix:
    data = MIXES[name]
    lines = [(slug, float(grams), stage) for slug, grams, stage in data["lines"]]
    return staged(*lines, style=data["style"], overrun_pct=float(data["overrun_pct"]))


def asked(data: dict[str, Any]) -> BalanceRequest:
    mix = mix_named(data["mix"])
    other = ingredients()[data["with"]] if "with" in data else None
    context = JobContext(mix, -18.0, ingredients(), (), data.get("line"), other, data.get("grams"))
    if "job" in data:
        return request_of(data["job"], context)
    aims = tuple(Aim(one["of"], one.get("min", -inf), one.get("max", inf)) for one in data["aims"])
    return held(BalanceRequest(mix, aims, unasked(mix, aims), may_add=context.common(), caps_give=True))


def balanced(job: str, name: str, **about: Any) -> Balanced:
    return balance(asked({"mix": name, "job": job, **about}))


@pytest.mark.parametrize("data", JUDGED, ids=lambda data: f"{data['mix']} {data.get('job', 'aims')}")
def test_proposals_are_those_that_were_judged(data: dict[str, Any]) -> None:
    assert str(summary(balance(asked(data)))) == data["said"]


def test_hardly_any_is_poor() -> None:
    judgements = [data["judged"] for data in JUDGED]
    assert len(JUDGED) >= 40
    assert set(judgements) <= {"would try", "honest", "poor"}
    assert judgements.count("poor") <= 0.1 * len(judgements)


def test_no_more_than_a_quarter_moves_where_not_all_is_reached() -> None:
    unmet = [found for found in map(balance, map(asked, JUDGED)) if not all(found.met)]
    moved = [abs(found.grams - found.problem.now).sum() / 2 / found.problem.mass_g for found in unmet]
    assert len(moved) >= 3
    assert max(moved) <= 0.26


def test_fat_is_raised_with_cream_and_not_with_yolks() -> None:
    mix = mix_named("custard, six yolks")
    found = balance(held(BalanceRequest(mix, (Aim("fat", 22.0),), caps_give=True)))
    grams = dict(zip((line.ingredient.slug for line in mix.lines), found.grams.tolist(), strict=True))
    assert grams["egg-yolk"] <= 125


def test_what_is_asked_may_pass_what_is_usual_and_is_said() -> None:
    mix = mix_named("fior di latte, too sweet")
    asked_for = BalanceRequest(mix, (Aim("locust-bean-gum", 0.24, 0.25),), caps_give=True)
    found = balance(held(asked_for))
    assert all(found.met)
    assert "Beyond what is usual: Locust bean gum" in str(summary(found))
    assert not all(balance(held(replace(asked_for, caps_give=False))).met)
    assert not all(balance(held(replace(asked_for, aims=(Aim("locust-bean-gum", 0.8, 0.9),)))).met)


def test_three_presses_of_one_job_do_not_drift() -> None:
    first = mix_named("vanilla, all table sugar")
    mix = first
    for _ in range(3):
        found = balance(request_of("less-sweet", JobContext(mix, -18.0, ingredients(), like=first)))
        lines = [found.problem.request.mix.lines[number] for number in found.problem.numbers]
        weighed = [
            (line.ingredient.slug, float(grams), line.stage) for line, grams in zip(lines, found.grams, strict=False)
        ]
        weighed += [
            (one.slug, float(grams), "pot")
            for one, grams in zip(found.problem.request.may_add, found.grams[len(lines) :], strict=True)
            if grams > 0
        ]
        mix = staged(*weighed, style=first.style, overrun_pct=first.overrun_pct)
    figures = {aim.of: value for aim, value in zip(found.problem.request.aims, found.after, strict=True)}
    before = balance(request_of("less-sweet", JobContext(first, -18.0, ingredients()))).before
    assert figures["fat"] == pytest.approx(before[2], abs=1.05)
    assert figures["total_solids"] == pytest.approx(before[3], abs=1.05)
    assert figures["scoop_c"] == pytest.approx(before[1], abs=0.8)


def test_cheaper_leaves_what_has_no_price_and_says_so() -> None:
    mix = mix_named("vanilla, all table sugar")
    with pytest.raises(BalanceError, match="has a price"):
        request_of("cheaper", JobContext(mix, -18.0, ingredients()))
    prices = {"whole-milk": 1.2, "cream-36": 6.0, "skim-milk-powder": 7.0}
    lines = tuple(
        replace(line, ingredient=replace(line.ingredient, price_per_kg=prices.get(line.ingredient.slug)))
        for line in mix.lines
    )
    found = balance(request_of("cheaper", JobContext(replace(mix, lines=lines), -18.0, ingredients())))
    assert float(found.grams @ found.problem.prices) < float(found.problem.now @ found.problem.prices)
    assert "Not moved, as they have no price: Table sugar" in str(summary(found))
    assert found.grams[3] == 175


def test_steady_says_what_comes_first_where_no_gum_cures() -> None:
    said = str(summary(balanced("steady", "strawberry sorbet, hard")))
    assert "No gum cures its wateriness" in said
    assert "More fruit or sugar first" in said
    with pytest.raises(BalanceError, match="of gum already"):
        balanced("steady", "fior di latte, gum doubled")


def test_no_water_and_no_inulin_come_into_milk() -> None:
    for job in ("less-sweet", "softer", "richer", "leaner"):
        coming = {one.slug for one in asked({"mix": "vanilla, all table sugar", "job": job}).may_add}
        assert not coming & {"water", "inulin", "neutral-spirit-40"}
