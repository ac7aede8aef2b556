"""Balance where a request is too short for it: within a moment, or as a job."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any, Final

from django.conf import settings

from analysis.balance import ProposalWatch, propose_balance
from analysis.balance_schemas import BalanceQuestion, Proposal
from jobs.kinds import Report
from jobs.models import Job
from jobs.start import start_job
from kitchens.models import Person

KIND: Final = "balance"
_BEST_EVERY_S: Final = 0.3


class OutOfTimeError(Exception):
    """A balance that takes longer than a request may."""


def balance_or_job(person: Person, question: BalanceQuestion, about: str) -> Proposal | Job:
    """Return a proposal, or the job that works it out where that takes longer than a moment.

    Raises
    ------
    JalebiError : what cannot be tried
    """
    if not question.sure:
        try:
            return propose_balance(person.kitchen, question, _until(time.monotonic() + settings.BALANCE_IN_REQUEST_S))
        except OutOfTimeError:
            pass
    return start_job(person, KIND, about, question.model_dump(mode="json"))


def balance_job(job: Job, report: Report) -> Any:
    """Work out a proposal as a job."""
    question = BalanceQuestion.model_validate(job.asked)
    return propose_balance(job.kitchen, question, _telling(report)).model_dump(mode="json")


def _until(deadline: float) -> ProposalWatch:
    def watch(_share: float, _best: Callable[[], Proposal] | None) -> None:
        if time.monotonic() > deadline:
            raise OutOfTimeError

    return watch


def _telling(report: Report) -> ProposalWatch:
    told = time.monotonic()

    def watch(share: float, best: Callable[[], Proposal] | None) -> None:
        nonlocal told
        if best is None or time.monotonic() - told < _BEST_EVERY_S:
            report(share)
        else:
            told = time.monotonic()
            report(share, best().model_dump(mode="json"))

    return watch
