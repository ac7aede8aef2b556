"""`prepare`: bring the database to what this version of the code expects, demo kitchen included."""

from __future__ import annotations

from typing import Any

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from config.renames import rename_apps
from demo.kitchen import demo_exists, make_demo, plan_demo, sync_demo_password
from ingredients.shipped import stock_shelf
from kitchens.models import Kitchen


class Command(BaseCommand):
    """Create the database, bring it to today's shape, stock shelves, make the demo kitchen where there is none."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--fresh-demo", action="store_true", help="make the demo kitchen anew")

    def handle(self, *_args: Any, fresh_demo: bool, **_options: Any) -> None:
        _create_database()
        rename_apps()
        call_command("migrate", interactive=False, verbosity=0)
        for kitchen in Kitchen.objects.all():
            stock_shelf(kitchen)
        if fresh_demo or not demo_exists():
            plan_demo(make_demo())
        sync_demo_password()


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
