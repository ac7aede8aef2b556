"""A kitchen's instruments, what they show now, and what was logged of a step by one of them."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from kitchens.owned import KitchenOwned


class Instrument(KitchenOwned):
    """An instrument that the installation's file names; the bridge keeps what is known of it."""

    key = models.SlugField(max_length=40)
    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20)
    """One of the core's `device_lines.KINDS`."""
    step = models.FloatField()
    speed = models.FloatField(default=1.0)
    stand_in = models.BooleanField(default=False)
    connected = models.BooleanField(default=False)
    fault = models.CharField(max_length=200, default="")
    """Why it was cut off, as a sentence; empty while it says nothing that it may not."""

    class Meta:
        ordering = ("id",)
        constraints = (models.UniqueConstraint(fields=("kitchen", "key"), name="one_instrument_a_key"),)

    def __str__(self) -> str:
        return self.name


class Shown(models.Model):
    """What an instrument showed in the last seconds; its number tells what is new. The table is not logged.

    ``t`` are seconds of the instrument's own clock, in one row for as long as the bridge runs.
    """

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, db_constraint=False, related_name="shown")
    t = models.FloatField()
    value = models.FloatField()
    steady = models.BooleanField()
    wall_c = models.FloatField(null=True)
    at = models.DateTimeField()

    class Meta:
        indexes = (models.Index("instrument", "id", name="shown_by_instrument"),)

    def __str__(self) -> str:
        return f"{self.value:g}"


class Told(KitchenOwned):
    """Something that an instrument is told; the bridge passes it on and takes it away."""

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="told")
    body = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return str(self.body)


class Watch(KitchenOwned):
    """A step of a batch that an instrument watches; ``ended_at`` once it does no more.

    began_t : the second of the instrument's clock at which it began, None until it has shown something
    every_s : how far its points are apart at least, by the same clock
    later_s : what is added to the instrument's clock, so that it goes on where that one began anew
    last_t, last_at : when its last point was, by its own clock and by the one on the wall
    """

    batch = models.ForeignKey("batches.Batch", on_delete=models.CASCADE, related_name="watches")
    step = models.CharField(max_length=40)
    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="watches")
    began_at = models.DateTimeField(auto_now_add=True)
    began_t = models.FloatField(null=True)
    last_t = models.FloatField(null=True)
    last_at = models.DateTimeField(null=True)
    later_s = models.FloatField(default=0.0)
    every_s = models.FloatField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("id",)
        constraints = (
            models.UniqueConstraint(
                fields=("batch", "step"), condition=models.Q(ended_at=None), name="one_open_watch_a_step"
            ),
        )

    def __str__(self) -> str:
        return f"{self.step} of {self.batch_id}"


class Point(models.Model):
    """A reading of a watch that is kept: the minute since it began, and °C."""

    watch = models.ForeignKey(Watch, on_delete=models.CASCADE, related_name="points")
    minute = models.FloatField()
    value = models.FloatField()

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.minute:g} min, {self.value:g}"
