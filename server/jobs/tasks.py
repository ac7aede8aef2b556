"""What the worker does with a job: its body runs in a child process, which ends when somebody stops the job."""

from __future__ import annotations

from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import Any, Final

from procrastinate.contrib.django import app

from jobs.child import work
from jobs.models import UNFINISHED, Job

LOOK_EVERY_S: Final = 0.15
"""At whether the job was stopped meanwhile; the half second that a stop may take has room for three looks."""
MOST_TRIES: Final = 2
"""A job whose worker was killed is begun once more; one that kills its worker itself is not begun for ever."""
_INTERRUPTED: Final = {
    "type": "/problems/interrupted",
    "title": "Service Unavailable",
    "status": 503,
    "detail": "This was interrupted twice and was not begun a third time. Start it again.",
    "errors": [],
}


@app.task(name="run_job", queue="jobs")
def run(job_id: int) -> None:
    """Do a job, unless a newer one has taken its place."""
    if not _unfinished(job_id).filter(state="waiting").update(state="running"):
        return
    processes = get_context("forkserver")
    here, there = processes.Pipe(duplex=False)
    child = processes.Process(target=work, args=(job_id, there), daemon=True)
    child.start()
    there.close()
    try:
        _follow(job_id, here)
    finally:
        child.kill()
        child.join()
        child.close()


def recover() -> None:
    """Begin again what a worker that was killed left unfinished."""
    for job in Job.objects.of_all_kitchens().filter(state__in=UNFINISHED):
        if job.state == "running" and job.tries + 1 >= MOST_TRIES:
            _unfinished(job.pk).update(state="failed", problem=_INTERRUPTED)
        else:
            _unfinished(job.pk).update(state="waiting", tries=job.tries + (job.state == "running"))
            run.defer(job_id=job.pk)


def _follow(job_id: int, messages: Connection) -> None:
    """Write down what the child says until it has ended or nobody wants it any more."""
    while True:
        if not messages.poll(LOOK_EVERY_S):
            if not _unfinished(job_id).exists():
                return
            continue
        try:
            message: dict[str, Any] = messages.recv()
        except EOFError:
            _unfinished(job_id).update(state="failed", problem=_INTERRUPTED)
            return
        if not _unfinished(job_id).update(**message) or "state" in message:
            return


def _unfinished(job_id: int) -> Any:
    return Job.objects.of_all_kitchens().filter(pk=job_id, state__in=UNFINISHED)
