"""Trials: exact statistics against published tables, designs, ladders, splits, and the file that holds them."""

from __future__ import annotations

import json
from collections import Counter
from itertools import combinations
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator
from scipy import stats

from conftest import REFERENCE, reference_rows, staged
from jalebi_core.formats.trial_file import trial_report
from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.discrimination import (
    LUCK,
    chance,
    clopper_pearson,
    d_prime,
    discriminate,
    right_needed,
    sequential,
    share_right,
    tastings_needed,
)
from jalebi_core.tasting.liking import Liked, pairs_of, sign_flip_chance
from jalebi_core.tasting.preference import prefer, strengths_of, votes_of
from jalebi_core.tasting.ranking import mean_ranks, rank
from jalebi_core.tasting.serving import design, williams
from jalebi_core.tasting.telling_apart import (
    best_kind,
    expected,
    felt_between,
    figures_as_tasted,
    proposed,
    steps_between,
)
from jalebi_core.tasting.trial import KINDS, Answer, TastingTest, analyse, odds

TASTE = "taste/"
SCHEMA = json.loads((Path(__file__).parents[2] / "docs/trial.schema.json").read_text(encoding="utf-8"))
CASES = json.loads((REFERENCE / TASTE / "trials.json").read_text(encoding="utf-8"))
WILLIAMS = json.loads((REFERENCE / TASTE / "williams.json").read_text(encoding="utf-8"))
CUSTARD = staged(
    ("whole-milk", 520.0, "pot"),
    ("cream-35", 230.0, "pot"),
    ("skim-milk-powder", 35.0, "pot"),
    ("egg-yolk", 60.0, "yolks"),
    ("sugar", 150.0, "yolks"),
    ("lemon-juice", 5.0, "cold"),
    style="frozen-custard",
)


def read(path: str, found: Any) -> Any:
    for key in path.split("."):
        found = found[int(key)] if isinstance(found, list) else found[key]
    return found


def report(**content: Any) -> dict[str, Any]:
    return trial_report(json.dumps({"format": "jalebi.trial", "version": 1, **content}).encode())


def of_two(kind: str = "triangle", **more: Any) -> dict[str, Any]:
    return {"kind": kind, "variants": [{"key": "A", "name": "without"}, {"key": "B", "name": "with"}], **more}


# ---- published tables


def test_shares_right_are_those_of_the_table() -> None:
    for row in reference_rows(TASTE + "psychometric.csv"):
        found = share_right(row["test"], float(row["d_prime"]))
        assert found == pytest.approx(float(row["share_right"]), abs=1e-6), row


def test_chances_are_those_of_the_table() -> None:
    for row in reference_rows(TASTE + "p_values.csv"):
        n, count = int(row["n"]), int(row["count"])
        if row["test"] == "preference":
            found = prefer(["A"] * count + ["B"] * (n - count), "A").p
        else:
            found = chance(row["test"], n, count)
        assert found == pytest.approx(float(row["p"]), abs=1e-6), row


def test_d_prime_and_its_interval_are_those_of_the_table() -> None:
    for row in reference_rows(TASTE + "d_prime.csv"):
        found = discriminate(row["test"], int(row["n"]), int(row["right"]))
        for value, key in ((found.d_prime, "d_prime"), (found.d_low, "d_low_90"), (found.d_high, "d_high_90")):
            said = None if row[key] == "" else pytest.approx(float(row[key]), abs=2e-5)
            assert value == said, (row, key)


def test_right_answers_needed_are_those_of_the_table() -> None:
    for row in reference_rows(TASTE + "critical.csv"):
        found = right_needed("triangle" if row["guess"] == "1/3" else "2-afc", int(row["n"]), 0.05)
        assert str(found or "") == row["right_needed_at_5_percent"], row


