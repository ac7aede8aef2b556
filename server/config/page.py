"""The one page of the interface, and what is said where there is none."""

from __future__ import annotations

import sys
from functools import cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe

from api.problems import PLAIN, failure_answer, plain_problem, problem

_NONCE_PLACE = "__STYLE_NONCE__"
_CSRF_COOKIE_PLACE = "__CSRF_COOKIE__"


@cache
def _page(name: str = "index.html") -> str:
    text: str = (settings.INTERFACE / name).read_text(encoding="utf-8")
    return text.replace(_CSRF_COOKIE_PLACE, settings.CSRF_COOKIE_NAME)


@require_safe
@ensure_csrf_cookie
def interface(request: HttpRequest) -> HttpResponse:
    """Return the page with this response's style nonce in it; the browser does the rest."""
    try:
        page = _page()
    except FileNotFoundError:
        return HttpResponse("The interface is not built; start Jalebi with ./jalebi start.", status=503)
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined] # put there by django-csp
    response = HttpResponse(page.replace(_NONCE_PLACE, nonce))
    response["Cache-Control"] = "no-store"
    return response


@require_safe
def guest_interface(_request: HttpRequest) -> HttpResponse:
    """Return the page of guests: the same for every link, without a session or a cookie."""
    try:
        page = _page("guest.html")
    except FileNotFoundError:
        return HttpResponse("The interface is not built; start Jalebi with ./jalebi start.", status=503)
    response = HttpResponse(page)
    response["Cache-Control"] = "no-store"
    response["Referrer-Policy"] = "no-referrer"
    return response


@require_safe
def service_worker(_request: HttpRequest, name: str) -> HttpResponse:
    """Return the script that keeps a page on a device; it is asked for anew at every visit."""
    try:
        script = (settings.INTERFACE / name).read_text(encoding="utf-8")
    except FileNotFoundError:
        return plain_problem(404)
    response = HttpResponse(script, content_type="text/javascript")
    response["Cache-Control"] = "no-cache"
    return response


def csrf_failure(_request: HttpRequest, reason: str = "") -> HttpResponse:
    """Say as problem details that a request did not come from Jalebi's own page."""
    code, sentence = PLAIN[403]
    return problem(403, code, sentence, facts={"reason": reason})


def nowhere(_request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Say as problem details that an address leads nowhere."""
    del exception
    return plain_problem(404)


def unreadable(_request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Say as problem details that a request cannot be read."""
    del exception
    return plain_problem(400)


def broken(_request: HttpRequest) -> HttpResponse:
    """Say as problem details that something broke outside the API's own functions, or that the database is away."""
    return failure_answer(sys.exc_info()[1])
