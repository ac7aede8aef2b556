"""Beginning and stopping jobs."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import transaction

from jobs.inline import run_here
from jobs.models import UNFINISHED, Job
from jobs.tasks import run
from kitchens.models import Kitchen, Person


@transaction.atomic
def start_job(asked_by: Person, kind: str, about: str, asked: Any, file: bytes | None = None) -> Job:
    """Begin a job; an unfinished one of its kind about the same thing is stopped, because this one is newer."""
    kitchen = asked_by.kitchen
    Job.objects.of(kitchen).filter(kind=kind, about=about, state__in=UNFINISHED).update(state="stopped")
    job = Job.objects.create(kitchen=kitchen, kind=kind, about=about, asked_by=asked_by, asked=asked, file=file)
    if settings.JOBS_INLINE:
        run_here(job)
    else:
        run.defer(job_id=job.pk)
    return job


def job_by_id(kitchen: Kitchen, kind: str, job_id: int) -> Job:
    """Return one of a kitchen's jobs; raises Job.DoesNotExist."""
    return Job.objects.of(kitchen).get(pk=job_id, kind=kind)


def stop_job(kitchen: Kitchen, kind: str, job_id: int) -> Job:
    """Stop a job, which keeps its best answer; one that has ended stays as it is.

    Raises
    ------
    Job.DoesNotExist : no such job in this kitchen
    """
    Job.objects.of(kitchen).filter(pk=job_id, kind=kind, state__in=UNFINISHED).update(state="stopped")
    return job_by_id(kitchen, kind, job_id)
