"""Mixes as drafts that change, and revisions that do not."""

from __future__ import annotations

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.utils import timezone

from ingredients.models import Ingredient
from kitchens.models import Machine
from kitchens.owned import AppendOnly, KitchenOwned


class Mix(KitchenOwned):
    """A mix being worked on; ``version`` counts its edits, so that two people on one mix are noticed."""

    name = models.CharField(max_length=200)
    style = models.CharField(max_length=40, null=True)  # None is “not said”, as in the mix file
    overrun_pct = models.FloatField(null=True)
    version = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    restrictions = models.JSONField(default=list)
    aims = models.JSONField(default=dict)
    """Bands of this mix's own by quantity, ``{quantity: [least, most]}``, in the place of style's and kitchen's."""
    method = models.JSONField(default=list)
    """Sentences of the recipe it came from, each ``{"stage", "text"}``."""
    servings = models.PositiveIntegerField(null=True)
    makes = models.CharField(max_length=40, blank=True)
    """What the recipe said of servings and quantity."""
    put_away = models.BooleanField(default=False)
    machine = models.ForeignKey(Machine, null=True, on_delete=models.SET_NULL, related_name="+")
    based_on = models.PositiveIntegerField(null=True)
    """Number of the revision that the draft goes on from."""
    tags = ArrayField(models.CharField(max_length=40), default=list)
    starred = models.BooleanField(default=False)
    made_at = models.DateTimeField(null=True)
    """When its last batch was begun."""

    class Meta:
        ordering = ("name", "id")
        indexes = (
            models.Index("kitchen", "put_away", models.F("starred").desc(), "name", "id", name="mixes_by_name"),
            models.Index(
                "kitchen",
                "put_away",
                models.F("starred").desc(),
                models.F("changed_at").desc(),
                models.F("id").desc(),
                name="mixes_by_change",
            ),
        )

    def __str__(self) -> str:
        return self.name


class MixLine(models.Model):
    """A line of a mix: what was typed beside what it weighs; no grams where nothing readable was typed yet."""

    mix = models.ForeignKey(Mix, on_delete=models.CASCADE, related_name="lines")
    position = models.PositiveSmallIntegerField()
    ingredient = models.ForeignKey(Ingredient, on_delete=models.PROTECT, related_name="lines")
    typed = models.CharField(max_length=60, blank=True)
    unit = models.CharField(max_length=20, default="g")
    grams = models.FloatField(null=True)
    stage = models.CharField(max_length=20, null=True)  # None is “not said”, as in the mix file
    pinned = models.BooleanField(default=False)
    """Whether Balance leaves the line as it is."""
    least_g = models.FloatField(null=True)
    most_g = models.FloatField(null=True)
    step_g = models.FloatField(null=True)
    """Between what and in which steps Balance may move it."""
    whole = models.CharField(max_length=40, null=True)  # None is “need not be whole”
    """Which piece it comes in, if only in whole ones."""
    note = models.CharField(max_length=200, blank=True)
    form = models.CharField(max_length=10, null=True)  # None is “as it usually lies”
    """How it lies in a cup, a key of the core's `FORMS`."""

    class Meta:
        ordering = ("position",)
        constraints = (models.UniqueConstraint(fields=("mix", "position"), name="one_line_a_position"),)

    def __str__(self) -> str:
        return f"{self.typed} {self.unit} {self.ingredient_id}"


class Revision(AppendOnly, KitchenOwned):
    """A named point of a mix, holding the composition of every ingredient as it was then."""

    mix = models.ForeignKey(Mix, on_delete=models.PROTECT, related_name="revisions")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=200)
    note = models.TextField(blank=True)
    parent = models.PositiveIntegerField(null=True)
    """Number of the revision that it goes on from."""
    content = models.JSONField()
    kept_at = models.DateTimeField(default=timezone.now, editable=False)
    kept_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("mix", "number"), name="one_revision_a_number"),)

    def __str__(self) -> str:
        return f"{self.number} {self.name}"


class Note(KitchenOwned):
    """What the kitchen has noticed: of a mix, of an ingredient wherever it goes in, or of everything it makes."""

    mix = models.ForeignKey(Mix, null=True, on_delete=models.CASCADE, related_name="notes")
    ingredient = models.ForeignKey(Ingredient, null=True, on_delete=models.CASCADE, related_name="notes")
    text = models.CharField(max_length=1000)
    written_at = models.DateTimeField(auto_now_add=True)
    written_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-id",)

    def __str__(self) -> str:
        return self.text[:40]
