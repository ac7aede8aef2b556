"""What the API remembers of requests that must not be done twice."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from kitchens.owned import KitchenOwned


class DoneRequest(KitchenOwned):
    """A request that was done, by the key that its sender gave it, and what was answered."""

    key = models.CharField(max_length=100)
    asked_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    fingerprint = models.CharField(max_length=64)
    """SHA-256 of method, address and body."""
    answer = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("kitchen", "asked_by", "key"), name="one_request_a_key"),)
        indexes = (models.Index("kitchen", "at", name="done_requests_by_age"),)

    def __str__(self) -> str:
        return self.key
