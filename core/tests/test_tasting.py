"""The tasting card, the melt test, diagnosis and the next change: reference cases, judgement and edges."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import REFERENCE, staged
from jalebi_core.balance.job_context import JobContext
from jalebi_core.balance.request import Limits
from jalebi_core.model.errors import TastingError
from jalebi_core.model.figures import quantities
from jalebi_core.shelf.catalogue import ingredients
from jalebi_core.tasting.batch_facts import mix_facts
from jalebi_core.tasting.card import Card, attributes, check_card, symptoms_on
from jalebi_core.tasting.diagnosis import SURE_ENOUGH, causes, diagnose, process, say_quantity, symptoms
from jalebi_core.tasting.doses import DoseTasted, drops_in_the_frozen, leaf_keeps, own_ladder
from jalebi_core.tasting.melt_test import melted
from jalebi_core.tasting.next_change import afterwards, balanced, marked_on, next_change

CASES = json.loads((REFERENCE / "taste/diagnosis_cases.json").read_text(encoding="utf-8"))
CUSTARD = staged(
    ("whole-milk", 520.0, "pot"),
    ("cream-35", 230.0, "pot"),
    ("skim-milk-powder", 35.0, "pot"),
    ("egg-yolk", 60.0, "yolks"),
    ("sugar", 150.0, "yolks"),
    ("vanilla-extract", 6.0, "cold"),
    style="frozen-custard",
)
LEMON = staged(("water", 450.0, None), ("sugar", 220.0, None), ("lemon-juice", 160.0, "cold"), style="sorbet")


# ---- diagnosis


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_worked_cases_come_out_as_worked(case: dict[str, Any]) -> None:
    found = diagnose(case["symptoms"], case["facts"])
    assert found.suspects[0].cause.key == case["first"]
    shares = {one.cause.key: one.share for one in found.suspects}
    assert sum(shares.values()) == pytest.approx(1)
    for key, share in case["shares"].items():
        assert shares[key] == pytest.approx(share, abs=6e-5)


def test_every_cause_and_symptom_hangs_together() -> None:
    for cause in causes().values():
        assert cause.change["do"] in ("process", "aim", "exchange", "shelf")
        for sign in cause.signs:
            assert sign.of in process(), sign.of
            assert str(say_quantity(sign.of, 1.0)) and process()[sign.of]["ask"].endswith(("?", "."))
    for symptom in symptoms().values():
        assert set(symptom.causes) <= set(causes())
    assert {key for symptom in symptoms().values() for key in symptom.causes} == set(causes())


@given(st.sampled_from(sorted(symptoms())), st.dictionaries(st.sampled_from(sorted(process())), st.floats(-50, 120)))
def test_shares_are_shares_whatever_is_known(symptom: str, facts: dict[str, float]) -> None:
    found = diagnose([symptom], facts)
    assert sum(one.share for one in found.suspects) == pytest.approx(1)
    assert [one.share for one in found.suspects] == sorted((one.share for one in found.suspects), reverse=True)
    assert found.test_first == (found.suspects[0].share < SURE_ENOUGH)
    assert found.ask is None or found.ask not in facts


def test_two_symptoms_weigh_together_and_signs_count_once() -> None:
    facts = {"fat": 17.0, "butter": 4.2}
    alone, both = diagnose(["buttery"], facts), diagnose(["buttery", "too_rich"], facts)
    share = {one.cause.key: one.share for one in both.suspects}
    assert share["fat_over"] > {one.cause.key: one.share for one in alone.suspects}["fat_over"]
    assert both.suspects[0].evidence == alone.suspects[0].evidence


def test_what_nobody_knows_is_asked_for_and_parts_the_causes() -> None:
    found = diagnose(["icy_later"], {"hydrocolloids": 0.2, "yolk_solids": 1.0, "gum_works": 1})
    assert found.ask == "thaws"
    assert found.question == "Did it thaw, on the way or on the counter?"
    assert found.test_first


def test_an_icy_batch_that_hardened_slowly_is_not_blamed_on_its_mix() -> None:
    made = mix_facts(CUSTARD, CUSTARD)
    found = diagnose(["icy_later"], {**made, "harden_h": 9, "thaws": 0, "age_d": 3, "freezer_c": -14})
    assert found.suspects[0].cause.key == "slow_hardening"
    assert "it took 9 h until its core" in str(found.suspects[0].evidence[0].said)


@pytest.mark.parametrize("tasted", [[], ["ugly"]])
def test_a_symptom_that_nobody_knows_is_refused(tasted: list[str]) -> None:
    with pytest.raises(TastingError, match="is not a symptom"):
        diagnose(tasted, {})


# ---- what is known of a mix


def test_facts_of_a_mix_are_those_that_diagnosis_reads() -> None:
    weighed = replace(CUSTARD.lines[4], grams=180.0)
    found = mix_facts(CUSTARD.replacing(4, weighed), CUSTARD, served_c=-14, scoop_firmness=72, liked_sweetness=15)
    assert set(found) <= set(process())
    assert found["off_plan_pct"] == pytest.approx(20)
    assert found["f_excess"] == pytest.approx(found["f_served"] - 72)
    assert found["sweet_over"] > 0 and found["water_off"] < 0
    assert found["grit"] == 0 < found["alcohol"]


def test_gum_that_never_got_hot_is_known_as_asleep() -> None:
    cold = staged(("whole-milk", 600.0, None), ("sugar", 120.0, None), ("locust-bean-gum", 1.5, "cold"))
    assert mix_facts(cold)["gum_works"] == 0
    assert mix_facts(cold)["locust_or_guar"] == pytest.approx(100 * 1.5 / 721.5)


# ---- the card


def test_the_card_asks_what_the_mix_predicts_and_knows_its_symptoms() -> None:
    known = set(symptoms())
    for one in attributes().values():
        assert {one.more, one.less, one.fault, one.later} - {None} <= known
        assert (one.ends is not None) == (one.kind == "wanted")
    assert [key for key, one in attributes().items() if one.quick] == ["firmness", "sweetness", "flavour"]
    assert "sweetness" in quantities()


def test_marks_say_symptoms_the_strongest_first() -> None:
    card = Card({"firmness": 1, "sweetness": -2, "iciness": 3, "sand": 1, "tartness": 0})
    assert symptoms_on(card, 0.1) == ("icy_fresh", "dull", "too_hard")
    assert symptoms_on(card, 4) == ("icy_later", "dull", "too_hard")


@pytest.mark.parametrize(
    "card", [Card({"beauty": 1}), Card({"sand": -1}), Card({"firmness": 3}), Card({}, "squishy"), Card({}, None, 11)]
)
def test_a_card_with_marks_that_are_none_is_refused(card: Card) -> None:
    with pytest.raises(TastingError):
        check_card(card)


# ---- the melt test


def test_a_melt_test_has_its_onset_and_its_rate() -> None:
    found = melted(80, 22, [(5, 0), (10, 0.4), (15, 1.2), (20, 9), (25, 17), (30, 25), (35, 33), (40, 41)])
    assert found.onset_min == pytest.approx(12.5)
    assert found.rate == pytest.approx(2.0, abs=0.02)
    assert "as usual" in str(found.said)


@given(st.floats(0.3, 5), st.floats(2, 30), st.floats(20, 120))
def test_the_rate_is_that_of_the_line(rate: float, onset: float, ball: float) -> None:
    drips = [(float(minute), ball * min(1.0, max(0.0, rate / 100 * (minute - onset)))) for minute in range(1, 180)]
    found = melted(ball, 22, drips)
    assert found.rate == pytest.approx(rate, rel=1e-6)


@pytest.mark.parametrize(
    ("room", "drips", "said"),
    [
        (22, [(5, 0.0), (10, 0.2)], "Nothing has dripped"),
        (22, [(5, 0.0), (10, 2.0)], "two readings"),
        (22, [(5, 1.0), (8, 12), (10, 22)], "fast"),
        (22, [(20, 1.0), (60, 9), (90, 12)], "stands rather than melts"),
        (30, [(10, 8.0), (20, 20)], "The room had 30"),
    ],
)
def test_a_melt_test_is_read_in_words(room: float, drips: list[tuple[float, float]], said: str) -> None:
    assert said in str(melted(80, room, drips).said)


@pytest.mark.parametrize(
    ("ball", "room", "drips", "said"),
    [
        (0, 22, [(5, 1)], "cannot melt"),
        (80, 90, [(5, 1)], "none for a melt test"),
        (80, 22, [], "has 1 to"),
        (80, 22, [(-5, 1)], "before the test"),
        (80, 22, [(5, 10), (10, 4)], "nothing drips back"),
        (80, 22, [(5, 10), (10, 95)], "cannot have dripped"),
    ],
)
def test_a_melt_test_that_cannot_be_is_refused(ball: float, room: float, drips: list[Any], said: str) -> None:
    with pytest.raises(TastingError, match=said):
        melted(ball, room, drips)


# ---- the next change


def cards(**marks: int) -> list[tuple[str, Card]]:
    return [(who, Card(marks, liking=5)) for who in ("Ada", "Bo", "Cy")]


def test_the_mark_that_costs_most_in_liking_comes_first() -> None:
    tasted = [
        ("Ada", Card({"firmness": 1, "sweetness": 1}, liking=7)),
        ("Bo", Card({"firmness": 1, "sweetness": 1}, liking=4)),
        ("Cy", Card({"firmness": 2, "sweetness": 0}, liking=8)),
    ]
    found = marked_on(tasted)
    assert [one.attribute for one in found] == ["sweetness", "firmness"]
    assert found[1].weight is None and found[1].mark == pytest.approx(4 / 3 * 3 / 4)


@pytest.mark.parametrize(
    ("marks", "of", "falls"),
    [
        ({"sweetness": 2}, "sweetness", True),
        ({"firmness": 1}, "firmness", True),
        ({"richness": -1}, "fat", False),
        ({"body": -2}, "total_solids", False),
    ],
)
def test_a_change_goes_the_way_that_was_marked_and_the_rest_stays(marks: dict[str, int], of: str, falls: bool) -> None:
    change = next_change(CUSTARD, cards(**marks), -14)
    assert change is not None and change.aim is not None and change.aim.of == of
    assert (change.times(CUSTARD, 1, -14) < change.times(CUSTARD, 0, -14)) == falls
    found = balanced(change, JobContext(CUSTARD, -14, ingredients()), {})
    assert found is not None and found.changed
    assert (found.after[0] < found.before[0]) == falls


def test_flavour_and_acid_move_by_their_dose() -> None:
    loud = next_change(CUSTARD, cards(flavour=2), -14)
    tart = next_change(LEMON, cards(tartness=1), -12)
    assert loud is not None and loud.aim is not None and loud.aim.of.startswith("flavour:")
    assert tart is not None and tart.aim is not None and tart.aim.of == "acids"
    assert loud.times(CUSTARD, 2, -14) < loud.times(CUSTARD, 1, -14) < loud.times(CUSTARD, 0, -14)


def test_air_is_changed_at_the_machine_and_not_in_the_mix() -> None:
    change = next_change(CUSTARD, cards(air=1), -14)
    assert change is not None and change.aim is None
    assert change.overrun_pct == pytest.approx(30 - 8 * 0.75)
    assert balanced(change, JobContext(CUSTARD, -14, ingredients()), {}) is None


def test_a_learnt_liking_is_the_middle_of_the_aim() -> None:
    change = next_change(CUSTARD, cards(sweetness=1), -14, sweetness_ideal=14.0)
    assert change is not None and change.aim is not None
    assert (change.aim.low, change.aim.high) == pytest.approx((13.58, 14.42))


def test_pins_stay() -> None:
    change = next_change(CUSTARD, cards(richness=-1), -14)
    assert change is not None
    found = balanced(change, JobContext(CUSTARD, -14, ingredients()), {1: Limits.pinned(230.0)})
    assert found is not None and found.grams[1] == pytest.approx(230.0)


def test_just_right_asks_for_nothing() -> None:
    assert next_change(CUSTARD, cards(sweetness=0, firmness=0), -14) is None
    assert next_change(CUSTARD, [("Ada", Card({"sweetness": 0, "colour": 2}))], -14) is None
    assert next_change(CUSTARD, [], -14) is None


@pytest.mark.parametrize(
    ("before", "after", "said"),
    [
        ([2, 1], [0, 0], "just right now"),
        ([2, 2], [1, 1], "came nearer"),
        ([2, 1], [-1, -1], "too far"),
        ([1, 1], [1, 1], "did not change"),
    ],
)
def test_whether_the_last_change_was_right(before: list[int], after: list[int], said: str) -> None:
    found = afterwards("firmness", before, after)
    assert found is not None and said in str(found.said)


def test_nothing_is_said_of_a_change_that_nobody_tasted() -> None:
    assert afterwards("firmness", [1], []) is None
    assert afterwards("beauty", [1], [1]) is None


# ---- doses


def test_a_kitchens_own_ladder_begins_at_the_usual_one_and_follows_its_tastings() -> None:
    usual = (4.0, 16.0)
    one = own_ladder([DoseTasted(8.0, 0)], usual)
    strong = own_ladder([DoseTasted(8.0, 2), DoseTasted(6.0, 1), DoseTasted(5.0, 0)], usual)
    assert one is not None and one.right == pytest.approx(8.0)
    assert strong is not None and strong.right < 6.0
    assert strong.weakest < strong.right < strong.strongest
    assert "From 3 tastings" in str(strong.said) and "4 to 16 is usual" in str(strong.said)


def test_a_lot_that_is_stronger_wants_less_of_it() -> None:
    tasted = [DoseTasted(10.0, 1, "late"), DoseTasted(10.0, 1, "late"), DoseTasted(10.0, -1, "early")]
    found = own_ladder(tasted, (5.0, 20.0))
    assert found is not None
    lots = dict(found.lots)
    assert lots["late"] < found.right < lots["early"]


@given(st.lists(st.tuples(st.floats(0.01, 900), st.integers(-2, 2)), min_size=1, max_size=12))
def test_an_own_ladder_is_a_dose_whatever_was_tasted(tasted: list[tuple[float, int]]) -> None:
    found = own_ladder([DoseTasted(dose, mark) for dose, mark in tasted], None)
    assert found is not None and 0 < found.weakest < found.strongest
    assert found.n == len(tasted)


def test_nothing_tasted_is_no_ladder_and_what_is_no_dose_is_refused() -> None:
    assert own_ladder([], (1.0, 2.0)) is None
    with pytest.raises(TastingError, match="is no dose"):
        DoseTasted(0.0, 0)
    with pytest.raises(TastingError, match="marked from"):
        DoseTasted(1.0, 3)


def test_air_pales_a_colour_and_leaf_keeps_liquid_roughly() -> None:
    assert "13 drops" in str(drops_in_the_frozen(10, 30))
    assert "60 g of the liquid" in str(leaf_keeps(20))
