"""Jobs: begun, followed, superseded, stopped; and those of one kitchen are not another's."""

from __future__ import annotations

from datetime import timedelta
from typing import Any
from unittest import mock

from django.contrib.sessions.models import Session
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.utils import timezone

from jobs.models import Job
from jobs.start import start_job
from jobs.tasks import recover, run
from jobs.tests.settings import JOB_BODIES
from jobs.tidying import tidy
from kitchens.models import WrongTries
from testing.kitchen_case import LINES, KitchenCase


class BalanceJobTest(KitchenCase):
    """A balance that takes longer than a moment."""

    def balance(self, **question: Any) -> tuple[int, Any]:
        body = {"lines": LINES, "style": "ice-cream", "job": "less-sweet", **question}
        return self.send("POST", f"/proposals?mix={self.our_mix.pk}", body)

    def test_a_quick_one_is_answered_at_once(self) -> None:
        status, answer = self.balance()
        self.assertEqual((status, bool(answer["lines"])), (200, True))
        self.assertFalse(Job.objects.of(self.ours.kitchen).exists())

    @override_settings(BALANCE_IN_REQUEST_S=-1)
    def test_one_that_takes_too_long_becomes_a_job_with_the_same_answer(self) -> None:
        status, job = self.balance()
        self.assertEqual((status, job["state"], job["share"]), (202, "done", 1))
        with override_settings(BALANCE_IN_REQUEST_S=60):
            _, answer = self.balance()
        self.assertEqual(job["answer"]["lines"], answer["lines"])
        self.assertEqual(self.send("GET", f"/proposals/{job['id']}"), (200, job))

    def test_a_sure_one_is_a_job_and_tells_the_best_so_far(self) -> None:
        status, job = self.balance(sure=True)
        self.assertEqual((status, job["state"]), (202, "done"))
        self.assertTrue(all(target["chance"] is not None for target in job["answer"]["targets"]))

    def test_one_that_cannot_be_tried_fails_with_the_problem_that_the_request_would_have_had(self) -> None:
        targets = [{"of": "nonsense", "min": 1}]
        _, job = self.balance(targets=targets, job=None, sure=True)
        status, problem = self.balance(targets=targets, job=None)
        self.assertEqual((status, job["state"], job["answer"]), (422, "failed", None))
        self.assertEqual(job["problem"]["detail"], problem["detail"])

    def test_a_job_of_another_kind_is_not_there(self) -> None:
        _, job = self.balance(sure=True)
        self.assertEqual(self.send("GET", f"/ingredient-files/{job['id']}")[0], 404)


class FileJobTest(KitchenCase):
    """A file of ingredients that is too large for a request."""

    def put(self, rows: int, query: str = "") -> tuple[int, Any]:
        filler = ",".join(["0"] * 3)
        head = "name,water,sucrose,milk_fat,lactose,milk_protein\n"
        text = head + "".join(f"Canal {number} {'syrup ' * 24},40,60,{filler}\n" for number in range(rows))
        return self.send("POST", f"/ingredient-files{query}", SimpleUploadedFile("goods.csv", text.encode()))

    def test_it_is_previewed_and_taken_in_as_a_job(self) -> None:
        status, job = self.put(600)
        self.assertEqual((status, job["state"], job["problem"]), (202, "done", None))
        self.assertEqual((job["answer"]["new"], job["answer"]["done"]), (600, False))
        self.assertEqual(self.put(600, "?apply=true")[1]["answer"]["done"], True)
        self.assertEqual(self.put(600)[1]["answer"]["same"], 600)

    def test_a_small_one_is_taken_in_at_once(self) -> None:
        self.assertEqual(self.put(3)[0], 200)


@override_settings(JOBS_INLINE=False, JOB_BODIES=JOB_BODIES)
class JobTest(KitchenCase):
    """Jobs before a worker has looked at them."""

    def start(self, about: str = "mix 1") -> Job:
        return start_job(self.ours, "balance", about, {"seconds": 60})

    def test_a_newer_one_about_the_same_takes_the_place_of_the_older(self) -> None:
        first, other, second = self.start(), self.start("mix 2"), self.start()
        for job in (first, other, second):
            job.refresh_from_db()
        self.assertEqual([job.state for job in (first, other, second)], ["stopped", "waiting", "waiting"])

    def test_it_is_there_for_who_asked_and_a_shared_one_for_the_kitchen(self) -> None:
        theirs = start_job(self.colleague, "balance", "mix 1", {})
        mine = self.start()
        shared = [start_job(person, "plan", "plan 1", {}, shared=True) for person in (self.ours, self.colleague)]
        for job in (theirs, mine, *shared):
            job.refresh_from_db()
        self.assertEqual([job.state for job in (theirs, mine, *shared)], ["waiting", "waiting", "stopped", "waiting"])
        for method in ("GET", "DELETE"):
            self.assertEqual(self.send(method, f"/proposals/{theirs.pk}")[0], 404)
            self.assertEqual(self.send(method, f"/solutions/{shared[1].pk}")[0], 200)
        theirs.refresh_from_db()
        self.assertEqual(theirs.state, "waiting")

    def test_one_that_was_stopped_is_never_begun(self) -> None:
        job = self.start()
        status, answer = self.send("DELETE", f"/proposals/{job.pk}")
        self.assertEqual((status, answer["state"]), (200, "stopped"))
        with mock.patch("jobs.tasks.get_context") as processes:
            run(job_id=job.pk)
        processes.assert_not_called()

    def test_one_that_has_ended_is_not_stopped(self) -> None:
        job = self.start()
        Job.objects.of(self.ours.kitchen).update(state="done")
        self.assertEqual(self.send("DELETE", f"/proposals/{job.pk}")[1]["state"], "done")

    def test_what_a_killed_worker_left_is_begun_once_more_and_not_for_ever(self) -> None:
        job = self.start()
        for state in ("waiting", "failed"):
            Job.objects.of(self.ours.kitchen).filter(pk=job.pk).update(state="running")
            recover()
            job.refresh_from_db()
            self.assertEqual(job.state, state)
        self.assertIn("interrupted twice", str(job.problem))


class TidyTest(KitchenCase):
    """What nobody needs any more goes, and what somebody may still look at stays."""

    def test_old_sessions_tries_and_jobs_go_and_new_ones_stay(self) -> None:
        now = timezone.now()
        for days in (0, 3):
            with mock.patch("django.utils.timezone.now", return_value=now - timedelta(days=days)):
                Job.objects.create(
                    kitchen=self.ours.kitchen,
                    kind="balance",
                    about=str(days),
                    asked_by=self.ours,
                    asked={},
                    state="done",
                )
                WrongTries.objects.create(key=str(days), last_at=now - timedelta(days=days))
        Session.objects.create(session_key="over", session_data="x", expire_date=now - timedelta(days=1))
        tidy()
        self.assertEqual([job.about for job in Job.objects.of(self.ours.kitchen)], ["0"])
        self.assertEqual([tries.key for tries in WrongTries.objects.all()], ["0"])
        self.assertFalse(Session.objects.filter(session_key="over").exists())
        self.assertEqual(self.send("GET", "/api/v1/session")[0], 200)
