"""Batches: a revision that was made, and the record of making it."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from django.conf import settings
from django.db import models
from django.utils import timezone

from kitchens.owned import AppendOnly, KitchenOwned
from mixes.models import Revision


class Batch(AppendOnly, KitchenOwned):
    """One making of a revision, in its own size or another; what happened is in its events."""

    revision = models.ForeignKey(Revision, on_delete=models.PROTECT, related_name="batches")
    number = models.PositiveIntegerField()
    begun_at = models.DateTimeField()
    begun_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    planned = models.JSONField(null=True)
    """What each line is to weigh, g, where that is not the revision's own size."""
    machine = models.ForeignKey("kitchens.Machine", null=True, on_delete=models.SET_NULL, related_name="+")
    """Where it was to be churned when it was begun."""
    runs = models.PositiveSmallIntegerField(null=True)
    """In how many runs, where somebody planned that."""
    fresh = models.BooleanField(default=False)
    """Whether it is served as it is drawn, and never hardened."""

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "number"), name="one_batch_a_number"),)

    def __str__(self) -> str:
        return f"batch {self.number}"

    @property
    def content(self) -> dict[str, Any]:
        """Return the content of its revision in the size of this batch."""
        content: dict[str, Any] = self.revision.content
        if self.planned is None:
            return content
        lines = [{**line, "grams": grams} for line, grams in zip(content["lines"], self.planned, strict=True)]
        return {**content, "lines": lines}


class Event(AppendOnly):
    """One thing recorded of a batch; what a later one says of the same takes its place, and both are kept."""

    class Kind(models.TextChoices):
        """What is recorded."""

        WEIGHED = "weighed"
        TICKED = "ticked"
        NOTE = "note"
        TASTED = "tasted"
        CHURNED = "churned"
        BEGAN = "began"
        DONE = "done"
        SKIPPED = "skipped"
        READ = "read"
        CHOSE = "chose"
        OTHERWISE = "otherwise"
        ADDED = "added"
        SWAPPED = "swapped"
        GAP = "gap"
        PAUSED = "paused"
        RESUMED = "resumed"
        ABANDONED = "abandoned"
        FINISHED = "finished"
        SIGNED = "signed"
        RELEASED = "released"
        OVERRUN = "overrun"
        ACCEPTED = "accepted"
        DECLINED = "declined"
        UNDONE = "undone"

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="events")
    key = models.UUIDField(default=uuid4)
    """Of the press itself: however often it is sent, it is kept once."""
    kind = models.CharField(max_length=10, choices=Kind.choices)
    step = models.CharField(max_length=40, blank=True)
    """Of the core's making steps, empty for what belongs to the whole batch."""
    line = models.PositiveSmallIntegerField(null=True)
    value = models.JSONField(null=True)
    device = models.CharField(max_length=40, blank=True)
    counter = models.PositiveBigIntegerField(default=0)
    """How many presses that device had made: its own order, whatever arrived first."""
    at = models.DateTimeField(default=timezone.now)
    """When it was pressed, by the server's clock, as far as its device can know that: of `press_time`."""
    arrived_at = models.DateTimeField(null=True, default=timezone.now)
    """When the server got it; None for those from before that was kept."""
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("batch", "key"), name="one_event_a_press"),)

    def __str__(self) -> str:
        return f"{self.kind} {self.step or self.line} {self.value}"


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


class Photo(AppendOnly):
    """A picture of a batch, made small and without what a camera writes beside it."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="photos")
    image = models.BinaryField()
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()
    step = models.CharField(max_length=40, blank=True)
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"photo of {self.batch_id}, {self.width} × {self.height}"
