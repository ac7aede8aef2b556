"""Learning from a log: reference posteriors, and what no log does."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from conftest import REFERENCE
from jalebi_core.tasting.learning import learn_one

CASES = json.loads((REFERENCE / "taste/outliers.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CASES, ids=lambda case: str(case["y"]))
def test_strays_count_for_little(case: dict[str, Any]) -> None:
    found = learn_one(np.array(case["y"], dtype=float), 25.0, 7.803, 5.0)
    assert found.mean == pytest.approx(case["value"], abs=1e-3)
    assert found.sd == pytest.approx(case["sd"], abs=1e-3)
    assert found.weights == pytest.approx(np.array(case["weights"]), abs=1e-4)


@given(st.lists(st.floats(-2, 2), min_size=1, max_size=8), st.randoms())
def test_the_order_of_a_log_does_not_matter_and_it_never_says_less_than_the_prior(
    log: list[float], random: Any
) -> None:
    shuffled = random.sample(log, len(log))
    first, second = (learn_one(np.array(one), 0.0, 0.35, 0.15) for one in (log, shuffled))
    assert first.mean == pytest.approx(second.mean, abs=1e-9)
    assert 0 < first.sd <= 0.35
