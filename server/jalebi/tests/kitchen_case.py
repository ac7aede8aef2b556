"""Two kitchens to test with: ours, signed in, and theirs."""

from __future__ import annotations

import json
from typing import Any, ClassVar

from django.test import Client, TestCase

from batches.models import Batch
from batches.record import begin_batch
from bench.drafts import new_mix, save_draft
from bench.models import Mix
from bench.schemas import DraftToSave
from kitchens.models import Kitchen, Person
from shelf.models import stock_shelf

LINES: list[dict[str, Any]] = [
    {"ingredient": "whole-milk", "typed": "550", "unit": "g", "stage": "pot"},
    {"ingredient": "cream-36", "typed": "110", "unit": "g", "stage": "pot"},
    {"ingredient": "cream-36", "typed": "110", "unit": "g", "stage": "off-heat"},
    {"ingredient": "skim-milk-powder", "typed": "40", "unit": "g", "stage": "pot"},
    {"ingredient": "sugar", "typed": "160", "unit": "g", "stage": "pot"},
]


def filled_kitchen(slug: str) -> tuple[Person, Mix, Batch]:
    """Make a kitchen with a person, a mix and a batch of it."""
    kitchen = Kitchen.objects.create(slug=slug, name=slug.title())
    person = Person.objects.create_user(slug, kitchen, "correct horse")
    stock_shelf(kitchen)
    mix = new_mix(kitchen, f"{slug} milk ice", "ice-cream", None)
    draft = {"name": mix.name, "style": "ice-cream", "overrun_pct": 30, "version": 1, "lines": LINES}
    save_draft(kitchen, mix.pk, DraftToSave.model_validate(draft))
    mix.refresh_from_db()
    return person, mix, begin_batch(person, mix.pk)


class KitchenCase(TestCase):
    """A test case with two filled kitchens; requests are JSON and signed in as ours."""

    ours: ClassVar[Person]
    our_mix: ClassVar[Mix]
    our_batch: ClassVar[Batch]
    theirs: ClassVar[Person]
    their_mix: ClassVar[Mix]
    their_batch: ClassVar[Batch]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.ours, cls.our_mix, cls.our_batch = filled_kitchen("ours")
        cls.theirs, cls.their_mix, cls.their_batch = filled_kitchen("theirs")

    def setUp(self) -> None:
        self.client.force_login(self.ours, backend="kitchens.sign_in.PersonBackend")

    def send(self, method: str, path: str, body: Any = None, client: Client | None = None) -> tuple[int, Any]:
        """Send a request and return its status and decoded answer."""
        data = body if isinstance(body, bytes) else json.dumps(body or {})
        response = (client or self.client).generic(method, path, data, content_type="application/json")
        return response.status_code, json.loads(response.content) if response.content else None

    def draft(self, **changes: Any) -> dict[str, Any]:
        """Return our mix as the Bench would save it."""
        whole = {"name": self.our_mix.name, "style": "ice-cream", "overrun_pct": 30, "lines": LINES}
        return {**whole, "version": self.our_mix.version, **changes}
