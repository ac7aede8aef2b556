"""The API against its own description: whatever fits or misses it is answered, never with a failure."""

from __future__ import annotations

from typing import Any
from urllib.parse import unquote, urlsplit

import requests
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis.core.result import Ok

from config.api import api
from testing.kitchen_case import KitchenCase

Case = schemathesis.Case[Any]
SCHEMA = schemathesis.openapi.from_dict(dict(api.get_openapi_schema(path_prefix="/api/")))
OPERATIONS = [result.ok() for result in SCHEMA.get_all_operations() if isinstance(result, Ok)]


class DescriptionCase(KitchenCase):
    """Generated requests of one kind; two classes, so that two processors can share them."""

    def try_all(self, mode: schemathesis.GenerationMode) -> None:
        for operation in OPERATIONS:
            if operation.path != "/api/session":
                self.try_many(operation.as_strategy(generation_mode=mode))

    def try_many(self, cases: st.SearchStrategy[Case]) -> None:
        @settings(
            max_examples=12,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(cases)
        def call(case: Case) -> None:
            self.answered(case)

        try:
            call()
        except Exception as error:
            if type(error).__name__ != "Unsatisfiable":
                raise

    def answered(self, case: Case) -> None:
        request = requests.Request(**case.as_transport_kwargs(base_url="http://127.0.0.1")).prepare()
        parts = urlsplit(request.url)
        response = self.client.generic(
            str(request.method),
            unquote(parts.path),
            request.body or b"",
            content_type=str(request.headers.get("Content-Type", "application/json")),
            QUERY_STRING=parts.query,
        )
        if response.status_code == 401:
            self.setUp()
        self.assertLess(response.status_code, 500, f"{request.method} {request.url} {request.body!r}")


class FittingRequestsTest(DescriptionCase):
    """Requests that fit the description."""

    def test_they_never_break_the_server(self) -> None:
        self.try_all(schemathesis.GenerationMode.POSITIVE)


class MisfitRequestsTest(DescriptionCase):
    """Requests that miss it."""

    def test_they_never_break_the_server(self) -> None:
        self.try_all(schemathesis.GenerationMode.NEGATIVE)