def test_tastings_needed_are_those_of_the_table() -> None:
    for row in reference_rows(TASTE + "tastings_needed.csv"):
        found = tastings_needed(row["test"], share_right(row["test"], float(row["d_prime"])), 0.05, 0.8)
        assert (str(found.tastings or ""), str(found.right or "")) == (row["tastings"], row["right_needed"]), row


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_trial_files_come_to_what_the_reference_says(case: dict[str, Any]) -> None:
    found = trial_report(json.dumps(case["file"]).encode())
    for path, value in case["expect"].items():
        expected_value = pytest.approx(value, abs=1e-6) if isinstance(value, float) else value
        assert read(path, found) == expected_value, path
    for path, parts in case.get("said", {}).items():
        assert all(part in read(path, found) for part in parts)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_the_schema_takes_what_the_command_takes(case: dict[str, Any]) -> None:
    Draft202012Validator(SCHEMA).validate(case["file"])


def test_the_schema_names_the_same_kinds_and_refuses_a_key_that_nobody_knows() -> None:
    assert SCHEMA["properties"]["kind"]["enum"] == list(KINDS)
    assert not Draft202012Validator(SCHEMA).is_valid({**CASES[0]["file"], "beauty": 1})


@pytest.mark.parametrize("count", WILLIAMS)
def test_orders_are_williams_squares(count: str) -> None:
    rows = ["".join("ABCDEFGH"[at] for at in row) for row in williams(int(count))]
    assert rows == WILLIAMS[count]["rows"]


# ---- discrimination


@pytest.mark.parametrize("kind", LUCK)
def test_d_prime_undoes_the_share_right(kind: str) -> None:
    for d in (0.1, 0.7, 1.5, 3.0):
        assert d_prime(kind, share_right(kind, d)) == pytest.approx(d, abs=1e-6)
    assert share_right(kind, 0.0) == pytest.approx(LUCK[kind], abs=1e-9)
    assert d_prime(kind, LUCK[kind] - 0.1) == 0.0
    assert d_prime(kind, 1.0) is None


@given(st.sampled_from(list(LUCK)), st.integers(1, 40), st.data())
def test_the_interval_leaves_nothing_exactly_when_luck_is_rare(kind: str, n: int, data: Any) -> None:
    right = data.draw(st.integers(0, n))
    found = discriminate(kind, n, right)
    assert (found.d_low > 1e-6) == (found.p < 0.05)
    assert found.d_prime is None or found.d_low <= found.d_prime + 1e-9


@given(st.integers(1, 60), st.data())
def test_exact_shares_are_those_of_scipy(n: int, data: Any) -> None:
    count = data.draw(st.integers(0, n))
    known = stats.binomtest(count, n).proportion_ci(0.90, "exact")
    assert clopper_pearson(count, n) == pytest.approx((known.low, known.high), abs=1e-9)


def test_looking_after_every_cup_keeps_its_word() -> None:
    assert sequential("3-afc", 6, 6, 1.5, 0.05, 0.8).state == "different"
    assert sequential("3-afc", 8, 1, 1.5, 0.05, 0.8).state == "no such difference"
    assert sequential("3-afc", 3, 2, 1.5, 0.05, 0.8).state == "go on"


def test_a_verdict_is_never_the_same() -> None:
    for right in range(13):
        said = analyse(TastingTest("triangle", ("A", "B")), [Answer(f"P{at}", at < right) for at in range(12)])
        assert said is not None and said["verdict"] in ("different", "not shown")
        assert "same" not in said["said"]
    few = analyse(TastingTest("triangle", ("A", "B")), [Answer("Ada", True), Answer("Bo", True)])
    assert few is not None and few["verdict"] == "too few" and "From 3 on" in few["said"]


def test_a_picked_cup_is_right_where_there_is_more_of_it() -> None:
    test = TastingTest("2-afc", ("A", "B"), "sweetness", more="A")
    found = analyse(test, [Answer("Ada", picked="A"), Answer("Bo", picked="B")])
    assert found is not None and found["correct"] == 1


@pytest.mark.parametrize(("p", "said"), [(0.9, "more often than not"), (0.05, "1 time in 20"), (1e-9, "hardly ever")])
def test_luck_is_told_in_plain_words(p: float, said: str) -> None:
    assert said in str(odds(p))


# ---- preference, ranking, liking, pairs


def test_one_taster_has_one_vote() -> None:
    picks = [("Ada", "A"), ("Ada", "A"), ("Ada", "B"), ("Bo", "A"), ("Bo", "B"), ("Cy", "B")]
    assert votes_of(picks) == ["A", "B"]
    assert prefer([], "A").p == 1.0


