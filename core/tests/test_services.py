"""Services as somebody types them, the weekly hours of a kitchen, and what of a mix decides how it is planned."""

from __future__ import annotations

from datetime import date, datetime
from zoneinfo import ZoneInfo

import pytest

from jalebi_core.formats.service_line import ServiceLine, mix_called, read_service
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.shifts import WeeklySpan, spans_in, within

FRIDAY = date(2026, 11, 27)
MIXES = ("Quince sorbet", "Smoked tea custard", "Pear and perry sorbet", "Black sesame gelato")


@pytest.mark.parametrize(
    ("typed", "read"),
    [
        ("2 L quince sorbet by 19:30, fresh", ServiceLine("litres", "2 l", "quince sorbet", None, 1170, True)),
        (
            "1,5 l of Smoked tea custard by 7 pm",
            ServiceLine("litres", "1.5 l", "Smoked tea custard", None, 1140, False),
        ),
        ("1½ L tea by sat 12:00", ServiceLine("litres", "1.5 l", "tea", date(2026, 11, 28), 720, False)),
        ("12 guests sesame at 18:00 tomorrow", ServiceLine("guests", "12", "sesame", date(2026, 11, 28), 1080, False)),
        ("20 scoops perry for friday at 9.15, scooped", ServiceLine("portions", "20", "perry", FRIDAY, 555, False)),
        ("3 tubs oat by 2026-12-01 08:00", ServiceLine("tubs", "3", "oat", date(2026, 12, 1), 480, False)),
        ("800 g quince by 12 am", ServiceLine("mass", "800 g", "quince", None, 0, False)),
    ],
)
def test_a_typed_service_says_what_how_much_and_when(typed: str, read: ServiceLine) -> None:
    assert read_service(typed, FRIDAY) == read


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("quince sorbet by 19:30", "how much"),
        ("2 bathtubs quince by 19:30", "how much"),
        ("2 L quince sorbet", "when it is served"),
        ("2 L by 19:30", "which mix"),
        ("2 L quince by 25:00", "not an hour"),
        ("2 L quince by someday 19:00", "not an hour"),
        ("", "how much"),
        ("2 L " + "x" * 300 + " by 19:00", "cannot be read"),
        ("2 L quince\u202e by 19:00", "cannot be read"),
    ],
)
def test_a_service_that_cannot_be_read_says_what_is_missing(typed: str, says: str) -> None:
    with pytest.raises(PlanError) as refused:
        read_service(typed, FRIDAY)
    assert says in str(refused.value)


def test_a_mix_is_found_by_part_of_its_name() -> None:
    assert [MIXES[mix_called(name, MIXES)] for name in ("quince", "tea custard", "perry", "QUINCE SORBET")] == [
        "Quince sorbet",
        "Smoked tea custard",
        "Pear and perry sorbet",
        "Quince sorbet",
    ]
    with pytest.raises(PlanError, match="may be one of"):
        mix_called("sorbet", MIXES)
    with pytest.raises(PlanError, match="None of the kitchen"):
        mix_called("xyzzy", MIXES)


def test_shifts_come_back_every_week_and_a_clock_that_changes_makes_a_day_shorter() -> None:
    weekly = [WeeklySpan(frozenset({4, 5}), 9 * 60, 17 * 60), WeeklySpan(frozenset({4}), 16 * 60, 2 * 60)]
    friday = datetime(2026, 11, 27, 12)
    assert spans_in(weekly, friday, None, 2880) == [(0, 14 * 60), (21 * 60, 29 * 60)]
    sunday = [WeeklySpan(frozenset({6}), 9 * 60, 17 * 60)]
    saturday = datetime(2026, 3, 28)
    assert spans_in(sunday, saturday, None, 2880) == [(33 * 60, 41 * 60)]
    assert spans_in(sunday, saturday, ZoneInfo("Europe/Vienna"), 2880) == [(32 * 60, 40 * 60)]
    assert within([(0, 100), (200, 300)], [(50, 250)]) == [(50, 100), (200, 250)]
