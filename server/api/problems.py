"""Errors as problem details (RFC 9457): one place turns exceptions into answers."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable, Mapping
from errno import EDQUOT, ENOSPC
from http import HTTPStatus
from itertools import islice
from typing import Any, Final

from django.core.exceptions import ObjectDoesNotExist, RequestDataTooBig, SuspiciousOperation
from django.db import DataError, IntegrityError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel, ConfigDict
from pydantic_core import to_json

from jalebi_core.model.errors import JalebiError
from jalebi_core.wording.notation import METRIC, Notation

log = logging.getLogger(__name__)

CONTENT_TYPE: Final = "application/problem+json"
RETRY_AFTER_S: Final = 2
"""A database or server that was killed is back by then, mostly."""
_MOST_FAULTS: Final = 20
"""Of one request that are told: nobody mends more at once."""
_MOST_SPOKEN: Final = 5
"""Of those that stand in the sentence too, which is read on one line."""
_BROKEN: Final = "Something broke on our side. Nothing you saved is lost; please try again."
_UNKNOWN: Final = "There is nothing here, or it belongs to another kitchen."
PLAIN: Final[Mapping[int, tuple[str, str]]] = {
    400: ("unreadable-request", "The request cannot be read."),
    403: ("not-from-jalebi", "This request did not come from a Jalebi page; reload the page and try again."),
    404: ("not-found", _UNKNOWN),
    405: ("method-not-allowed", "Nothing here can be asked in that way."),
    408: ("too-slow", "The request did not come to its end in time. Look at the connection, then try again."),
    411: ("length-missing", "The request does not say how long it is. Send it with a Content-Length."),
    413: ("too-large", "That is more than 1 MB, or 10 MB for a file of ingredients, which is more than anybody needs."),
    431: ("head-too-large", "The headers of this request are too long."),
    500: ("broken", _BROKEN),
    503: ("busy", "Jalebi is coming back or has too much to do. Nothing saved is lost; this is tried again by itself."),
    507: (
        "disk-full",
        "The disk of the machine that Jalebi runs on is full. Make room there; nothing saved is lost.",
    ),
}
"""Code and sentence of what carries no facts of its own, by status."""


UNKEEPABLE: Final = (
    "text-hidden-characters",
    "A text or a number in this request holds what cannot be kept, such as a hidden character. Type it anew.",
)
"""Of characters that no text has, such as NUL, and numbers beyond what the database counts."""
_DISK_FULL: Final = "53100"
"""PostgreSQL's state of a full disk."""
_BOUNDS: Final = {"ge": "At least {}.", "gt": "More than {}.", "le": "At most {}.", "lt": "Less than {}."}
_FAULTS: Final = {
    "missing": "This is missing.",
    "float_parsing": "A number is wanted.",
    "float_type": "A number is wanted.",
    "int_parsing": "A whole number is wanted.",
    "int_type": "A whole number is wanted.",
    "string_too_long": "At most {max_length} characters.",
    "string_too_short": "At least {min_length} characters.",
    "too_long": "At most {max_length} of these.",
    "too_short": "At least {min_length} of these.",
    "literal_error": "One of {expected}.",
}
"""What the description's own checks find, in words, by their type."""


class FieldFault(BaseModel):
    """What is wrong with one value of a request: where it stands, as a JSON pointer, and a sentence."""

    pointer: str
    detail: str


class Problem(BaseModel):
    """What an error answer holds; ``detail`` is a sentence for the user, the facts of its type stand beside it."""

    model_config = ConfigDict(extra="allow")

    type: str
    """``/problems/`` with the code of the error; docs/api.md says where the codes are listed."""
    title: str
    status: int
    detail: str
    errors: list[FieldFault] = []


class RefusedError(Exception):
    """A request that is refused for a reason of HTTP's own: status, code, sentence and facts."""

    status: int = 400
    code: str = "unreadable-request"

    def __init__(self, sentence: str, **facts: Any) -> None:
        super().__init__(sentence)
        self.facts = facts


class ConflictError(RefusedError):
    """Somebody changed the same thing first; ``facts`` go along with the answer."""

    status = 412
    code = "changed-meanwhile"


class SignInError(RefusedError):
    """A name and a password that do not fit together."""

    status = 401
    code = "wrong-password"


def problem(
    status: int, code: str, detail: str, *, errors: Iterable[FieldFault] = (), facts: Mapping[str, Any] | None = None
) -> HttpResponse:
    """Return a problem-details answer; facts never take the place of its own members."""
    body = {
        **(facts or {}),
        "type": f"/problems/{code}",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "detail": detail,
        "errors": [error.model_dump() for error in errors],
    }
    return HttpResponse(to_json(body, inf_nan_mode="null", fallback=str), status=status, content_type=CONTENT_TYPE)


def plain_problem(status: int) -> HttpResponse:
    """Return the problem of a status that carries no facts of its own."""
    known = 400 if status < 500 else 500
    code, detail = PLAIN.get(status, PLAIN[known])
    answer = problem(status, code, detail)
    if status == HTTPStatus.SERVICE_UNAVAILABLE:
        answer["Retry-After"] = str(RETRY_AFTER_S)
    return answer


def unkeepable_problem() -> Problem:
    """Return what is said of a value that the database cannot keep."""
    code, detail = UNKEEPABLE
    return Problem(type=f"/problems/{code}", title=HTTPStatus.UNPROCESSABLE_ENTITY.phrase, status=422, detail=detail)


def unknown_problem() -> Problem:
    """Return what is said of a row that is not there, or belongs to another kitchen."""
    code, detail = PLAIN[404]
    return Problem(type=f"/problems/{code}", title=HTTPStatus.NOT_FOUND.phrase, status=404, detail=detail)