@given(st.integers(2, 6), st.integers(1, 6), st.randoms())
def test_page_is_counted_out(k: int, n: int, random: Any) -> None:
    keys = list("ABCDEF"[:k])
    ranks = mean_ranks([(f"P{at}", random.sample(keys, k)) for at in range(n)], keys)
    found = rank(ranks)
    assert found.rank_sums.sum() == pytest.approx(n * k * (k + 1) / 2)
    assert 0 < found.p <= 1 and found.exact
    known = stats.page_trend_test(ranks, ranked=True, method="exact") if k > 2 and n > 1 else None
    if known is not None:
        assert found.page_l == pytest.approx(known.statistic)
        assert found.p_rise == pytest.approx(known.pvalue, abs=1e-9)


def test_friedman_is_counted_out_for_few_and_near_the_table_for_many() -> None:
    found = rank(np.array([[1.0, 2, 3]] * 3))
    assert found.p_any == pytest.approx(1 / 36)  # of 6³ outcomes the six that agree throughout
    rng = np.random.default_rng(7)
    many = np.array([rng.permutation(4) + 1.0 for _ in range(30)])
    known = stats.friedmanchisquare(*many.T)
    assert rank(many).chi2 == pytest.approx(known.statistic)
    assert rank(many).p_any == pytest.approx(known.pvalue)


def test_ties_between_rounds_make_the_ranking_inexact() -> None:
    found = rank(mean_ranks([("Ada", ["A", "B", "C"]), ("Ada", ["B", "A", "C"])], ["A", "B", "C"]))
    assert not found.exact
    assert found.rank_sums.tolist() == [1.5, 1.5, 3.0]


@given(st.lists(st.integers(-4, 4), min_size=1, max_size=9))
def test_sign_flips_are_counted_out(differences: list[int]) -> None:
    signs = np.array(np.meshgrid(*[[-1, 1]] * len(differences))).reshape(len(differences), -1)
    sums = np.abs(signs.T @ np.array(differences))
    known = float((sums >= abs(sum(differences)) - 1e-9).mean())
    assert sign_flip_chance(np.array(differences, dtype=float)) == pytest.approx(known)


def test_a_tasters_own_scale_drops_out() -> None:
    liked = [
        Liked(who, key, base + more, {}) for who, base in (("Ada", 2), ("Bo", 6)) for key, more in (("A", 0), ("B", 2))
    ]
    (pair,) = pairs_of(liked, ("A", "B"))
    assert (pair.difference, pair.low, pair.high) == (2.0, 2.0, 2.0)


def test_one_that_wins_all_is_strong_and_not_infinitely_so() -> None:
    found = strengths_of(np.array([[0.0, 9, 9], [0, 0, 5], [0, 4, 0]]))
    assert found.best == 0 and found.lead > 1.645
    assert np.isfinite(found.strengths).all()


def test_somebody_who_leaves_midway_still_counts_for_what_was_tasted() -> None:
    answers = [
        Answer("Ada", variant="A", liking=5),
        Answer("Ada", variant="B", liking=7),
        Answer("Bo", variant="A", liking=4),
    ]
    found = analyse(TastingTest("liking", ("A", "B")), answers)
    assert found is not None and found["pairs"][0]["n"] == 1 and found["means"]["A"] == 4.5


# ---- serving


@given(
    st.sampled_from(["triangle", "tetrad", "duo-trio", "2-afc", "3-afc", "preference"]),
    st.integers(1, 30),
    st.integers(0, 99),
)
def test_orders_of_two_come_equally_often(kind: str, tasters: int, seed: int) -> None:
    found = design(kind, ("A", "B"), [f"P{at}" for at in range(tasters)], 1, seed)
    counts = Counter(one.variants for one in found.servings)
    assert max(counts.values()) - min(counts.values()) <= 1
    assert found == design(kind, ("A", "B"), [f"P{at}" for at in range(tasters)], 1, seed)


