"""Batches: a revision that was made, and the record of making it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from kitchens.owned import AppendOnly, KitchenOwned
from mixes.models import Revision


class Batch(AppendOnly, KitchenOwned):
    """One making of a revision; what happened is in its entries."""

    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="batches")
    number = models.PositiveIntegerField()
    begun_at = models.DateTimeField()
    begun_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "number"), name="one_batch_a_number"),)

    def __str__(self) -> str:
        return f"batch {self.number}"


class Entry(AppendOnly):
    """One thing recorded of a batch; a later entry of the same kind and line takes its place."""

    class Kind(models.TextChoices):
        """What is recorded."""

        WEIGHED = "weighed"
        TICKED = "ticked"
        NOTE = "note"
        TASTED = "tasted"
        CHURNED = "churned"

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="entries")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    line = models.PositiveSmallIntegerField(null=True)
    value = models.JSONField(null=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.kind} {self.line} {self.value}"
