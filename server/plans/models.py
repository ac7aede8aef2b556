"""Plans: what is served when, the plan found for it and what then happened; and a kitchen's workplace."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from batches.models import Batch
from kitchens.owned import AppendOnly, KitchenOwned


class Workplace(KitchenOwned):
    """Who is there when, what a kitchen works with, and its usual minutes; ``content`` is a `WorkplaceIn`."""

    content = models.JSONField()
    version = models.PositiveIntegerField(default=1)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("kitchen",), name="one_workplace_a_kitchen"),)

    def __str__(self) -> str:
        return f"workplace {self.version}"


class Plan(KitchenOwned):
    """A plan for one to five days; once it is started it is a record, and its events stay."""

    class State(models.TextChoices):
        """Whether it is still being thought about."""

        DRAFT = "draft"
        STARTED = "started"

    name = models.CharField(max_length=100)
    zone = models.CharField(max_length=60, blank=True)
    """IANA name of the zone that its times are in; minutes are elapsed ones then."""
    state = models.CharField(max_length=10, choices=State.choices, default=State.DRAFT)
    services = models.JSONField(default=list)
    """What is served when, each a `ServiceOut`."""
    pins = models.JSONField(default=dict)
    """Local times at which somebody put steps, by their ids."""
    changes = models.JSONField(default=list)
    """What holds for this plan alone: somebody more or gone, a machine out, more room."""
    file = models.JSONField(null=True)
    """A plan file that it was brought in with; services and workplace then are the file's."""
    answer = models.JSONField(null=True)
    """What was found last, a `PlanAnswer`."""
    previous = models.JSONField(null=True)
    """The answer before that, whose steps are shown as ghosts."""
    answer_of = models.PositiveIntegerField(default=0)
    """The version that the answer is of."""
    put_away = models.BooleanField(default=False)
    version = models.PositiveIntegerField(default=1)
    changed_at = models.DateTimeField(auto_now=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("-changed_at", "-id")

    def __str__(self) -> str:
        return self.name


class PlanEvent(AppendOnly):
    """Something that happened while a plan was carried out; a later one about the same step takes its place."""

    class Kind(models.TextChoices):
        """What happened."""

        BEGAN = "began"
        ENDED = "ended"
        LONGER = "longer"

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="events")
    kind = models.CharField(max_length=10, choices=Kind.choices)
    step = models.CharField(max_length=120)
    minute = models.IntegerField()
    """When it began, ended or will end, in minutes of the plan."""
    at = models.DateTimeField(auto_now_add=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.step} {self.kind} {self.minute}"


class PlanBatch(AppendOnly):
    """Which batch was begun for a product of a plan."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="batches")
    product = models.CharField(max_length=40)
    batch = models.OneToOneField(Batch, on_delete=models.CASCADE, related_name="planned_in")

    class Meta:
        constraints = (models.UniqueConstraint(fields=("plan", "product"), name="one_batch_a_product"),)

    def __str__(self) -> str:
        return f"{self.product} of plan {self.plan_id}"
