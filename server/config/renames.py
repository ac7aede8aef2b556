"""The first release's names: databases that it made are brought to the apps of today before they are migrated."""

from __future__ import annotations

from typing import Final

from django.db import connection

RENAMED_APPS: Final = {"shelf": "ingredients", "bench": "mixes"}
_TABLES: Final = {
    "shelf": ("ingredient", "ingredientversion", "stock"),
    "bench": ("mix", "mixline", "revision", "note"),
}


def rename_apps() -> None:
    """Rename tables, and what Django remembers of its migrations; what bears today's names already stays."""
    with connection.cursor() as cursor:
        there = set(connection.introspection.table_names(cursor))
        for before, after in RENAMED_APPS.items():
            for table in _TABLES[before]:
                if f"{before}_{table}" in there:
                    cursor.execute(f'ALTER TABLE "{before}_{table}" RENAME TO "{after}_{table}"')
            for remembered, column in (("django_migrations", "app"), ("django_content_type", "app_label")):
                if remembered in there:
                    cursor.execute(f'UPDATE "{remembered}" SET "{column}" = %s WHERE "{column}" = %s', [after, before])
