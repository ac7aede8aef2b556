"""What goes for every answer of the API: nothing is stored on the way, and a refusal is always problem details."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from pydantic import BaseModel

from api.problems import CONTENT_TYPE, plain_problem

API_PATH: Final = "/api/"
HEALTH_PATH: Final = "/api/v1/health"
"""Says in words of its own what does not work."""


def answers_middleware(
    get_response: Callable[[HttpRequest], HttpResponseBase],
) -> Callable[[HttpRequest], HttpResponseBase]:
    """Finish the answers of the API; those of the interface pass as they are."""

    def finish(request: HttpRequest) -> HttpResponseBase:
        response = get_response(request)
        if not request.path.startswith(API_PATH):
            return response
        if response.status_code >= 400 and request.path != HEALTH_PATH and not _is_problem(response):
            response = _as_problem(response)
        response["Cache-Control"] = "no-store"
        return response

    return finish


def written_out(request: HttpRequest, answer: BaseModel) -> HttpResponse:
    """Return an answer as JSON at once, not checked once more: for what is asked with every keystroke, or is long."""
    return HttpResponse(answer.model_dump_json(context={"request": request}), content_type="application/json")


def _is_problem(response: HttpResponseBase) -> bool:
    return response.headers.get("Content-Type", "") == CONTENT_TYPE


def _as_problem(refused: HttpResponseBase) -> HttpResponse:
    """Return a refusal of Django's own, such as of a method or an address, as problem details."""
    response = plain_problem(refused.status_code)
    if "Allow" in refused.headers:
        response["Allow"] = refused.headers["Allow"]
    return response
