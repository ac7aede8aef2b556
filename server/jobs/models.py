"""Jobs: what takes longer than a request may, with how far it is and what it has come to."""

from __future__ import annotations

from typing import Final

from django.conf import settings
from django.db import models

from kitchens.owned import KitchenOwned

UNFINISHED: Final = ("waiting", "running")


class Job(KitchenOwned):
    """One job: it is there for who asked for it, and a shared one for the whole kitchen.

    There is never more than one unfinished of a kind about the same thing for a person, or for a kitchen where shared.
    """

    kind = models.CharField(max_length=40)
    about = models.CharField(max_length=80)
    """What it is about, such as ``mix 12``."""
    asked_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    shared = models.BooleanField(default=False)
    """Whether it is about something that the whole kitchen works on, such as a plan."""
    showed_prices = models.BooleanField(default=False)
    """Whether prices went into it; it is not there any more for who may not see them since."""
    asked = models.JSONField()
    file = models.BinaryField(null=True)
    """What was sent along, of whatever size a request may have."""
    state = models.CharField(max_length=10, default="waiting")
    """``waiting``, ``running``, ``done``, ``failed`` or ``stopped``."""
    tries = models.PositiveSmallIntegerField(default=0)
    share = models.FloatField(default=0.0)
    """How much of it is done, 0 to 1."""
    best = models.JSONField(null=True)
    """The best answer so far, of the shape of the whole one."""
    answer = models.JSONField(null=True)
    problem = models.JSONField(null=True)
    """Why it failed, as problem details."""
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = (
            models.UniqueConstraint(
                fields=("kitchen", "kind", "about"),
                condition=models.Q(state__in=UNFINISHED, shared=True),
                name="one_unfinished_shared_job_a_kind_and_thing",
            ),
            models.UniqueConstraint(
                fields=("asked_by", "kind", "about"),
                condition=models.Q(state__in=UNFINISHED, shared=False),
                name="one_unfinished_job_a_person_kind_and_thing",
            ),
        )

    def __str__(self) -> str:
        return f"{self.kind} of {self.about}: {self.state}"