@pytest.mark.parametrize("kind", ["liking", "ranking", "pairs"])
@given(variants=st.integers(2, 6), tasters=st.integers(1, 9), seed=st.integers(0, 999))
@settings(max_examples=25)
def test_no_variant_stands_in_a_place_twice_more_than_another(
    kind: str, variants: int, tasters: int, seed: int
) -> None:
    keys = "ABCDEF"[:variants]
    served = design(kind, keys, [f"taster {at}" for at in range(tasters)], 1, seed).servings
    places = len(served[0].variants)
    counts = [sum(one.variants[at] == key for one in served) for key in keys for at in range(places)]
    assert max(counts) - min(counts) <= 1 + (kind == "pairs")


@given(st.integers(2, 12), st.integers(1, 5))
def test_whole_squares_give_each_variant_each_place_equally_often(variants: int, seed: int) -> None:
    keys = list("ABCDEFGHIJKL"[:variants])
    rows = len(williams(variants))
    found = design("liking", keys, [f"P{at}" for at in range(rows)], 1, seed)
    for place in range(variants):
        assert len(set(Counter(one.variants[place] for one in found.servings).values())) == 1
    after = Counter(pair for one in found.servings for pair in zip(one.variants, one.variants[1:], strict=False))
    assert len(set(after.values())) == 1


@given(st.integers(2, 12), st.integers(0, 50))
def test_codes_do_not_look_alike(variants: int, seed: int) -> None:
    found = design("ranking", list("ABCDEFGHIJKL"[:variants]), ["Ada"], 1, seed)
    codes = [code for own in found.codes.values() for code in own]
    for code in codes:
        assert len(set(code)) == 3 and code[0] != "0" and code != "911"
    for one, other in combinations(codes, 2):
        assert sum(a != b for a, b in zip(one, other, strict=True)) >= 2


def test_a_variant_that_stands_twice_has_two_codes_and_the_open_cup_none() -> None:
    triangle = design("triangle", ("A", "B"), ["Ada"], 1, 3)
    assert [len(codes) for codes in triangle.codes.values()] == [2, 2]
    assert len(set(triangle.servings[0].cups)) == 3
    assert design("duo-trio", ("A", "B"), ["Ada"], 1, 3).servings[0].cups[0] == "R"


def test_every_pair_once_and_who_is_first_alternates() -> None:
    found = design("pairs", ("A", "B", "C"), ["Ada", "Bo"], 1, 1)
    assert Counter(frozenset(one.variants) for one in found.servings if one.taster == "Ada") == {
        frozenset(pair): 1 for pair in combinations("ABC", 2)
    }
    first = {one.variants for one in found.servings if one.taster == "Ada"}
    assert {pair[::-1] for pair in first} == {one.variants for one in found.servings if one.taster == "Bo"}


def test_servings_are_counted_round_by_round_and_more_than_six_cups_are_warned_of() -> None:
    found = design("liking", list("ABCD"), ["Ada", "Bo"], 2, 1)
    assert [(one.taster, one.replicate) for one in found.servings] == [("Ada", 1), ("Bo", 1), ("Ada", 2), ("Bo", 2)]
    assert (found.cups_a_taster, found.sittings) == (8, 2)
    assert "8 cups" in str(found.warnings[0])


# ---- telling apart


def test_a_named_question_is_proposed_where_one_figure_leads() -> None:
    assert best_kind({"sweetness": 1.3, "fat": 0.1}) == "2-afc"
    assert best_kind({"sweetness": 1.0, "fat": 1.0, "firmness": 1.0}) == "tetrad"
    assert best_kind({}, few_cups=True) == "triangle"


def test_at_its_own_scooping_temperature_firmness_is_no_question() -> None:
    assert "firmness" not in figures_as_tasted(CUSTARD, None)
    assert figures_as_tasted(CUSTARD, -12)["firmness"] < figures_as_tasted(CUSTARD, -18)["firmness"]


@given(st.floats(5, 30), st.floats(5, 30))
def test_steps_turn_round_with_the_pair(a: float, b: float) -> None:
    there, back = steps_between({"sweetness": a}, {"sweetness": b}), steps_between({"sweetness": b}, {"sweetness": a})
    assert there["sweetness"] == pytest.approx(-back["sweetness"], abs=1e-9)
    assert expected("liking", ("A", {"sweetness": a}), ("B", {"sweetness": b}), None, 0.05, 0.8).needs is None


