"""`prepare`: bring the database to what this version of the code expects, demo kitchen included."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, Final

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser
from django.db import connection

from config.renames import rename_apps
from demo.kitchen import demo_exists, make_demo, plan_demo, sync_demo_password
from ingredients.shipped import stock_shelf
from kitchens.models import Kitchen
from serving.code_stamp import write_stamp

_LOCK: Final = 1_245_921
"""Of PostgreSQL's advisory locks, the one for preparing."""


class Command(BaseCommand):
    """Create the database, bring it to today's shape, stock shelves, make the demo kitchen where there is none."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--fresh-demo", action="store_true", help="make the demo kitchen anew")

    def handle(self, *_args: Any, fresh_demo: bool, **_options: Any) -> None:
        _create_database()
        with _alone():
            rename_apps()
            call_command("migrate", interactive=False, verbosity=0)
            for kitchen in Kitchen.objects.all():
                stock_shelf(kitchen)
            if fresh_demo or not demo_exists():
                plan_demo(make_demo())
            sync_demo_password()
            write_stamp()


@contextmanager
def _alone() -> Iterator[None]:
    """Wait until nobody else prepares this database, as one might whose launcher was killed, and let nobody begin."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_lock(%s)", [_LOCK])
        try:
            yield
        finally:
            cursor.execute("SELECT pg_advisory_unlock(%s)", [_LOCK])


def _create_database() -> None:
    database: dict[str, Any] = settings.DATABASES["default"]
    with psycopg.connect(
        host=database["HOST"],
        port=database["PORT"],
        user=database["USER"],
        password=database["PASSWORD"],
        dbname="postgres",
        autocommit=True,
    ) as connection:
        found = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [database["NAME"]]).fetchone()
        if found is None:
            connection.execute(
                psycopg.sql.SQL("CREATE DATABASE {}").format(psycopg.sql.Identifier(str(database["NAME"])))
            )
