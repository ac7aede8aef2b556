"""What nobody needs any more: sessions that have ended, old wrong passwords, answers of requests and jobs long done."""

from __future__ import annotations

from datetime import timedelta
from typing import Final

from django.contrib.sessions.backends.cached_db import SessionStore
from django.utils import timezone
from procrastinate.contrib.django import app

from idempotency.answers import forget_old_requests
from jobs.models import UNFINISHED, Job
from kitchens.models import Kitchen
from kitchens.throttle import forget_old_tries

KEPT_FOR: Final = timedelta(days=1)
"""Answers of jobs that have ended: longer than anybody looks at one."""


def tidy() -> None:
    """Forget it all."""
    SessionStore.clear_expired()
    forget_old_tries()
    for kitchen in Kitchen.objects.all():
        forget_old_requests(kitchen)
    ended = Job.objects.of_all_kitchens().exclude(state__in=UNFINISHED)
    ended.filter(changed_at__lt=timezone.now() - KEPT_FOR).delete()


@app.periodic(cron="17 3 * * *")
@app.task(name="tidy", queue="jobs")
def tidy_daily(timestamp: int) -> None:
    """Tidy an installation that is never stopped; any other is tidied when its worker begins."""
    del timestamp
    tidy()
