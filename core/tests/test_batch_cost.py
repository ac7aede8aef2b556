"""The cost of a batch: one worked by hand, what is not priced, and what is refused."""

from __future__ import annotations

import json
import re
from typing import Any

import pytest

from conftest import REFERENCE
from jalebi_core.formats.cost_file import cost_report
from jalebi_core.model.errors import MixError
from test_label import close, worked


def report_of(content: dict[str, Any]) -> dict[str, Any]:
    return cost_report(json.dumps(content).encode())


def test_a_cost_worked_by_hand_comes_out() -> None:
    expected = json.loads((REFERENCE / "label/worked-uk.cost.json").read_text(encoding="utf-8"))
    close(report_of(worked("uk")), expected)


def test_without_a_price_the_sum_is_not_known_but_the_least_is() -> None:
    content = worked("uk")
    del content["lines"][0]["price"]
    found = report_of(content)
    assert found["not_priced"] == [content["lines"][0]["ingredient"]["name"]]
    assert (found["ingredients"], found["batch"], found["per_litre"]) == (None, None, None)
    assert 5 < found["at_least"] < 5.9457
    assert [one["cost"] for one in found["sold"]] == [None, None]
    content["lines"][0]["as_made_g"] = 0
    del content["label"]
    assert report_of(content)["not_priced"] == []


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"cost": {"colour": 1}}, "cost is an object with"),
        ({"cost": {"loss_pct": 120}}, "loss_pct is 120; it is 0 to 99"),
        ({"cost": {"minutes": "many"}}, "minutes is many, which is not a number"),
        ({"cost": {"currency": 5}}, "currency is 5"),
        ({"cost": {"sold": [{"name": "cup"}]}}, "What is sold has a name and ml"),
        ({"cost": {"sold": [{"name": "cup", "ml": 90, "price": 3, "margin_pct": 50}]}}, "Say one of them"),
        ({"cost": {"what_if": [{"line": 99, "price_pct": 5}]}}, "what_if is a line"),
        ({"cost": {"what_if": [{"line": 1}]}}, "what_if is a line"),
        ({"cost": {"what_if": {}}}, "what_if of cost is a list"),
        ({"label": {"finished_g": 99999}}, "Say no more in finished_g"),
    ],
)
def test_what_cannot_be_costed_is_named(change: dict[str, Any], said: str) -> None:
    with pytest.raises(MixError, match=re.escape(said)):
        report_of({**worked("uk"), **change})
