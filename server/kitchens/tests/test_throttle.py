"""Guessing passwords: it takes ever longer, by name and by place, and the owner still gets in."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from unittest import mock

from django.test import Client, TestCase
from django.utils import timezone

from kitchens.models import WrongTries
from kitchens.throttle import FREE_TRIES, LONGEST_WAIT, forget_old_tries
from testing.kitchen_case import filled_kitchen


class ThrottleTest(TestCase):
    """Tries at times of our own choosing."""

    now: datetime

    def setUp(self) -> None:
        filled_kitchen("door")
        self.now = timezone.now()
        patched = mock.patch("kitchens.throttle.timezone.now", side_effect=lambda: self.now)
        patched.start()
        self.addCleanup(patched.stop)

    def sign_in(
        self, name: str = "door", password: str = "guess", address: str = "192.0.2.7", client: Client | None = None
    ) -> tuple[int, int]:
        """Return the status, and the seconds to wait where it is too early."""
        body = json.dumps({"name": name, "password": password})
        response = (client or Client()).post(
            "/api/v1/session", body, content_type="application/json", REMOTE_ADDR=address
        )
        return response.status_code, response.json().get("wait_s", 0)

    def guess(self, times: int, address: str = "192.0.2.7") -> None:
        """Guess without pause for as long as it takes to be wrong so often."""
        for number in range(times):
            self.guess_once(f"somebody {number}", address)

    def guess_once(self, name: str, address: str) -> None:
        """Guess wrongly as soon as the door hears it."""
        status, wait = self.sign_in(name, address=address)
        while status == 429:
            self.now += timedelta(seconds=wait)
            status, wait = self.sign_in(name, address=address)

    def test_a_few_mistakes_cost_nothing_and_each_further_one_twice_as_much(self) -> None:
        for _ in range(FREE_TRIES):
            self.assertEqual(self.sign_in(), (401, 0))
        waits = []
        for _ in range(8):
            status, wait = self.sign_in(password="correct horse")
            self.assertEqual(status, 429)
            waits.append(wait)
            self.now += timedelta(seconds=wait)
            self.assertEqual(self.sign_in()[0], 401)
        self.assertEqual(waits, [1, 2, 4, 8, 16, 32, 60, 60])

    def test_the_name_counts_whatever_address_the_guesses_come_from(self) -> None:
        for number in range(FREE_TRIES):
            self.sign_in(address=f"192.0.2.{number}")
        self.assertEqual(self.sign_in(address="192.0.2.99")[0], 429)
        self.assertEqual(self.sign_in("DOOR", address="192.0.2.99")[0], 429)
        self.assertEqual(self.sign_in("theirs", address="192.0.2.99")[0], 401)

    def test_the_address_counts_whatever_name_is_guessed_and_this_machine_is_one(self) -> None:
        for number in range(FREE_TRIES):
            self.sign_in(f"name {number}", address=f"127.0.0.{number + 1}")
        for address in ("127.9.9.9", "::1"):
            self.assertEqual(self.sign_in("door", "correct horse", address)[0], 429)
        self.assertEqual(self.sign_in("door", "correct horse", "192.0.2.7")[0], 200)

    def test_a_stranger_who_never_stops_does_not_keep_the_owner_out(self) -> None:
        browser = Client()
        self.assertEqual(self.sign_in(password="correct horse", address="127.0.0.1", client=browser)[0], 200)
        for _ in range(FREE_TRIES + 9):
            self.guess_once("door", "127.0.0.1")
        self.assertEqual(self.sign_in(password="correct horse", address="127.0.0.1")[0], 429)
        self.assertEqual(self.sign_in(password="correct horse", address="127.0.0.1", client=browser)[0], 200)

    def test_a_known_browser_may_not_guess_either_nor_for_another_name(self) -> None:
        browser = Client()
        self.sign_in(password="correct horse", client=browser)
        for _ in range(FREE_TRIES):
            self.sign_in(client=browser)
        self.assertEqual(self.sign_in(client=browser)[0], 429)
        self.sign_in("theirs", client=browser)
        self.assertEqual(WrongTries.objects.count(), 3)

    def test_signing_in_forgets_the_mistakes_before_it(self) -> None:
        for _ in range(FREE_TRIES - 1):
            self.sign_in()
        self.assertEqual(self.sign_in(password="correct horse")[0], 200)
        self.assertEqual(self.sign_in(address="192.0.2.8")[0], 401)

    def test_a_clock_that_is_set_back_keeps_nobody_out_for_long(self) -> None:
        for _ in range(FREE_TRIES):
            self.sign_in()
        self.now -= timedelta(days=3)
        self.assertEqual(self.sign_in()[0], 429)
        self.now += LONGEST_WAIT
        self.assertEqual(self.sign_in(password="correct horse")[0], 200)

    def test_old_mistakes_are_forgotten(self) -> None:
        self.sign_in()
        self.now += timedelta(days=2)
        forget_old_tries()
        self.assertFalse(WrongTries.objects.exists())
