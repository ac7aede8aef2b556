"""Who is asking: password sign-in, the session cookie, and the kitchen that comes with it."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.http import HttpRequest, HttpResponse
from ninja.security import SessionAuth

from jalebi.problems import problem

from .models import Kitchen, Person


class PersonBackend(ModelBackend):
    """Django's password check, fetching the person together with the kitchen."""

    def get_user(self, user_id: Any) -> Person | None:
        try:
            return Person.objects.select_related("kitchen").get(pk=user_id, is_active=True)
        except Person.DoesNotExist:
            return None


class KitchenSession(SessionAuth):
    """Session cookie with CSRF protection; ``request.auth`` is the person."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Person | None:
        person = super().authenticate(request, key)
        return person if isinstance(person, Person) else None


def person_of(request: HttpRequest) -> Person:
    """Return the signed-in person of a request that the API has let through."""
    person: Person = request.auth  # type: ignore[attr-defined] # set by ninja
    return person


def kitchen_of(request: HttpRequest) -> Kitchen:
    """Return the kitchen through which every query of this request goes."""
    return person_of(request).kitchen


def locked_out(_request: HttpRequest, _response: HttpResponse, _credentials: dict[str, Any]) -> HttpResponse:
    """Answer after too many failed sign-ins."""
    return problem(429, "Too many wrong passwords. Wait five minutes, then try again.")
