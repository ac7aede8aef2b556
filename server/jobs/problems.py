"""Why a job failed, as the API would have answered."""

from __future__ import annotations

import json
import logging
from typing import Any

from api.problems import failure_answer, refusal_answer
from jalebi_core.model.errors import JalebiError
from kitchens.models import Kitchen, notation_of

log = logging.getLogger(__name__)


def problem_of(error: BaseException, kitchen: Kitchen) -> dict[str, Any]:
    """Return problem details of what a job threw."""
    if isinstance(error, JalebiError):
        answer = refusal_answer(error, notation_of(kitchen))
    else:
        log.error("a job failed", exc_info=error)
        answer = failure_answer(error)
    problem: dict[str, Any] = json.loads(answer.content)
    return problem
