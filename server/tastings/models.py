"""What is tasted and measured of batches and of the kitchen, and what of it is not to count; all is added only."""

from __future__ import annotations

from uuid import uuid4

from django.conf import settings
from django.db import models
from django.utils import timezone

from batches.models import Batch
from kitchens.models import Place
from kitchens.owned import AppendOnly, KitchenOwned


class Noted(AppendOnly, KitchenOwned):
    """Something noted once: of the press's own key, however often it is sent."""

    key = models.UUIDField(default=uuid4)
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        abstract = True


class Card(Noted):
    """What one taster said of a batch; a mended one names the card whose place it takes, and both are kept."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="cards")
    taster = models.CharField(max_length=60)
    place = models.ForeignKey(Place, null=True, on_delete=models.PROTECT, related_name="+")
    """The freezer it came out of; None for the kitchen's own."""
    out_min = models.FloatField(null=True)
    """How long it had been out, None where nobody knows."""
    t_c = models.FloatField(null=True)
    """Measured at the spoon."""
    eaten_with = models.CharField(max_length=60, blank=True)
    """What it was eaten with, empty for alone."""
    firmness = models.CharField(max_length=20, blank=True)
    liking = models.FloatField(null=True)
    marks = models.JSONField(default=dict)
    words = models.CharField(max_length=1000, blank=True)
    mends = models.OneToOneField("self", null=True, on_delete=models.PROTECT, related_name="mended_by")

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_card_a_press"),)

    def __str__(self) -> str:
        return f"{self.taster} of {self.batch_id}"


class MeltTest(Noted):
    """A ball on a mesh: what it weighed, how warm the room was, and what had dripped by which minute."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="melt_tests")
    ball_g = models.FloatField()
    room_c = models.FloatField()
    drips = models.JSONField()

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_melt_test_a_press"),)

    def __str__(self) -> str:
        return f"{self.ball_g:g} g of {self.batch_id}"


class Reading(Noted):
    """What a thermometer showed: in a tub or in the air of a freezer overnight, or in ice water."""

    class Where(models.TextChoices):
        """Where its tip was."""

        TUB = "tub"
        AIR = "air"
        ICE_WATER = "ice-water"

    where = models.CharField(max_length=10, choices=Where.choices)
    place = models.ForeignKey(Place, null=True, on_delete=models.PROTECT, related_name="+")
    """The freezer; None for the kitchen's own."""
    t_c = models.FloatField()

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_reading_a_press"),)

    def __str__(self) -> str:
        return f"{self.where} {self.t_c:g} °C"


class PieceWeighing(Noted):
    """Some pieces of an ingredient, weighed together."""

    slug = models.CharField(max_length=60)
    name = models.CharField(max_length=200)
    piece = models.CharField(max_length=40)
    usual_g = models.FloatField()
    pieces = models.FloatField()
    grams = models.FloatField()

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_weighing_a_press"),)

    def __str__(self) -> str:
        return f"{self.pieces:g} {self.piece} of {self.slug}"


class DoseTasting(Noted):
    """A dose of a flavour or a colour that somebody tasted, with what told its lot from others."""

    slug = models.CharField(max_length=60)
    name = models.CharField(max_length=200)
    form = models.CharField(max_length=10)
    """One of the core's `FORMS`."""
    dose = models.FloatField()
    """g in a kg of mix, of a colour drops."""
    mark = models.SmallIntegerField()
    lot = models.CharField(max_length=120, blank=True)
    """Season, ripeness, the day it was picked, the species."""
    steep_h = models.FloatField(null=True)
    steep_c = models.FloatField(null=True)
    overrun_pct = models.FloatField(null=True)

    class Meta:
        ordering = ("at", "id")
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_dose_a_press"),)

    def __str__(self) -> str:
        return f"{self.dose:g} in a kg of {self.slug}"


class Choice(Noted):
    """What of the log is not to count, or is not to be used; a later choice of the same takes its place."""

    class Kind(models.TextChoices):
        """What was chosen."""

        LEAVE_OUT = "leave-out"
        PUT_BACK = "put-back"
        FORGET = "forget"
        REMEMBER = "remember"
        PIN = "pin"
        UNPIN = "unpin"

    kind = models.CharField(max_length=10, choices=Kind.choices)
    entry = models.CharField(max_length=40, blank=True)
    """The entry that is left out or put back, as the log names it."""
    parameter = models.CharField(max_length=40, blank=True)
    of = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ("at", "id")

    def __str__(self) -> str:
        return f"{self.kind} {self.entry or self.parameter}"
