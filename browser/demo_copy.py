"""The demo kitchen, made once in a process and copied back before each test."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Final

from django.db import connection, transaction

from demo.kitchen import SLUG, make_demo
from kitchens.learnt import forget_learnt
from kitchens.models import Kitchen

_OF_DJANGO: Final = ("django_", "auth_")
"""Tables that no test empties."""
_copies: dict[bool, dict[str, bytes]] = {}
"""The rows of every table as PostgreSQL copies them, of the demo with its month of tasting and without."""


def demo_kitchen(*, tasted: bool) -> Kitchen:
    """Put the demo kitchen into an empty database and return it; its numbers are those of the first time."""
    if tasted in _copies:
        _restore(_copies[tasted])
    else:
        make_demo(tasted=tasted)
        _copies[tasted] = _taken()
    return Kitchen.objects.get(slug=SLUG)


def _taken() -> dict[str, bytes]:
    found = {}
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            cursor.execute(f'SELECT EXISTS (SELECT FROM "{table}")')
            if cursor.fetchone() == (True,) and not table.startswith(_OF_DJANGO):
                with _copying(cursor, f'COPY "{table}" TO STDOUT (FORMAT binary)') as copy:
                    found[table] = b"".join(bytes(part) for part in copy)
    return found


def _restore(rows_of: dict[str, bytes]) -> None:
    """Copy rows back; what counts up goes on counting, so that nothing remembered of an earlier test fits."""
    with connection.cursor() as cursor:
        _let_triggers(cursor, "DISABLE", rows_of)
        with transaction.atomic():
            for table, rows in rows_of.items():
                with _copying(cursor, f'COPY "{table}" FROM STDIN (FORMAT binary)') as into:
                    into.write(rows)
        _let_triggers(cursor, "ENABLE", rows_of)
    forget_learnt()


def _let_triggers(cursor: Any, how: str, tables: Iterable[str]) -> None:
    """Let nothing count or refuse what is only copied back; or let it again."""
    for table in tables:
        cursor.execute(f'ALTER TABLE "{table}" {how} TRIGGER USER')


def _copying(cursor: Any, sql: str) -> Any:
    return cursor.cursor.copy(sql)
