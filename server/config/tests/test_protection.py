"""Sign-in, throttling, headers, and the page itself."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import ClassVar
from unittest import mock

from django.conf import settings
from django.contrib.auth.hashers import identify_hasher
from django.db import OperationalError
from django.test import Client, TestCase
from psycopg.errors import AdminShutdown, DiskFull

from config import page as interface
from kitchens.models import Person
from testing.kitchen_case import KitchenCase, filled_kitchen


class SignInTest(TestCase):
    """The door."""

    person: ClassVar[Person]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.person, _, _ = filled_kitchen("door")

    def sign_in(self, name: str, password: str) -> tuple[int, str]:
        response = self.client.post(
            "/api/v1/session", json.dumps({"name": name, "password": password}), content_type="application/json"
        )
        return response.status_code, response.content.decode()

    def test_right_password_opens_and_sign_out_closes(self) -> None:
        self.assertEqual(self.sign_in("door", "correct horse")[0], 200)
        self.assertEqual(self.client.get("/api/v1/session").json()["kitchens"], [{"slug": "door", "name": "Door"}])
        self.assertEqual(self.client.delete("/api/v1/session").status_code, 204)
        self.assertEqual(self.client.get("/api/v1/session").status_code, 401)

    def test_a_session_that_was_signed_out_is_worth_nothing_to_anybody(self) -> None:
        self.sign_in("door", "correct horse")
        stolen = Client()
        stolen.cookies[settings.SESSION_COOKIE_NAME] = self.client.cookies[settings.SESSION_COOKIE_NAME].value
        self.assertEqual(stolen.get("/api/v1/session").status_code, 200)
        self.client.delete("/api/v1/session")
        self.assertEqual(stolen.get("/api/v1/session").status_code, 401)

    def test_wrong_password_and_odd_names_are_refused_alike(self) -> None:
        for name in ("door", "nobody", "a\x00b", "🍦"):
            status, body = self.sign_in(name, "wrong")
            self.assertEqual(status, 401)
            self.assertIn("do not fit together", body)

    def test_passwords_are_kept_as_argon2(self) -> None:
        self.assertEqual(identify_hasher(self.person.password).algorithm, "argon2")

    def test_people_who_left_are_out(self) -> None:
        self.client.force_login(self.person, backend="kitchens.sign_in.PersonBackend")
        self.person.is_active = False
        self.person.save()
        self.assertEqual(self.client.get("/api/v1/session").status_code, 401)


class HeadersTest(KitchenCase):
    """What goes with every answer."""

    def test_policy_allows_no_inline_code_and_the_page_carries_its_nonce(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            Path(folder, "index.html").write_text('<meta name="style-nonce" content="__STYLE_NONCE__">')
            interface._page.cache_clear()
            with self.settings(INTERFACE=Path(folder)):
                response = self.client.get("/bench/1")
            interface._page.cache_clear()
        policy = response["Content-Security-Policy"]
        self.assertNotIn("unsafe-inline", policy)
        self.assertIn("script-src 'self'", policy)
        nonce = response.content.decode().split('content="')[1].rstrip('">')
        self.assertIn(f"'nonce-{nonce}'", policy)
        self.assertIn(settings.CSRF_COOKIE_NAME, response.cookies)
        self.assertEqual(response["X-Frame-Options"], "DENY")

    def test_without_a_built_interface_it_says_what_to_do(self) -> None:
        interface._page.cache_clear()
        with self.settings(INTERFACE=Path("nowhere")):
            response = self.client.get("/")
        self.assertEqual(response.status_code, 503)
        self.assertIn("./jalebi start", response.content.decode())

    def test_a_database_that_is_away_or_full_says_so_and_when_to_ask_again(self) -> None:
        for cause, status in ((AdminShutdown("x"), 503), (None, 503), (DiskFull("x"), 507)):
            error = OperationalError("away")
            error.__cause__ = cause
            with mock.patch("mixes.api.mixes_page", side_effect=error), self.assertLogs("api.problems"):
                response = self.client.get(f"{self.place}/mixes")
            with self.subTest(cause=cause):
                self.assertEqual((response.status_code, response.json()["status"]), (status, status))
                self.assertEqual("Retry-After" in response.headers, status == 503)

    def test_unknown_addresses_and_broken_code_answer_as_problems(self) -> None:
        status, _ = self.send("GET", "/mixes/999999999999999999999999")
        self.assertEqual(status, 404)
        with mock.patch("mixes.api.mixes_page", side_effect=RuntimeError("boom")), self.assertLogs("api.problems"):
            status, answer = self.send("GET", "/mixes")
        self.assertEqual((status, answer["status"]), (500, 500))
        self.assertNotIn("boom", answer["detail"])

    def test_an_oversized_body_is_refused(self) -> None:
        status, answer = self.send("POST", "/analyses", b" " * 2_000_000)
        self.assertEqual(status, 413)
        self.assertIn("1 MB", answer["detail"])

    def test_health_needs_no_sign_in(self) -> None:
        self.assertEqual(Client().get("/api/v1/health").json(), {"database": True})
        with mock.patch("config.api.connection.cursor", side_effect=OperationalError):
            response = Client().get("/api/v1/health")
        self.assertEqual((response.status_code, response.json()), (503, {"database": False}))
