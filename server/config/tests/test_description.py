"""The API against its own description: whatever fits or misses it is answered, and as the description says."""

from __future__ import annotations

import json
import logging
from collections import Counter
from typing import Any

import schemathesis
from django.conf import settings as django_settings
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections, transaction
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis.checks import not_a_server_error
from schemathesis.core.result import Ok
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_headers_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from config.api import PREFIX, api
from testing.kitchen_case import KitchenCase
from testing.thorough import THOROUGH, sampled

Case = schemathesis.Case[Any]
CHECKS = (
    not_a_server_error,
    status_code_conformance,
    content_type_conformance,
    response_headers_conformance,
    response_schema_conformance,
)
_EXAMPLES = 12 if THOROUGH else 3
_SEQUENCES = 100 if THOROUGH else 30
TOKEN = "a" * 32
"""A CSRF token; what counts is that cookie and header agree."""


def description_of_ours() -> dict[str, Any]:
    """Return the API's description with the kitchen of every address being ours."""
    description: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(path_prefix=PREFIX)))
    for item in description["paths"].values():
        for parameter in item.get("parameters", []):
            parameter["schema"] = {"type": "string", "enum": ["ours"]}
    return description


SCHEMA = schemathesis.openapi.from_dict(description_of_ours())
SCHEMA.app = get_wsgi_application()
OPERATIONS = [result.ok() for result in SCHEMA.get_all_operations() if isinstance(result, Ok)]


ANY_TEXT_FITS = {"GET /api/v1/guest/{secret}"}
"""Addresses with nothing but a text in them, which may be any."""


def _takes_anything(operation: Any) -> bool:
    """Say whether an address takes a body, a query or a part of its path beside the kitchen."""
    return bool(operation.body) or any(one.name != "kitchen" for one in operation.iter_parameters())


class DescribedCase(KitchenCase):
    """Calls the application as a browser would, signed in as ours."""

    asked: dict[str, Any]

    def setUp(self) -> None:
        super().setUp()
        logging.getLogger("django.request").setLevel(logging.CRITICAL)
        self.addCleanup(logging.getLogger("django.request").setLevel, logging.NOTSET)
        session = self.client.cookies[django_settings.SESSION_COOKIE_NAME].value
        self.asked = {
            "headers": {"X-CSRFToken": TOKEN, "Host": "localhost"},
            "cookies": {django_settings.SESSION_COOKIE_NAME: session, django_settings.CSRF_COOKIE_NAME: TOKEN},
        }
        for signal in (request_started, request_finished):  # which would end the test's transaction
            signal.disconnect(close_old_connections)
            self.addCleanup(signal.connect, close_old_connections)


class GeneratedCase(DescribedCase):
    """Generated requests of one kind; two classes, so that two processors can share them."""

    def try_all(self, mode: schemathesis.GenerationMode) -> set[str]:
        """Try each address, and return those for which no request of this kind can be made."""
        without = set()
        tried = set(sampled([f"{mode} {one.label}" for one in OPERATIONS], 2))
        for operation in OPERATIONS:
            if f"{mode} {operation.label}" in tried and operation.path != f"{PREFIX}session":
                with self.subTest(operation=operation.label):
                    if not self.try_many(operation.as_strategy(generation_mode=mode)):
                        without.add(operation.label)
        return without

    def try_many(self, cases: st.SearchStrategy[Case]) -> bool:
        """Try some requests; says whether there were any."""

        @settings(
            max_examples=_EXAMPLES,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(cases)
        def call(case: Case) -> None:
            case.call_and_validate(checks=list(CHECKS), **self.asked)

        try:
            call()
        except Unsatisfiable:
            return False
        return True


class FittingRequestsTest(GeneratedCase):
    """Requests that fit the description."""

    def test_they_are_answered_as_described(self) -> None:
        self.assertEqual(self.try_all(schemathesis.GenerationMode.POSITIVE), set())


class MisfitRequestsTest(GeneratedCase):
    """Requests that miss it."""

    def test_they_are_answered_as_described(self) -> None:
        always_fits = {one.label for one in OPERATIONS if not _takes_anything(one)} | ANY_TEXT_FITS
        self.assertLessEqual(self.try_all(schemathesis.GenerationMode.NEGATIVE), always_fits)


class SequencesTest(DescribedCase):
    """Requests that go on from the answers of earlier ones: what was made is looked at, changed and removed."""

    def test_they_are_answered_as_described(self) -> None:
        reached: Counter[tuple[str, int]] = Counter()
        failures: list[str] = []  # told at the end: none of them needs to be made smaller
        asked = self.asked

        class Sequence(SCHEMA.exclude(path=f"{PREFIX}session").as_state_machine()):  # type: ignore[misc] # made of it
            def setup(self) -> None:
                self.before = transaction.savepoint()

            def teardown(self) -> None:
                transaction.savepoint_rollback(self.before)
                super().teardown()

            def get_call_kwargs(self, _case: Case) -> dict[str, Any]:
                return asked

            def validate_response(self, response: Any, case: Case, **_kwargs: Any) -> None:
                reached[(case.operation.label, response.status_code)] += 1
                try:
                    case.validate_response(response, checks=list(CHECKS), headers=asked["headers"])
                except Exception as error:
                    failures.append(f"{case.operation.label}: {error}")

        def made() -> int:
            return sum(count for (label, status), count in reached.items() if label.count("{") > 1 and status < 300)

        # Few of them get as far as what another made: more are drawn until one does.
        for times in (1, 2, 4, 8):
            Sequence.run(
                settings=settings(
                    max_examples=times * _SEQUENCES,
                    stateful_step_count=8,
                    deadline=None,
                    database=None,
                    derandomize=True,
                    phases=[Phase.generate],
                    suppress_health_check=list(HealthCheck),
                )
            )
            if made() or failures:
                break
        self.assertEqual(failures[:3], [])
        self.assertGreater(made(), 0, f"no sequence reached what another request made: {dict(reached)}")
