"""The kinds of jobs there are, and how the body of one is found."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from django.conf import settings
from django.utils.module_loading import import_string

from jobs.models import Job


class Report(Protocol):
    """Says how far a job is, 0 to 1, and the best answer so far where there is one."""

    def __call__(self, share: float, best: Any = None, /) -> None: ...


def unreported(_share: float, _best: Any = None) -> None:
    """Say nothing: somebody waits for the answer itself."""


Body = Callable[[Job, Report], Any]
"""Does a job and returns its answer as JSON holds it; it runs in a process of its own, which may be killed."""


def body_of(kind: str) -> Body:
    """Return the function that does jobs of a kind."""
    body: Body = import_string(settings.JOB_BODIES[kind])
    return body
