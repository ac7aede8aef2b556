"""The app that makes batches: their steps are kept as soon as they are begun."""

from __future__ import annotations

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_migrate

from batches.begun import batch_begun


class MakingConfig(AppConfig):
    """Steps of batches as they were shown, watches, rescues, and handing over."""

    name = "making"

    def ready(self) -> None:
        batch_begun.connect(_keep_steps)
        post_migrate.connect(_keep_earlier_steps, sender=self)


def _keep_steps(batch: Any, **_: Any) -> None:
    from making.bench import keep_steps_if_any

    keep_steps_if_any(batch)


def _keep_earlier_steps(**_: Any) -> None:
    from making.bench import keep_earlier_steps

    keep_earlier_steps()
