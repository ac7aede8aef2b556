"""A real worker: jobs run in processes of their own, end when stopped, and outlive the worker's death."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from typing import Any, ClassVar

from django.db import connection
from django.test import TransactionTestCase, override_settings

from jobs.models import Job
from jobs.start import start_job, stop_job
from kitchens.models import Kitchen, Person
from testing.other_processes import environment_on

PATIENCE_S = 60.0


@override_settings(JOBS_INLINE=False)
class WorkerTest(TransactionTestCase):
    """One worker on the test's own database."""

    person: Person
    worker: ClassVar[subprocess.Popen[bytes]]

    def setUp(self) -> None:
        self.kitchen = Kitchen.objects.create(slug="at-work", name="At work")
        self.person = Person.objects.create_user("at-work", self.kitchen, "correct horse")
        self.begin_worker()

    def begin_worker(self) -> None:
        env = {
            **environment_on(str(connection.settings_dict["NAME"])),
            "DJANGO_SETTINGS_MODULE": "jobs.tests.settings",
        }
        worker = subprocess.Popen([sys.executable, "-m", "config.manage", "work"], env=env, start_new_session=True)
        self.addCleanup(worker.wait)
        self.addCleanup(worker.kill)
        self.worker_pid = worker.pid

    def start(self, kind: str, **asked: Any) -> Job:
        return start_job(self.person, kind, "mix 1", asked)

    def until(self, job: Job, state: str) -> Job:
        end = time.monotonic() + PATIENCE_S
        while job.state != state and time.monotonic() < end:
            time.sleep(0.02)
            job.refresh_from_db()
        self.assertEqual(job.state, state)
        return job

    def test_a_job_is_done_in_a_process_of_its_own_and_one_that_breaks_says_so_without_its_words(self) -> None:
        done = self.until(self.start("ingredient-file", how="answer"), "done")
        self.assertEqual((done.share, done.best), (1.0, done.answer))
        self.assertNotIn(dict(done.answer or {})["process"], (os.getpid(), self.worker_pid))
        broken = self.until(self.start("ingredient-file", how="break"), "failed")
        self.assertEqual(dict(broken.problem or {})["type"], "/problems/broken")
        self.assertNotIn("secret", str(broken.problem))
        vanished = self.until(self.start("ingredient-file", how="vanish"), "failed")
        self.assertEqual(dict(vanished.problem or {})["type"], "/problems/interrupted")

    def test_a_stopped_job_ends_and_a_newer_one_takes_its_place(self) -> None:
        first = self.until(self.start("balance", seconds=60), "running")
        while first.share == 0:
            first.refresh_from_db()
        stop_job(self.person, "balance", first.pk)
        second = self.until(self.start("balance", seconds=60), "running")
        third = self.until(self.start("balance", seconds=0.1), "done")
        for job in (first, second):
            job.refresh_from_db()
        self.assertEqual((first.state, second.state, third.answer), ("stopped", "stopped", {"message": "waited"}))

    def test_a_job_whose_worker_was_killed_is_begun_again_by_the_next(self) -> None:
        job = self.until(self.start("balance", seconds=2), "running")
        os.killpg(self.worker_pid, signal.SIGKILL)
        self.begin_worker()
        self.assertEqual(self.until(job, "done").tries, 1)
