"""What a batch was told to do: its steps as they were shown, kept for good."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from batches.models import Batch
from kitchens.owned import AppendOnly


class ShownSteps(AppendOnly):
    """The steps of a batch in the machine it was begun for, or in one that was taken instead, from when it was taken.

    A kitchen's machines, places and settings change, and so do the rules: what was shown stays.
    """

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="shown_steps")
    chosen = models.CharField(max_length=20, blank=True)
    """The number of the machine that was taken; empty for what the batch was begun with."""
    content = models.JSONField()
    """Steps as `formats.steps_snapshot` writes them, and ``machine``, ``machine_name``, ``runs`` and ``run``."""
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("batch", "chosen"), name="one_list_of_steps_a_machine"),)

    def __str__(self) -> str:
        return f"steps of {self.batch_id} {self.chosen}"
