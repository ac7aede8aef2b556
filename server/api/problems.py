"""Errors as problem details (RFC 9457): one place turns exceptions into answers."""

from __future__ import annotations

import json
import logging
from http import HTTPStatus
from typing import Any

from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig
from django.db import IntegrityError
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel

from jalebi_core.model.errors import JalebiError

log = logging.getLogger(__name__)


class Problem(BaseModel):
    """What an error answer holds; ``detail`` is a sentence for the user."""

    type: str
    title: str
    status: int
    detail: str


class ConflictError(Exception):
    """Somebody changed the same thing first; ``facts`` go along with the answer."""

    def __init__(self, sentence: str, **facts: Any) -> None:
        super().__init__(sentence)
        self.facts = facts


def problem(status: int, detail: str, **facts: Any) -> HttpResponse:
    """Return a problem-details answer."""
    body = {"type": "about:blank", "title": HTTPStatus(status).phrase, "status": status, "detail": detail, **facts}
    return HttpResponse(json.dumps(body), status=status, content_type="application/problem+json")


def answer_problems(api: NinjaAPI) -> None:
    """Teach an API to answer every exception with problem details."""

    @api.exception_handler(JalebiError)
    def refused(_request: HttpRequest, error: JalebiError) -> HttpResponse:
        return problem(422, str(error))

    @api.exception_handler(ConflictError)
    def conflict(_request: HttpRequest, error: ConflictError) -> HttpResponse:
        return problem(409, str(error), **error.facts)

    @api.exception_handler(IntegrityError)
    def collided(request: HttpRequest, error: IntegrityError) -> HttpResponse:
        log.warning("%s %s collided", request.method, request.path, exc_info=error)
        return problem(409, "Somebody did the same at the same moment. Look at what is there now, then try again.")

    @api.exception_handler(ValidationError)
    def invalid(_request: HttpRequest, error: ValidationError) -> HttpResponse:
        return problem(422, "; ".join(_sentence(fault) for fault in error.errors[:5]))

    @api.exception_handler(AuthenticationError)
    def signed_out(_request: HttpRequest, _error: AuthenticationError) -> HttpResponse:
        return problem(401, "You are not signed in.")

    @api.exception_handler(Http404)
    @api.exception_handler(ObjectDoesNotExist)
    def missing(_request: HttpRequest, _error: Exception) -> HttpResponse:
        return problem(404, "There is nothing here, or it belongs to another kitchen.")

    @api.exception_handler(RequestDataTooBig)
    def too_big(_request: HttpRequest, _error: RequestDataTooBig) -> HttpResponse:
        return problem(413, "That is more than 1 MB, which is more than any mix needs.")

    @api.exception_handler(HttpError)
    def other(_request: HttpRequest, error: HttpError) -> HttpResponse:
        return problem(error.status_code, str(error))

    @api.exception_handler(Exception)
    def broken(request: HttpRequest, error: Exception) -> HttpResponse:
        log.error("%s %s failed", request.method, request.path, exc_info=error)
        return problem(500, "Something broke on our side. Nothing you saved is lost; please try again.")


def _sentence(fault: dict[str, Any]) -> str:
    place = [str(part) for part in fault.get("loc", ()) if part not in ("body", "path", "query", "payload")]
    return f"{' › '.join(place) or 'the request'}: {fault.get('msg', 'not valid')}"
