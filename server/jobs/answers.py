"""Jobs as the API answers them."""

from __future__ import annotations

from typing import Generic, TypeVar

from pydantic import BaseModel

from api.problems import Problem
from jobs.models import Job

Answer = TypeVar("Answer", bound=BaseModel)


class JobOut(BaseModel, Generic[Answer]):
    """A job: how far it is from 0 to 1, the best answer so far, and in the end the answer or why there is none.

    ``state`` is ``waiting``, ``running``, ``done``, ``failed`` or ``stopped``.
    """

    id: int
    state: str
    share: float
    best: Answer | None
    answer: Answer | None
    problem: Problem | None


def fields_of(job: Job) -> dict[str, object]:
    """Return a job as the fields of its answer."""
    return {key: getattr(job, key) for key in ("id", "state", "share", "best", "answer", "problem")}
