"""The values of plan files."""

from __future__ import annotations

from datetime import datetime
from zoneinfo import ZoneInfo

import pytest

from jalebi_core.formats.plan_values import local_time, minutes_from, origin_of
from jalebi_core.model.errors import PlanError


@pytest.mark.parametrize("text", ["0001-01-01T00:00", "9999-12-31T23:55", "1899-12-31T12:00", "2200-01-01T00:00"])
def test_a_year_beyond_all_plans_is_named(text: str) -> None:
    with pytest.raises(PlanError, match=f"The year {int(text[:4])} is a slip"):
        origin_of({"origin": text})


@pytest.mark.parametrize(
    "text", ["2026-12-02T18:00+01:00", "noon", "", None, 7, "2026-02-30T10:00", "²026-01-01T00:00"]
)
def test_what_is_no_local_time_is_named(text: object) -> None:
    with pytest.raises(PlanError):
        local_time(text)


def test_minutes_are_elapsed_ones_where_the_clock_changes() -> None:
    origin = datetime(2026, 3, 28, 12, 0)
    assert minutes_from(origin, "2026-03-29T12:00", None) == 1440
    assert minutes_from(origin, "2026-03-29T12:00", ZoneInfo("Europe/Rome")) == 1380
