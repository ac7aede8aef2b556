"""Who is asking: password sign-in, the session cookie, and the kitchen that comes with it."""

from __future__ import annotations

import json
from collections.abc import Sequence
from functools import cache
from typing import Any

from django.contrib.auth.backends import ModelBackend
from django.db import connection
from django.db.models import JSONField, Model
from django.http import HttpRequest
from django.utils import timezone
from ninja.security import SessionAuth

from jalebi_core.wording.notation import METRIC, Notation
from kitchens.models import Kitchen, Person, notation_of
from kitchens.prices import kitchen_seen_by


@cache
def _signed_in_query() -> tuple[str, list[str], list[str]]:
    """Return the SQL that fetches an active person with the kitchen, and the fields of both in their order."""
    person, kitchen = Person._meta, Kitchen._meta
    columns = ", ".join(
        f'"{meta.db_table}"."{column.column}"' for meta in (person, kitchen) for column in meta.concrete_fields
    )
    sql = (
        f'SELECT {columns} FROM "{person.db_table}" JOIN "{kitchen.db_table}" '
        f'ON "{kitchen.db_table}".id = "{person.db_table}".kitchen_id WHERE "{person.db_table}".id = %s AND is_active'
    )
    names = [[column.attname for column in meta.concrete_fields] for meta in (person, kitchen)]
    return sql, names[0], names[1]


class PersonBackend(ModelBackend):
    """Django's password check, fetching the person together with the kitchen.

    Every keystroke on the Bench asks for the person; the query is written once instead of being
    composed each time, which took as long as the analysis itself.
    """

    def get_user(self, user_id: Any) -> Person | None:
        sql, person_fields, kitchen_fields = _signed_in_query()
        with connection.cursor() as cursor:
            cursor.execute(sql, [user_id])
            row = cursor.fetchone()
        if row is None:
            return None
        person = Person.from_db(connection.alias, person_fields, row[: len(person_fields)])
        person.kitchen = Kitchen.from_db(connection.alias, kitchen_fields, _read(Kitchen, row[len(person_fields) :]))
        kitchen_seen_by(person)
        return person


def _read(model: type[Model], row: Sequence[Any]) -> list[Any]:
    """Return a row's values as Django's own queries give them: JSON comes from the database as text."""
    fields = zip(model._meta.concrete_fields, row, strict=True)
    return [json.loads(value) if isinstance(field, JSONField) else value for field, value in fields]


class KitchenSession(SessionAuth):
    """Session cookie with CSRF protection; ``request.auth`` is the person.

    Where the address names a kitchen, it must be one of the person's: any other is not there. A page says whose it is:
    what one person pressed is not taken as another's who has signed in on the same browser since.
    """

    def authenticate(self, request: HttpRequest, key: str | None) -> Person | None:
        person = super().authenticate(request, key)
        if not isinstance(person, Person) or request.headers.get("Jalebi-Person", str(person.pk)) != str(person.pk):
            return None
        timezone.activate(person.kitchen.zone)
        named = request.resolver_match.kwargs.get("kitchen") if request.resolver_match else None
        if named is not None and named != person.kitchen.slug:
            raise Kitchen.DoesNotExist
        return person


def person_of(request: HttpRequest) -> Person:
    """Return the signed-in person of a request that the API has let through."""
    person: Person = request.auth  # type: ignore[attr-defined] # set by ninja
    return person


def kitchen_of(request: HttpRequest) -> Kitchen:
    """Return the kitchen that the address names, through which every query of this request goes."""
    return person_of(request).kitchen


def notation_for(request: HttpRequest) -> Notation:
    """Return how quantities are written for who asks, in the core's own way where nobody is signed in."""
    person = getattr(request, "auth", None)
    return notation_of(person.kitchen) if isinstance(person, Person) else METRIC
