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


class Tub(KitchenOwned):
    """A tub that was filled from a batch; what happened to it is in its events, its last state beside them."""

    class State(models.TextChoices):
        """Where it is in its life."""

        CLOSED = "closed"
        OPENED = "opened"
        FINISHED = "finished"
        SOLD = "sold"
        DESTROYED = "destroyed"

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="tubs")
    number = models.PositiveSmallIntegerField()
    code = models.CharField(max_length=20)
    """As people say it, of the core's `tub_code`."""
    ml = models.FloatField()
    grams = models.FloatField()
    packed_on = models.DateField()
    best_before = models.DateField(null=True)
    place = models.ForeignKey("kitchens.Place", null=True, on_delete=models.SET_NULL, related_name="+")
    state = models.CharField(max_length=10, choices=State.choices, default=State.CLOSED)

    class Meta:
        ordering = ("-packed_on", "batch_id", "number")
        constraints = (
            models.UniqueConstraint(fields=("kitchen", "code"), name="one_code_a_kitchen"),
            models.UniqueConstraint(fields=("batch", "number"), name="one_number_a_batch"),
        )

    def __str__(self) -> str:
        return self.code


class TubEvent(AppendOnly):
    """One thing that happened to a tub."""

    class Kind(models.TextChoices):
        """What happened."""

        PACKED = "packed"
        MOVED = "moved"
        OPENED = "opened"
        FINISHED = "finished"
        SOLD = "sold"
        DESTROYED = "destroyed"

    tub = models.ForeignKey(Tub, on_delete=models.CASCADE, related_name="events")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    place = models.CharField(max_length=120, blank=True)
    """Where it stood then, as it was called then."""
    to = models.CharField(max_length=120, blank=True)
    """Who got it."""
    why = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.kind} {self.tub_id}"
