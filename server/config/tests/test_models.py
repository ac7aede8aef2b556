"""Every row belongs to a kitchen, and no query forgets to say which."""

from __future__ import annotations

from django.apps import apps
from django.db import models

from kitchens.models import Kitchen, Person, WrongTries
from kitchens.owned import KitchenOwned, UnscopedQueryError
from testing.kitchen_case import KitchenCase

APPS = ("idempotency", "jobs", "kitchens", "ingredients", "mixes", "batches")


def ours() -> list[type[models.Model]]:
    return [model for app in APPS for model in apps.get_app_config(app).get_models()]


def owner_of(model: type[models.Model]) -> type[models.Model] | None:
    """Return the model that belongs to a kitchen and takes its rows with it, None where there is none."""
    for field in model._meta.concrete_fields:
        if isinstance(field, models.ForeignKey) and field.remote_field.on_delete is models.CASCADE:
            other = field.remote_field.model
            if isinstance(other, type) and issubclass(other, KitchenOwned):
                return other
    return None


class ModelsTest(KitchenCase):
    """Walks all models, so that a new one cannot be forgotten."""

    def test_every_row_belongs_to_a_kitchen(self) -> None:
        self.assertGreater(len(ours()), 8)
        for model in ours():
            with self.subTest(model=model.__name__):
                owned = issubclass(model, KitchenOwned) or owner_of(model) is not None
                self.assertTrue(owned or model in (Kitchen, Person, WrongTries))

    def test_an_unscoped_query_fails_and_a_scoped_one_finds_only_its_own(self) -> None:
        for model in ours():
            if issubclass(model, KitchenOwned):
                with self.subTest(model=model.__name__):
                    self.fails_unscoped(model.objects.get_queryset())
                    owners = {row.kitchen_id for row in model.objects.of(self.ours.kitchen)}
                    self.assertLessEqual(owners, {self.ours.kitchen_id})

    def fails_unscoped(self, rows: models.QuerySet[KitchenOwned]) -> None:
        for forgotten in (
            rows.count,
            rows.exists,
            rows.delete,
            rows.first,
            lambda: list(rows),
            lambda: rows.get(kitchen_id=1),
            lambda: rows.update(kitchen_id=1),
            lambda: rows.in_bulk([1]),
            lambda: rows.aggregate(models.Count("*")),
            lambda: list(rows.filter(kitchen_id=1).iterator()),
        ):
            with self.assertRaises(UnscopedQueryError):
                forgotten()

    def test_what_a_row_leads_to_needs_no_scope(self) -> None:
        self.assertEqual(self.our_mix.revisions.count(), 1)
        self.assertEqual(len(self.our_mix.revisions.all()), 1)