def faults_problem(faults: Iterable[Mapping[str, Any]], notation: Notation = METRIC) -> Problem:
    """Return what is said of values that the description of the API does not allow."""
    found = [_field_fault(fault, notation) for fault in islice(faults, _MOST_FAULTS)]
    told = "; ".join(f"{_spoken(fault.pointer)}: {fault.detail}" for fault in found[:_MOST_SPOKEN])
    title = HTTPStatus.UNPROCESSABLE_ENTITY.phrase
    return Problem(type="/problems/invalid-request", title=title, status=422, detail=told, errors=found)


def answer_problems(api: NinjaAPI, notation_for: Callable[[HttpRequest], Notation]) -> None:
    """Teach an API to answer every exception with problem details, quantities written as who asks writes them."""

    @api.exception_handler(JalebiError)
    def refused(request: HttpRequest, error: JalebiError) -> HttpResponse:
        return refusal_answer(error, notation_for(request))

    @api.exception_handler(RefusedError)
    def refused_by_http(_request: HttpRequest, error: RefusedError) -> HttpResponse:
        return problem(error.status, error.code, str(error), facts=error.facts)

    @api.exception_handler(IntegrityError)
    def collided(request: HttpRequest, error: IntegrityError) -> HttpResponse:
        log.warning("%s %s collided", request.method, request.path, exc_info=error)
        sentence = "Somebody did the same at the same moment. Look at what is there now, then try again."
        return problem(409, "done-at-once", sentence)

    @api.exception_handler(DataError)
    @api.exception_handler(UnicodeEncodeError)
    def unkeepable(request: HttpRequest, error: Exception) -> HttpResponse:
        log.warning("%s %s cannot be kept: %s", request.method, request.path, type(error).__name__)
        return problem(422, *UNKEEPABLE)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        found = faults_problem(error.errors, notation_for(request))
        return problem(found.status, "invalid-request", found.detail, errors=found.errors)

    @api.exception_handler(AuthenticationError)
    def signed_out(_request: HttpRequest, _error: AuthenticationError) -> HttpResponse:
        return problem(401, "signed-out", "You are not signed in.")

    @api.exception_handler(Http404)
    @api.exception_handler(ObjectDoesNotExist)
    def missing(_request: HttpRequest, _error: Exception) -> HttpResponse:
        return plain_problem(404)

    @api.exception_handler(RequestDataTooBig)
    def too_big(_request: HttpRequest, _error: RequestDataTooBig) -> HttpResponse:
        return plain_problem(413)

    @api.exception_handler(MultiPartParserError)
    @api.exception_handler(SuspiciousOperation)
    @api.exception_handler(UnreadablePostError)
    def unreadable(_request: HttpRequest, _error: Exception) -> HttpResponse:
        return plain_problem(400)

    @api.exception_handler(HttpError)
    def other(_request: HttpRequest, error: HttpError) -> HttpResponse:
        return plain_problem(error.status_code)

    @api.exception_handler(Exception)
    def broken(request: HttpRequest, error: Exception) -> HttpResponse:
        log.error("%s %s failed", request.method, request.path, exc_info=error)
        return failure_answer(error)


def refusal_answer(error: JalebiError, notation: Notation) -> HttpResponse:
    """Answer what the core refuses, in the words of who asks."""
    said = _sentence(error.words(notation))
    faults = [FieldFault(pointer=error.pointer, detail=said)] if error.pointer else []
    return problem(422, error.code, said, errors=faults, facts=error.facts)


def failure_answer(error: BaseException | None) -> HttpResponse:
    """Answer what nobody foresaw: 503 while the database is away, 507 where its disk is full, 500 for the rest."""
    return plain_problem(_status_of(error))


def _status_of(error: BaseException | None) -> int:
    if isinstance(error, InterfaceError):
        return HTTPStatus.SERVICE_UNAVAILABLE
    if isinstance(error, OSError) and error.errno in (ENOSPC, EDQUOT):
        return HTTPStatus.INSUFFICIENT_STORAGE
    if isinstance(error, OperationalError):
        state = getattr(error.__cause__, "sqlstate", None)
        return HTTPStatus.INSUFFICIENT_STORAGE if state == _DISK_FULL else HTTPStatus.SERVICE_UNAVAILABLE
    return HTTPStatus.INTERNAL_SERVER_ERROR


def _field_fault(fault: Mapping[str, Any], notation: Notation) -> FieldFault:
    """Return a fault that the description of the API has found, with a JSON pointer into the body."""
    place = [str(part) for part in fault.get("loc", ()) if part not in ("body", "path", "query", "header", "payload")]
    return FieldFault(
        pointer="".join(f"/{part}" for part in place), detail=_said(fault, place[-1] if place else "", notation)
    )


def _said(fault: Mapping[str, Any], name: str, notation: Notation) -> str:
    """Return what is wrong with a value: a bound as its kind is written, and otherwise what the check says."""
    bounds = fault.get("ctx", {})
    for key, template in _BOUNDS.items():
        if key in bounds and isinstance(bounds[key], int | float):
            return template.format(_quantity(float(bounds[key]), name, notation))
    return _FAULTS.get(str(fault.get("type")), f"{_sentence(str(fault.get('msg', 'not valid')))}.").format(**bounds)


def _quantity(value: float, name: str, notation: Notation) -> str:
    """Write a bound by what the name of its value says of its unit."""
    if name.endswith("_c"):
        return notation.temperature_at(value, "g")
    return notation.mass_of(value, "g") if name.endswith("_g") else notation.number(value, "g")


def _sentence(text: str) -> str:
    return text[:1].upper() + text[1:]


def _spoken(pointer: str) -> str:
    return pointer.strip("/").replace("/", " › ") or "the request"
