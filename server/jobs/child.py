"""The process that does one job. It is forked from one that has loaded everything already."""

from __future__ import annotations

import ctypes
import signal
import time
from multiprocessing.connection import Connection
from typing import Any, Final

from django.db import connections
from django.utils import timezone

from jobs.kinds import body_of
from jobs.models import Job
from jobs.problems import problem_of
from kitchens.prices import kitchen_seen_by

_TELL_EVERY_S: Final = 0.2
_DIE_WITH_PARENT: Final = 1
"""Linux's PR_SET_PDEATHSIG."""


def work(job_id: int, told: Connection) -> None:
    """Do a job and tell what comes of it as fields of its row; the last message holds its ``state``."""
    ctypes.CDLL(None).prctl(_DIE_WITH_PARENT, signal.SIGKILL)
    connections.close_all()
    job = Job.objects.of_all_kitchens().select_related("kitchen", "asked_by").get(pk=job_id)
    job.asked_by.kitchen = job.kitchen
    kitchen_seen_by(job.asked_by)
    timezone.activate(job.kitchen.zone)
    last = 0.0

    def report(share: float, best: Any = None) -> None:
        nonlocal last
        if best is None and time.monotonic() - last < _TELL_EVERY_S:
            return
        last = time.monotonic()
        told.send({"share": share} if best is None else {"share": share, "best": best})

    try:
        answer = body_of(job.kind)(job, report)
    except Exception as error:
        told.send({"state": "failed", "problem": problem_of(error, job.kitchen)})
    else:
        told.send({"state": "done", "share": 1.0, "answer": answer})
