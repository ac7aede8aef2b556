"""The API's own description (OpenAPI), with what holds for every endpoint said in one place."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any, Final

from ninja import NinjaAPI
from ninja.openapi.schema import OpenAPISchema

from api.parsing import JsonParser
from api.problems import CONTENT_TYPE, FieldFault, Problem

KITCHEN: Final = {
    "name": "kitchen",
    "in": "path",
    "required": True,
    "description": "The slug of a kitchen that the signed-in person works in.",
    "schema": {"type": "string", "pattern": "^[a-z0-9-]+$", "maxLength": 50},
}
_METHODS: Final = ("get", "post", "put", "patch", "delete")
_PROBLEMS: Final[Mapping[int, str]] = {
    400: "The request cannot be read.",
    401: "Nobody is signed in, or name and password do not fit.",
    403: "The request did not come from a page of Jalebi.",
    404: "There is nothing here, or it belongs to another kitchen.",
    409: "Somebody did the same at the same moment.",
    412: "Somebody changed it meanwhile.",
    413: "The request is too large.",
    422: "A value cannot be used; its type says why.",
    428: "The request does not say which version was looked at.",
    429: "Too many tries.",
    503: "The database is away, or there is too much to do; `Retry-After` says when to ask again.",
}


_MADE: Final[Mapping[str, tuple[str, str]]] = {
    "MixOut": ("mix_id", "id"),
    "BatchOut": ("batch_id", "id"),
    "MachineOut": ("machine_id", "id"),
    "KitchenPlaceOut": ("place_id", "id"),
    "VesselOut": ("vessel_id", "id"),
    "NoteOut": ("note_id", "id"),
    "LotDetail": ("lot_id", "id"),
    "PlanOut": ("plan_id", "id"),
    "TrialOut": ("trial_id", "id"),
    "TestOut": ("test_id", "id"),
    "IngredientDetail": ("slug", "slug"),
}
"""By which parameter of an address what was made is found again, and where its answer says it."""


class JalebiAPI(NinjaAPI):
    """An API that describes its problems, and the kitchen in its addresses, by rule."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(parser=JsonParser(), **kwargs)

    def get_openapi_schema(self, *args: Any, **kwargs: Any) -> OpenAPISchema:
        """Return the description; problems stand with every endpoint that can answer with them."""
        schema = super().get_openapi_schema(*args, **kwargs)
        models = schema["components"]["schemas"]
        for model in (FieldFault, Problem):
            described = model.model_json_schema(ref_template="#/components/schemas/{model}")
            described.pop("$defs", None)
            models[model.__name__] = described
        for path, item in schema["paths"].items():
            for operation in (item[method] for method in _METHODS if method in item):
                _describe_problems(path, operation, method_of(item, operation))
            if "{kitchen}" in path:
                item["parameters"] = [KITCHEN]
        _describe_links(schema["paths"])
        return schema


def operations_of(paths: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """Return method and path of every operation that a description holds."""
    for path, item in paths.items():
        yield from ((method.upper(), path) for method in _METHODS if method in item)


def method_of(item: Mapping[str, Any], operation: Mapping[str, Any]) -> str:
    """Return the method of an operation of a path."""
    return next(method for method in _METHODS if item.get(method) is operation)


def _describe_problems(path: str, operation: dict[str, Any], method: str) -> None:
    responses = operation["responses"]
    statuses = _statuses(path, operation.get("parameters", []), method, "requestBody" in operation)
    if operation.get("security"):
        statuses.append(401)
    if 503 not in responses:
        statuses.append(503)
    for status in sorted({*statuses, *(key for key in map(int, responses) if key in _PROBLEMS and key != 503)}):
        schema = {"$ref": "#/components/schemas/Problem"}
        responses[status] = {"description": _PROBLEMS[status], "content": {CONTENT_TYPE: {"schema": schema}}}


def _describe_links(paths: Mapping[str, Any]) -> None:
    """Say of every answer that something was made where it can be looked at, changed and removed."""
    for item in paths.values():
        for method in (method for method in _METHODS if method in item):
            made = item[method]["responses"].get(201, {})
            model = made.get("content", {}).get("application/json", {}).get("schema", {}).get("$ref", "").split("/")[-1]
            if model in _MADE:
                made["links"] = dict(_links(paths, *_MADE[model]))


def _links(paths: Mapping[str, Any], parameter: str, member: str) -> Iterator[tuple[str, Any]]:
    for path, item in paths.items():
        if f"{{{parameter}}}" in path:
            for method in (method for method in _METHODS if method in item):
                operation = item[method]["operationId"]
                yield operation, {"operationId": operation, "parameters": {parameter: f"$response.body#/{member}"}}


def _statuses(path: str, parameters: Sequence[Mapping[str, Any]], method: str, has_body: bool) -> list[int]:
    statuses = []
    if method != "get":
        statuses += [403, 409]
    if "{" in path:
        statuses += [404]
    if parameters or "{" in path or has_body:
        statuses += [422]
    if has_body:
        statuses += [400, 413]
    if any(parameter["name"] == "If-Match" for parameter in parameters):
        statuses += [412, 428]
    return statuses
