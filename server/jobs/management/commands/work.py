"""`work`: do jobs until told to end."""

from __future__ import annotations

from multiprocessing import get_context
from multiprocessing.forkserver import ensure_running
from typing import Any, Final

from django.core.management.base import BaseCommand
from procrastinate.contrib.django import app

from jobs.tasks import recover
from jobs.tidying import tidy

AT_ONCE: Final = 2
"""Jobs side by side; each keeps one processor busy."""
_GRACE_S: Final = 1.0


class Command(BaseCommand):
    """The worker of this installation; there is one."""

    help = __doc__ or ""

    def handle(self, *_args: Any, **_options: Any) -> None:
        get_context("forkserver").set_forkserver_preload(["jobs.preload"])
        ensure_running()  # now, and not when somebody waits for the first job
        tidy()
        recover()
        worker = app.with_connector(app.connector.get_worker_connector())  # type: ignore[attr-defined]
        worker.run_worker(
            queues=["jobs"],
            concurrency=AT_ONCE,
            fetch_job_polling_interval=5.0,
            shutdown_graceful_timeout=_GRACE_S,
            delete_jobs="always",
            install_signal_handlers=True,
        )
