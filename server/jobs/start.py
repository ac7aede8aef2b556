"""Beginning and stopping jobs."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import Q, QuerySet

from jobs.inline import run_here
from jobs.models import UNFINISHED, Job
from jobs.tasks import run
from kitchens.models import Person


@transaction.atomic
def start_job(
    asked_by: Person, kind: str, about: str, asked: Any, file: bytes | None = None, *, shared: bool = False
) -> Job:
    """Begin a job; an unfinished one of its kind about the same thing is stopped, because this one is newer.

    One of another person is left alone unless both are ``shared``.
    """
    kitchen = asked_by.kitchen
    earlier = Job.objects.of(kitchen).filter(kind=kind, about=about, shared=shared, state__in=UNFINISHED)
    (earlier if shared else earlier.filter(asked_by=asked_by)).update(state="stopped")
    job = Job.objects.create(
        kitchen=kitchen,
        kind=kind,
        about=about,
        asked_by=asked_by,
        shared=shared,
        showed_prices=kitchen.shows_prices,
        asked=asked,
        file=file,
    )
    if settings.JOBS_INLINE:
        run_here(job)
    else:
        run.defer(job_id=job.pk)
    return job


def job_by_id(person: Person, kind: str, job_id: int) -> Job:
    """Return a job that a person asked for, or a shared one of the kitchen; raises Job.DoesNotExist."""
    return _jobs_of(person, kind).get(pk=job_id)


def stop_job(person: Person, kind: str, job_id: int) -> Job:
    """Stop a job, which keeps its best answer; one that has ended stays as it is.

    Raises
    ------
    Job.DoesNotExist : no such job of this person, nor a shared one of the kitchen
    """
    _jobs_of(person, kind).filter(pk=job_id, state__in=UNFINISHED).update(state="stopped")
    return job_by_id(person, kind, job_id)


def _jobs_of(person: Person, kind: str) -> QuerySet[Job]:
    theirs = Job.objects.of(person.kitchen).filter(Q(asked_by=person) | Q(shared=True), kind=kind)
    return theirs if person.sees_prices else theirs.filter(Q(showed_prices=False) | Q(shared=True))
