"""Trials: variants side by side, their tests, and what tasters said."""

from __future__ import annotations

from uuid import uuid4

from django.conf import settings
from django.db import models
from django.utils import timezone

from kitchens.owned import AppendOnly, KitchenOwned
from mixes.models import Mix


class Trial(KitchenOwned):
    """Two to six variants of a question; they stay as they were when the trial was begun."""

    name = models.CharField(max_length=120)
    mix = models.ForeignKey(Mix, null=True, on_delete=models.SET_NULL, related_name="+")
    """The mix that its ladder was made of."""
    factors = models.JSONField(default=list)
    """What the ladder varies, as the trial file writes it; empty where mixes stand side by side."""
    variants = models.JSONField()
    """Objects of ``key``, ``name``, ``mix`` (number of the mix that holds it, or null) and ``content``, a snapshot."""
    changes = models.JSONField(default=list)
    held = models.JSONField(default=list)
    """What alone changes, and what “all else” means, in words."""
    serve_c = models.FloatField(null=True)
    """All at this temperature; None for each at its own."""
    spare_pct = models.FloatField(default=5.0)
    mixes = models.JSONField(default=dict)
    """The number of the mix that was made of a variant later, by its key."""
    decided = models.JSONField(null=True)
    """What came of it: ``key`` of the variant that was taken, or the two that it was put between, and when."""
    begun_at = models.DateTimeField(default=timezone.now)
    begun_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-begun_at", "-id")

    def __str__(self) -> str:
        return self.name


class TrialTest(KitchenOwned):
    """One kind of test on some variants; its codes are known once it is closed, and not before."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="tests")
    kind = models.CharField(max_length=20)
    attribute = models.CharField(max_length=40, blank=True)
    variants = models.JSONField()
    tasters = models.JSONField()
    replicates = models.PositiveSmallIntegerField(default=1)
    seed = models.PositiveBigIntegerField()
    served = models.JSONField()
    """Its codes and servings as `formats.design_snapshot` writes them: what was served stays."""
    begun_at = models.DateTimeField(default=timezone.now)
    closed_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.kind} of {self.trial_id}"


class TrialAnswer(AppendOnly):
    """What a taster said of one serving, in the codes of its cups."""

    test = models.ForeignKey(TrialTest, on_delete=models.CASCADE, related_name="answers")
    key = models.UUIDField(default=uuid4)
    serving = models.PositiveIntegerField()
    """The place of the serving in the design."""
    said = models.JSONField()
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")
    """Who typed it; None for a guest on a page of their own."""

    class Meta:
        ordering = ("id",)
        constraints = (
            models.UniqueConstraint(fields=("test", "key"), name="one_answer_a_press"),
            models.UniqueConstraint(fields=("test", "serving"), name="one_answer_a_serving"),
        )

    def __str__(self) -> str:
        return f"serving {self.serving} of {self.test_id}"


class Sitting(KitchenOwned):
    """A link for one taster of a test; of its secret only a digest is kept.

    It ends when it is taken back, when another is made for the same taster, and when the test is closed.
    """

    test = models.ForeignKey(TrialTest, on_delete=models.CASCADE, related_name="sittings")
    taster = models.CharField(max_length=60)
    digest = models.CharField(max_length=64, unique=True)
    begun_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("test", "taster"), name="one_link_a_taster"),)

    def __str__(self) -> str:
        return f"sitting of {self.taster} at {self.test_id}"
