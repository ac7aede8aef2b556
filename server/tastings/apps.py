"""The app that reads the log: it teaches those below it."""

from __future__ import annotations

from django.apps import AppConfig


class TastingsConfig(AppConfig):
    """Cards, melt tests, readings, and what a kitchen learns from them."""

    name = "tastings"

    def ready(self) -> None:
        from kitchens.learnt import teach_by
        from tastings.learning import learnt_of

        teach_by(learnt_of)
