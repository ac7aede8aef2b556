"""What the application's role may do: read and add, change what is named, and nothing else of records."""

from __future__ import annotations

from contextlib import contextmanager
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import psycopg
from django.apps import apps
from django.conf import settings
from django.db import DatabaseError, connection, transaction

from kitchens.models import Kitchen
from kitchens.owned import AppendOnly
from kitchens.record_tables import APPLICATION_ROLE
from kitchens.removal import remove_kitchen
from testing.kitchen_case import KitchenCase

if TYPE_CHECKING:
    from collections.abc import Iterator

GUARDED = {
    "batches_batch": "machine_id",
    "batches_tub": "state",
    "trials_trial": "decided",
    "trials_trialtest": "closed_at",
    "instruments_point": "",
}
"""Tables that only grow beside those of `AppendOnly` models, with a column that may change."""


def records() -> list[str]:
    """Return the tables that only grow."""
    models = [model for model in apps.get_models() if issubclass(model, AppendOnly)]
    return sorted({model._meta.db_table for model in models} | GUARDED.keys())


class RightsTest(KitchenCase):
    """Tests own their tables; here they work as the application does."""

    @contextmanager
    def as_application(self) -> Iterator[Any]:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute(f"SET LOCAL ROLE {APPLICATION_ROLE}")
            yield cursor
            cursor.execute("RESET ROLE")

    def refused(self, sql: str) -> str:
        """Return with which words the database refuses something to the application's role."""
        with self.as_application() as cursor:
            with self.assertRaises(DatabaseError) as caught, transaction.atomic():
                cursor.execute(sql)
            return str(caught.exception)

    def test_the_role_that_signs_in_is_the_one_that_is_tried_here(self) -> None:
        url = urlsplit(settings.DATABASE_URL)._replace(path=f"/{connection.settings_dict['NAME']}")
        with psycopg.connect(url.geturl()) as application:
            self.assertEqual(application.execute("SELECT current_user").fetchone(), (APPLICATION_ROLE,))
            application.execute("SELECT count(*) FROM batches_event")
            with self.assertRaisesRegex(psycopg.errors.InsufficientPrivilege, "batches_event"):
                application.execute("DELETE FROM batches_event")

    def test_records_are_neither_changed_nor_removed(self) -> None:
        self.assertGreater(len(records()), 15)
        for table in records():
            for sql in (f"DELETE FROM {table}", f"TRUNCATE {table} CASCADE", f"UPDATE {table} SET id = id + 1"):
                with self.subTest(sql=sql):
                    self.assertIn("permission denied", self.refused(sql))

    def test_who_signed_and_what_a_trial_laid_out_stay(self) -> None:
        for sql in (
            "UPDATE batches_event SET by_id = NULL",
            "UPDATE trials_trial SET variants = '[]'",
            "UPDATE trials_trialtest SET served = '{}'",
            "UPDATE instruments_point SET value = 0",
            "UPDATE ingredients_price SET price = 0",
            "UPDATE making_shownsteps SET content = '{}'",
        ):
            with self.subTest(sql=sql):
                self.assertIn("permission denied", self.refused(sql))

    def test_a_right_that_slips_out_is_caught_by_the_trigger(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute(f"GRANT UPDATE, DELETE, TRUNCATE ON mixes_revision TO {APPLICATION_ROLE}")
        for sql in ("DELETE FROM mixes_revision", "UPDATE mixes_revision SET name = 'Another'"):
            with self.subTest(sql=sql):
                self.assertIn("is a record and cannot be changed", self.refused(sql))

    def test_what_is_named_may_change_and_the_rest_of_the_row_not(self) -> None:
        with self.as_application() as cursor:
            cursor.execute("UPDATE batches_batch SET machine_id = NULL")
            cursor.execute("UPDATE batches_tub SET state = 'opened'")
            cursor.execute("UPDATE trials_trialtest SET closed_at = now()")
        with self.assertRaises(DatabaseError), transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("UPDATE batches_batch SET number = 99")

    def test_the_application_makes_no_tables_and_drops_no_triggers(self) -> None:
        for sql in (
            "CREATE TABLE more (id int)",
            "DROP TRIGGER record_stays ON mixes_revision",
            "ALTER TABLE mixes_revision DISABLE TRIGGER ALL",
            "INSERT INTO django_migrations (app, name, applied) VALUES ('x', 'y', now())",
        ):
            with self.subTest(sql=sql):
                self.assertRegex(self.refused(sql), "permission denied|must be owner")

    def test_everything_that_is_no_record_may_be_changed_by_the_application(self) -> None:
        plain = {model._meta.db_table for model in apps.get_models()} - set(records())
        with self.as_application() as cursor:
            for table in sorted(plain):
                for right in ("SELECT", "INSERT", "UPDATE", "DELETE"):
                    cursor.execute("SELECT has_table_privilege(%s, %s)", [table, right])
                    self.assertEqual(cursor.fetchone(), (True,), (table, right))


class RemovalTest(KitchenCase):
    """A kitchen is removed whole, by the role that owns the tables."""

    def test_nothing_of_it_is_left_and_the_other_stays(self) -> None:
        theirs = self.theirs.kitchen.pk
        batches = self.their_batch.events.count(), self.our_batch.pk
        remove_kitchen(self.ours.kitchen)
        connection.check_constraints()
        with connection.cursor() as cursor:
            for model in apps.get_models():
                if any(field.name == "kitchen" for field in model._meta.concrete_fields):
                    cursor.execute(f"SELECT DISTINCT kitchen_id FROM {model._meta.db_table}")
                    self.assertLessEqual({row[0] for row in cursor.fetchall()}, {theirs}, model)
        self.assertEqual(list(Kitchen.objects.values_list("pk", flat=True)), [theirs])
        self.assertEqual(self.their_batch.events.count(), batches[0])
