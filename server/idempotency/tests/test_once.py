"""A request that carries a key is done once, however often it is sent."""

from __future__ import annotations

import json
import threading
from datetime import timedelta
from typing import Any

from django.db import connection
from django.test import Client, TransactionTestCase
from django.utils import timezone

from batches.models import Batch
from idempotency.answers import KEPT_FOR
from idempotency.models import DoneRequest
from mixes.models import Mix
from testing.kitchen_case import KitchenCase, filled_kitchen


class OnceTest(KitchenCase):
    """The same key again, another request with it, and what is no success."""

    def post(self, path: str, key: str, body: Any = None) -> tuple[int, Any]:
        response = self.client.post(
            self.place + path, json.dumps(body or {}), content_type="application/json", headers={"Idempotency-Key": key}
        )
        return response.status_code, response.json()

    def test_a_batch_is_begun_once_and_answered_the_same(self) -> None:
        path, before = f"/mixes/{self.our_mix.pk}/batches", Batch.objects.of(self.ours.kitchen).count()
        first = self.post(path, "first-key")
        self.assertEqual(first[0], 201)
        self.assertEqual(self.post(path, "first-key"), first)
        self.assertEqual(Batch.objects.of(self.ours.kitchen).count(), before + 1)
        self.assertNotEqual(self.post(path, "other-key")[1]["id"], first[1]["id"])

    def test_a_key_with_another_request_is_refused(self) -> None:
        before = Mix.objects.of(self.ours.kitchen).count()
        self.post("/mixes", "mix-key-1", {"name": "one"})
        status, answer = self.post("/mixes", "mix-key-1", {"name": "two"})
        self.assertEqual((status, answer["type"]), (422, "/problems/key-taken"))
        self.assertEqual(Mix.objects.of(self.ours.kitchen).count(), before + 1)

    def test_what_was_refused_may_be_sent_again_with_its_key(self) -> None:
        self.assertEqual(self.post("/mixes", "name-key", {"name": " "})[0], 422)
        self.assertFalse(DoneRequest.objects.of(self.ours.kitchen).exists())

    def test_keys_of_another_person_are_not_known_and_old_ones_are_forgotten(self) -> None:
        self.post("/mixes", "shared-key", {"name": "Ours"})
        self.sign_in_as(self.theirs)
        self.assertEqual(self.post("/mixes", "shared-key", {"name": "Theirs"})[1]["name"], "Theirs")
        old = timezone.now() - KEPT_FOR - timedelta(minutes=1)
        DoneRequest.objects.of(self.theirs.kitchen).update(at=old)
        self.post("/mixes", "later-key", {"name": "Later"})
        self.assertEqual([row.key for row in DoneRequest.objects.of(self.theirs.kitchen)], ["later-key"])


class SentTwiceAtOnceTest(TransactionTestCase):
    """Real concurrency: two of one key at the same moment."""

    def test_only_one_mix_is_made(self) -> None:
        person, _, _ = filled_kitchen("busy")
        ready, answers = threading.Barrier(2), []

        def send() -> None:
            client = Client()
            client.force_login(person, backend="kitchens.sign_in.PersonBackend")
            ready.wait()
            response = client.post(
                "/api/v1/kitchens/busy/mixes",
                json.dumps({"name": "Once"}),
                content_type="application/json",
                headers={"Idempotency-Key": "the-same"},
            )
            answers.append((response.status_code, response.json()["id"]))
            connection.close()

        threads = [threading.Thread(target=send) for _ in range(2)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(len(set(answers)), 1, answers)
        self.assertEqual(answers[0][0], 201)
        self.assertEqual(Mix.objects.of(person.kitchen).filter(name="Once").count(), 1)
