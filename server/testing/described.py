"""Holds answers of the API against its own description, as they came over the wire."""

from __future__ import annotations

import json
import re
from functools import cache
from typing import Any

from jsonschema import Draft202012Validator

from api.problems import CONTENT_TYPE


@cache
def description() -> dict[str, Any]:
    """Return the API's description as JSON has it."""
    from config.api import PREFIX, api

    described: dict[str, Any] = json.loads(json.dumps(api.get_openapi_schema(path_prefix=PREFIX)))
    return described


@cache
def _patterns() -> list[tuple[re.Pattern[str], str]]:
    """Return the addresses that are described, those without parameters first."""
    paths = sorted(description()["paths"], key=lambda path: path.count("{"))
    return [(re.compile(re.sub(r"\{[^}]+\}", "[^/]+", path)), path) for path in paths]


def misfits(method: str, path: str, status: int, content_type: str, content: bytes) -> list[str]:
    """Return what an answer is not as described, nothing where it is; an address that is not described fits."""
    address = path.partition("?")[0]
    described = next((known for pattern, known in _patterns() if pattern.fullmatch(address)), None)
    operation = description()["paths"].get(described, {}).get(method.lower())
    if operation is None or status == 500:
        return []
    if str(status) not in operation["responses"]:
        return [f"{method} {described} answered {status}, which is not described"]
    kinds = operation["responses"][str(status)].get("content", {})
    kind = content_type.partition(";")[0]
    if not kinds or kind not in ("application/json", CONTENT_TYPE):
        return []
    if kind not in kinds:
        return [f"{method} {described} answered {status} as {kind}, which is not described"]
    validator = _validator(described or "", method.lower(), str(status), kind)
    return [f"{method} {described}: {error.json_path} {error.message}"[:300] for error in validator(content)][:3]


@cache
def _validator(path: str, method: str, status: str, kind: str) -> Any:
    schema = description()["paths"][path][method]["responses"][status]["content"][kind]["schema"]
    found = Draft202012Validator({**schema, "components": description()["components"]})
    return lambda content: found.iter_errors(json.loads(content))
