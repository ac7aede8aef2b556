"""`demo_in_use`: say when somebody last signed in to the demo kitchen since it was made, nothing where nobody did."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand
from django.utils import timezone
from django.utils.timesince import timesince

from demo.kitchen import SLUG
from kitchens.models import Person


class Command(BaseCommand):
    """Print one sentence, or nothing."""

    help = __doc__ or ""

    def handle(self, *_args: Any, **_options: Any) -> None:
        seen = Person.objects.filter(kitchen__slug=SLUG, last_login__isnull=False).order_by("-last_login").first()
        if seen is not None and seen.last_login is not None:
            since = timesince(seen.last_login, timezone.now(), depth=1)
            self.stdout.write(f"{seen.name} signed in to the demo kitchen {since} ago and may be working there.")
