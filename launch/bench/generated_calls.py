"""Calls generated from the API's description, fitting it and missing it, against a served demo kitchen."""

from __future__ import annotations

import json
from collections import Counter
from contextlib import suppress
from typing import Any, Final

import schemathesis
from hypothesis import HealthCheck, Phase, Verbosity, given, settings
from hypothesis import strategies as st
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode
from schemathesis.core.result import Ok

from launch.demo_server import DemoServer

from .figure import Figure
from .server_speed import Client

_CALLS: Final = 10_000
_MODES: Final = (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)


def figures(server: DemoServer) -> list[Figure]:
    """Count the answers that are errors of the server; the demo kitchen is not what it was afterwards."""
    client = Client(server.port, server.person, server.password)
    schema = schemathesis.openapi.from_dict(_description(client))
    found = [result.ok() for result in schema.get_all_operations() if isinstance(result, Ok)]
    operations = [operation for operation in found if not operation.path.endswith("/session")]
    asked = {"base_url": server.address.rstrip("/"), "headers": client.headers()}
    kinds = [operation.as_strategy(generation_mode=mode) for operation in operations for mode in _MODES]
    statuses: Counter[int] = Counter()
    while statuses.total() < _CALLS:
        share = -(-(_CALLS - statuses.total()) // len(kinds))
        for cases in kinds:
            _call_many(cases, share, asked, statuses)
    failed = sum(count for status, count in statuses.items() if status >= 500)
    return [Figure(f"errors of the server in {statuses.total()} generated calls", failed, 0.0, "")]


def _description(client: Client) -> dict[str, Any]:
    """Return the API's description with the kitchen of every address being the client's."""
    description: dict[str, Any] = json.loads(client.call("GET", "/api/v1/openapi.json"))
    for item in description["paths"].values():
        for parameter in item.get("parameters", []):
            parameter["schema"] = {"type": "string", "enum": [client.kitchen]}
    return description


def _call_many(cases: st.SearchStrategy[Any], times: int, asked: dict[str, Any], statuses: Counter[int]) -> None:
    @settings(
        max_examples=times,
        deadline=None,
        database=None,
        verbosity=Verbosity.quiet,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(cases)
    def call(case: Any) -> None:
        statuses[case.call(**asked).status_code] += 1

    with suppress(Unsatisfiable):  # nothing misses an address without parameters
        call()
