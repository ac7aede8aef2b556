"""What the demo kitchen's batches and revisions come to, read over the API of whatever database the settings name."""

from __future__ import annotations

import json
import os
from typing import Any

import django


def read_outcomes() -> dict[str, Any]:
    """Return batches by number, and revisions by mix and number, as the API answers."""
    from django.test import Client

    from batches.models import Batch
    from kitchens.models import Person
    from mixes.models import Revision

    keeper = Person.objects.get()
    client = Client(SERVER_NAME="127.0.0.1")
    client.force_login(keeper, backend="kitchens.sign_in.PersonBackend")
    place = f"/api/v1/kitchens/{keeper.kitchen.slug}"
    batches = Batch.objects.of(keeper.kitchen).order_by("number")
    revisions = Revision.objects.of(keeper.kitchen).select_related("mix").order_by("mix__name", "number")
    return {
        "batches": {str(batch.number): client.get(f"{place}/batches/{batch.pk}").json() for batch in batches},
        "revisions": {
            f"{revision.mix.name} {revision.number}": {
                "detail": client.get(f"{place}/mixes/{revision.mix_id}/revisions/{revision.number}").json(),
                "analysis": client.get(f"{place}/mixes/{revision.mix_id}/revisions/{revision.number}/analysis").json(),
            }
            for revision in revisions
        },
    }


if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    django.setup()
    print(json.dumps(read_outcomes()))
