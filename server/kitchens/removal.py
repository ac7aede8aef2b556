"""Removing a kitchen with all that belongs to it, which only the role that owns the tables may do."""

from __future__ import annotations

from django.apps import apps
from django.db import connection, models, transaction

from kitchens.models import Kitchen
from kitchens.owned import KitchenOwned


@transaction.atomic
def remove_kitchen(kitchen: Kitchen) -> None:
    """Remove a kitchen, its people and every row that belongs to it, records too; other kitchens are not touched.

    Rows are removed table by table, those that lead to others first; the database looks whether anything is left that
    leads nowhere once all are gone.
    """
    owned = [model for model in apps.get_models() if _path(model)]
    with connection.cursor() as cursor:
        for model in sorted(owned, key=lambda model: -len(_path(model).split("__"))):
            found = model._base_manager.filter(**{_path(model): kitchen.pk}).values("pk").query
            sql, parameters = found.sql_with_params()
            table, key = (connection.ops.quote_name(name) for name in (model._meta.db_table, _key(model)))
            cursor.execute(f"DELETE FROM {table} WHERE {key} IN ({sql})", parameters)
    Kitchen.objects.filter(pk=kitchen.pk)._raw_delete(using="default")


def _key(model: type[models.Model]) -> str:
    assert model._meta.pk is not None
    return str(model._meta.pk.column)


def _path(model: type[models.Model]) -> str:
    """Return by which fields a row leads to its kitchen, as a filter says it; empty for what belongs to none."""
    for field in model._meta.concrete_fields:
        if not isinstance(field, models.ForeignKey) or field.remote_field.on_delete is not models.CASCADE:
            continue
        other = field.remote_field.model
        if other is Kitchen:
            return field.name
        if isinstance(other, type) and issubclass(other, KitchenOwned):
            return f"{field.name}__{_path(other)}"
    return ""
