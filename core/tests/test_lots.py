"""Lots: which goes first, how a weight is split, what is past its day, codes of tubs, and masses that agree."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jalebi_core.production.lots import (
    LEAST_G,
    Lot,
    good_until,
    is_blocked,
    mass_balance,
    suggest_lots,
    tub_code,
)

NOW = datetime(2026, 11, 26, 10, tzinfo=UTC)
TODAY = NOW.date()


def day(number: int) -> date:
    return TODAY + timedelta(days=number)


def lot(key: int, grams: float = 500, **known: object) -> Lot:
    return replace(Lot(key, grams, day(-9)), **known)  # type: ignore[arg-type]


def test_first_expired_goes_first_and_a_weight_is_split() -> None:
    lots = [lot(1, use_by=day(9)), lot(2, use_by=day(2), grams=300), lot(3)]
    split = suggest_lots(lots, 1000, NOW)
    assert [(share.key, share.grams) for share in split.shares] == [(2, 300), (1, 500), (3, 200)]
    assert split.short_g == 0
    assert suggest_lots(lots, 1500, NOW).short_g == pytest.approx(200)


def test_of_two_of_one_day_the_open_one_goes_first_then_the_older() -> None:
    lots = [lot(1, use_by=day(5)), lot(2, use_by=day(5), opened_on=day(0)), lot(3, use_by=day(5), came_on=day(-20))]
    assert [share.key for share in suggest_lots(lots, 1500, NOW).shares] == [2, 3, 1]


def test_an_opened_lot_is_good_for_as_long_as_its_ingredient_keeps() -> None:
    opened = lot(1, use_by=day(20), opened_on=day(-2), keeps_days=5)
    assert good_until(opened) == day(3)
    assert good_until(replace(opened, keeps_days=None)) == day(20)
    assert good_until(lot(1)) is None


def test_use_by_blocks_and_best_before_asks() -> None:
    late = lot(1, use_by=day(-1))
    assert is_blocked(late, NOW)
    assert suggest_lots([late], 100, NOW).short_g == 100
    asks = suggest_lots([lot(2, best_before=day(-1))], 100, NOW)
    assert [(share.key, share.ask) for share in asks.shares] == [(2, True)]
    assert not is_blocked(lot(1, use_by=day(0)), NOW)


def test_what_was_thawed_has_a_day_and_then_nothing_more() -> None:
    fresh = lot(1, thawed_at=NOW - timedelta(hours=23), best_before=day(60))
    assert good_until(fresh) == day(0)
    assert not is_blocked(fresh, NOW)
    assert is_blocked(fresh, NOW + timedelta(hours=2))


def test_what_is_good_until_today_is_good_today() -> None:
    for known in ({"best_before": day(0)}, {"opened_on": day(-5), "keeps_days": 5}):
        last = suggest_lots([lot(1, **known)], 100, NOW)
        assert [(share.key, share.ask) for share in last.shares] == [(1, False)]
    a_day = lot(1, thawed_at=NOW - timedelta(hours=24))
    assert not is_blocked(a_day, NOW)
    assert is_blocked(a_day, NOW + timedelta(seconds=1))


@pytest.mark.parametrize(("in_g", "scale_g", "gap_g", "agrees"), [
    (1000, 1, 30, True), (1000, 1, 30.1, False), (10, 1, 2, True), (10, 1, 2.1, False), (10, 5, 10, True),
    (10, 5, 10.1, False),
])  # fmt: skip
def test_how_far_masses_may_be_apart(in_g: float, scale_g: float, gap_g: float, agrees: bool) -> None:
    assert mass_balance(in_g, [in_g - gap_g], scale_g).agrees == agrees
    assert mass_balance(in_g, [in_g, gap_g], scale_g).agrees == agrees


def test_codes_of_tubs_can_be_said() -> None:
    assert tub_code(date(2026, 11, 26), 2, 3) == "L26330-2-03"
    assert tub_code(date(2027, 1, 1), 1, 12) == "L27001-1-12"


def test_masses_agree_within_three_percent_or_two_steps_of_the_scale() -> None:
    assert mass_balance(1000, (500, 475), 1).agrees
    assert not mass_balance(1000, (500, 460), 1).agrees
    assert mass_balance(10, (8,), 1).agrees
    assert mass_balance(1000, (1000, 40), 1).gap_g == pytest.approx(-40)


LOTS = st.lists(
    st.builds(
        Lot,
        key=st.integers(1, 10**6),
        grams=st.floats(0, 5000),
        came_on=st.dates(date(2026, 1, 1), TODAY),
        use_by=st.none() | st.dates(date(2026, 10, 1), date(2027, 6, 1)),
        best_before=st.none() | st.dates(date(2026, 10, 1), date(2027, 6, 1)),
    ),
    max_size=12,
    unique_by=lambda one: one.key,
)


@given(LOTS, st.floats(0, 20_000))
def test_a_split_is_the_weight_and_takes_no_more_than_there_is(lots: list[Lot], grams: float) -> None:
    split = suggest_lots(lots, grams, NOW)
    there = {one.key: one for one in lots}
    assert sum(share.grams for share in split.shares) + split.short_g == pytest.approx(grams, abs=LEAST_G)
    assert all(0 < share.grams <= there[share.key].grams for share in split.shares)
    assert not any(is_blocked(there[share.key], NOW) for share in split.shares)
