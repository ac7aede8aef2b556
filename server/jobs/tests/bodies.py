"""Bodies of jobs for tests: one that takes its time, one that breaks."""

from __future__ import annotations

import os
import time
from typing import Any

from jobs.kinds import Report
from jobs.models import Job


def wait(job: Job, report: Report) -> Any:
    """Work for as many seconds as asked, telling how far it is."""
    began = time.monotonic()
    while (spent := time.monotonic() - began) < job.asked["seconds"]:
        report(spent / job.asked["seconds"])
        time.sleep(0.02)
    return {"message": "waited"}


def work_out(job: Job, report: Report) -> Any:
    """Answer, break, or end without a word, as asked."""
    report(0.5, {"process": os.getpid()})
    if job.asked["how"] == "break":
        raise ValueError("secret ripple")
    if job.asked["how"] == "vanish":
        os._exit(1)
    return {"process": os.getpid()}