# ---- the file


@pytest.mark.parametrize(
    ("content", "said"),
    [
        ({"kind": "quadrangle"}, "Use one of triangle"),
        (of_two(extra=1), "a key “extra”"),
        (
            {"kind": "triangle", "variants": [{"key": key, "name": key} for key in "ABC"]},
            "compares two, and here are 3",
        ),
        ({"kind": "liking", "variants": [{"key": "A", "name": "A"}]}, "two at least"),
        ({"kind": "liking", "variants": [{"key": "A", "name": "A"}] * 2}, "twice as a variant"),
        (of_two(tasters=["Ada", "Ada"]), "twice as a taster"),
        (of_two(tasters=[f"P{at}" for at in range(300)]), "300 tasters are too many"),
        (of_two(tasters=[""]), "no text of 1 to 120"),
        (of_two(results=[{"taster": "Ada"}]), "neither which was picked"),
        (of_two("preference", results=[{"taster": "Ada", "picked": "Z"}]), "not in this test"),
        (of_two("ranking", results=[{"taster": "Ada", "order": ["A"]}]), "name each variant once"),
        (of_two("liking", results=[{"taster": "Ada", "variant": "A", "liking": 10}]), "it is 1 to 9"),
        (
            of_two("liking", results=[{"taster": "Ada", "variant": "A", "liking": 5, "jar": {"body": 3}}]),
            "it is −2 to 2",
        ),
        (of_two("pairs", results=[{"taster": "Ada", "a": "A", "b": "A", "picked": "A"}]), "two different variants"),
        (of_two(seed=1.5), "whole number"),
        (of_two(alpha=True), "not a number"),
        (of_two(mix={}), "either variants, or a mix"),
        ({"kind": "triangle"}, "either variants, or a mix"),
        ({"kind": "triangle", "mix": {"format": "jalebi.mix"}, "factors": []}, "version"),
        (of_two(serve_c="hot"), "not a number"),
    ],
)
def test_what_makes_no_trial_is_refused_in_one_line(content: dict[str, Any], said: str) -> None:
    with pytest.raises(TastingError) as refused:
        report(**content)
    assert said in str(refused.value)
    assert "\n" not in str(refused.value)


def test_a_file_with_a_mix_is_a_ladder_with_figures_split_and_design() -> None:
    lines = [{"ingredient": line.ingredient.slug, "amount": line.grams, "stage": line.stage} for line in CUSTARD.lines]
    mix = {"format": "jalebi.mix", "version": 1, "name": "Custard", "style": "frozen-custard", "lines": lines}
    factors = [{"line": 4, "by": "dextrose", "share_pct": [0, 15, 30, 45]}]
    found = report(kind="ranking", attribute="firmness", mix=mix, factors=factors, tasters=["Ada", "Bo"], spare_pct=5)
    assert [one["name"] for one in found["variants"]] == ["as it is", "15 % dextrose", "30 % dextrose", "45 % dextrose"]
    firm = [one["figures"]["firmness"] for one in found["variants"]]
    assert firm == sorted(firm, reverse=True)
    assert found["split"]["at"] == "yolks"
    assert len(found["expect"]) == 6 and found["plan"] is None and found["analysis"] is None
    asked = report(kind="ranking", attribute="firmness", mix=mix, factors=factors, serve_c="scooping")
    assert all(one["by"] == [] for one in asked["expect"])


def test_what_two_differ_in_is_told_in_words_and_by_how_many_people() -> None:
    felt = felt_between(
        {"sweetness": 16.0, "firmness": 78.0, "fat": 8.0}, {"sweetness": 13.0, "firmness": 76.0, "fat": 8.05}
    )
    assert [(one.word, one.told_by) for one in felt] == [("less sweet", "most"), ("softer", "some")]
    assert proposed({"sweetness": -2.7, "firmness": -0.6}, 0.05, 0.8)[:2] == ("2-afc", "sweetness")
    assert proposed({"fat": 1.0, "firmness": 1.0, "sweetness": 1.0}, 0.05, 0.8)[0] == "tetrad"
    assert proposed({"fat": 0.01}, 0.05, 0.8) == ("2-afc", "fat", None)
